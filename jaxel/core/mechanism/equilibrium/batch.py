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


class Parts:
    """What primaries and secondaries give along a belt's path, worked out once for those that many machines share."""

    def __init__(self, nodes: int):
        self.nodes = nodes
        self._primaries: dict[tuple[int, int], tuple[Array, Array, Array, Array]] = {}
        self._secondaries: dict[tuple[int, int], tuple[Array, Array]] = {}

    def _primary(self, of: Drivetrain) -> tuple[Array, Array, Array, Array]:
        """A(x) and the spring's force on the way to the belt gripped, and along the shift."""
        key = (id(of.primary), id(of.drive))
        if key not in self._primaries:
            way, path = of.drive.release_way, of.drive.shift_path(self.nodes)
            at = np.concatenate([way, path.travel])
            weights, spring = of.primary.weight_factor(at), of.primary.spring.force(at)
            many = len(way)
            self._primaries[key] = (weights[:many], spring[:many], weights[many:], spring[many:])
        return self._primaries[key]

    def released(self, of: Drivetrain) -> tuple[Array, Array]:
        """A(x) with friction [kg·m] and the spring's force [N] on the sheave's way to the belt gripped."""
        return self._primary(of)[:2]

    def forces(self, of: Drivetrain) -> Forces:
        """The forces along a machine's shift; raises Impossible where the weights cannot close the sheave."""
        _, _, weights, spring = self._primary(of)
        path, key = of.drive.shift_path(self.nodes), (id(of.secondary), id(of.drive))
        if key not in self._secondaries:
            self._secondaries[key] = of.secondary.clamp_terms(path.secondary_opening)
        return Forces.made(of, path, weights, spring, self._secondaries[key])


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
    parts = Parts(nodes)
    for each in drivetrains:
        try:
            forces = parts.forces(each)
            starts.append(engagement(each, parts.released(each)))
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
