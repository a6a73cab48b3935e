"""The `jaxel-reading` document: what a device at a bench read, sent as it was read."""

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.units import in_unit, number_and_unit, units_of

from .reading import Part, check_version, validate

Device = Literal[
    "caliper", "feeler gauge", "scale", "spring tester", "torque wrench", "tachometer", "thermometer", "alignment bar",
    "angle gauge",
]  # fmt: skip
"""Devices whose readings are one number; a run logger's is a file."""


@dataclass(frozen=True)
class DeviceKind:
    """What a hand calls a device, the unit its quantity is kept in, and what it reads at least and at most there."""

    name: str
    unit: str
    lowest: float
    highest: float


DEVICES: dict[str, DeviceKind] = {
    "caliper": DeviceKind("Caliper", "mm", -10, 1000),
    "feeler gauge": DeviceKind("Feeler gauge", "mm", 0, 50),
    "scale": DeviceKind("Scale", "g", -1000, 30_000),
    "spring tester": DeviceKind("Spring tester", "N", -200, 20_000),
    "torque wrench": DeviceKind("Torque wrench", "N·m", 0, 2000),
    "tachometer": DeviceKind("Tachometer", "rpm", 0, 20_000),
    "thermometer": DeviceKind("Infrared thermometer", "°C", -60, 600),
    "alignment bar": DeviceKind("Alignment bar", "mm", -50, 1000),
    "angle gauge": DeviceKind("Angle gauge", "deg", -360, 720),
}
"""The limits are from memory."""


class DeviceReading(Part):
    """A `jaxel-reading` document, version 1: one number of one device, in any unit of its quantity."""

    format: Literal["jaxel-reading"] = "jaxel-reading"
    version: Literal[1] = 1
    bench: Annotated[int, Field(ge=1, le=2**31)]
    instrument: Device
    value: float
    unit: Annotated[str, Field(min_length=1, max_length=12)]

    def checked(self) -> "DeviceReading":
        """The same with its unit as it is written here; raises InvalidValue for a unit that is none of the device's, or
        more than it can read.

        >>> DeviceReading(bench=1, instrument="caliper", value=1.394, unit="inch").checked().unit
        'in'
        """
        kind = DEVICES[self.instrument]
        try:
            _, unit = number_and_unit(f"0 {self.unit}", kind.unit)
        except InvalidValue:
            may = ", ".join(units_of(kind.unit))
            raise InvalidValue("unit", f"“{self.unit}” is none a {kind.name.lower()} reads in: {may}") from None
        if not kind.lowest <= in_unit(self.value, unit, kind.unit) <= kind.highest:
            raise InvalidValue("value", f"is more than a {kind.name.lower()} can read")
        return self.model_copy(update={"unit": unit})


def read_device_reading(value: dict[str, Any]) -> DeviceReading:
    """A device's reading from the object it sent; raises InvalidValue naming the field and the reason."""
    check_version(value, "jaxel-reading")
    return validate(DeviceReading, value).checked()
