"""Take-off in a log: where the vehicle first moves, where the belt stops slipping, and the ratio it starts in.

Its limits are from memory, tried on simulated logs.
"""

from dataclasses import dataclass
from math import hypot, pi

import numpy as np

from ..numerics.tables import Array
from .grid import Grid
from .pulls import Pull
from .reading import Found, Reading, Unread
from .smooth import Smooths, level_noise, rate_noise, window
from .spans import spans

SLOWEST = 0.4
"""Vehicle speed at which it counts as moving [m/s]: above what a receiver at rest shows."""

SLOWEST_TURN = 10.0
"""The same of a secondary in a machine nobody knows [rad/s]: about a hundred turns a minute."""

QUIET = 3.0
"""Deviations of a smoothed speed at rest that motion must exceed."""

READABLE = 150 * pi / 30
"""Engine speeding up, beyond which a roll-on has run past its engagement before anything moves [rad/s²]."""

CALM = 0.2
"""Length over which speeds are smoothed about the take-off [s]."""

LOCKED = 0.75
"""Share of the vehicle's gain in speed that the engine must share to be on one ratio [-]."""

LEAST_LOCKED = 0.15
"""Shortest stretch on one ratio that counts [s]."""


class Motion(Smooths):
    """What shows that the clutch drives: the speed `values` [points] of the secondary [rad/s] or of the vehicle [m/s],
    its `noise`, how often it was read, and `moves`, the speed at which it counts as moving."""

    def __init__(self, values: Array, step: float, noise: float, every: float, moves: float):
        super().__init__(values, step)
        self.noise, self.every, self.moves = noise, every, moves

    def cut(self, start: int, stop: int) -> "Motion":
        """The same over the points of a grid cut from `start` up to `stop`."""
        return Motion(self.values[start:stop], self.step, self.noise, self.every, self.moves)


def motion_of(grid: Grid, gear: float | None) -> Motion | None:
    """The secondary's speed, or the vehicle's; with a set-up always the secondary's.

    Parameters: `gear`, secondary radians a metre of road, drive ratio over rolling radius, where it is known.
    """
    secondary, speed = grid["secondary"], grid["speed"]
    if secondary is not None:
        least = SLOWEST_TURN if gear is None else max(SLOWEST * gear, 5.0)
        return _motion(grid, secondary, grid.noise["secondary"], grid.every["secondary"], least)
    if speed is not None:
        factor = 1.0 if gear is None else gear
        return _motion(grid, speed * factor, grid.noise["speed"] * factor, grid.every["speed"], SLOWEST * factor)
    return None


def _motion(grid: Grid, speed: Array, noise: float, every: float, least: float) -> Motion:
    moves = max(least, QUIET * level_noise(noise, max(every, grid.step), CALM))
    return Motion(speed, grid.step, noise, every, moves)


def first_motion(grid: Grid, motion: Motion, pull: Pull) -> Found:
    """When the vehicle first moves in a pull, in s of the grid, from the speed smoothed over CALM.

    Unread where it was moving before the pull, or never moved.
    """
    begin = max(0, pull.start - grid.span(1.0))
    calm = motion.level(CALM)[begin : pull.stop]
    moving = np.nan_to_num(calm, nan=0.0) >= motion.moves
    if not np.any(moving):
        return Unread("no motion")
    first = int(np.argmax(moving))
    held = grid.span(0.3)
    while not np.all(moving[first : first + held]):
        later = np.flatnonzero(moving[first + 1 :] & ~moving[first:-1])
        if len(later) == 0:
            return Unread("no motion")
        first += 1 + int(later[0])
    if first == 0:
        return Unread("moving")
    below, above = calm[first - 1], calm[first]
    part = (motion.moves - below) / (above - below) if np.isfinite(below) and above > below else 1.0
    at = begin + first
    slope = motion.rate(3 * CALM)[at]
    # The speed itself is in doubt by its smoothed noise, and the moment by that over how fast it rises.
    every = max(motion.every, grid.step)
    sd = level_noise(motion.noise, every, CALM) / max(slope, 1e-9)
    return Reading(float(grid.time[at - 1] + part * grid.step), min(sd, 5.0), window(len(calm), grid.step, CALM), at)


