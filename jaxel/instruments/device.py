"""What every device of the bench has in common: it is asked for a reading, and gives one with its unit and its doubt."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal, Protocol

Quantity = Literal["length", "mass", "force", "torque", "speed", "temperature", "angle", "run"]

INSTRUMENTS: dict[str, tuple[str, Quantity]] = {
    "caliper": ("Caliper", "length"),
    "feeler gauge": ("Feeler gauge", "length"),
    "scale": ("Scale", "mass"),
    "spring tester": ("Spring tester", "force"),
    "torque wrench": ("Torque wrench", "torque"),
    "tachometer": ("Tachometer", "speed"),
    "run logger": ("Run logger", "run"),
    "thermometer": ("Infrared thermometer", "temperature"),
    "alignment bar": ("Alignment bar", "length"),
    "angle gauge": ("Angle gauge", "angle"),
}
"""Devices that readings come from, by key: the name and the quantity each reads."""

UNITS: dict[str, tuple[Quantity, float, float]] = {
    "mm": ("length", 1.0, 0.0),
    "in": ("length", 25.4, 0.0),
    "g": ("mass", 1.0, 0.0),
    "oz": ("mass", 28.349523125, 0.0),
    "N": ("force", 1.0, 0.0),
    "lbf": ("force", 4.4482216152605, 0.0),
    "N·m": ("torque", 1.0, 0.0),
    "ft-lb": ("torque", 1.3558179483314004, 0.0),
    "rpm": ("speed", 1.0, 0.0),
    "°C": ("temperature", 1.0, 0.0),
    "°F": ("temperature", 5 / 9, -160 / 9),
    "deg": ("angle", 1.0, 0.0),
}
"""Units a device may read in: the quantity, and factor and offset to that of its first unit.

Exact: NIST Special Publication 811, appendix B.
"""

OTHER_UNIT: dict[Quantity, str] = {
    "length": "in", "mass": "oz", "force": "lbf", "torque": "ft-lb", "temperature": "°F",
}  # fmt: skip
"""What a device's unit switch turns to."""


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
        """Its key among INSTRUMENTS."""
        ...

    def read(self) -> Reading:
        """The reading that its display shows now."""
        ...


def base_unit(quantity: Quantity) -> str:
    """The unit a quantity is kept in.

    >>> base_unit("torque")
    'N·m'
    """
    return next((unit for unit, (of, factor, _) in UNITS.items() if of == quantity and factor == 1.0), "")


def converted(value: float, unit: str, to: str) -> float:
    """A value in another unit of its quantity; raises ValueError where there is none.

    >>> round(converted(1.394, "in", "mm"), 3)
    35.408
    >>> round(converted(212.0, "°F", "°C"), 9)
    100.0
    """
    (of, factor, offset), (wanted, other, shift) = UNITS[unit], UNITS[to]
    if of != wanted:
        raise ValueError(f"{unit} is no unit of {wanted}")
    return (value * factor + offset - shift) / other
