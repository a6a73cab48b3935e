"""Flyweights of every kind as one thing: masses whose radius grows with the sheave's travel.

By virtual work the axial force of n equal weights turning at ω is F = A(x)·ω² with
A(x) = n·Σ m·r·dr/dx: half of d(m·r²)/dx is what the rotating kinetic energy gains per unit of travel.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import radians
from typing import Protocol

import numpy as np

from ..errors import Impossible
from ..numerics.tables import Array, SmoothCurve, Values
from .spring import CompressionSpring

ROUGH_ANGLE, ROUGH_RADIUS = radians(0.3), 0.3e-3
"""A point of a swing [rad] or a path [m] further than this off its curve was read wrong, or the part has a notch."""


class Profile(Protocol):
    """One weight of a set: what its masses do along the travel."""

    def pull(self, travel: Values) -> Array:
        """Σ m·r·dr/dx of one weight [kg·m] at each travel [m]."""
        ...

    def radius(self, travel: Values) -> Array:
        """Radius of the weight's centre of mass from the shaft [m] at each travel [m]."""
        ...

    @property
    def misfits(self) -> list[float]:
        """Travels [m] of the points of its table that lie too far off its curve."""
        ...


@dataclass(frozen=True)
class PointMass:
    """A mass on a swing arm: the bare arm's own, or a load at one of its stations.

    `mass` [kg]; `distance` ℓ from the pivot [m]; `angle` ψ from the arm's line [rad].
    """

    mass: float
    distance: float
    angle: float


@dataclass(frozen=True)
class SwingArm:
    """An arm pivoted on the moving sheave that swings out along its roller.

    r = pivot_radius + ℓ·sin(φ + ψ),  dr/dx = ℓ·cos(φ + ψ)·dφ/dx

    `pivot_radius` [m]; `swing`, the angle φ [rad] over travel [m]; `masses`, the bare arm and its loads.
    Reference: kinematics of a pivoted arm; virtual work as in the module's opening.
    """

    pivot_radius: float
    swing: SmoothCurve
    masses: tuple[PointMass, ...]

    def pull(self, travel: Values) -> Array:
        swing, slope = self.swing(travel), self.swing.slope(travel)
        total = np.zeros_like(swing)
        for each in self.masses:
            angle = swing + each.angle
            radius = self.pivot_radius + each.distance * np.sin(angle)
            total += each.mass * radius * each.distance * np.cos(angle)
        return total * slope

    def radius(self, travel: Values) -> Array:
        swing = self.swing(travel)
        moments = sum(each.mass * each.distance * np.sin(swing + each.angle) for each in self.masses)
        return self.pivot_radius + np.asarray(moments) / sum(each.mass for each in self.masses)

    @property
    def misfits(self) -> list[float]:
        return _further_off(self.swing, ROUGH_ANGLE)


@dataclass(frozen=True)
class RampRoller:
    """A roller or slider driven out along a ramp pocket against a plate.

    dr/dx = 1/(tan ramp + tan plate), given as the roller's path r(x)

    `path`, the radius of the roller's centre [m] over travel [m]; `mass` of one roller [kg].
    Reference: kinematics of a roller between two inclined faces; virtual work as in the module's opening.
    """

    path: SmoothCurve
    mass: float

    def pull(self, travel: Values) -> Array:
        return self.mass * self.path(travel) * self.path.slope(travel)

    def radius(self, travel: Values) -> Array:
        return self.path(travel)

    @property
    def misfits(self) -> list[float]:
        return _further_off(self.path, ROUGH_RADIUS)


def _further_off(curve: SmoothCurve, most: float) -> list[float]:
    """The places of a table whose points lie further than `most` off its curve."""
    places = curve.points[: len(curve.off)]
    return [place for place, off in zip(places, curve.off, strict=True) if abs(off) > most]


