"""Many set-ups predicted in one call: a list of whole machines, or every primary with every secondary on one belt.

A set-up that cannot work does not stop the others: it is masked, with its reason.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from .drivetrain import Drivetrain
from .errors import Impossible
from .forces import Forces
from .primary import Primary
from .secondary import Secondary
from .shift import bite_speed, window_mean
from .tables import Array, Mask


@dataclass(frozen=True)
class Shifts:
    """The shifts of k set-ups at n nodes.

    `valid` [k]; `reasons` [k], why a set-up cannot work, else None; `speed` ω held [k, n, rad/s] and `bite`
    [k, rad/s], NaN where not valid.
    """

    valid: Mask
    reasons: tuple[Impossible | None, ...]
    speed: Array
    bite: Array

    @property
    def mean(self) -> Array:
        """Mean speed over the shift window [k, rad/s]."""
        return window_mean(self.speed)

    @property
    def full_shift(self) -> Array:
        """Speed at the end of the shift [k, rad/s]."""
        return self.speed[:, -1]


def shifts(drivetrains: Sequence[Drivetrain], nodes: int = 41) -> Shifts:
    """Predict whole machines that share an engine and a half-angle, each on its own belt path.

    Parameters: `drivetrains` [k ≥ 1]; `nodes` n of each shift.
    """
    reasons: list[Impossible | None] = []
    good: list[Forces] = []
    bites: list[float] = []
    for each in drivetrains:
        try:
            forces = Forces.of(each, each.drive.at(each.drive.nodes(nodes)))
            bites.append(bite_speed(each))
            good.append(forces)
            reasons.append(None)
        except Impossible as fault:
            reasons.append(fault)
    return _spread(reasons, nodes, Forces.stacked(good).held_speed() if good else np.empty((0, nodes)), bites)


def combinations(
    base: Drivetrain, primaries: Sequence[Primary], secondaries: Sequence[Secondary], nodes: int = 21
) -> Shifts:
    """Predict every primary with every secondary in the place of `base`'s own; k = P·S, primaries outermost.

    The belt path is shared, the primary's side stands as [P, n] and the secondary's as [S, n] until they meet.
    Parameters: `primaries` [P ≥ 1], `secondaries` [S ≥ 1], `nodes` n of each shift.
    """
    path = base.drive.at(base.drive.nodes(nodes))
    reasons: list[Impossible | None] = []
    weights, springs, bites = [], [], []
    for primary in primaries:
        try:
            weights.append(primary.weight_factor(path.travel))
            bites.append(bite_speed(replace(base, primary=primary)))
            springs.append(primary.spring.force(path.travel))
            reasons.append(None)
        except Impossible as fault:
            reasons.append(fault)
    terms = [secondary.clamp_terms(path.secondary_opening) for secondary in secondaries]
    count = len(secondaries)
    each = [reason for reason in reasons for _ in range(count)]
    if not weights:
        return _spread(each, nodes, np.empty((0, nodes)), [])
    shared = Forces.of(replace(base, primary=primaries[reasons.index(None)]), path)
    forces = replace(
        shared,
        weights=np.repeat(np.array(weights), count, axis=0),
        spring=np.repeat(np.array(springs), count, axis=0),
        clamp=np.tile(np.array([clamp for clamp, _ in terms]), (len(weights), 1)),
        clamp_per_torque=np.tile(np.array([per_torque for _, per_torque in terms]) * path.ratio, (len(weights), 1)),
    )
    return _spread(each, nodes, forces.held_speed(), np.repeat(bites, count).tolist())


def _spread(reasons: Sequence[Impossible | None], nodes: int, speed: Array, bites: Sequence[float]) -> Shifts:
    """Results of the set-ups that work, put back among those that do not."""
    valid = np.array([reason is None for reason in reasons])
    all_speeds, all_bites = np.full((len(valid), nodes), np.nan), np.full(len(valid), np.nan)
    all_speeds[valid], all_bites[valid] = speed, bites
    return Shifts(valid, tuple(reasons), all_speeds, all_bites)
