"""Slip in a log: where the belt, or the ground, took less than it was given.

Its limits are from memory, tried on simulated logs.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..numerics.tables import Mask
from .grid import Grid
from .pulls import Pull
from .reading import Unread
from .smooth import rate
from .spans import spans
from .take_off import Lock, Motion, first_motion

FLARES = 0.15
"""Growth of engine over motion at full throttle that is the belt letting go [1/s]; from memory."""

LEAST_FLARE = 0.15
"""Shortest flare that counts [s]."""

SPINS = 1.08
"""Speed of the wheel over that of the machine from which the ground slips [-]; from memory."""

LEAST_SPIN = 0.5


@dataclass(frozen=True)
class Slip:
    """A stretch in which something slipped: points of the grid, and the share lost [0–1]."""

    what: Literal["take-off", "flare", "ground"]
    start: int
    stop: int
    share: float


def slips_of(grid: Grid, motion: Motion | None, pull: Pull, lock: Lock | None, gear: float | None) -> list[Slip]:
    """Where a pull slipped: at the take-off until the belt gripped, where the engine flared up in the shift, and where
    track or tyre ran faster than the machine.

    Parameters: `gear`, secondary radians a metre of road, where it is known.
    """
    engine = grid["engine"]
    found: list[Slip] = []
    if motion is None:
        return found
    if engine is not None:
        moved = first_motion(grid, motion, pull)
        if lock is not None and not isinstance(moved, Unread) and moved.at is not None and lock.start > moved.at:
            at = min(moved.at + grid.span(0.2), lock.start)
            lost = 1 - lock.ratio.value * motion.values[at] / engine[at]
            found.append(Slip("take-off", moved.at, lock.start, float(np.clip(lost, 0.0, 1.0))))
        begin = lock.start if lock is not None else pull.start + (pull.stop - pull.start) // 3
        with np.errstate(all="ignore"):
            ratio = grid.level("engine", 0.2) / motion.level(max(0.2, 3 * motion.every))
            grows = rate(np.log(ratio), grid.step, 0.3) > FLARES
            gains = motion.rate(0.5) > -0.01 * np.nanmax(motion.values)
        steady = _clear_of_chops(grid, pull)
        flare = grows & gains & pull.full & steady
        flare[:begin] = False
        for start, stop in spans(flare, grid.span(LEAST_FLARE)):
            found.append(Slip("flare", start, stop, float(1 - ratio[start] / ratio[stop - 1])))
    secondary, speed = grid["secondary"], grid["speed"]
    if gear is not None and secondary is not None and speed is not None:
        with np.errstate(all="ignore"):
            over = grid.level("secondary", 0.3) / (gear * grid.level("speed", 0.3))
            spinning = (over > SPINS) & (speed > 2.0) & pull.full
        for start, stop in spans(spinning, grid.span(LEAST_SPIN)):
            found.append(Slip("ground", start, stop, float(1 - 1 / np.median(over[start:stop]))))
    return sorted(found, key=lambda each: each.start)


def _clear_of_chops(grid: Grid, pull: Pull) -> Mask:
    """Points not within two seconds after a chop, when the engine comes up without any slip."""
    clear = np.ones(len(grid.time), bool)
    for chop in pull.chops:
        clear[chop.shut : chop.reopened + grid.span(2.0)] = False
    return clear
