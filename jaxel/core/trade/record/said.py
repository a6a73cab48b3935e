"""A record's fields with what there is to say of each: its words, its station, whether a hand writes it, its bounds.

A station's record is a dataclass; what is said of a field stands at the field. The web's bodies, the columns a hand may
write, how a column is kept, the log's words and the API's description are read from here.
"""

import types
from collections.abc import Mapping, Sequence
from dataclasses import MISSING, dataclass, fields
from functools import cache
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

from annotated_types import BaseMetadata, Ge, Gt, Le, Lt, MaxLen
from pydantic import TypeAdapter, ValidationError

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import refuse

from .quantities import Unit

Station = Literal["intake", "belt", "strip", "set-up", "rebuild", "line-up", "road-test", "hand-over"]


@dataclass(frozen=True)
class Said:
    """What is said of a field.

    `words`, in the trade's own; `hand`, whether a hand writes it as it stands, false where an act of its own does;
    `station`, where it stands if not at its record's.
    """

    words: str
    hand: bool = True
    station: Station | None = None


@dataclass(frozen=True)
class Field:
    """A field as it is declared.

    `annotation`, its type with its bounds, what is said of it aside; `optional`, whether it may be None; `kind`, the
    type of what it holds; `choices` of a field of words, empty where any will do; `unit` of a number that is typed;
    `bounds`, as annotated-types states them; `required`, whether a fresh record needs it.
    """

    name: str
    said: Said | None
    annotation: Any
    optional: bool
    kind: type
    choices: tuple[str, ...]
    unit: str | None
    bounds: tuple[BaseMetadata, ...]
    required: bool

    @property
    def is_json(self) -> bool:
        """Whether its column keeps JSON: a list or a table."""
        return issubclass(self.kind, Sequence | Mapping) and not issubclass(self.kind, str)

    def bound(self, kind: type[BaseMetadata]) -> Any:
        """The value of one kind of bound, None where there is none."""
        names = {Ge: "ge", Gt: "gt", Le: "le", Lt: "lt", MaxLen: "max_length"}
        found = next((each for each in self.bounds if isinstance(each, kind)), None)
        return None if found is None else getattr(found, names[kind])


@cache
def fields_of(record: type) -> Mapping[str, Field]:
    """The fields of a record by name, in their order."""
    hints = get_type_hints(record, include_extras=True)
    return {
        each.name: _field(each.name, hints[each.name], each.default is MISSING and each.default_factory is MISSING)
        for each in fields(record)
    }


def written(record: type) -> frozenset[str]:
    """The fields a hand writes as they stand."""
    return frozenset(name for name, each in fields_of(record).items() if each.said is not None and each.said.hand)


def check_value(record: type, name: str, value: Any, called: str = "") -> None:
    """Refuse a value out of a field's bounds, in the words a document is refused in; raises InvalidValue.

    `called`, the field of the refusal, where it is another than the record's.
    """
    try:
        _validator(record, name).validate_python(value)
    except ValidationError as error:
        raise InvalidValue(called or name, refuse(error).reason) from None


@cache
def _validator(record: type, name: str) -> TypeAdapter[Any]:
    return TypeAdapter(fields_of(record)[name].annotation)


def _field(name: str, hint: Any, required: bool) -> Field:
    said, annotation = None, hint
    if get_origin(hint) is Annotated:
        inner, *rest = get_args(hint)
        said = next((each for each in rest if isinstance(each, Said)), None)
        kept = tuple(each for each in rest if each is not said)
        annotation = Annotated[(inner, *kept)] if kept else inner
    metadata, kind, choices, optional = _opened(annotation)
    unit = next((each.name for each in metadata if isinstance(each, Unit)), None)
    bounds = tuple(each for each in metadata if isinstance(each, BaseMetadata))
    return Field(name, said, annotation, optional, kind, choices, unit, bounds, required)


def _opened(annotation: Any) -> tuple[list[Any], type, tuple[str, ...], bool]:
    """What an annotation is made of: its metadata, the type of what it holds, choices, whether None is one of them."""
    origin = get_origin(annotation)
    if origin is Annotated:
        inner, *metadata = get_args(annotation)
        more, kind, choices, optional = _opened(inner)
        return [*metadata, *more], kind, choices, optional
    if origin in (Union, types.UnionType):
        parts = [_opened(each) for each in get_args(annotation) if each is not types.NoneType]
        metadata = [each for part in parts for each in part[0]]
        return metadata, parts[0][1], sum((part[2] for part in parts), ()), types.NoneType in get_args(annotation)
    if origin is Literal:
        return [], str, get_args(annotation), False
    if isinstance(origin, type):
        inside = _opened(get_args(annotation)[0])[0] if issubclass(origin, Sequence) else []
        return [each for each in inside if isinstance(each, Unit)], origin, (), False
    return [], annotation, (), False
