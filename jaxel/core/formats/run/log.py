"""A simulated pull as the columns of a run file."""

from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.vehicle.trace import PullTrace
from jaxel.core.units import KPH, RPM


def log_columns(trace: PullTrace) -> dict[str, Array]:
    """A pull without a fault: time_s, engine_rpm, secondary_rpm, speed_kph, throttle_pct, belt_temp_c [samples]."""
    return {
        "time_s": trace.time,
        "engine_rpm": trace.engine_speed / RPM,
        "secondary_rpm": trace.secondary_speed / RPM,
        "speed_kph": trace.vehicle_speed / KPH,
        "throttle_pct": trace.throttle * 100,
        "belt_temp_c": trace.belt_temperature,
    }
