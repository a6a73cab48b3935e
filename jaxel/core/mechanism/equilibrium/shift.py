"""The full-throttle shift: the engine speed held at each travel, and the figures read from it."""

from dataclasses import dataclass
from functools import lru_cache
from math import pi

import numpy as np

from ..clutch.balance import Balance
from ..clutch.forces import Forces
from ..clutch.geometry import BeltPath
from ..clutch.primary import touch_speed
from ..numerics.tables import Array, Mask, Values
from ..vehicle.drivetrain import Drivetrain

SHIFT_WINDOW = (0.20, 0.95)
"""Part of the travel over which the shift is judged: after the launch, before the stop (common practice)."""

BITE_RATE_STEP = 2 * pi * 100 / 60
"""Gain of speed over which bite rate and hit are taken [rad/s]: 100 turns a minute."""


@lru_cache
def window(nodes: int) -> Mask:
    """The nodes of the shift window [n, bool].

    >>> window(5).tolist()
    [False, True, True, True, False]

    Source: common practice; the ends of a shift, where stops act, are left out.
    """
    low, high = SHIFT_WINDOW
    fraction = np.linspace(0.0, 1.0, nodes)
    return (fraction >= low - 1e-9) & (fraction <= high + 1e-9)


def window_mean(speed: Array) -> Array:
    """Mean over the shift window of speeds at even steps of travel [..., n]; returns [...].

    >>> float(window_mean(np.array([0.0, 800.0, 810.0, 820.0, 0.0])))
    810.0

    Reference: the arithmetic mean.
    """
    return np.asarray(speed[..., window(speed.shape[-1])].mean(axis=-1))


def window_spread(speed: Array) -> Array:
    """Highest less lowest over the shift window of speeds at even steps of travel [..., n]; returns [...].

    >>> float(window_spread(np.array([0.0, 800.0, 815.0, 810.0, 0.0])))
    15.0

    Reference: the range of a sample.
    """
    return np.asarray(np.ptp(speed[..., window(speed.shape[-1])], axis=-1))


def window_slope(speed: Array) -> Array:
    """Least-squares slope over the shift window per whole travel, of speeds at even steps [..., n]; returns [...].

    >>> round(float(window_slope(np.array([0.0, 800.0, 810.0, 820.0, 0.0]))), 9)
    40.0

    Reference: NIST/SEMATECH e-Handbook of Statistical Methods, 4.1.4.1 (linear least squares).
    """
    there = window(speed.shape[-1])
    fraction = np.linspace(0.0, 1.0, speed.shape[-1])[there]
    lever = fraction - fraction.mean()
    return np.asarray(speed[..., there] @ (lever / (lever @ lever)))


@dataclass(frozen=True)
class Engagement:
    """How the belt is first gripped.

    `touch` and `bite` speed [rad/s]; `snap`, the clamp that comes at once when the belt is met [N]; `hit`, the clamp
    100 rpm past the bite [N]: how hard the belt is taken; `bite_rate`, the clamp gained per 100 rpm at the touch [N].
    """

    touch: float
    bite: float
    snap: float
    hit: float
    bite_rate: float


