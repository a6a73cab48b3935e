"""A log on an even clock: spikes out, blanks and held readings filled, fast loggers averaged; and its noise.

Its limits are from memory, tried on simulated logs.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..numerics.tables import Array, Mask
from .clock import straightened
from .log import CHANNELS, Channel, Log
from .smooth import Smooths
from .spans import spans

FINEST = 0.01
"""Step of the even clock, at the least [s]: nothing a clutch does is shorter."""

LONGEST_BLANK = 0.5
"""Longest stretch without a reading that is bridged by a straight line [s]."""

MISSING = 3.0
"""Steps between two rows from which rows are missing between them."""

MOST_POINTS = 3_000_000

SPIKE: dict[Channel, float] = {
    "engine": 30.0,
    "secondary": 30.0,
    "speed": 1.5,
    "throttle": 0.3,
    "belt_temperature": 8.0,
}
"""How far a reading must lie from the median about it to be a spike: rad/s, m/s, share, K; from memory."""

SPIKES = 6.0
"""Or so many deviations of the noise, if that is more."""

WIDE = 9
"""Readings over which spikes are looked for a second time."""

LEAST_RUNNING = 30.0
"""Engine speed beneath which a running engine's reading is a lost one [rad/s]."""


@dataclass(frozen=True)
class Grid:
    """A cleaned log on an even clock.

    `time` [s, points], its own clock from 0; `stamped`, the log's stamp there [s]; `channels` [points], NaN where a
    blank is too long to bridge; `bridged` [points], where rows were missing; `noise`, the standard deviation of one
    point of each; `every`, the usual step between readings of each [s]. `rows` in the log, `dropped` from it by reason.
    """

    step: float
    time: Array
    stamped: Array
    channels: dict[Channel, Array]
    noise: dict[Channel, float]
    every: dict[Channel, float]
    rows: int
    dropped: dict[str, int]
    bridged: Mask

    @cached_property
    def _smooths(self) -> dict[Channel, Smooths]:
        return {channel: Smooths(values, self.step) for channel, values in self.channels.items()}

    def level(self, channel: Channel, seconds: float) -> Array:
        """A channel that was logged, smoothed [points]."""
        return self._smooths[channel].level(seconds)

    def rate(self, channel: Channel, seconds: float) -> Array:
        """Slope of a channel that was logged [per s, points]."""
        return self._smooths[channel].rate(seconds)

    def __getitem__(self, channel: Channel) -> Array | None:
        return self.channels.get(channel)

    def cut(self, start: int, stop: int) -> "Grid":
        """The stretch from one point up to another, on the same clock."""
        here = slice(start, stop)
        channels = {channel: values[here] for channel, values in self.channels.items()}
        return replace(
            self, time=self.time[here], stamped=self.stamped[here], channels=channels, bridged=self.bridged[here]
        )

    def place(self, stamp: float) -> int:
        """The point nearest to one of the log's stamps."""
        return int(np.argmin(np.abs(self.stamped - stamp)))

    def span(self, seconds: float) -> int:
        """Points in a length of time, one at least."""
        return max(1, round(seconds / self.step))


