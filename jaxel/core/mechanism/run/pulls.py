"""Pulls in a log: where the throttle opens and shuts again, and how it was opened.

Its limits are from memory, tried on simulated logs.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..numerics.tables import Array, Mask
from .grid import Grid
from .smooth import level, rate
from .spans import spans

Kind = Literal["stab", "roll-on", "chop"]

OPENS, SHUTS = 0.10, 0.05
"""Throttle past which a pull begins, and under which it ends [-]: apart, so that noise begins none."""

FULL = 0.95
"""Share of the pull's widest opening from which it is full throttle [-]."""

STAB = 0.7
"""Longest time from a tenth to nine tenths of the opening that is still a stab [s]; from memory."""

STAB_SPEED = 1.5
"""The same told from the engine alone: longest time from idle to nine tenths of the pull's speed [s]; from memory."""

SHORTEST = 0.8
"""Shortest pull [s]: a blip of the throttle is none."""

CHOP = 4.0
"""Longest time the throttle is shut within a pull [s]."""

RUNS_UP = 1.3
"""What an engine that is pulled runs up to, over its idle, at the least [-]."""

FALLS = 0.015
"""Slowing down from which, without a throttle, it is taken to be shut: share of the highest speed a second."""


@dataclass(frozen=True)
class Chop:
    """The throttle shut and opened again within a pull: points of the grid."""

    shut: int
    reopened: int


@dataclass(frozen=True)
class Pull:
    """One opening of the throttle, from `start` up to `stop` (points of the grid); `full` [points of the grid], where
    it is at full throttle and not in a chop. `stabbed`, whether it was opened at once; `known`, whether a throttle was
    logged that says so."""

    kind: Kind
    start: int
    stop: int
    full: Mask
    chops: tuple[Chop, ...]
    stabbed: bool
    known: bool

    def within(self, start: int, stop: int) -> "Pull":
        """The same pull by the points of a grid cut from `start` up to `stop`."""
        chops = tuple(Chop(each.shut - start, each.reopened - start) for each in self.chops)
        return Pull(
            self.kind, self.start - start, self.stop - start, self.full[start:stop], chops, self.stabbed, self.known
        )


def find_pulls(grid: Grid, motion: Array | None) -> list[Pull]:
    """The pulls of a log, in order.

    By the throttle, where it was logged; else by the engine running above its idle while the vehicle, or failing that
    the engine, does not slow down. An opening after less than CHOP s while the vehicle still runs is the same pull.

    Parameters: `motion`, secondary or vehicle speed in any unit [points], None where neither was logged.
    """
    engine = grid["engine"]
    throttle = grid["throttle"]
    known = throttle is not None and _widest(throttle) > OPENS
    if known:
        assert throttle is not None
        widest = _widest(throttle)
        is_open = _between(np.nan_to_num(throttle), OPENS * widest, SHUTS * widest)
    elif engine is not None:
        is_open = _running(grid, engine, motion)
    elif motion is not None:
        is_open = _gaining(grid, motion)
    else:
        return []
    blank = np.zeros(len(grid.time), bool)
    for channel in grid.channels.values():
        blank |= ~np.isfinite(channel)
    opened = spans(is_open & ~_long(blank, grid.span(1.0)))
    joined = _joined(grid, opened, motion if motion is not None else engine)
    found = []
    for start, stop, shut in joined:
        if (stop - start) * grid.step < SHORTEST:
            continue
        chops = tuple(Chop(a, b) for a, b in shut)
        full = np.zeros(len(grid.time), bool)
        full[start:stop] = True
        for chop in chops:
            full[chop.shut : chop.reopened] = False
        if known and throttle is not None:
            with np.errstate(invalid="ignore"):
                full &= throttle >= FULL * float(np.nanmax(throttle[start:stop]))
        stabbed = _stabbed(grid, start, chops[0].shut if chops else stop, throttle if known else None)
        kind: Kind = "chop" if chops else "stab" if stabbed else "roll-on"
        found.append(Pull(kind, start, stop, full, chops, stabbed, known))
    return found


def _widest(throttle: Array) -> float:
    """The widest opening, but for a hundredth of the readings."""
    return float(np.nanpercentile(throttle, 99))


def _between(values: Array, rises: float, falls: float) -> Mask:
    """Where a series lies above `rises`, or has not fallen beneath `falls` since: a switch with two thresholds."""
    state = np.where(values > rises, 1, np.where(values < falls, -1, 0))
    last = np.maximum.accumulate(np.where(state != 0, np.arange(len(state)), 0))
    return state[last] > 0


def _long(mask: Mask, least: int) -> Mask:
    """A mask without its stretches shorter than `least` points."""
    kept = np.zeros_like(mask)
    for start, stop in spans(mask, least):
        kept[start:stop] = True
    return kept


def _running(grid: Grid, engine: Array, motion: Array | None) -> Mask:
    """Without a throttle: the engine well above its idle, and nothing slowing down."""
    calm = np.nan_to_num(grid.level("engine", 0.15))
    low, high = np.percentile(calm, [2, 98])
    if high < RUNS_UP * low:
        return np.zeros(len(calm), bool)
    above = _between(calm, low + 0.15 * (high - low), low + 0.10 * (high - low))
    if motion is None:
        falling = rate(calm, grid.step, 0.4) < -0.25 * high
    else:
        gained = rate(level(np.nan_to_num(motion), grid.step, 0.3), grid.step, 0.5)
        falling = gained < -FALLS * float(np.nanmax(motion))
    return above & ~_long(falling, grid.span(0.25))


def _gaining(grid: Grid, motion: Array) -> Mask:
    """With a speed alone: the vehicle moves and does not slow down."""
    calm = np.nan_to_num(level(motion, grid.step, 0.5))
    top = float(calm.max())
    falling = rate(calm, grid.step, 1.0) < -FALLS * top
    return (calm > 0.01 * top) & ~_long(falling, grid.span(0.5))


def _joined(
    grid: Grid, opened: list[tuple[int, int]], running: Array | None
) -> list[tuple[int, int, list[tuple[int, int]]]]:
    """Openings that are one pull: (start, stop, shut from and to)."""
    found: list[tuple[int, int, list[tuple[int, int]]]] = []
    for start, stop in opened:
        if found and (start - found[-1][1]) * grid.step <= CHOP and running is not None:
            first, last, shut = found[-1]
            there = running[last:start]
            if np.all(np.isfinite(there)) and there.min() > 0.3 * running[last - 1]:
                found[-1] = (first, stop, [*shut, (last, start)])
                continue
        found.append((start, stop, []))
    return [(first, stop, [(a, b) for a, b in shut if (b - a) * grid.step >= 0.15]) for first, stop, shut in found]


def _stabbed(grid: Grid, start: int, stop: int, throttle: Array | None) -> bool:
    """Whether the throttle was opened at once."""
    if throttle is not None:
        opened = throttle[start:stop]
        widest = _widest(opened)
        return bool((np.argmax(opened >= 0.9 * widest) - np.argmax(opened >= 0.1 * widest)) * grid.step <= STAB)
    engine = grid["engine"]
    if engine is None:
        return True
    there = engine[start:stop]
    return bool(np.argmax(there >= 0.9 * np.nanpercentile(there, 90)) * grid.step <= STAB_SPEED)
