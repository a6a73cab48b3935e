"""On the road: times to a speed and a distance, the force at the wheel, and the gearing reached.

Its limits are from memory, tried on simulated logs.
"""

from dataclasses import dataclass

import numpy as np

from ..numerics.tables import Array
from ..vehicle.drivetrain import Drivetrain
from .grid import Grid
from .pulls import Pull
from .reading import Found, Reading, Unread
from .smooth import level_noise, rate_noise
from .take_off import CALM, SLOWEST

EVEN = 0.6
"""Length over which the speed is smoothed where it is passed [s]."""

HAULING = 1.0
"""Length over which acceleration is read [s]."""


def start_of(grid: Grid, pull: Pull) -> float | None:
    """When the vehicle first moves in a pull from rest [s of the grid]; None where it was moving."""
    if grid["speed"] is None:
        return None
    begin = max(0, pull.start - grid.span(1.0))
    calm = np.nan_to_num(grid.level("speed", CALM)[begin : pull.stop])
    return _crossing(grid, calm, begin, SLOWEST) if calm[0] < SLOWEST else None


def _crossing(grid: Grid, values: Array, begin: int, wanted: float) -> float | None:
    """When a series first passes a value and is past it 0.3 s on [s]."""
    past = values >= wanted
    held = grid.span(0.3)
    for place in np.flatnonzero(past).tolist():
        if place == 0 or past[place - 1] or not past[min(place + held, len(past) - 1)]:
            continue
        part = (wanted - values[place - 1]) / (values[place] - values[place - 1])
        return float(grid.time[begin + place - 1] + part * grid.step)
    return None


def _point(grid: Grid, time: float) -> int:
    return min(round((time - float(grid.time[0])) / grid.step), len(grid.time) - 1)


def _between(every: float) -> float:
    """What is not known of a moment between two readings so far apart [s]: of slow ones, when the vehicle started."""
    return 0.05 * every + 0.5 * max(0.0, every - 0.3)


def time_to_speed(grid: Grid, pull: Pull, wanted: float) -> Found:
    """Time from first motion to a speed [m/s], in s, of a full-throttle start from rest."""
    speed = grid["speed"]
    if speed is None:
        return Unread("no motion")
    began = start_of(grid, pull)
    if began is None:
        return Unread("moving")
    begin = max(0, pull.start - grid.span(1.0))
    calm = np.nan_to_num(grid.level("speed", EVEN)[begin : pull.stop])
    reached = _crossing(grid, calm, begin, wanted)
    if reached is None:
        return Unread("not reached")
    at = _point(grid, reached)
    every = max(grid.every["speed"], grid.step)
    gains = grid.rate("speed", max(EVEN, 2 * every))
    start = _point(grid, began)
    late = [level_noise(grid.noise["speed"], every, length) / max(float(gains[place]), 0.1)
            for length, place in ((CALM, start), (EVEN, at))]  # fmt: skip
    sd = float(np.sqrt(late[0] ** 2 + late[1] ** 2 + _between(every) ** 2))
    return Reading(reached - began, sd, at - start, at)


def time_to_distance(grid: Grid, pull: Pull, wanted: float) -> Found:
    """Time from first motion to a distance [m], in s: speed summed over time by the trapezoidal rule."""
    speed = grid["speed"]
    if speed is None:
        return Unread("no motion")
    began = start_of(grid, pull)
    if began is None:
        return Unread("moving")
    start = _point(grid, began)
    here = speed[start : pull.stop]
    if not np.all(np.isfinite(here)):
        return Unread("blank")
    gone = np.concatenate([[0.0], np.cumsum(0.5 * (here[1:] + here[:-1]) * grid.step)])
    if gone[-1] < wanted:
        return Unread("not reached")
    reached = float(np.interp(wanted, gone, grid.time[start : start + len(gone)]))
    at = _point(grid, reached)
    every = max(grid.every["speed"], grid.step)
    took = reached - began
    late = level_noise(grid.noise["speed"], every, CALM) / max(float(grid.rate("speed", CALM)[start]), 0.1)
    strayed = grid.noise["speed"] * np.sqrt(every * took) / max(float(speed[at]), 0.1)
    return Reading(took, float(np.sqrt(late**2 + strayed**2 + _between(every) ** 2)), at - start, at)


@dataclass(frozen=True)
class Haul:
    """Most that reached the ground over a second: `torque` at the wheel [N·m], `power` [W]."""

    torque: Found
    power: Found