@dataclass(frozen=True)
class ShiftCurve:
    """The shift at full throttle, node by node from the belt gripped to the end of the shift.

    `path` of the belt; `speed` of the engine ω [n, rad/s] and `held`, the speed that balances the belt, which it runs
    past where the secondary slips; `balance` of the belt; `vehicle_speed` [n, m/s]; `belt_speed` [n, m/s]; `rev_limit`
    [rad/s].
    """

    path: BeltPath
    speed: Array
    held: Array
    balance: Balance
    vehicle_speed: Array
    belt_speed: Array
    rev_limit: float

    @property
    def fraction(self) -> Array:
        """Share of the shift done at each node [n, 0–1]."""
        return np.linspace(0.0, 1.0, len(self.speed))

    @property
    def mean(self) -> float:
        """Mean engine speed over the shift window [rad/s]: the shift rpm."""
        return float(window_mean(self.speed))

    @property
    def spread(self) -> float:
        """Highest less lowest engine speed over the shift window [rad/s]."""
        return float(window_spread(self.speed))

    @property
    def slope(self) -> float:
        """Least-squares slope over the shift window [rad/s per whole travel]; 0 is a straight shift."""
        return float(window_slope(self.speed))

    @property
    def window_slips(self) -> bool:
        """Whether the secondary slips somewhere in the shift window: the engine's speed there tells of no balance."""
        return bool(self.balance.secondary_slips[window(len(self.speed))].any())

    @property
    def full_shift(self) -> float:
        """Engine speed at the end of the shift [rad/s]."""
        return float(self.speed[-1])

    @property
    def over_rev(self) -> float:
        """How far the end of the shift runs past the rev limit [rad/s]; negative below it."""
        return self.full_shift - self.rev_limit

    @property
    def least_grip(self) -> float:
        """The smallest grip reserve of either clutch over the shift window [-]."""
        there = window(len(self.speed))
        return float(min(self.balance.grip_primary[there].min(), self.balance.grip_secondary[there].min()))

    @property
    def slips(self) -> dict[str, Mask]:
        """For `primary` and `secondary`, the nodes where the belt slips in it [n, bool]."""
        return {"primary": self.balance.grip_primary < 1 - 1e-9, "secondary": self.balance.secondary_slips}

    @property
    def launch(self) -> Mask:
        """Nodes of a slip-limited launch [n, bool]: the first run of them out of grip, or past the rev limit
        before the shift window.

        There the clutch slips instead of holding the speed solved for. Past the limit inside the window it is
        the set-up that over-revs.
        """
        peak = (self.speed > self.rev_limit) & (self.fraction < SHIFT_WINDOW[0])
        limited = peak | self.slips["primary"] | self.slips["secondary"]
        return np.logical_and.accumulate(limited)

    @property
    def over_rev_nodes(self) -> Mask:
        """Nodes past the rev limit after the launch [n, bool]."""
        return (self.speed > self.rev_limit) & ~self.launch

    def flags(self) -> list[list[str]]:
        """For each node, what limits it: `slip-limited`, `over-rev`, `primary-slips`, `secondary-slips`."""
        marks = {"slip-limited": self.launch, "over-rev": self.over_rev_nodes}
        marks |= {f"{name}-slips": slips for name, slips in self.slips.items()}
        return [[name for name, mark in marks.items() if mark[i]] for i in range(len(self.speed))]


@dataclass(frozen=True)
class Prediction:
    """What a set-up will do: engagement, the upshift curve and, where asked for, the backshift curve."""

    drivetrain: Drivetrain
    engagement: Engagement
    shift: ShiftCurve
    backshift: ShiftCurve | None = None

    @property
    def low_ratio(self) -> float:
        """Ratio in which the machine starts [-]."""
        return float(self.shift.path.ratio[0])

    @property
    def high_ratio(self) -> float:
        """Ratio at the end of the shift [-]."""
        return float(self.shift.path.ratio[-1])

    @property
    def friction_band(self) -> float | None:
        """Mean of upshift less backshift over the shift window [rad/s]: the clutch's friction made visible."""
        return None if self.backshift is None else self.shift.mean - self.backshift.mean


def predict(drivetrain: Drivetrain, nodes: int = 41, *, backshift: bool = False) -> Prediction:
    """Predict what a set-up does at full throttle.

    For `nodes` equal steps of travel, solve F1_available(ω, x) = F1_required(M(ω), x) for ω; where the secondary cannot
    hold the torque there the engine runs on until it gives no more than is held.

    Parameters: `nodes` ≥ 5; `backshift`, whether to add the curve on which it shifts back.
    Raises Impossible where the weights cannot close the sheave.

    >>> from jaxel.demo.workshop import document
    >>> found = predict(document("mountain-sled").core())
    >>> round(found.shift.mean * 30 / pi), round(found.low_ratio, 2), round(found.high_ratio, 2)
    (7859, 3.44, 0.71)

    Reference: force balance of the primary's moving sheave; the parts in primary, secondary and balance.
    """
    path = drivetrain.drive.shift_path(nodes)
    return Prediction(
        drivetrain,
        engagement(drivetrain),
        _shift_curve(drivetrain, path, backshift=False),
        _shift_curve(drivetrain, path, backshift=True) if backshift else None,
    )


