"""The shift in a log: engine speed over the sheave's travel, its end, and the over-run past it.

Its limits are from memory, tried on simulated logs.
"""

from dataclasses import dataclass
from math import hypot, sqrt
from typing import Literal

import numpy as np

from ..equilibrium.shift import SHIFT_WINDOW
from ..numerics.tables import Array, Mask
from ..vehicle.drivetrain import Drivetrain
from .grid import Grid
from .pulls import Pull
from .reading import Found, Reading, Reason, Unread
from .smooth import level_noise, rate
from .take_off import Lock, Motion

Over = Literal["travel", "ratio", "time"]
"""What the mean is over: the sheave's travel, equal steps of ratio, or time."""

NODES = 31
"""Places in the window at which the curve is read: those of a prediction's 41 nodes that lie in it."""

LEAST_COVERED = 0.4
"""Share of the window that a pull must cover to be read."""

CALM = 0.2
"""Length over which engine and motion are smoothed along the shift [s]."""

GUARD = 0.35
"""Left out before a chop [s]: what smoothing would draw in of it, and how late it may be seen without a throttle."""

CALM_END = 0.5
"""Length over which the ratio is smoothed to find its end [s]."""

CALM_LEAST = 1.0
"""Length over which the least ratio is the mean [s]: the least of shorter ones would be that of the noise."""

STILL = 0.002
"""Fall of the ratio a second, as a share of it, from which it has not come to its end [1/s]."""

ENDS = 1.015
"""Ratio over the lowest one reached at which the shift counts as over [-]."""

RUNS_OUT = 0.98
"""Share of the travel from which the sheave has run out [-]."""

UNLOCKED = 0.4
"""Change of the ratio a second beneath which, where no lock was seen, the belt no longer slips [1/s]; from memory."""


@dataclass(frozen=True)
class Shift:
    """A pull's shift [rad/s]: mean, spread, slope per whole travel, its start and its end, and the over-run past that;
    `low` and `high`, engine over motion where it starts and at the least; `covered`, the share of travel, ratio or
    time from and to which it was read."""

    over: Over
    mean: Found
    spread: Found
    slope: Found
    start: Found
    full_shift: Found
    over_run: Found
    low: Found
    high: Found
    covered: tuple[float, float] | None

    @staticmethod
    def unread(reason: Reason) -> "Shift":
        """A shift of which nothing can be read."""
        none = Unread(reason)
        return Shift("time", none, none, none, none, none, none, none, none, None)


def travel_fraction(drivetrain: Drivetrain) -> tuple[Array, Array]:
    """The ratio along the shift and the share of travel at which it stands, ratio rising [nodes]."""
    path = drivetrain.drive.shift_path(201)
    return path.ratio[::-1], np.linspace(1.0, 0.0, 201)