def engagement(grid: Grid, motion: Motion | None, pull: Pull, marked: int | None = None) -> Found:
    """Engine speed at which the vehicle first moves on a slow roll-on [rad/s].

    On one faster than READABLE the engine has run past it: unread, with the speed at first motion as what it is at
    most. `marked`, the point where a hand says it first moves.
    """
    engine = grid["engine"]
    if engine is None:
        return Unread("no engine")
    if motion is None:
        return Unread("no motion")
    if marked is None:
        moved = first_motion(grid, motion, pull)
        if isinstance(moved, Unread):
            return moved
        at, early = moved.at, moved.sd
        assert at is not None
    else:
        at, early = marked, grid.step
    begin = max(0, at - grid.span(1.0), min(pull.start, at - grid.span(0.3)))
    before = engine[begin : at + 1]
    if len(before) < 3 or not np.all(np.isfinite(before)):
        return Unread("blank", at=at)
    times = grid.time[begin : at + 1]
    gaining = float(np.polyfit(times - times[-1], before, 1)[0])
    speed = _ending(engine, at, grid.span(0.4))
    if pull.stabbed or gaining > READABLE:
        return Unread("fast", speed, at)
    every = max(grid.every["engine"], grid.step)
    sd = hypot(2 * level_noise(grid.noise["engine"], every, 0.4), gaining * early)
    return Reading(speed, sd, grid.span(0.4), at)


def _ending(values: Array, at: int, span: int) -> float:
    """The end of the straight line through the points up to one."""
    there = values[max(0, at - span) : at + 1]
    if len(there) < 3:
        return float(values[at])
    return float(np.polyval(np.polyfit(np.arange(len(there)) - (len(there) - 1), there, 1), 0.0))


@dataclass(frozen=True)
class Lock:
    """The belt gripped on its lowest gearing: points from `start` up to `stop`, and engine over motion there."""

    start: int
    stop: int
    ratio: Reading


LENGTHS = (0.25, 0.4, 0.6, 0.9)
"""Lengths over which gains are taken [s]: noise cuts the stretch on one ratio short on the shorter ones, so the one
that shows it best counts."""


def locked(grid: Grid, motion: Motion, pull: Pull, moved: int) -> Lock | None:
    """The first stretch after the take-off on which engine and vehicle gain speed together, before the shift.

    While the belt slips the vehicle gains and the engine does not; while it shifts, hardly. In between both gain by the
    same share. None where the belt slipped until the shift began.

    Parameters: `moved`, the point of first motion.
    """
    engine = grid["engine"]
    stop = pull.chops[0].shut if pull.chops else pull.stop
    if engine is None or stop - moved < 5:
        return None
    lengths = dict.fromkeys(max(length, 3 * motion.every) for length in LENGTHS)
    found = [_locked(grid, motion, engine, slice(moved, stop), length) for length in lengths]
    return min((lock for lock in found if lock is not None), key=lambda lock: lock.ratio.sd, default=None)


def _locked(grid: Grid, motion: Motion, engine: Array, here: slice, smooth: float) -> Lock | None:
    calm = grid.level("engine", smooth)[here]
    turning = np.maximum(motion.level(smooth)[here], 1e-9)
    with np.errstate(all="ignore"):
        gain = motion.rate(smooth)[here] / turning
        share = grid.rate("engine", smooth)[here] / calm / gain
        doubt = rate_noise(motion.noise, max(motion.every, grid.step), smooth) / turning / np.maximum(gain, 1e-9)
        together = (share > LOCKED) & (share < 2 - LOCKED) & (gain > 0.08) & (doubt < 0.3)
        together &= ~grid.bridged[here]
        lowest = float(np.nanmin(np.where(turning > motion.moves, calm / turning, np.nan)))
    least = max(3, grid.span(LEAST_LOCKED))
    for first, last in spans(together, least):
        start, stop = here.start + first, here.start + last
        value = float(np.sum(engine[start:stop]) / np.sum(motion.values[start:stop]))
        if value < 1.3 * lowest:
            return None
        relative = hypot(motion.noise / float(np.median(motion.values[start:stop])),
                         grid.noise["engine"] / float(np.median(engine[start:stop])))  # fmt: skip
        every = max(motion.every, grid.step)
        sd = 1.1 * value * level_noise(relative, every, (stop - start) * grid.step)
        return Lock(start, stop, Reading(value, sd, stop - start, start))
    return None
