"""A pull as a logger writes it: the columns of a run file, clean or with the faults real loggers have."""

import numpy as np

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


def logged(
    trace: PullTrace, seed: int, *, noise_rpm: float = 12.0, noise_kph: float = 0.3, dropout: float = 0.01
) -> dict[str, Array]:
    """A pull with noise on its speeds and samples missing, the same for the same seed.

    Parameters: `noise_rpm` [rpm] and `noise_kph` [km/h], standard deviations; `dropout`, share of samples lost
    [0–1]. Returns the columns of `log_columns`, [samples kept]. The sizes are from memory.
    """
    rng = np.random.default_rng(seed)
    columns = log_columns(trace)
    for name, noise in (("engine_rpm", noise_rpm), ("secondary_rpm", noise_rpm), ("speed_kph", noise_kph)):
        columns[name] = np.maximum(0.0, columns[name] + rng.normal(0.0, noise, len(trace.time)))
    kept = rng.random(len(trace.time)) >= dropout
    return {name: values[kept] for name, values in columns.items()}


def log_csv(columns: dict[str, Array]) -> str:
    """The columns as a run file: a header with units, one line a sample."""
    digits = {"time_s": 3, "engine_rpm": 0, "secondary_rpm": 0, "speed_kph": 2, "throttle_pct": 0, "belt_temp_c": 1}
    rows = zip(*([f"{value:.{digits[name]}f}" for value in values] for name, values in columns.items()), strict=True)
    return "\n".join([",".join(columns), *(",".join(row) for row in rows)]) + "\n"
