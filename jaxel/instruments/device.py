"""What every device of the bench has in common: asked for a reading, it gives one with its unit and its doubt."""

from dataclasses import dataclass
from datetime import datetime
from typing import Protocol


@dataclass(frozen=True)
class Reading:
    """`value` in `unit`; `sd`, one standard deviation of the device by its maker's sheet, in that unit; `when` it was
    taken."""

    value: float
    unit: str
    sd: float
    when: datetime


class Instrument(Protocol):
    """A device, real or standing in for one."""

    @property
    def key(self) -> str:
        """Its key among the devices of a jaxel-reading."""
        ...

    def read(self) -> Reading:
        """The reading that its display shows now."""
        ...
