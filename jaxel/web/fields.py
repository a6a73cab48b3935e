"""Fields as they arrive from a bench: numbers typed with fractions, commas and units, blanks for nothing."""

import re
import unicodedata
from collections.abc import Callable
from typing import Annotated, Any, Generic, TypeVar
from urllib.parse import unquote

from flask import request
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from jaxel.core.errors import InvalidValue
from jaxel.core.units import parse_quantity
from jaxel.store import acts
from jaxel.store.edits import DEFAULT_HAND, Edit, check_hand

from .database import connection


def _typed(unit: str, limits: Any) -> BeforeValidator:
    """Reads what is typed; `limits` is the number's own type, which the API's description repeats beside the text."""

    def read(value: Any) -> Any:
        if isinstance(value, bool):
            raise InvalidValue("", "must be a number")
        if isinstance(value, str):
            return parse_quantity(value, unit) if value.strip() else None
        return value

    return BeforeValidator(read, json_schema_input_type=limits | Annotated[str, Field(max_length=40)])


_Width = Annotated[float, Field(gt=0, le=200)]
_Distance = Annotated[float, Field(ge=0, le=1_000_000)]
_Elevation = Annotated[float, Field(ge=-430, le=6000)]
_Temperature = Annotated[float, Field(ge=-50, le=60)]
_Percent = Annotated[float, Field(ge=0, le=100)]
_Rpm = Annotated[float, Field(gt=0, le=30000)]

Width = Annotated[_Width | None, _typed("mm", _Width | None)]
Distance = Annotated[_Distance | None, _typed("km", _Distance | None)]
Elevation = Annotated[_Elevation, _typed("m", _Elevation)]
Temperature = Annotated[_Temperature, _typed("°C", _Temperature)]
Percent = Annotated[_Percent, _typed("%", _Percent)]
Rpm = Annotated[_Rpm, _typed("rpm", _Rpm)]
MeasuredRpm = Annotated[_Rpm | None, _typed("rpm", _Rpm | None)]
_Hours = Annotated[float, Field(ge=0, le=100_000)]
Hours = Annotated[_Hours | None, _typed("h", _Hours | None)]
_Offset = Annotated[float, Field(ge=-500, le=500)]
Offset = Annotated[_Offset | None, _typed("mm", _Offset | None)]
_ItemReading = Annotated[float, Field(ge=0, le=10_000)]
Reading = Annotated[_ItemReading | None, _typed("mm", _ItemReading | None)]
_Gap = Annotated[float, Field(ge=0, le=500)]
Gap = Annotated[_Gap | None, _typed("mm", _Gap | None)]
_Ride = Annotated[float, Field(ge=-100, le=100)]
Ride = Annotated[_Ride | None, _typed("mm", _Ride | None)]
_Round = Annotated[float, Field(gt=0, le=5000)]
Round = Annotated[_Round | None, _typed("mm", _Round | None)]
_Price = Annotated[float, Field(ge=0, le=1_000_000)]
Price = Annotated[_Price | None, _typed("", _Price | None)]
_PowerShare = Annotated[float, Field(ge=30, le=300)]
PowerShare = Annotated[_PowerShare | None, _typed("%", _PowerShare | None)]
_AirShare = Annotated[float, Field(ge=0, le=1000)]
AirShare = Annotated[_AirShare | None, _typed("%", _AirShare | None)]
_Gearing = Annotated[float, Field(gt=0, le=200)]
Gearing = Annotated[_Gearing | None, _typed("", _Gearing | None)]
_TypedTorque = Annotated[float, Field(ge=-5000, le=100_000)]
TypedTorque = Annotated[_TypedTorque | None, _typed("N·m", _TypedTorque | None)]
"""A torque as it was read: the core says what is wrong with one that cannot be."""
_BeltTemperature = Annotated[float, Field(ge=-60, le=300)]
BeltTemperature = Annotated[_BeltTemperature | None, _typed("°C", _BeltTemperature | None)]
_Angle = Annotated[float, Field(ge=-360, le=720)]
Angle = Annotated[_Angle | None, _typed("deg", _Angle | None)]
_Whole = Annotated[int, Field(ge=0, le=999)]
Whole = Annotated[_Whole | None, _typed("", _Whole | None)]
Turns = Annotated[_Whole | None, _typed("turns", _Whole | None)]


def _thicknesses(value: Any) -> Any:
    """Shims as they are typed, `1.5 + 1/32 in`, one by one in any unit; nothing for none."""
    if not isinstance(value, str):
        return value
    return [parse_quantity(each, "mm") for each in re.split(r"[+;]", value) if each.strip()]


Shims = Annotated[
    Annotated[list[Annotated[float, Field(gt=0, le=20)]], Field(max_length=40)],
    BeforeValidator(_thicknesses, json_schema_input_type=list[float] | Annotated[str, Field(max_length=200)]),
]
_Weighed = Annotated[float, Field(gt=0, le=1000)]
Weighed = Annotated[_Weighed | None, _typed("g", _Weighed | None)]
Mass = Annotated[float, _typed("g", float), Field(gt=0, le=1000)]
Id = Annotated[int, Field(ge=1, le=2**31)]


class Request(BaseModel):
    """A request's body: unknown fields refused, numbers finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


Draft = Annotated[dict[str, float], Field(max_length=60)]
"""Numbers of slots by key, as an answer said they were tried."""


class VisitPath(BaseModel):
    visit_id: Id


class MachinePath(BaseModel):
    machine_id: Id


class PhotoPath(BaseModel):
    photo_id: Id


class RevisionPath(BaseModel):
    revision_id: Id


T = TypeVar("T")


class Changed(Request, Generic[T]):
    """One field's change: `was`, what it replaces as the last answer held it, and `now`, what it becomes.

    `sure` stands by a value that was asked about.
    """

    was: Any = None
    now: T
    sure: bool = False

    def edit(self) -> Edit:
        """The change as the store takes it."""
        return Edit(self.was, self.now, self.sure)


class Changes(Request):
    """A station's fields by name; what is absent stays as it is."""

    def edits(self) -> dict[str, Edit]:
        """The fields that were sent."""
        sent = {name: getattr(self, name) for name in self.model_fields_set}
        return {name: each.edit() for name, each in sent.items() if each is not None}


def once(act: Callable[[], acts.Made]) -> acts.Made:
    """Do what a request asks for, once for its token, the header `Jaxel-Once`; returns what it made."""
    return acts.once(connection(), request.headers.get("Jaxel-Once"), act)


def hand() -> str:
    """Who is at the browser that sent this request: the header `Jaxel-Hand`, percent-encoded UTF-8, else “bench”.

    Raises InvalidValue (field `by`) for a name that is none.
    """
    by = unquote(request.headers.get("Jaxel-Hand", DEFAULT_HAND), errors="replace").strip()
    check_hand(by)
    if any(unicodedata.category(each).startswith("C") for each in by):
        raise InvalidValue("by", "needs a name that can be read")
    return by