def engagement(drivetrain: Drivetrain, released: tuple[Array, Array] | None = None) -> Engagement:
    """Touch and bite of a set-up.

    touch: see primary.touch_speed, up to x_g
    snap = F1_available(ω_touch, x_g);  hit = F1_available(ω_bite + 100 rpm, x_g)
    bite:  F1_available(ω, x_g) = M1/(r1·μ_e·2·tan β), M1 = c_rr·m·g·R/(i_low·drive_ratio·efficiency), not below touch
    bite_rate = 2·A(x_g)·(1 − hysteresis)·ω_touch·Δω for Δω = 100 rpm

    Parameters: `released`, A(x) with friction [kg·m] and the spring's force [N] on the way to the belt gripped, where
    they are known. Raises Impossible where the weights cannot close the sheave.

    >>> from jaxel.demo.workshop import document
    >>> found = engagement(document("mountain-sled").core())
    >>> round(found.touch * 30 / pi), round(found.bite * 30 / pi), round(found.snap), round(found.hit)
    (3986, 3986, 328, 385)

    Reference: Eytelwein's limit for the slipping primary; rolling resistance c_rr·m·g.
    """
    way = drivetrain.drive.release_way
    weights, springs = released or (drivetrain.primary.weight_factor(way), drivetrain.primary.spring.force(way))
    factor, spring, touch = float(weights[-1]), float(springs[-1]), float(touch_speed(weights, springs))
    bite = float(bite_speed(drivetrain, touch, factor, spring))
    hit = factor * (bite + BITE_RATE_STEP) ** 2 - spring
    return Engagement(touch, bite, factor * touch**2 - spring, hit, 2 * factor * touch * BITE_RATE_STEP)


def bite_speed(drivetrain: Drivetrain, touch: Values, weights: Values, spring: Values) -> Array:
    """Speed at which the slipping primary first carries the rolling resistance [rad/s, any shape], not below `touch`.

    Parameters: `touch` [rad/s]; `weights`, A with friction [kg·m], and the `spring`'s force [N] where the belt is
    gripped. Belt, gearing and vehicle are the drivetrain's.

    >>> from jaxel.demo.workshop import document
    >>> sled = document("mountain-sled").core()
    >>> float(bite_speed(sled, 400.0, 0.004, 0.0)) >= 400.0  # never below the touch
    True

    Reference: as `engagement`.
    """
    drive, vehicle, start = drivetrain.drive, drivetrain.vehicle, drivetrain.drive.start
    overall = float(start.ratio) * vehicle.drive_ratio * drivetrain.belt.drive_efficiency
    torque = vehicle.rolling_resistance * vehicle.rolling_radius / overall
    clamp = torque / (float(start.primary_radius) * drivetrain.wedge_friction * drive.closing_per_radius)
    return np.maximum(touch, np.sqrt(np.maximum(0.0, clamp + np.asarray(spring)) / weights))


def _shift_curve(drivetrain: Drivetrain, path: BeltPath, *, backshift: bool) -> ShiftCurve:
    forces = Forces.of(drivetrain, path, backshift=backshift)
    held = forces.held_speed()
    speed = forces.engine_speed(held, drivetrain.engine.rev_limit)
    vehicle = drivetrain.vehicle
    return ShiftCurve(
        path=path,
        speed=speed,
        held=held,
        balance=forces.running(held, speed),
        vehicle_speed=speed / path.ratio / vehicle.drive_ratio * vehicle.rolling_radius,
        belt_speed=speed * path.primary_radius,
        rev_limit=drivetrain.engine.rev_limit,
    )