def shift_of(
    grid: Grid, motion: Motion | None, pull: Pull, lock: Lock | None, drivetrain: Drivetrain | None,
    marks: tuple[int | None, int | None] = (None, None), most: tuple[float, float] | None = None,
) -> Shift:  # fmt: skip
    """Read the shift of one pull at full throttle.

    The mean is over SHIFT_WINDOW of the sheave's travel, from ratio and geometry; without a set-up over equal steps of
    ratio; without a motion over time.

    Parameters: `marks`, points where a hand says the shift starts and ends; `most`, the window to be read where it is
    not the whole of SHIFT_WINDOW.
    """
    engine = grid["engine"]
    if engine is None:
        return Shift.unread("no engine")
    mask = pull.full.copy()
    for chop in pull.chops:
        mask[max(0, chop.shut - grid.span(GUARD)) : _recovered(grid, engine, chop.shut, chop.reopened, pull.stop)] = (
            False
        )
    first, last = marks
    if motion is None:
        return _over_time(grid, engine, mask, marks)
    with np.errstate(all="ignore"):
        calm = grid.level("engine", CALM)
        turning = motion.level(max(CALM, 3 * motion.every))
        ratio = np.where(turning > 2 * motion.moves, calm / np.maximum(turning, motion.moves), np.nan)
        slow = max(CALM_END, 5 * motion.every)
        even = grid.level("engine", slow) / motion.level(slow)
    usable = mask & np.isfinite(ratio) & np.isfinite(even)
    if lock is not None:
        usable[: lock.start] = False
    points = np.flatnonzero(usable)
    if len(points) < 10:
        return Shift.unread("short")
    with np.errstate(all="ignore"):
        long = grid.level("engine", CALM_LEAST) / motion.level(max(CALM_LEAST, 5 * motion.every))
    lasting = points[np.isfinite(long[points])] if np.any(np.isfinite(long[points])) else points
    at_high = int(lasting[np.argmin(long[lasting])]) if lasting is not points else int(points[np.argmin(even[points])])
    lowest = float(long[at_high]) if np.isfinite(long[at_high]) else float(even[at_high])
    every = max(motion.every, grid.step)
    of_motion = motion.noise / max(float(motion.values[at_high]), 1e-9)
    of_engine = grid.noise["engine"] / max(float(engine[at_high]), 1e-9)
    relative = hypot(
        level_noise(of_motion, every, CALM_LEAST),
        level_noise(of_engine, max(grid.every["engine"], grid.step), CALM_LEAST),
    )
    low: Found = lock.ratio if lock is not None else Unread("slipped")

    fraction, over = _fraction(grid, ratio, usable, lowest, lock, drivetrain)
    end = _end(grid, even, usable, lowest, fraction[at_high] if over == "travel" else None, pull)
    # A ratio still falling is in doubt by when the pull ended, which a throttle tells better than a speed.
    falling = abs(float(rate(even, grid.step, CALM_END)[at_high])) if end is None else 0.0
    ended = grid.step if pull.known else 0.1
    doubt = hypot(1.9 * lowest * relative, falling * ended)  # the least of many is lower than one
    high = Reading(lowest, doubt, grid.span(CALM_LEAST), at_high)
    if last is not None:
        end = last
    read = usable & np.isfinite(fraction)
    if first is not None:
        read[:first] = False
    if end is not None:
        read[end + 1 :] = False
    noise = (
        np.abs(_slope(fraction, ratio)) * ratio * hypot(level_noise(of_motion, every, max(CALM, 3 * motion.every)), 0.0)
    )
    mean, spread, slope, start, covered = _curve(grid, calm, fraction, noise, read, most or SHIFT_WINDOW)
    if end is None:
        full: Found = Unread("still shifting", at=at_high)
        beyond: Found = Unread("still shifting")
    else:
        full, beyond = _past(grid, engine, even, usable, end, pull, lowest * relative)
    return Shift(over, mean, spread, slope, start, full, beyond, low, high, covered)


def _slope(values: Array, against: Array) -> Array:
    """Steepness of one series over another, point by point, held where the other stands still."""
    with np.errstate(all="ignore"):
        found = np.gradient(values) / np.gradient(against)
    return np.nan_to_num(np.clip(found, -5, 5))


def _fraction(
    grid: Grid, ratio: Array, usable: Mask, lowest: float, lock: Lock | None, drivetrain: Drivetrain | None
) -> tuple[Array, Over]:
    """How far the shift has come at each point [0–1]."""
    if drivetrain is not None:
        ratios, travel = travel_fraction(drivetrain)
        return np.interp(ratio, ratios, travel, left=1.0, right=np.nan), "travel"
    if lock is not None:
        begins = lock.ratio.value
    else:
        with np.errstate(all="ignore"):
            calm = np.abs(rate(np.log(ratio), grid.step, CALM)) < UNLOCKED
        there = ratio[usable & calm]
        begins = float(there.max()) if len(there) else float(np.nanmax(ratio[usable]))
    part = (begins - ratio) / max(begins - lowest, 1e-9)
    return np.where(part < -0.02, np.nan, np.clip(part, 0.0, 1.0)), "ratio"