@dataclass(frozen=True)
class Clicker:
    """Numbered positions of an adjustable cam; a higher number pushes less and revs higher.

    Source: common practice, about 200 rpm a position; `gain_step` 0.065 gives that near 8,000 rpm.
    """

    position: int = 3
    reference: int = 3
    gain_step: float = 0.065

    @property
    def factor(self) -> float:
        """What A is multiplied by, 1 − gain_step·(position − reference) [-]."""
        return 1 - self.gain_step * (self.position - self.reference)


@dataclass(frozen=True)
class Primary:
    """The drive clutch: n equal weights against one spring.

    `profile` of one weight, `count` of weights, `spring`, `travel` of the sheave [m], `shim` under the
    spider [m], `clicker`; `gain_scale` and `gain_tilt` are the calibration of A; `hysteresis` the share
    of the weights' force lost to friction on upshift and held back on backshift.
    """

    profile: Profile
    count: int
    spring: CompressionSpring
    travel: float
    shim: float = 0.0
    clicker: Clicker = Clicker()
    gain_scale: float = 1.0
    gain_tilt: float = 0.0
    hysteresis: float = 0.0

    def weight_factor(self, travel: Values, *, backshift: bool = False) -> Array:
        """Force of the weights per squared speed, A(x) with friction [kg·m].

        n·Σ m·r·dr/dx at x + shim, times clicker, calibration and (1 ∓ hysteresis).
        Raises Impossible where the weights would not push the sheave closed.
        """
        x = np.asarray(travel, float)
        tilt = 1 + self.gain_tilt * (x / self.travel - 0.5)
        friction = 1 + self.hysteresis if backshift else 1 - self.hysteresis
        factor = self.count * self.profile.pull(x + self.shim)
        factor = factor * (self.clicker.factor * self.gain_scale * friction) * tilt
        if np.any(factor <= 0):
            where = float(np.ravel(x)[np.argmax(np.ravel(factor) <= 0)])
            raise Impossible("profile", "the weights do not push the sheave closed at {travel} of travel", travel=where)
        return factor


def touch_speed(weights: Array, spring: Array) -> Array:
    """Speed at which the sheave has left its stop and closed up to the end of its way [..., rad/s].

    ω = max √(F_s1(x)/(A(x)·(1 − hysteresis))) along the way

    Where A rises faster than the spring the sheave runs away as soon as it moves: what counts is the highest release
    speed on the way. Parameters: A with friction [..., m, kg·m] and the spring's force [..., m, N] at m places of it.

    >>> float(touch_speed(np.array([0.02, 0.03]), np.array([800.0, 900.0])))
    200.0

    Reference: balance of weights and spring, as in the module's opening.
    """
    return np.asarray(np.sqrt(np.max(np.maximum(0.0, spring) / weights, axis=-1)))


def ramp_path(ramp: Callable[[float], float], plate: float, start_radius: float, travels: Sequence[float]) -> Array:
    """Radius of a roller's centre from the angles of its ramp and of its back plate.

    dr/dx = 1/(tan ramp(x) + tan plate), integrated along the travel

    Parameters: `ramp`, angle [rad] of the ramp's tangent from the plane of rotation at a travel [m];
    `plate` [rad]; `start_radius` at the first travel [m]; `travels` [n, increasing]. Returns r [m, n].
    Raises Impossible when ramp and plate together do not open outward.

    >>> from math import radians
    >>> [round(float(r), 4) for r in ramp_path(lambda x: radians(45), 0.0, 0.03, [0, 0.01])]
    [0.03, 0.04]

    Reference: geometry of a roller between two inclined faces.
    """

    from scipy.integrate import quad  # slow to import, and few machines need it

    def slope(x: float) -> float:
        opening = float(np.tan(ramp(x)) + np.tan(plate))
        if opening <= 0:
            raise Impossible("profile_path", "ramp and plate do not open outward at {travel}", travel=x)
        return 1 / opening

    at = np.asarray(travels, float)
    steps = [quad(slope, a, b)[0] for a, b in pairwise(at)]
    return start_radius + np.concatenate([[0.0], np.cumsum(steps)])
