"""Fields as they arrive from a bench: numbers typed with fractions, commas and units, blanks for nothing."""

import re
import unicodedata
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cache
from types import NoneType, UnionType
from typing import Annotated, Any, Generic, Literal, TypeVar, Union, get_args, get_origin
from urllib.parse import unquote

from annotated_types import Ge, Gt, Le
from flask import request
from pydantic import Field, GetCoreSchemaHandler

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.record import quantities as q
from jaxel.core.trade.record.said import Field as RecordField
from jaxel.core.trade.record.said import fields_of, written
from jaxel.core.units import check_size, parse_quantity
from jaxel.store import acts
from jaxel.store.edits import DEFAULT_HAND, Edit, check_hand

from ..database import connection
from .model import Model, Request


@dataclass(frozen=True)
class Typed:
    """Reads what is typed for a number in a unit, or for several of them, `1.5 + 1/32 in`; blanks for nothing.

    The API's description has the number's own type beside the text.
    """

    unit: str
    several: bool = False
    longest: int = 40

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> Any:
        from pydantic_core import core_schema  # slow to import: only a schema that is built needs it

        limits = handler(source)
        text = core_schema.str_schema(max_length=self.longest)
        read = self._read_several if self.several else self._read
        shown = core_schema.union_schema([limits, text])
        return core_schema.no_info_before_validator_function(read, limits, json_schema_input_schema=shown)

    def _read(self, value: Any) -> Any:
        if isinstance(value, bool):
            raise InvalidValue("", "must be a number")
        if isinstance(value, str):
            return parse_quantity(value, self.unit) if value.strip() else None
        if isinstance(value, int | float):
            check_size(value)
        return value

    def _read_several(self, value: Any) -> Any:
        if not isinstance(value, str):
            return value
        return [parse_quantity(each, self.unit) for each in re.split(r"[+;]", value) if each.strip()]


Width = Annotated[q.Width | None, Typed("mm")]
Distance = Annotated[q.Distance | None, Typed("km")]
Hours = Annotated[q.Hours | None, Typed("h")]
Elevation = Annotated[q.Elevation, Typed("m")]
Temperature = Annotated[q.AirTemperature, Typed("°C")]
BeltTemperature = Annotated[q.BeltTemperature | None, Typed("°C")]
Offset = Annotated[q.Offset | None, Typed("mm")]
Gap = Annotated[q.Gap | None, Typed("mm")]
Round = Annotated[q.TypedRound | None, Typed("mm")]
Length = Annotated[q.Length | None, Typed("mm")]
Torque = Annotated[q.Torque | None, Typed("N·m")]
Whole = Annotated[q.Out, Typed("")]
Mass = Annotated[q.Mass, Typed("g")]
Weighed = Annotated[q.Mass | None, Typed("g")]
Reading = Annotated[Annotated[float, Ge(0), Le(10_000)] | None, Typed("mm")]
Price = Annotated[Annotated[float, Ge(0), Le(1_000_000)] | None, Typed("")]
PowerShare = Annotated[Annotated[float, Ge(30), Le(300)] | None, Typed("%")]
AirShare = Annotated[Annotated[float, Ge(0), Le(1000)] | None, Typed("%")]
Gearing = Annotated[Annotated[float, Gt(0), Le(200)] | None, Typed("")]
Id = q.Id

Draft = Annotated[dict[str, float], Field(max_length=60)]
"""Numbers of slots by key, as an answer said they were tried."""


class VisitPath(Model):
    visit_id: Id


class MachinePath(Model):
    machine_id: Id


class PhotoPath(Model):
    photo_id: Id


class RevisionPath(Model):
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
    """A record's fields by name; what is absent stays as it is.

    `of` names the record whose fields a hand writes: each becomes a change of its type, bounds and unit.
    """

    def __init_subclass__(cls, of: type | None = None, **config: Any) -> None:
        super().__init_subclass__(**config)
        for name in sorted(set(written(of)) - set(cls.__annotations__)) if of else ():
            cls.__annotations__[name] = _changed(_body(fields_of(of)[name])) | None
            setattr(cls, name, None)

    def edits(self) -> dict[str, Edit]:
        """The fields that were sent."""
        sent = {name: getattr(self, name) for name in self.model_fields_set}
        return {name: each.edit() for name, each in sent.items() if each is not None}


@cache
def _changed(annotation: Any) -> Any:
    """The change of a field of this type, named so that two with other bounds are two in the API's description."""
    return type(f"Changed_{_type_name(annotation)}", (Changed[annotation],), {"__module__": __name__})


def _type_name(annotation: Any) -> str:
    """A type in a few words, its bounds among them."""
    origin, arguments = get_origin(annotation), get_args(annotation)
    if origin is Annotated:
        bounds = [f"{name}_{value}" for each in arguments[1:] for name, value in _bounds(each)]
        return "_".join((_type_name(arguments[0]), *bounds))
    if origin is None:
        return "none" if annotation is NoneType else getattr(annotation, "__name__", str(annotation))
    inner = "_".join(str(each) if isinstance(each, str) else _type_name(each) for each in arguments)

    return inner if origin in (Union, UnionType, Literal) else f"{origin.__name__}_{inner}"


def _bounds(metadata: Any) -> Iterable[tuple[str, Any]]:
    named = ("ge", "gt", "le", "lt", "max_length")
    return ((name, getattr(metadata, name)) for name in named if getattr(metadata, name, None) is not None)


def _body(field: RecordField) -> Any:
    """The type a field has in a body: a number may be typed in any unit."""
    if field.unit is None:
        return field.annotation
    if field.kind is tuple:
        return Annotated[field.annotation, Typed(field.unit, several=True, longest=200)]
    return Annotated[field.annotation, Typed(field.unit)]


def once(act: Callable[[], acts.Made]) -> acts.Made:
    """Do what a request asks for, once for its token, the header `Jaxel-Once`; returns what it made."""
    return acts.once(connection(), request.headers.get("Jaxel-Once"), act, f"{request.method} {request.path[:300]}")


def hand() -> str:
    """Who is at the browser that sent this request: the header `Jaxel-Hand`, percent-encoded UTF-8, else “bench”.

    Raises InvalidValue (field `by`) for a name that is none.
    """
    by = unquote(request.headers.get("Jaxel-Hand", DEFAULT_HAND), errors="replace").strip()
    check_hand(by)
    if any(unicodedata.category(each).startswith("C") for each in by):
        raise InvalidValue("by", "needs a name that can be read")
    return by
