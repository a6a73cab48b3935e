"""A logger's clock put straight: rows in order, stamps that stand once, jumps closed up.

Its limits are from memory, tried on simulated logs.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..numerics.tables import Array, Mask
from .log import Log

WINDOW = 9
"""Rows over which stamps may be out of order; more than that apart, the clock itself was set."""

JUMP = 1.0
"""Step of the clock [s] from which it is asked whether the clock jumped or rows are missing; from memory."""

GAP = 5.0
"""Longest pause that is kept as it is [s]: what lies beyond is cut from the log's own clock, not from its stamps."""

KEPT_OF_GAP = 2.0
"""What is left of a longer pause [s], so that what stands on its two sides stays apart."""

OFTEN = 0.2
"""Share of stamps that repeat from which the clock is coarse, and its rows are spread over its step."""


@dataclass(frozen=True)
class Straight:
    """Rows of a log in order of time.

    `rows`, their places in the log; `time`, a clock that runs evenly on from 0 [s]; `stamped`, the log's own stamp of
    each row [s]. `repeated`, `disordered`, `wild` count the rows that were left out or moved, `jumps` the clock's.
    """

    rows: NDArray[np.intp]
    time: Array
    stamped: Array
    repeated: int = 0
    disordered: int = 0
    wild: int = 0
    jumps: int = 0


def straightened(log: Log) -> Straight:
    """Put a log's clock straight.

    A stamp far from those about it is left out. Where the clock falls back for good, or leaps ahead while engine and
    vehicle run on as if nothing had been, it was set: the step is closed up. Rows a few places out of order are sorted;
    of rows with one stamp the first counts, unless stamps repeat throughout, when the rows are spread evenly.
    """
    rows = np.flatnonzero(np.isfinite(log.time))
    time = log.time[rows]
    if len(time) < 2:
        return Straight(rows, time - time[:1].sum(), time)
    steps = np.diff(time)
    step = _usual(steps[:: max(1, len(steps) // 50_000)])
    if steps.min() > 0 and steps.max() <= max(JUMP, 20 * step):
        return Straight(rows, time - time[0], time)

    from scipy.ndimage import median_filter

    calm = median_filter(time, WINDOW, mode="nearest")
    sane = np.abs(time - calm) <= max(JUMP, 20 * step)
    wild = int(np.sum(~sane))
    rows, time, calm = rows[sane], time[sane], calm[sane]
    ahead, calm_step = np.diff(time), np.diff(calm)
    back = (ahead < 0) & (calm_step < -step * WINDOW / 2)
    leap = (ahead > max(JUMP, 20 * step)) & (calm_step > 0)
    leap[leap] = [_ran_on(log, rows[place], rows[place + 1], step) for place in np.flatnonzero(leap)]
    jump = back | leap
    closed = np.where(jump, step - ahead, 0.0)
    own = time - time[0] + np.concatenate([[0.0], np.cumsum(closed)])

    order = np.argsort(own, kind="stable")
    disordered = int(np.sum(np.diff(own) < 0))
    own, rows, time = own[order], rows[order], time[order]
    same = np.concatenate([[False], np.diff(own) <= 0])
    repeated = int(same.sum())
    if repeated > OFTEN * len(own):
        own, repeated = _spread(own, same), 0
    else:
        own, rows, time = own[~same], rows[~same], time[~same]
    pause = np.diff(own)
    cut = np.where(pause > GAP, pause - KEPT_OF_GAP, 0.0)
    own = own - np.concatenate([[0.0], np.cumsum(cut)])
    return Straight(rows, own, time, repeated, disordered, wild, int(jump.sum()))


def _usual(steps: Array) -> float:
    ahead = steps[steps > 0]
    return float(np.median(ahead)) if len(ahead) else 1.0


def _ran_on(log: Log, before: int, after: int, step: float) -> bool:
    """Whether engine and vehicle are after a leap of the clock where one step of it would have brought them."""
    for channel, most in (("engine", 1500.0), ("secondary", 1500.0), ("speed", 10.0)):
        values = log.channels.get(channel)  # type: ignore[call-overload]
        if values is None:
            continue
        around = np.abs(values[after] - values[before])
        usual = 0.02 * np.nanmax(np.abs(values))
        if np.isfinite(around) and around > max(usual, most * step):
            return False
    return True


def _spread(time: Array, same: Mask) -> Array:
    """Rows of one stamp spread evenly up to the next stamp."""
    first = np.flatnonzero(~same)
    ends = np.append(time[first[1:]], time[first[-1]] + _usual(np.diff(time[first])))
    counts = np.diff(np.append(first, len(time)))
    place = np.arange(len(time)) - np.repeat(first, counts)
    return time + place * np.repeat((ends - time[first]) / counts, counts)
