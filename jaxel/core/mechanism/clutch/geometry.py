"""The belt in its sheaves: radii, ratio, wrap, slack and stops from what can be measured.

Symbols: C centre distance, β sheave half-angle, r1 and r2 pitch radii of the belt's cord line on the
primary and the secondary, x travel of the primary's moving sheave, x2 opening of the secondary.
"""

from dataclasses import dataclass
from functools import cached_property
from math import asin, cos, pi, sin, sqrt, tan

import numpy as np

from ..errors import Impossible
from ..numerics.tables import Array, Values

RELEASE_POINTS = 129
"""Places on the sheave's way to the belt at which its release is looked at: some hundredths of a millimetre apart."""


@dataclass(frozen=True)
class BeltPath:
    """The belt at a set of primary travels; every field an array of the travels' shape.

    `travel` x [m], `primary_radius` r1 [m], `secondary_radius` r2 [m], `secondary_opening` x2 [m],
    `primary_wrap` and `secondary_wrap` θ1, θ2 [rad].
    """

    travel: Array
    primary_radius: Array
    secondary_radius: Array
    secondary_opening: Array
    primary_wrap: Array
    secondary_wrap: Array

    @property
    def ratio(self) -> Array:
        """Engine turns per turn of the secondary, i = r2/r1 [-]."""
        return self.secondary_radius / self.primary_radius


def open_belt_length(primary_radius: Values, secondary_radius: Values, centre_distance: float) -> Array:
    """Exact length of an open belt round two pulleys.

    L = 2·C·cos γ + π(r1 + r2) + 2γ(r2 − r1),  γ = asin((r2 − r1)/C)

    Parameters: radii and distance in one unit, radii of any broadcastable shapes. Returns L in that unit.

    >>> round(float(open_belt_length(100.0, 100.0, 500.0)), 3)
    1628.319

    Reference: R. L. Norton, Machine Design, and any text on flat-belt drives; the exact form, not its series.
    """
    difference = np.subtract(secondary_radius, primary_radius)
    lean = np.arcsin(difference / centre_distance)
    return 2 * centre_distance * np.cos(lean) + pi * np.add(primary_radius, secondary_radius) + 2 * lean * difference


def radius_for_length(length: float, other_radius: Values, centre_distance: float) -> Array:
    """Pitch radius that takes up a belt of this length round a pulley of known radius.

    Newton's iteration on L(r, other) = length. dL/dr is the wrap angle on r, always positive, and L is
    convex in r: after the first step the iteration only descends, so a fixed few steps converge fully.

    Parameters: `length` and `centre_distance` [m], `other_radius` [m, any shape]. Returns r [m, same shape].

    >>> round(float(radius_for_length(1.628319, 0.1, 0.5)), 6)
    0.1

    Reference: from the derivative of `open_belt_length`.
    """
    if isinstance(other_radius, float):
        return np.asarray(_radius_of_one(length, other_radius, centre_distance))
    other = np.asarray(other_radius, float)
    radius = np.full_like(other, (length - 2 * centre_distance) / (2 * pi))
    limit = 0.999 * centre_distance
    for _ in range(5):
        lean = np.arcsin(np.clip(radius - other, -limit, limit) / centre_distance)
        radius = radius - (
            open_belt_length(other, other + np.sin(lean) * centre_distance, centre_distance) - length
        ) / (pi + 2 * lean)
        radius = np.clip(radius, other - limit, other + limit)
    return radius


def _radius_of_one(length: float, other: float, centre_distance: float) -> float:
    """The same for one radius in plain floats, a tenth of an array of one's time."""
    radius, limit = (length - 2 * centre_distance) / (2 * pi), 0.999 * centre_distance
    for _ in range(5):
        lean = asin(min(max(radius - other, -limit), limit) / centre_distance)
        reach = sin(lean) * centre_distance
        took = 2 * centre_distance * cos(lean) + pi * (2 * other + reach) + 2 * lean * reach
        radius = min(max(radius - (took - length) / (pi + 2 * lean), other - limit), other + limit)
    return radius


