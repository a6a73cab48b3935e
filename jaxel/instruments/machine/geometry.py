"""Where the belt lies: its path at any travel of the primary's sheave, searched on the length of the loop."""

from dataclasses import dataclass
from math import pi, radians, tan
from typing import Any

import numpy as np

from .wrap import Array

HALVINGS = 60


@dataclass(frozen=True)
class Path:
    """A belt's way at n places of the sheave's travel.

    `travel` [n, m]; `primary_radius`, `secondary_radius` [n, m]; `primary_wrap`, `secondary_wrap` [n, rad];
    `opening` of the secondary [n, m].
    """

    travel: Array
    primary_radius: Array
    secondary_radius: Array
    primary_wrap: Array
    secondary_wrap: Array
    opening: Array

    @property
    def ratio(self) -> Array:
        """r₂/r₁ [n]."""
        return self.secondary_radius / self.primary_radius


@dataclass(frozen=True)
class Loop:
    """A belt between two pairs of sheaves; all lengths [m], `half_angle` [rad].

    `gap`, travel at which the sheave meets the belt; `hub`, where the belt rests; `stop`, how high it rides in the
    closed secondary; `primary_travel`, `secondary_travel` to the stops.
    """

    centres: float
    half_angle: float
    length: float
    gap: float
    hub: float
    stop: float
    primary_travel: float
    secondary_travel: float

    @classmethod
    def of(cls, document: dict[str, Any]) -> "Loop":
        """The loop that a set-up document describes."""
        geometry, belt, primary = document["geometry"], document["belt"], document["primary"]
        wear = belt["top_width_new_mm"] - belt["top_width_mm"]
        angle = radians(geometry["sheave_half_angle_deg"])
        adjuster = geometry["secondary"].get("adjuster_mm", 0.0)
        return cls(
            centres=geometry["centre_distance_mm"] / 1e3,
            half_angle=angle,
            length=(belt["outer_circumference_mm"] - 2 * pi * belt["cord_depth_mm"]) / 1e3,
            gap=max(0.0, geometry["primary"]["idle_clearance_mm"] + wear) / 1e3,
            hub=geometry["primary"]["hub_radius_mm"] / 1e3,
            stop=(geometry["secondary"]["closed_radius_mm"] - (wear - adjuster) / (2 * tan(angle))) / 1e3,
            primary_travel=(geometry["primary"]["travel_mm"] - primary.get("limiter_mm", 0.0)) / 1e3,
            secondary_travel=geometry["secondary"]["travel_mm"] / 1e3,
        )

    @property
    def lift(self) -> float:
        """Radius a sheave's closing lifts the belt by, of it [-]."""
        return 1 / (2 * tan(self.half_angle))

    def _around(self, one: Array, other: Array) -> Array:
        lean = np.arcsin(np.clip((other - one) / self.centres, -1, 1))
        return np.asarray(2 * self.centres * np.cos(lean) + pi * (one + other) + 2 * lean * (other - one))

    def _fitting(self, one: Array) -> Array:
        """The radius of the other sheave that takes up the loop, by halving."""
        low, high = np.full_like(one, 1e-3), np.full_like(one, self.centres)
        for _ in range(HALVINGS):
            middle = (low + high) / 2
            long = self._around(one, middle) > self.length
            low, high = np.where(long, low, middle), np.where(long, middle, high)
        return np.asarray((low + high) / 2)

    @property
    def gripped(self) -> float:
        """Travel from which the belt is taut and pulls [m]."""
        taut = float(self._fitting(np.array([self.stop]))[0])
        return self.gap + max(0.0, taut - self.hub) / self.lift

    @property
    def end(self) -> float:
        """Travel at which the shift ends [m]: the primary's stop, or the secondary's if that comes first."""
        open_at = self.stop - self.secondary_travel * self.lift
        there = float(self._fitting(np.array([open_at]))[0])
        return min(self.primary_travel, self.gap + (there - self.hub) / self.lift)

    def path(self, places: int) -> Path:
        """The belt's way at even places of the shift."""
        travel = np.linspace(self.gripped, self.end, places)
        primary = self.hub + np.maximum(0.0, travel - self.gap) * self.lift
        secondary = np.minimum(self._fitting(primary), self.stop)
        lean = np.arcsin((secondary - primary) / self.centres)
        return Path(travel, primary, secondary, pi - 2 * lean, pi + 2 * lean, (self.stop - secondary) / self.lift)