def _end(grid: Grid, even: Array, usable: Mask, lowest: float, reached: float | None, pull: Pull) -> int | None:
    """The point where the ratio has come to its end; None where it was still falling when the pull ended."""
    points = np.flatnonzero(usable)
    done = points[even[points] <= ENDS * lowest]
    if len(done) == 0:
        return None
    end = int(done[0])
    if reached is not None and reached >= RUNS_OUT:
        return end
    rest = points[points >= end]
    if (len(rest) - 1) * grid.step < 1.0:
        return None
    half = rest[len(rest) // 2 :]
    with np.errstate(invalid="ignore"):
        falling = np.polyfit(grid.time[half], np.log(even[half]), 1)[0]
    return end if falling > -STILL else None


def _curve(
    grid: Grid, calm: Array, fraction: Array, noise: Array, read: Mask, window: tuple[float, float]
) -> tuple[Found, Found, Found, Found, tuple[float, float] | None]:
    """Mean, spread, slope and start of the engine's speed over the window of travel."""
    points = np.flatnonzero(read)
    short = Unread("short")
    if len(points) < 5:
        return short, short, short, short, None
    way = fraction[points]
    ahead = way > np.concatenate([[-1.0], np.maximum.accumulate(way)[:-1]])  # as far as it had not been before
    points, way = points[ahead], way[ahead]
    low, high = window
    if len(points) < 5:
        return short, short, short, short, None
    from_, to = max(low, float(way[0])), min(high, float(way[-1]))
    if to - from_ < LEAST_COVERED * (SHIFT_WINDOW[1] - SHIFT_WINDOW[0]):
        return short, short, short, short, None
    at = np.linspace(from_, to, NODES)
    speeds = np.interp(at, way, calm[points])
    steep = np.gradient(speeds, at)
    every = max(grid.every["engine"], grid.step)
    white = level_noise(grid.noise["engine"], every, CALM)
    misplaced = np.interp(at, way, noise[points]) * np.abs(steep)
    took = float(
        grid.time[points[np.searchsorted(way, to, side="left").clip(max=len(points) - 1)]] - grid.time[points[0]]
    )
    apart = float(min(NODES, max(2.0, took / CALM)))
    node = sqrt(white**2 + float(np.mean(misplaced**2)))
    samples = int(np.sum((fraction[read] >= from_) & (fraction[read] <= to)))
    level_of = float(np.mean(speeds))
    mean = Reading(level_of, node / sqrt(apart), samples)
    spread = Reading(float(np.ptp(speeds)), node, samples)
    slope = Reading(float(np.polyfit(at, speeds, 1)[0]), node * sqrt(12 / apart) / (to - from_), samples)
    begins = int(points[np.searchsorted(way, from_).clip(max=len(points) - 1)])
    start = Reading(
        float(speeds[0]),
        0.7 * hypot(white, float(misplaced[0])),  # between two smoothed points
        grid.span(CALM),
        begins,
    )
    return mean, spread, slope, start, (from_, to)


def _past(
    grid: Grid, engine: Array, even: Array, usable: Mask, end: int, pull: Pull, doubt: float
) -> tuple[Found, Found]:
    """Engine speed at the end of the shift, and how far it runs past that before the throttle shuts."""
    slow = 0.3
    calm = grid.level("engine", slow)
    falls = abs(float(rate(even, grid.step, CALM_END)[end]))
    gains = abs(float(grid.rate("engine", CALM_END)[end]))
    every = max(grid.every["engine"], grid.step)
    white = level_noise(grid.noise["engine"], every, slow)
    late = min(doubt / max(falls, 1e-6), 1.0)
    full = Reading(float(calm[end]), 1.25 * hypot(white, gains * late), grid.span(slow), end)
    after = np.flatnonzero(usable & np.isfinite(calm))
    after = after[after >= end]
    if not len(after):
        return full, Unread("blank")
    top = int(after[np.argmax(calm[after])])
    return full, Reading(float(calm[top] - calm[end]), 2 * full.sd, grid.span(slow), top)


def _over_time(grid: Grid, engine: Array, mask: Mask, marks: tuple[int | None, int | None]) -> Shift:
    """Without a speed: the engine over the middle of its time at full throttle, its ratio unknown."""
    missing = Unread("no motion")
    first, last = marks
    calm = grid.level("engine", CALM)
    points = np.flatnonzero(mask & np.isfinite(calm))
    if len(points) < 10:
        return Shift.unread("short")
    usual = float(np.median(calm[points]))
    begin = first if first is not None else int(points[np.argmax(calm[points] >= 0.97 * usual)])
    end = last if last is not None else int(points[-1])
    points = points[(points >= begin) & (points <= end)]
    if (len(points) - 1) * grid.step < 1.0:
        return Shift.unread("short")
    read = np.zeros(len(engine), bool)
    read[points] = True
    way = np.full(len(engine), np.nan)
    way[points] = (points - points[0]) / (points[-1] - points[0])
    found = _curve(grid, calm, way, np.zeros(len(engine)), read, SHIFT_WINDOW)
    return Shift("time", *found[:4], missing, missing, missing, missing, found[4])


def _recovered(grid: Grid, engine: Array, shut: int, reopened: int, stop: int) -> int:
    """The point at which the engine is back from a chop; the pull's end where it is not."""
    back = back_from(grid, engine, shut, reopened, stop)
    return stop if back is None else back


NEAR = 0.02
"""Share of the speed before a chop to within which the engine must come to be back."""


def back_from(grid: Grid, engine: Array, shut: int, reopened: int, stop: int) -> int | None:
    """Where the engine is back within NEAR of its speed before a chop, and stays there for 0.2 s."""
    before = float(np.nanmedian(engine[max(0, shut - grid.span(0.5)) : max(1, shut - grid.span(0.05))]))
    calm = grid.level("engine", 0.15)[reopened:stop]
    there = np.nan_to_num(calm) >= (1 - NEAR) * before
    held = grid.span(0.2)
    for place in np.flatnonzero(there):
        if np.all(there[place : place + held]):
            return reopened + int(place)
    return None