def gridded(log: Log) -> Grid:
    """Clean a log and put it on an even clock, of its own step or 0.01 s, whichever is longer."""
    straight = straightened(log)
    steps = np.diff(straight.time)
    native = float(np.median(steps[:: max(1, len(steps) // 50_000)])) if len(steps) else 1.0
    step = max(native, FINEST)
    end = float(straight.time[-1]) if len(steps) else 0.0
    step = float(max(step, end / MOST_POINTS))
    points = int(end / step + 1e-6) + 1
    time: Array = np.arange(points, dtype=float) * step
    coarse = native < 0.75 * step
    cell = np.minimum((straight.time / step + 0.5).astype(np.intp), points - 1) if coarse else None
    whole = len(straight.rows) == len(log.time) and bool(np.all(straight.rows[:1] == 0)) and not straight.disordered

    dropped = {"repeated": straight.repeated, "out of order": straight.disordered, "wild stamp": straight.wild,
               "clock jump": straight.jumps, "unread": log.unread, "spike": 0}  # fmt: skip
    channels: dict[Channel, Array] = {}
    noise: dict[Channel, float] = {}
    every: dict[Channel, float] = {}
    for channel in CHANNELS:
        column = log[channel]
        if column is None:
            continue
        values = column if whole else column[straight.rows]
        bad = _spikes(values, SPIKE[channel]) | ~np.isfinite(values)
        if channel == "engine":
            bad |= _lost(values, straight.time)
        dropped["spike"] += int(np.sum(bad & np.isfinite(values)))
        fresh = _fresh(values, bad) if channel in ("secondary", "speed", "belt_temperature") else ~bad
        if np.sum(fresh) < 2:
            continue
        every[channel] = native * len(values) / max(1, int(np.sum(fresh | bad)))
        if cell is not None and np.mean(fresh) > 0.3:
            evened = _averaged(values, fresh, cell, points)
        else:
            evened = np.interp(time, straight.time[fresh], values[fresh])
            _blank(evened, time, straight.time[fresh], max(LONGEST_BLANK, 3 * every[channel]))
        channels[channel] = evened if channel != "throttle" else np.clip(_calmed(evened), 0.0, 1.0)
        noise[channel] = _noise(evened) if every[channel] < 2 * step else _noise(values[fresh])
    missing = np.flatnonzero(steps > MISSING * native)
    bridged = _within(time, straight.time[missing], straight.time[missing + 1])
    stamped = np.interp(time, straight.time, straight.stamped) if len(straight.time) else time
    return Grid(step, time, stamped, channels, noise, every, len(log.time), dropped, bridged)


def _within(time: Array, begins: Array, ends: Array) -> Mask:
    """Where a clock lies within any of some stretches."""
    edges = np.zeros(len(time) + 1, np.intp)
    np.add.at(edges, np.searchsorted(time, begins, side="right"), 1)
    np.add.at(edges, np.searchsorted(time, ends, side="left"), -1)
    return np.asarray(np.cumsum(edges[:-1]) > 0)


def _spikes(values: Array, least: float) -> Mask:
    """Readings that lie further than `least`, and than the noise, from the median of those about them.

    Looked for among five, then once more among nine without those found: several together hide each other.
    """
    out = np.isnan(values)
    blank = bool(out.any())
    if blank:  # stands for the reading before it
        read = np.maximum.accumulate(np.where(out, 0, np.arange(len(values))))
        values = values[read]
    first = _outliers(values, 5, least)
    if not len(first):
        return np.zeros(len(values), bool)
    found = np.zeros(len(values), bool)
    found[first] = True
    good = np.flatnonzero(~(found | out)) if blank else np.flatnonzero(~found)
    found[good[_outliers(values[good], WIDE, least)]] = True
    return found


def _outliers(values: Array, width: int, least: float) -> NDArray[np.intp]:
    """Places of readings that lie off the median of `width` about them, themselves among them.

    One that does has a step of a third of that beside it, and only about such steps is it looked for.
    """
    half = width // 2
    if len(values) <= width:
        return np.empty(0, np.intp)
    steps = np.flatnonzero(np.abs(np.diff(values)) > least / 3)
    if not len(steps):
        return np.empty(0, np.intp)
    near = np.zeros(len(values), bool)
    for shift in range(-half, half + 2):
        near[np.clip(steps + shift, 0, len(values) - 1)] = True
    padded = np.pad(values, half, mode="reflect")
    every = max(1, len(values) // 5_000)
    usual = 1.4826 * float(np.median(_off(padded, np.arange(0, len(values), every), width)))
    places = np.flatnonzero(near)
    found = places[_off(padded, places, width) > max(least, SPIKES * usual)]
    # At the ends a steep start is no spike: there its step must stand out from the one beside it.
    early, late = found < half, found >= len(values) - half
    inward = np.where(early, 1, -1)
    ends = np.flatnonzero(early | late)
    one, two = (values[found[ends] + count * inward[ends]] for count in (1, 2))
    steep = np.abs(values[found[ends]] - one) <= 3 * np.abs(one - two)
    return np.delete(found, ends[steep])


def _off(padded: Array, places: NDArray[np.intp], width: int) -> Array:
    """Distance of readings from the median of those about them."""
    windows = padded[places[:, None] + np.arange(width)]
    return np.asarray(np.abs(padded[places + width // 2] - np.median(windows, axis=1)))


def _calmed(values: Array) -> Array:
    """Each value as the median of five."""
    places = np.arange(len(values))
    if len(values) < 6:
        return values
    windows = np.pad(values, 2, mode="reflect")[places[:, None] + np.arange(5)]
    return np.asarray(np.median(windows, axis=1))


def _lost(values: Array, time: Array) -> Mask:
    """Stretches of next to no engine speed shorter than a bridged blank, between two where it runs."""
    low = values < LEAST_RUNNING
    if not np.any(low):
        return low
    for start, stop in spans(low):
        inside = start > 0 and stop < len(values)
        if not inside or time[stop] - time[start - 1] > 2 * LONGEST_BLANK:
            low[start:stop] = False
    return low


def _fresh(values: Array, bad: Mask) -> Mask:
    """Readings that were taken, of a slower instrument whose last one is written again until it has a new.

    Where a column changes only every third row or more, by more than its own smallest step, the first of each run of
    equals is the reading; in a longer run, all but the last that could be waiting for it.
    """
    good = ~bad
    if len(values) < 20:
        return good
    changes = np.flatnonzero(np.diff(values) != 0) + 1
    if len(changes) < 5 or len(changes) > len(values) / 2:
        return good
    wait = int(np.median(np.diff(changes)))
    size = np.abs(np.diff(values))[changes - 1]
    if wait < 3 or np.median(size) < 2.5 * np.percentile(size[size > 0], 5):
        return good
    fresh = np.zeros(len(values), bool)
    fresh[0] = True
    fresh[changes] = True
    since = np.arange(len(values)) - np.maximum.accumulate(np.where(fresh, np.arange(len(values)), 0))
    until = np.append(changes, len(values))[np.searchsorted(changes, np.arange(len(values)), side="right")]
    left = until - np.arange(len(values))
    return (fresh | ((since > 0) & (left > 1.5 * wait) & (since % wait == 0))) & good


def _averaged(values: Array, fresh: Mask, cell: NDArray[np.intp], points: int) -> Array:
    """Mean of the readings in each step of the clock; empty steps bridged where the blank is short."""
    counts = np.bincount(cell, weights=fresh, minlength=points)
    sums = np.bincount(cell, weights=np.where(fresh, values, 0.0), minlength=points)
    with np.errstate(all="ignore"):
        means = sums / counts
    held = counts > 0
    if np.all(held):
        return means
    places = np.flatnonzero(held)
    filled = np.interp(np.arange(points), places, means[places])
    return _blank_cells(filled, held)


def _blank_cells(filled: Array, held: Mask) -> Array:
    for start, stop in spans(~held):
        if (stop - start) * FINEST > LONGEST_BLANK:
            filled[start:stop] = np.nan
    return filled


def _blank(evened: Array, time: Array, read: Array, longest: float) -> None:
    """Put NaN between readings too far apart to bridge, and outside them."""
    gaps = np.flatnonzero(np.diff(read) > longest)
    for gap in gaps:
        first, last = np.searchsorted(time, [read[gap] + 1e-9, read[gap + 1] - 1e-9])
        evened[first:last] = np.nan
    evened[: np.searchsorted(time, read[0] - longest)] = np.nan
    evened[np.searchsorted(time, read[-1] + longest) :] = np.nan


def _noise(values: Array) -> float:
    """Standard deviation of a series' noise, from its second differences: σ = 1.4826·median|d²|/√6.

    What moves smoothly has next to none of them; the median lets the few quick events be. A reading is in doubt by its
    last digit too, q/√12.

    Reference: the second difference of white noise has the variance 6σ²; its deviation by the median, F. R. Hampel,
    J. Am. Stat. Assoc. 69 (1974) 383.
    """
    finite = values[np.isfinite(values)]
    if len(finite) < 8:
        return 0.0
    bend = np.abs(finite[2:] - 2 * finite[1:-1] + finite[:-2])
    bend = bend[:: max(1, len(bend) // 50_000)]
    steps = np.abs(np.diff(finite[:50_000]))
    digit = float(np.percentile(steps[steps > 1e-9], 1)) if np.any(steps > 1e-9) else 0.0
    return float(np.hypot(1.4826 * np.median(bend) / np.sqrt(6), digit / np.sqrt(12)))
