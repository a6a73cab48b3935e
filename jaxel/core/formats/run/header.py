"""A logger's headings: what each column holds and in which unit; and the header map by which a hand says so itself."""

import re
import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.run.log import Channel
from jaxel.core.units import KPH, MPH, RPM

from ..reading import Part, check_version, read_json, validate

KNOT = 1852 / 3600
"""One knot [m/s], exact: NIST SP 811, Appendix B.8."""

IGNORED = "ignore"
"""What a map says of a column that is not to be read."""


@dataclass(frozen=True)
class LogField:
    """What a column may hold: `channel` it is read into (`time` is the clock), value·`factor` + `offset` in SI;
    `lowest` and `highest` it can be, in its own unit."""

    channel: "Channel | Literal['time']"
    factor: float
    offset: float
    lowest: float
    highest: float


FIELDS: dict[str, LogField] = {
    "time_s": LogField("time", 1, 0, 0, 1e11),
    "time_ms": LogField("time", 1e-3, 0, 0, 1e14),
    "time_min": LogField("time", 60, 0, 0, 1e10),
    "engine_rpm": LogField("engine", RPM, 0, 0, 20_000),
    "engine_hz": LogField("engine", 60 * RPM, 0, 0, 333),
    "secondary_rpm": LogField("secondary", RPM, 0, 0, 20_000),
    "secondary_hz": LogField("secondary", 60 * RPM, 0, 0, 333),
    "speed_kph": LogField("speed", KPH, 0, 0, 400),
    "speed_mph": LogField("speed", MPH, 0, 0, 250),
    "speed_mps": LogField("speed", 1, 0, 0, 111),
    "speed_kn": LogField("speed", KNOT, 0, 0, 216),
    "throttle_pct": LogField("throttle", 0.01, 0, -20, 130),
    "throttle_share": LogField("throttle", 1, 0, -0.2, 1.3),
    "belt_temp_c": LogField("belt_temperature", 1, 0, -60, 400),
    "belt_temp_f": LogField("belt_temperature", 5 / 9, -160 / 9, -76, 752),
}
"""Every field of a run file, its name ending in its unit; NIST SP 811. The limits are from memory."""

CHANNELS: "dict[str, Channel | Literal['time']]" = {
    "time": "time", "engine": "engine", "secondary": "secondary", "speed": "speed", "throttle": "throttle",
    "belt_temp": "belt_temperature",
}  # fmt: skip
"""The channel each quantity of a heading is read into."""

USUAL = {"time": "time_s", "engine": "engine_rpm", "secondary": "secondary_rpm", "throttle": "throttle_pct"}
"""The field of a heading that says no unit, where there is a usual one."""

_WORDS = re.compile(r"[^\W_]+(?:[/\-][^\W_]+)*|[°%][^\W_]*", re.UNICODE)
_BRACKETS = re.compile(r"[(\[{<]([^)\]}>]*)[)\]}>]")


@dataclass(frozen=True)
class Guess:
    """What a heading seems to hold: its `field`; or why it cannot be told, `asks`, of which `quantity`."""

    field: str | None = None
    quantity: str | None = None
    asks: str | None = None


@cache
def _said() -> dict[str, Any]:
    return tomllib.loads(files("jaxel.core.data").joinpath("loggers.toml").read_text("utf-8"))


def guessed(heading: str, unit: str = "") -> Guess:
    """What a column of this heading holds, from the words of the trade in it.

    Parameters: `unit`, what a line of units beneath the heading says, if there is one.

    >>> guessed("Engine Speed [1/min]").field, guessed("GPS speed", "mph").field, guessed("Lap").field
    ('engine_rpm', 'speed_mph', None)
    >>> guessed("Speed").asks
    'does not say its unit: km/h, mph, m/s or knots'
    """
    if heading.strip().casefold() in FIELDS:
        return Guess(heading.strip().casefold(), heading.strip().rsplit("_", 1)[0])
    bracketed = [each.strip().casefold() for each in _BRACKETS.findall(heading)]
    words = [each.casefold() for each in _WORDS.findall(_BRACKETS.sub(" ", heading))]
    quantity = _quantity({*words, *bracketed})
    return Guess() if quantity is None else _with_unit(quantity, bracketed, unit.strip().casefold(), words)