@dataclass(frozen=True)
class BeltDrive:
    """Two sheave pairs, one belt.

    All lengths [m]: `centre_distance`; `half_angle` β [rad]; `hub_radius`, pitch radius of the belt at
    rest on the primary; `idle_clearance`, side gap of a new belt at the open stop; `primary_travel`,
    `secondary_travel` to the stops; `closed_radius`, pitch radius of a new belt in the closed secondary;
    `pitch_length` of the belt's cord line; `wear`, width lost by the belt (negative for one wider than new);
    `adjuster`, how much further than for a new belt an adjuster lets the secondary close; `limiter`, how much earlier
    than the primary's own stop a spacer ends the shift.

    Raises Impossible for a belt that cannot be gripped or cannot lie in the sheaves.
    """

    centre_distance: float
    half_angle: float
    hub_radius: float
    idle_clearance: float
    primary_travel: float
    closed_radius: float
    secondary_travel: float
    pitch_length: float
    wear: float
    adjuster: float = 0.0
    limiter: float = 0.0

    def __post_init__(self) -> None:
        if self.contact_travel >= self.primary_travel:
            raise Impossible(
                "wear",
                "the belt is too narrow to be gripped: the sheave would meet it at {met}, past its {travel} of travel",
                met=self.contact_travel,
                travel=self.primary_travel,
            )
        if self.secondary_stop_radius <= 0:
            raise Impossible("closed_radius", "is too small for a belt this worn")
        if self.open_radius <= 0:
            raise Impossible("secondary_travel", "opens the secondary past its own centre: check travel and radius")
        if self.hub_radius + self.secondary_stop_radius >= self.centre_distance:
            raise Impossible("centre_distance", "is too short: the belt would touch itself in low ratio")
        if self.engagement_travel >= self.primary_travel:
            raise Impossible(
                "wear",
                "the belt is too narrow to be gripped: its slack would be taken up at {taut}, past the sheave's "
                "{travel} of travel",
                taut=self.engagement_travel,
                travel=self.primary_travel,
            )
        if self.pitch_length < self._length(self.hub_radius, self.open_radius):
            raise Impossible(
                "pitch_length",
                "the belt is too short to lie on the primary's hub even with the secondary fully open",
            )
        if self.end_travel - self.engagement_travel < 1e-6:
            short = "limiter" if self.limiter else "pitch_length"
            raise Impossible(short, "leaves no shift: a stop is reached when the belt is only just gripped")
        top = self.at(np.array([self.end_travel]))
        if top.primary_radius[0] + top.secondary_radius[0] >= self.centre_distance:
            raise Impossible("centre_distance", "is too short: the belt would touch itself in high ratio")

    def _length(self, primary_radius: Values, secondary_radius: Values) -> Array:
        return open_belt_length(primary_radius, secondary_radius, self.centre_distance)

    @cached_property
    def closing_per_radius(self) -> float:
        """Axial closing that lifts the belt by one unit of radius, 2·tan β [-]: one face of each pair moves."""
        return 2 * tan(self.half_angle)

    @cached_property
    def side_gap(self) -> float:
        """Gap between the open sheave and the belt's flanks [m]; negative: the belt is pinched at idle."""
        return self.idle_clearance + self.wear

    @cached_property
    def contact_travel(self) -> float:
        """Travel x_e at which the sheave meets the belt [m], not below the idle stop."""
        return max(0.0, self.side_gap)

    @cached_property
    def engagement_travel(self) -> float:
        """Travel x_g at which the belt's slack is also taken up [m]: from here it pulls.

        x_g = max(0, gap + 2·tan β·max(0, r1_t − hub)),  r1_t from L(r1_t, r2_stop) = Lp
        """
        taut = float(radius_for_length(self.pitch_length, self.secondary_stop_radius, self.centre_distance))
        return max(0.0, self.side_gap + self.closing_per_radius * max(0.0, taut - self.hub_radius))

    @cached_property
    def secondary_stop_radius(self) -> float:
        """Highest ride of the belt in the closed secondary [m]; wear lets it sink, an adjuster lifts it."""
        return self.closed_radius - (self.wear - self.adjuster) / self.closing_per_radius

    @cached_property
    def open_radius(self) -> float:
        """Ride of the belt with the secondary on its open stop [m]."""
        return self.secondary_stop_radius - self.secondary_travel / self.closing_per_radius

    @cached_property
    def end_travel(self) -> float:
        """Travel x_end at which the shift ends [m]: the primary's stop or the secondary's, whichever is first."""
        radius = radius_for_length(self.pitch_length, self.open_radius, self.centre_distance)
        at_open_stop = self.side_gap + (float(radius) - self.hub_radius) * self.closing_per_radius
        return min(self.primary_travel - self.limiter, at_open_stop)

    @cached_property
    def low_slack(self) -> float:
        """Slack of the belt at rest in low ratio [m]: length not taken up by hub and closed secondary."""
        return max(0.0, self.pitch_length - float(self._length(self.hub_radius, self.secondary_stop_radius)))

    @cached_property
    def deflection(self) -> float:
        """Mid-span deflection of the slack belt at rest pressed to a triangle [m].

        d = √(((s + δ)/2)² − (s/2)²),  s = √(C² − (r2 − r1)²)
        """
        span = sqrt(self.centre_distance**2 - (self.secondary_stop_radius - self.hub_radius) ** 2)
        return sqrt(((span + self.low_slack) / 2) ** 2 - (span / 2) ** 2)

    @cached_property
    def start(self) -> BeltPath:
        """Where the belt lies when it is gripped, in low ratio."""
        return self.at(self.engagement_travel)

    @cached_property
    def release_way(self) -> Array:
        """Places from the open stop to the belt gripped at which the sheave's release is looked at [m]."""
        return np.linspace(0.0, self.engagement_travel, RELEASE_POINTS)

    def nodes(self, count: int) -> Array:
        """`count` equal steps of travel from the belt gripped to the end of the shift [m]."""
        return np.linspace(self.engagement_travel, self.end_travel, count)

    def shift_path(self, count: int) -> BeltPath:
        """Where the belt lies at `nodes(count)`, worked out once."""
        if count not in self._paths:
            self._paths[count] = self.at(self.nodes(count))
        return self._paths[count]

    @cached_property
    def _paths(self) -> dict[int, BeltPath]:
        return {}

    def at(self, travel: Values) -> BeltPath:
        """Where the belt lies at each travel [m, any shape].

        r1 = hub + max(0, x − gap)/(2 tan β);  r2 = min(r2 from the belt's length, r2_stop);
        x2 = 2 tan β·(r2_stop − r2);  θ1 = π − 2γ,  θ2 = π + 2γ
        """
        x = np.asarray(travel, float)
        r1 = self.hub_radius + np.maximum(0.0, x - self.side_gap) / self.closing_per_radius
        r2 = radius_for_length(self.pitch_length, r1, self.centre_distance)
        r2 = np.minimum(r2, self.secondary_stop_radius)
        lean = np.arcsin((r2 - r1) / self.centre_distance)
        return BeltPath(
            travel=x,
            primary_radius=r1,
            secondary_radius=r2,
            secondary_opening=self.closing_per_radius * (self.secondary_stop_radius - r2),
            primary_wrap=pi - 2 * lean,
            secondary_wrap=pi + 2 * lean,
        )
