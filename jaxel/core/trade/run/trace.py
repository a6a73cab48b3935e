"""A log's traces as they are drawn: each channel in the unit it is shown in, least and most of each stretch."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.run.log import Channel
from jaxel.core.units import KPH, RPM

SHOWN: Mapping[Channel, tuple[str, str, float, int]] = {
    "engine": ("engine_rpm", "rpm", 1 / RPM, 1),
    "secondary": ("secondary_rpm", "rpm", 1 / RPM, 1),
    "speed": ("speed_kph", "km/h", 1 / KPH, 2),
    "throttle": ("throttle_pct", "%", 100.0, 1),
    "belt_temperature": ("belt_temp_c", "°C", 1.0, 1),
}
"""What a channel is shown as: its field, its unit, the factor to it, and the digits that are worth drawing."""


@dataclass(frozen=True)
class Drawn:
    """A channel as it is drawn: its field and unit, least and most of each stretch, None where nothing was read."""

    field: str
    unit: str
    least: list[float | None]
    most: list[float | None]


def drawn(channels: Mapping[str, tuple[Array, Array]]) -> list[Drawn]:
    """Channels in SI as they are drawn, in the order of SHOWN."""
    found = []
    for channel, (field, unit, factor, digits) in SHOWN.items():
        if channel in channels:
            least, most = (_listed(values, factor, digits) for values in channels[channel])
            found.append(Drawn(field, unit, least, most))
    return found


def _listed(values: Array, factor: float, digits: int) -> list[float | None]:
    rounded = np.round(values * factor, digits)
    listed: list[float | None] = rounded.tolist()
    blanks = np.flatnonzero(~np.isfinite(rounded))
    for place in blanks.tolist():
        listed[place] = None
    return listed
