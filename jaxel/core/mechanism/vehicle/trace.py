"""What a pull is ridden on, and what it leaves: strip, throttle, energy, and the trace a logger would have."""

from collections.abc import Sequence
from dataclasses import dataclass, field, fields
from math import inf, pi

import numpy as np

from ..numerics.tables import Array, Mask
from .drivetrain import Drivetrain

Throttle = Sequence[tuple[float, float]]
"""A throttle trace: (time [s], opening 0–1) pairs in order, straight between them, ends held."""

FULL: Throttle = ((0.0, 0.0), (0.3, 0.0), (0.4, 1.0))

TRACES: dict[str, Throttle] = {
    "full": FULL,
    "chop": (*FULL, (9.0, 1.0), (9.1, 0.0), (11.0, 0.0), (11.1, 1.0)),
    "roll-on": ((0.0, 0.0), (0.3, 0.0), (8.0, 1.0)),
}
"""A pull at full throttle; one chopped shut for two seconds and opened again; one opened slowly."""


@dataclass(frozen=True)
class Strip:
    """What the pull is made on and with.

    `duration` [s]; `throttle` trace; `grade`, rise over run [-]; `inertia` of engine and primary [kg·m²];
    `idle` speed [rad/s]; `closed_drag`, share of the peak torque a shut engine holds back with at its rev
    limit; `belt_heat` capacity [J/K], `still_loss` [W/K] and `moving_loss` [W/K per m/s of belt speed] of the
    belt's heat balance, `flexing`, share of the belt's power lost in bending it. All from memory.
    """

    duration: float = 20.0
    throttle: Throttle = FULL
    grade: float = 0.0
    inertia: float = 0.03
    idle: float = 2 * pi * 1300 / 60
    closed_drag: float = 0.15
    belt_heat: float = 1400.0
    still_loss: float = 8.0
    moving_loss: float = 0.8
    flexing: float = 0.02


@dataclass
class Energy:
    """Work done during a pull [J]: what the engine gave, where it went, what still moves."""

    engine: float = 0.0
    slip: float = 0.0
    drive: float = 0.0
    ground_slip: float = 0.0
    rolling: float = 0.0
    drag: float = 0.0
    climb: float = 0.0
    kinetic_gain: float = 0.0


@dataclass(frozen=True)
class PullTrace:
    """A pull as a logger would have it; every array [samples].

    `time` [s]; `engine_speed`, `secondary_speed` [rad/s]; `vehicle_speed` [m/s]; `distance` [m]; `throttle`
    [0–1]; `ratio` of the belt's radii [-]; `slip`, share of the primary's speed lost [-]; `belt_temperature`
    [°C]; `travel` of the sheave [m]; `energy` of the whole pull.
    """

    time: Array
    engine_speed: Array
    secondary_speed: Array
    vehicle_speed: Array
    distance: Array
    throttle: Array
    ratio: Array
    slip: Array
    belt_temperature: Array
    travel: Array
    energy: Energy = field(repr=False)

    def time_to_speed(self, speed: float) -> float | None:
        """Time from opening the throttle to a vehicle speed [m/s] in s, or None if it is never reached."""
        return self._first(self.vehicle_speed >= speed)

    def time_to_distance(self, distance: float) -> float | None:
        """Time from opening the throttle to a distance [m] in s, or None if it is never reached."""
        return self._first(self.distance >= distance)

    def _first(self, reached: Mask) -> float | None:
        if not np.any(reached):
            return None
        opened = self.time[np.argmax(self.throttle > 0)]
        return float(self.time[np.argmax(reached)] - opened)

    def limited(self, rev_limit: float, *, beyond: float = -inf, up_to: float = inf) -> float:
        """Time the ignition held the engine at a rev limit [rad/s] while the sheave stood between two travels [m]."""
        steps = np.diff(self.time, append=self.time[-1])
        there = (self.travel > beyond) & (self.travel <= up_to) & (self.throttle > 0)
        return float(np.sum(steps[there & (self.engine_speed >= rev_limit)]))

    def gripped_on_limiter(self, drivetrain: Drivetrain) -> float:
        """Time on the rev limiter with the sheave no further than where the belt is gripped [s]."""
        return self.limited(drivetrain.engine.rev_limit, up_to=drivetrain.drive.engagement_travel + 1e-6)

    @property
    def lowest_gearing(self) -> float:
        """The smallest ratio reached: how far it shifted out [-]."""
        return float(np.min(self.ratio))


COLUMNS = tuple(each.name for each in fields(PullTrace) if each.name != "energy")
