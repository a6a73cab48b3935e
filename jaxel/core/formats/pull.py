"""A simulated pull in the figures a rider asks for."""

from ..mechanism.pull import PullTrace
from ..units import MPH


def pull_figures(trace: PullTrace) -> dict[str, float | None]:
    """Seconds to 30 and 60 mph, to 200 and 400 m, the lowest gearing reached and the hottest belt [°C].

    A time is None where it is never reached.
    """
    return {
        "to_30_mph_s": trace.time_to_speed(30 * MPH),
        "to_60_mph_s": trace.time_to_speed(60 * MPH),
        "to_200_m_s": trace.time_to_distance(200.0),
        "to_400_m_s": trace.time_to_distance(400.0),
        "lowest_gearing": trace.lowest_gearing,
        "belt_temperature_max_c": float(trace.belt_temperature.max()),
    }
