"""Many set-ups predicted in one call: a list of whole machines, each on its own belt path.

A set-up that cannot work does not stop the others: it is masked, with its reason.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..clutch.forces import Forces
from ..errors import Impossible
from ..numerics.tables import Array, Mask
from ..vehicle.drivetrain import Drivetrain
from .shift import Engagement, engagement, window, window_mean, window_slope, window_spread


@dataclass(frozen=True)
class Shifts:
    """The shifts of k set-ups at n nodes.

    `valid` [k]; `reasons` [k], why a set-up cannot work, else None; `held`, the speed that balances the belt [k, n,
    rad/s], a smooth function of everything, and `slips` [k], whether the secondary slips in the shift window, where the
    engine runs past it; `touch` and `bite` [k, rad/s], `low_ratio` and `high_ratio` [k]; NaN where not valid.
    """

    valid: Mask
    reasons: tuple[Impossible | None, ...]
    held: Array
    slips: Mask
    touch: Array
    bite: Array
    low_ratio: Array
    high_ratio: Array

    def rows(self, which: NDArray[np.intp]) -> "Shifts":
        """Some of the set-ups, one as often as it is named."""
        reasons = tuple(self.reasons[index] for index in which)
        arrays = (self.touch, self.bite, self.low_ratio, self.high_ratio)
        return Shifts(
            self.valid[which], reasons, self.held[which], self.slips[which], *(values[which] for values in arrays)
        )

    @property
    def mean(self) -> Array:
        """Mean speed over the shift window [k, rad/s]."""
        return window_mean(self.held)

    @property
    def spread(self) -> Array:
        """Highest less lowest speed over the shift window [k, rad/s]."""
        return window_spread(self.held)

    @property
    def slope(self) -> Array:
        """Least-squares slope over the shift window [k, rad/s per whole travel]."""
        return window_slope(self.held)

    @property
    def full_shift(self) -> Array:
        """Speed at the end of the shift [k, rad/s]."""
        return self.held[:, -1]


def shifts(drivetrains: Sequence[Drivetrain], nodes: int = 41) -> Shifts:
    """Predict whole machines, each on its own belt path; those of one engine are solved together.

    Parameters: `drivetrains` [k ≥ 1]; `nodes` n of each shift.

    >>> from jaxel.core.mechanism.equilibrium.shift import predict
    >>> from jaxel.demo.workshop import document
    >>> sled = document("mountain-sled").core()
    >>> alone, twice = predict(sled).shift.mean, shifts([sled, sled])
    >>> [abs(float(each) / alone - 1) < 1e-6 for each in twice.mean]
    [True, True]

    Reference: as shift.predict.
    """
    reasons: list[Impossible | None] = []
    together: dict[object, list[int]] = {}
    good: list[Forces] = []
    starts: list[Engagement] = []
    for each in drivetrains:
        try:
            forces = Forces.of(each, each.drive.shift_path(nodes))
            starts.append(engagement(each))
        except Impossible as fault:
            reasons.append(fault)
            continue
        together.setdefault((each.engine.torque.points, each.belt.adhesion_share), []).append(len(good))
        good.append(forces)
        reasons.append(None)
    speed, slips = np.empty((len(good), nodes)), np.zeros(len(good), bool)
    for rows in together.values():
        forces = Forces.stacked([good[row] for row in rows])
        speed[rows] = forces.held_speed()
        slips[rows] = forces.slips(speed[rows])[:, window(nodes)].any(axis=1)
    ratios = np.array([forces.path.ratio[[0, -1]] for forces in good]).reshape(-1, 2)
    return _spread(reasons, speed, slips, starts, ratios)


def _spread(
    reasons: Sequence[Impossible | None], held: Array, slips: Mask, starts: Sequence[Engagement], ratios: Array
) -> Shifts:
    """Results of the set-ups that work, put back among those that do not."""
    valid = np.array([reason is None for reason in reasons])
    found = np.column_stack([[each.touch for each in starts], [each.bite for each in starts], ratios, held])
    every, slipping = np.full((len(valid), found.shape[1]), np.nan), np.zeros(len(valid), bool)
    every[valid], slipping[valid] = found, slips
    touch, bite, low_ratio, high_ratio = every[:, :4].T
    return Shifts(valid, tuple(reasons), every[:, 4:], slipping, touch, bite, low_ratio, high_ratio)