def wheel_force(acceleration: Array, speed: Array, drivetrain: Drivetrain) -> Array:
    """Force the ground gives the vehicle on the level.

    F = m·a + c_rr·m·g + ½·ρ·c_d·A·v²

    Parameters: `acceleration` a [m/s², points], `speed` v [m/s, points]. Returns F [N, points].

    Reference: Newton's second law; road load as in `pull`.
    """
    vehicle = drivetrain.vehicle
    drag = 0.5 * drivetrain.conditions.density * vehicle.drag_area
    return vehicle.mass * acceleration + vehicle.rolling_resistance + drag * speed**2


def hauled(grid: Grid, pull: Pull, drivetrain: Drivetrain | None) -> Haul:
    """Torque and power at the wheel, the most over HAULING of a pull; the mass and road load are the set-up's."""
    speed = grid["speed"]
    if speed is None:
        return Haul(Unread("no motion"), Unread("no motion"))
    if drivetrain is None:
        return Haul(Unread("no set-up"), Unread("no set-up"))
    points = np.flatnonzero(pull.full)
    half = grid.span(HAULING / 2)
    points = points[(points >= points[0] + half) & (points < points[-1] - half)] if len(points) else points
    with np.errstate(invalid="ignore"):
        calm, gains = grid.level("speed", HAULING), grid.rate("speed", HAULING)
    points = points[np.isfinite(calm[points]) & np.isfinite(gains[points])]
    if len(points) < 3:
        return Haul(Unread("short"), Unread("short"))
    force = wheel_force(gains[points], calm[points], drivetrain)
    power = force * calm[points]
    doubt = drivetrain.vehicle.mass * rate_noise(grid.noise["speed"], max(grid.every["speed"], grid.step), HAULING)
    radius = drivetrain.vehicle.rolling_radius
    # Looked for on longer stretches, so that the most is not the noisiest.
    even = grid.level("speed", 2 * HAULING)
    broad = wheel_force(grid.rate("speed", 2 * HAULING)[points], even[points], drivetrain)
    pulls, works = int(np.nanargmax(broad)), int(np.nanargmax(broad * even[points]))
    samples = grid.span(HAULING)
    return Haul(
        Reading(float(force[pulls]) * radius, doubt * radius, samples, int(points[pulls])),
        Reading(float(power[works]), doubt * float(calm[points[works]]), samples, int(points[works])),
    )


SPEEDS: Array = np.arange(3.0, 60.0, 1.5)
"""Vehicle speeds at which the power of two pulls is set side by side [m/s]."""


def power_at_speeds(grid: Grid, pull: Pull, drivetrain: Drivetrain) -> Array:
    """Power at the wheel where a pull at full throttle passes each of SPEEDS [W, speeds]; NaN where it does not.

    P = F·v, by `wheel_force`, over HAULING.
    """
    found = np.full(len(SPEEDS), np.nan)
    if grid["speed"] is None:
        return found
    with np.errstate(invalid="ignore"):
        speed, gains = grid.level("speed", HAULING), grid.rate("speed", HAULING)
    force = wheel_force(gains, speed, drivetrain)
    points = np.flatnonzero(pull.full & np.isfinite(force))
    half = grid.span(HAULING / 2)
    points = points[(points >= points[0] + half) & (points < points[-1] - half)] if len(points) else points
    if len(points) < 3:
        return found
    passed = np.maximum.accumulate(speed[points])
    for place, wanted in enumerate(SPEEDS):
        at = int(np.searchsorted(passed, wanted))
        if 0 < at < len(points):
            found[place] = float(force[points[at]] * speed[points[at]])
    return found


def gear_over(grid: Grid, pull: Pull, gear: float) -> Found:
    """The final gearing as it is over what it is recorded as [-]: secondary over vehicle speed, at full throttle in the
    faster half of a pull, where track or tyre spin least.

    Parameters: `gear`, secondary radians a metre of road as recorded.
    """
    secondary, speed = grid["secondary"], grid["speed"]
    if secondary is None or speed is None:
        return Unread("no motion")
    with np.errstate(all="ignore"):
        turning, going = grid.level("secondary", HAULING), grid.level("speed", HAULING)
        fast = pull.full & (going > max(3.0, 0.5 * float(np.nanmax(np.where(pull.full, going, 0.0)))))
        over = (turning / (gear * going))[fast & np.isfinite(turning)]
    if len(over) < 5:
        return Unread("short")
    return Reading(float(np.median(over)), float(np.std(over)) / np.sqrt(len(over)), len(over))


def overall_gearing(grid: Grid, high: Found, drivetrain: Drivetrain | None) -> Found:
    """Engine turns per turn of the wheel in the highest gear reached [-].

    Parameters: `high`, the least ratio of engine to secondary.
    """
    if drivetrain is None:
        return Unread("no set-up")
    if isinstance(high, Unread):
        return high
    geared = drivetrain.vehicle.drive_ratio
    return Reading(high.value * geared, high.sd * geared, high.samples, high.at)
