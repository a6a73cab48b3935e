"""Parts on a bench: what a scale, a wrench, a caliper and a count of turns say of them, by statics and geometry."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import atan2

import numpy as np

from ..errors import Impossible
from ..numerics.tables import Array
from .geometry import BeltDrive


def centre_from_tip(mass: float, tip_reading: float, span: float) -> float:
    """Distance of an arm's centre of mass from its pin, along the line from pin to tip.

    distance = tip reading·span/mass: moments about the pin, which rests on a block while the tip rests on the scale.

    Parameters: `mass` of the arm and `tip_reading` of the scale under its tip [kg]; `span` from the pin to where the
    tip rests [m], both level. Returns the distance [m]. Raises Impossible for a reading no arm gives.

    >>> round(centre_from_tip(0.063, 0.038, 0.063), 6)
    0.038

    Reference: equilibrium of moments, any text on statics.
    """
    if span <= 0:
        raise Impossible("span", "must be above 0: from the pin to where the tip rests")
    if mass <= 0:
        raise Impossible("mass", "must be above 0")
    if not tip_reading > 0:
        raise Impossible("tip_reading", "must be above 0: the tip rests on the scale")
    if tip_reading >= mass:
        raise Impossible("tip_reading", "must be below the whole mass: the pin carries the rest")
    return tip_reading * span / mass


@dataclass(frozen=True)
class TorsionLine:
    """A torsion spring by its torque over angle: `rate` [N·m/rad], `free_angle` at which it does not pull [rad]."""

    rate: float
    free_angle: float

    def wind(self, angle: float) -> float:
        """How far the spring is wound at an angle [rad]."""
        return angle - self.free_angle


def torsion_line(angles: Sequence[float], torques: Sequence[float]) -> TorsionLine:
    """Rate and free angle of a torsion spring from a torque wrench at two or more angles.

    M = rate·(angle − free angle), by least squares where there are more than two.

    Parameters: `angles` [rad, n ≥ 2, not all equal], `torques` [N·m, n]. Raises Impossible for too few readings or a
    torque that does not grow with the angle.

    >>> line = torsion_line([0.0, 1.0], [2.0, 6.0])
    >>> line.rate, line.free_angle
    (4.0, -0.5)

    Reference: Hooke's law.
    """
    if len(angles) < 2 or len(angles) != len(torques):
        raise Impossible("torques", "need at least two angles, each with its torque")
    if max(angles) - min(angles) <= 0:
        raise Impossible("angles", "were all the same: turn it further for the second reading")
    rate, at_zero = np.polyfit(angles, torques, 1)
    if rate <= 1e-9:
        raise Impossible("torques", "must grow with the angle")
    return TorsionLine(float(round(rate, 12)), float(round(-at_zero / rate, 12)))


def helix_angle(lift: float, turn: float, radius: float) -> float:
    """Angle of a straight helix from how far it lifts over a turn, measured from the plane of rotation.

    tan α = lift/(radius·turn)

    Parameters: `lift` [m], `turn` [rad], `radius` of the followers [m]. Returns α [rad]. Raises Impossible.

    >>> round(helix_angle(0.047, 1.0, 0.047), 6)
    0.785398

    Reference: development of a helix, any text on screws.
    """
    for name, value in (("lift", lift), ("turn", turn), ("radius", radius)):
        if value <= 0:
            raise Impossible(name, "must be above 0")
    return atan2(lift, radius * turn)


def turns_ratio(driving: float, driven: float) -> float:
    """Turns of the driving shaft per turn of the driven one, both counted; raises Impossible for a count of 0 or less.

    >>> turns_ratio(31.0, 2.5)
    12.4

    Reference: the definition of a transmission ratio.
    """
    if driving <= 0:
        raise Impossible("driving", "must be above 0 turns")
    if driven <= 0:
        raise Impossible("driven", "must be above 0 turns")
    return driving / driven


def drive_with(drive: BeltDrive, field: str, wanted: float, *, high: bool) -> float:
    """The length [m] of a belt drive at which its low or high ratio is the one counted.

    Parameters: `field` of BeltDrive to be found; `wanted` ratio [-]; `high`, whether it is that of the end of the
    shift. Raises Impossible where no length within a fifth gives it.

    >>> from jaxel.demo.workshop import document
    >>> drive = document("mountain-sled").core().drive
    >>> low = float(drive.shift_path(2).ratio[0])
    >>> abs(drive_with(drive, "centre_distance", low, high=False) / drive.centre_distance - 1) < 1e-6
    True

    Reference: R. P. Brent, Algorithms for Minimization Without Derivatives (1973), through SciPy.
    """
    here: float = getattr(drive, field)

    def off(length: float) -> float:
        changed = replace(drive, **{field: length})
        ratios = changed.shift_path(2).ratio
        return float(ratios[-1 if high else 0]) - wanted

    works = []
    for share in np.linspace(0.8, 1.2, 41):
        try:
            works.append((here * float(share), off(here * float(share))))
        except Impossible:
            continue
    for (low, below), (above, beyond) in pairwise(works):
        if below * beyond <= 0:
            from scipy.optimize import brentq  # slow to import: a server answers before it needs it

            return float(brentq(off, low, above))
    raise Impossible("ratio", "is out of this clutch's reach: count again, or measure the sheaves")


def path_from_blocks(travels: Sequence[float], values: Sequence[float]) -> Array:
    """Rows of a swing or a path from spacer blocks, by travel; raises Impossible for fewer than three or one twice.

    >>> path_from_blocks([0.02, 0.0, 0.01], [0.060, 0.040, 0.051]).tolist()
    [[0.0, 0.04], [0.01, 0.051], [0.02, 0.06]]

    Source: common practice.
    """
    if len(travels) < 3:
        raise Impossible("blocks", "at least three blocks are needed, closed and open among them")
    rows = np.array(sorted(zip(travels, values, strict=True)))
    if np.any(np.diff(rows[:, 0]) <= 0):
        raise Impossible("blocks", "each block needs its own thickness")
    return rows


def imbalance(masses: Sequence[float], radius: float) -> float:
    """What weights that are not alike leave out of balance, evenly round a shaft in the order given.

    |Σ m·r·e^(2πi·k/n)|

    Parameters: `masses` [kg, n], `radius` of their centres [m]. Returns the imbalance [kg·m]; turning at ω it pulls
    with ω² times as much [N].

    >>> round(imbalance([0.050, 0.050, 0.049], 0.1), 9)
    0.0001

    Reference: rotating unbalance in one plane as a vector sum, any text on the dynamics of machinery.
    """
    angles = 2j * np.pi * np.arange(len(masses)) / len(masses)
    return float(abs(np.sum(np.asarray(masses) * radius * np.exp(angles))))
