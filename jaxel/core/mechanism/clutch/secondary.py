"""The helix and the secondary clutch it closes: belt torque, springs and friction as clamp force."""

from dataclasses import dataclass
from functools import cached_property
from math import tan

import numpy as np

from ..errors import Impossible
from ..numerics.tables import Array, Values
from .spring import CompressionSpring


@dataclass(frozen=True)
class Helix:
    """The cam that turns belt torque into clamp.

    `radius` r_h at which the followers run [m]; `openings` [n ≥ 1, m, increasing] of the secondary and
    `angles` α [n, rad] there, measured from the plane of rotation: a larger angle shifts faster and
    clamps less. Linear between the points, ends held.
    """

    radius: float
    openings: tuple[float, ...]
    angles: tuple[float, ...]

    def angle(self, opening: Values) -> Array:
        """Angle α [rad] at each opening [m]."""
        return np.asarray(np.interp(opening, self.openings, self.angles))

    def rotation(self, opening: Values) -> Array:
        """Rotation of the moving half from closed [rad] at each opening [m].

        θ(x2) = ∫ dx/(r_h·tan α(x)); with α linear between points each piece integrates to
        Δx·(ln sin α_b − ln sin α_a)/(α_b − α_a)

        >>> round(float(Helix(0.05, (0.0,), (0.7853981633974483,)).rotation(0.01)), 6)
        0.2

        Reference: lead of a cylindrical cam; the integral from any table of integrals.
        """
        x = np.asarray(opening, float)
        total = self._integral(x) - float(self._integral(np.zeros(())))
        return total / self.radius

    @cached_property
    def _pieces(self) -> tuple[Array, Array]:
        """The table's openings, and the integral of cot α from the first to each."""
        at, angles = np.asarray(self.openings), np.asarray(self.angles)
        pieces = _mean_cotangent(angles[:-1], angles[1:]) * np.diff(at)
        return at, np.concatenate([[0.0], np.cumsum(pieces)])

    def _integral(self, x: Array) -> Array:
        at, sums = self._pieces
        inside = np.clip(x, at[0], at[-1])
        index = np.clip(np.searchsorted(at, inside, side="right") - 1, 0, len(at) - 1)
        start = np.asarray(self.angles)[index]
        partial = _mean_cotangent(start, self.angle(inside)) * (inside - at[index])
        held = (x - inside) / np.tan(self.angle(x))
        return sums[index] + partial + held


def _mean_cotangent(first: Array, second: Array) -> Array:
    """Mean of cot α while α runs evenly from `first` to `second` [rad]; the mid value where they meet."""
    change = second - first
    flat = np.abs(change) < 1e-7
    safe = np.where(flat, 1.0, change)
    running = (np.log(np.sin(second)) - np.log(np.sin(first))) / safe
    return np.where(flat, 1 / np.tan((first + second) / 2), running)


@dataclass(frozen=True)
class Secondary:
    """The driven clutch.

    `helix`; `spring`, its axial force over the opening; `torsion_rate` κ [N·m/rad] and `pretwist` [rad]
    of a spring that also winds; `torque_share` of the belt's torque that enters through the movable
    sheave (½ for two equal faces); `follower_friction` μ_h (rollers near 0, buttons near 0.1: from memory).

    Raises Impossible for a torsion spring without wind, and for a helix its followers cannot climb.
    """

    helix: Helix
    spring: CompressionSpring
    torsion_rate: float = 0.0
    pretwist: float = 0.0
    torque_share: float = 0.5
    follower_friction: float = 0.0

    def __post_init__(self) -> None:
        if self.torsion_rate > 0 and self.pretwist <= 0:
            raise Impossible(
                "pretwist",
                "a torsion spring must be wound so that it pushes the helix against its followers: the twist "
                "must be above 0°",
            )
        if tan(min(self.helix.angles)) <= self.follower_friction:
            raise Impossible(
                "follower_friction", "is so high that the helix would lock: it must stay below tan of its angle"
            )

    def clamp_terms(self, opening: Values, *, backshift: bool = False) -> tuple[Array, Array]:
        """Clamp without torque [N] and clamp per torque on the secondary [1/m], at each opening x2 [m].

        F2 = compression(x2) + [κ·(pretwist + θ) + share·M2]/r_h·(1 ± μ_h·tan α)/(tan α ∓ μ_h)

        upper signs while it opens (upshift), where friction adds to what the belt must overcome; linear in
        M2, so a solver need work these out only once.

        Reference: force balance on a screw thread with friction (e.g. J. E. Shigley, Mechanical
        Engineering Design, power screws), the thread being the helix.
        """
        slope = np.tan(self.helix.angle(opening))
        friction = -self.follower_friction if backshift else self.follower_friction
        lever = (1 + friction * slope) / (slope - friction) / self.helix.radius
        fixed = self.spring.force(opening)
        if self.torsion_rate:
            fixed = fixed + self.torsion_rate * (self.pretwist + self.helix.rotation(opening)) * lever
        return fixed, self.torque_share * lever

    def clamp(self, opening: Values, torque: Values, *, backshift: bool = False) -> Array:
        """Axial force that closes the secondary [N] at openings [m] under torques M2 [N·m]."""
        fixed, per_torque = self.clamp_terms(opening, backshift=backshift)
        return fixed + per_torque * np.asarray(torque)
