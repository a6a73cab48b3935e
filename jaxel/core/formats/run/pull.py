"""A simulated pull in the figures a rider asks for."""

from jaxel.core.mechanism.equilibrium.shift import SHIFT_WINDOW
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.core.units import MPH


def pull_figures(drivetrain: Drivetrain, strip: Strip | None = None) -> dict[str, float | None]:
    """Seconds off the line, to 5 and 20 m, to 30 and 60 mph, to 200 and 400 m, the lowest gearing reached, the hottest
    belt [°C], seconds on the rev limiter, with the belt only just gripped, in the launch and past it, and the ground's
    grip the pull was made with.

    A launch that flares to the limiter is no over-rev of the set-up: the shift has not begun. A time is None where it
    is never reached.
    """
    trace = simulate(drivetrain, strip)
    drive, limit = drivetrain.drive, drivetrain.engine.rev_limit
    begun = drive.engagement_travel + SHIFT_WINDOW[0] * (drive.end_travel - drive.engagement_travel)
    return {
        "to_5_m_s": trace.time_to_distance(5.0),
        "to_20_m_s": trace.time_to_distance(20.0),
        "to_30_mph_s": trace.time_to_speed(30 * MPH),
        "to_60_mph_s": trace.time_to_speed(60 * MPH),
        "to_200_m_s": trace.time_to_distance(200.0),
        "to_400_m_s": trace.time_to_distance(400.0),
        "lowest_gearing": trace.lowest_gearing,
        "belt_temperature_max_c": float(trace.belt_temperature.max()),
        "limiter_gripped_s": trace.gripped_on_limiter(drivetrain),
        "limiter_launch_s": trace.limited(limit, up_to=begun),
        "limiter_shift_s": trace.limited(limit, beyond=begun),
        "ground_grip": drivetrain.vehicle.ground_grip,
    }


LAUNCH_LIMITED_S = 0.3
"""Time on the rev limiter, the belt only just gripped, from which a launch is said to hang there [s]; from memory."""


def launch_warning(limited_s: float | None) -> str:
    """What to say of a launch that stood so long on the rev limiter before the sheave moved on [s]; nothing of a short
    one.

    >>> launch_warning(0.2), launch_warning(0.5)[:18]
    ('', 'launch-on-limiter:')
    """
    if limited_s is None or limited_s <= LAUNCH_LIMITED_S:
        return ""
    return (
        f"launch-on-limiter: {limited_s:.1f} s on the rev limiter before the sheave moves on: the clutch has too "
        "little clamp at the start; not a reason to run a narrow belt"
    )
