"""What a logger wrote, in SI: columns over one clock, as they were read."""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal, get_args

from ..numerics.tables import Array
from ..vehicle.trace import PullTrace

Channel = Literal["engine", "secondary", "speed", "throttle", "belt_temperature"]
CHANNELS: tuple[Channel, ...] = get_args(Channel)
"""What may be logged beside the time: engine and secondary [rad/s], vehicle speed [m/s], throttle [0–1], belt [°C]."""


@dataclass(frozen=True)
class Log:
    """Rows as they stand in the file: `time` [s] and each channel that was logged [rows]; NaN where nothing was read.

    `unread` counts rows in which nothing could be read.
    """

    time: Array
    channels: dict[Channel, Array]
    unread: int = 0

    def __getitem__(self, channel: Channel) -> Array | None:
        return self.channels.get(channel)


def log_of(trace: PullTrace, channels: Collection[Channel] = CHANNELS) -> Log:
    """A simulated pull as a faultless logger with these channels has it."""
    every: dict[Channel, Array] = {
        "engine": trace.engine_speed,
        "secondary": trace.secondary_speed,
        "speed": trace.vehicle_speed,
        "throttle": trace.throttle,
        "belt_temperature": trace.belt_temperature,
    }
    return Log(trace.time, {channel: values for channel, values in every.items() if channel in channels})
