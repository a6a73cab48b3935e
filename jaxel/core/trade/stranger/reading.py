"""Readings as they are asked: how each is taken, its fields, and the paths it settles."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Annotated, Any

from pydantic import Field

from jaxel.core.formats.paths import NoSuchField, value_at
from jaxel.core.formats.reading import Part, validate
from jaxel.core.formats.setup.evidence import Origin
from jaxel.core.formats.setup.setup import SetupDocument

Typed = Mapping[str, str]
"""What is typed for a reading, by field."""


class _FieldFile(Part):
    name: str
    label: str
    unit: str
    optional: bool = False
    several: bool = False
    way: str = ""


class _ReadingFile(Part):
    """One reading of readings.toml."""

    key: str
    name: str
    how: str
    hold: str
    drawing: str
    form: str
    paths: Annotated[list[str], Field(min_length=1)]
    minutes: Annotated[float, Field(gt=0)]
    fields: Annotated[list[_FieldFile], Field(min_length=1)]
    origin: Origin = "measured"
    caution: str = ""
    of: str = ""


class _File(Part):
    reading: list[_ReadingFile]


@cache
def _file() -> tuple[_ReadingFile, ...]:
    text = resources.files("jaxel.core.data").joinpath("readings.toml").read_text(encoding="utf-8")
    return tuple(validate(_File, tomllib.loads(text)).reading)


@dataclass(frozen=True)
class ReadingField:
    """One field of a reading: `unit` as the core computes, “text” for words; `several`, weighed one by one; `way`, of
    the ways there are of taking it the one it belongs to, empty where there is one only."""

    name: str
    label: str
    unit: str
    optional: bool
    several: bool
    way: str


@dataclass(frozen=True)
class Reading:
    """A reading that a machine can be given: `key`, with the place behind a colon where there are several of a kind;
    `paths` of its set-up that it settles; `origin` of what it settles; `of`, what the number shown beside it is of,
    where that is none of its fields; the rest in words."""

    key: str
    name: str
    how: str
    hold: str
    drawing: str
    form: str
    origin: Origin
    paths: tuple[str, ...]
    minutes: float
    caution: str
    of: str
    fields: tuple[ReadingField, ...]


@dataclass(frozen=True)
class Settled:
    """What a reading makes of a set-up: values by path, each with its deviation, and words about them.

    `unequal`, the masses [g] of weights that are no set, found so.
    """

    values: Mapping[str, Any]
    sd: Mapping[str, float]
    notes: tuple[str, ...] = ()
    unequal: tuple[float, ...] = ()


def readings(document: SetupDocument) -> list[Reading]:
    """The readings that settle a number of this set-up, in their file's order.

    >>> from jaxel.core.trade.stranger.packages import packages
    >>> [each.key for each in readings(packages()["quad-variator-500"].document)][11]
    'weights'
    """
    found, rollers = [], document.primary.profile.kind == "ramp-roller"
    for each in _file():
        paths = [path for pattern in each.paths for path in _places(document, pattern)]
        if each.form == "value" and len(paths) > 1:  # several places of one kind: a reading each
            for index, path in enumerate(paths):
                name = f"{each.name}, {document.primary.weights.loads[index].station}"
                found.append(_reading(each, (path,), f"{each.key}:{index + 1}", name, rollers=rollers))
        elif paths:
            found.append(_reading(each, tuple(paths), each.key, each.name, rollers=rollers))
    return found


_TWIST = ("secondary.spring.torsion_rate_nm_per_deg", "secondary.spring.pretwist_deg")


def _reading(file: _ReadingFile, paths: tuple[str, ...], key: str, name: str, *, rollers: bool) -> Reading:
    fields = tuple(ReadingField(f.name, f.label, f.unit, f.optional, f.several, f.way) for f in file.fields)
    drawing = "scale-roller" if file.form == "masses" and rollers else file.drawing
    return Reading(
        key, name, file.how, file.hold, drawing, file.form, file.origin, paths, file.minutes, file.caution,
        file.of, fields,
    )  # fmt: skip


def _places(document: SetupDocument, pattern: str) -> list[str]:
    if "[]" in pattern:
        head, tail = pattern.split("[]")
        return [f"{head}[{index}]{tail}" for index in range(len(value_at(document, head)))]
    try:
        found = value_at(document, pattern)
    except (NoSuchField, AttributeError):
        return []
    spring = document.secondary.spring
    if pattern in _TWIST and not spring.torsion_rate_nm_per_deg:
        return []
    if pattern == _TWIST[1] and document.secondary.holes:
        return []
    return [] if found is None else [pattern]