def _with_unit(quantity: str, bracketed: list[str], unit: str, words: list[str]) -> Guess:
    """The field of a quantity, by the unit its heading says: in brackets, on a line beneath, or among its words."""
    units = _said()["units"][quantity]
    found = {name for name, spelt in units.items() for each in [*bracketed, unit, *words] if each in spelt}
    foreign = [
        each for each in [*bracketed, unit] if is_unit(each) and not any(each in spelt for spelt in units.values())
    ]
    if len(found) > 1:
        return Guess(None, quantity, "says two units: " + " and ".join(sorted(found)))
    if foreign:
        return Guess(None, quantity, f"is in “{foreign[0]}”, which is no unit of {quantity.replace('_', ' ')}")
    if found:
        return Guess(f"{quantity}_{found.pop()}", quantity)
    if quantity in USUAL:
        return Guess(USUAL[quantity], quantity)
    choices = {"speed": "km/h, mph, m/s or knots", "belt_temp": "°C or °F"}[quantity]
    return Guess(None, quantity, f"does not say its unit: {choices}")


def _quantity(words: set[str]) -> str | None:
    for each in _said()["quantity"]:
        if words & set(each.get("not", [])):
            continue
        if any(set(line) <= words for line in each["words"]):
            return str(each["name"])
    if words & {"rpm", "1/min", "r/min", "min-1"} and not words & {"wheel", "track"}:
        return "engine"
    return None


def is_unit(text: str) -> bool:
    """Whether a text is nothing but a unit a logger may write."""
    return any(text.strip().casefold() in spelt for units in _said()["units"].values() for spelt in units.values())


class MappedColumn(Part):
    """One column of a logger: its heading as it stands there, and the field it holds, or `ignore`."""

    header: Annotated[str, Field(min_length=1, max_length=200)]
    field: Annotated[str, Field(max_length=40)]

    @model_validator(mode="after")
    def _is_a_field(self) -> Self:
        if self.field not in FIELDS and self.field != IGNORED:
            raise InvalidValue("field", f"must be one of {', '.join(FIELDS)} or {IGNORED}")
        return self


class LoggerDocument(Part):
    """A `jaxel-logger` document, version 1: how one logger names its columns."""

    format: Literal["jaxel-logger"] = "jaxel-logger"
    version: Literal[1] = 1
    name: Annotated[str, Field(max_length=80)] = ""
    columns: Annotated[list[MappedColumn], Field(min_length=1, max_length=200)]

    @model_validator(mode="after")
    def _once(self) -> Self:
        headers = [each.header.strip().casefold() for each in self.columns]
        if len(set(headers)) < len(headers):
            raise InvalidValue("columns", "names a heading twice")
        channels = [FIELDS[each.field].channel for each in self.columns if each.field != IGNORED]
        if len(set(channels)) < len(channels):
            raise InvalidValue("columns", "reads two columns as the same quantity")
        return self

    def field(self, heading: str) -> str | None:
        """The field of a heading, None where the map does not name it."""
        wanted = heading.strip().casefold()
        return next((each.field for each in self.columns if each.header.strip().casefold() == wanted), None)


def read_logger(data: bytes) -> LoggerDocument:
    """Read a header map: a `jaxel-logger` document, or one object of heading and field.

    Raises InvalidValue naming the field and the reason.

    >>> read_logger(b'{"Motor": "engine_rpm"}').field("motor")
    'engine_rpm'
    """
    value = read_json(data)
    if "format" in value:
        check_version(value, "jaxel-logger")
        return validate(LoggerDocument, value)
    if not all(isinstance(each, str) for each in value.values()):
        raise InvalidValue("map", "must be a jaxel-logger document, or one object of heading and field")
    turned = value and all(key in FIELDS for key in value) and not all(each in FIELDS for each in value.values())
    pairs = [(each, key) if turned else (key, each) for key, each in value.items()]
    return validate(LoggerDocument, {"columns": [{"header": header, "field": field} for header, field in pairs]})
