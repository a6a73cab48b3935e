"""How sure a set-up's numbers are.

A document's `evidence` block says where each number came from, and with it a standard deviation. What it does not name
is typical of its kind; a document without the block is taken as exact, and the model's own parameters alone are
uncertain.
"""

import re
import tomllib
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache, cached_property
from importlib import resources
from math import sqrt
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from jaxel.core.formats.paths import NoSuchField, value_at, with_value
from jaxel.core.formats.reading import Part, validate
from jaxel.core.formats.setup.evidence import EvidencePart, Origin
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.numerics.tables import curve_directions

MODEL_PRIORS = {
    "gain_scale": 0.06,
    "gain_tilt": 0.10,
    "torque_scale": 0.05,
    "seating_primary": 0.06,
    "seating_secondary": 0.08,
}
"""Standard deviations of the model's own parameters before any run; from memory, to be narrowed by calibration."""

SMALL = 1e-3
"""Deviation of a number that is 0, in its unit, where only a share of it is known: a small one."""

Positive = Annotated[float, Field(gt=0)]


class _Spread(Part):
    """A standard deviation in the field's unit, or as a share of the value."""

    sd: Positive | None = None
    relative: Positive | None = None

    def of(self, value: object) -> float:
        """The deviation of a value; of a table, its scale's."""
        if self.relative is None:
            return self.sd or 0.0
        return self.relative * abs(value) if isinstance(value, (int, float)) else self.relative


class _Kind(Part):
    """One kind of input of evidence.toml."""

    path: Annotated[str, Field(min_length=1)]
    name: Annotated[str, Field(min_length=1)]
    same: list[str] = Field(default_factory=list)
    typical: _Spread
    stranger: _Spread
    stamped: _Spread | None = None
    instrument: str
    reading: Positive | None = None
    point: Positive | None = None
    minutes: Positive


class _File(Part):
    instruments: dict[str, _Spread]
    origins: dict[str, Positive]
    input: list[_Kind]


@cache
def _file() -> _File:
    text = resources.files("jaxel.core.data").joinpath("evidence.toml").read_text(encoding="utf-8")
    return validate(_File, tomllib.loads(text))


@dataclass(frozen=True)
class Input:
    """A number of a set-up that is not exactly known.

    `path` in the document, or `model.NAME`; `name` as a hand calls it; `value`, None for a table; `sd` in its unit, of
    a table as a share; `origin`; `reading`, the deviation once measured, and the `minutes` that takes, None where it
    cannot be; `held`, what two set-ups must have alike for this number of theirs to be one and the same part's;
    `along`, of a table's points read one by one a direction in which they may all be off together [n], of length 1.
    """

    path: str
    name: str
    value: float | None
    sd: float
    origin: str
    reading: float | None = None
    minutes: float | None = None
    held: str = ""
    along: tuple[float, ...] = ()

    @property
    def table(self) -> str:
        """The field's path, of a direction of a table's points the table's."""
        return self.path.split(POINTS)[0]

    @cached_property
    def key(self) -> str:
        """What tells it from the same number of another part; the model's own are one in every set-up."""
        return f"{self.path if self.along else self.name} {self.held}"

    def moved(self, document: SetupDocument, by: float) -> SetupDocument:
        """The set-up with this input so far from its value, not checked: `by` in its unit, of a table as a share."""
        if self.path == "engine.curve":
            return with_value(document, "model.torque_scale", document.model.torque_scale * (1 + by))
        found = value_at(document, self.table)
        if self.along:
            moved = [value + by * share for value, share in zip(_values(found), self.along, strict=True)]
            return with_value(document, self.table, _with_values(found, moved))
        if self.value is None:
            return with_value(document, self.path, _with_values(found, [value * (1 + by) for value in _values(found)]))
        return with_value(document, self.path, found + by)


POINTS = "~"
"""What stands between a table's path and the number of a direction of its points."""


def _value_field(table: Sequence[Part]) -> str:
    return next(name for name in ("deg", "radius_mm", "pretwist_deg") if name in type(table[0]).model_fields)


def _values(table: Sequence[Part]) -> list[float]:
    """The values of a table, not its travels."""
    return [getattr(row, _value_field(table)) for row in table]


def _with_values(table: Sequence[Part], values: Sequence[float]) -> list[Any]:
    name = _value_field(table)
    return [row.model_copy(update={name: value}) for row, value in zip(table, values, strict=True)]


def _point_readings(document: SetupDocument, kind: _Kind, path: str, held: str) -> list[Input]:
    """What the error of each point's reading does to a table's curve, in independent directions.

    A profile is a smooth curve among its points: only what of their errors lies along the curves it can take moves it.
    Errors of one deviation, independent of each other, are so along any directions at right angles.
    """
    table = value_at(document, path)
    profile = document.primary.profile
    if path.startswith("primary.profile."):
        along = curve_directions(tuple(row.travel_mm for row in table), profile.pieces)
    else:
        along = np.eye(len(table))
    name = f"{kind.name}: the reading of each point"
    once_more = (kind.point or 0.0) / sqrt(2)
    return [
        Input(f"{path}{POINTS}{number}", name, None, kind.point or 0.0, "measured", once_more, kind.minutes, held,
              tuple(row))
        for number, row in enumerate(along.tolist(), start=1)
    ]  # fmt: skip


def model_inputs(document: SetupDocument) -> list[Input]:
    """The model's own parameters, uncertain in every document."""
    stated = document.evidence or {}
    found = []
    for name, prior in MODEL_PRIORS.items():
        path = f"model.{name}"
        known = stated.get(path)
        sd = known.sd if known and known.sd else prior
        origin = known.origin if known else "typical"
        found.append(Input(path, name.replace("_", " "), getattr(document.model, name), sd, origin))
    return found


def evidence_paths(document: SetupDocument) -> list[str]:
    """The numbers of a set-up that evidence is given of, by path; the model's own parameters aside."""
    block = document if document.evidence is not None else document.model_copy(update={"evidence": {}})
    return [each.path for each in inputs(block) if not each.path.startswith("model.") and not each.along]


def known_by(document: SetupDocument) -> dict[str, EvidencePart]:
    """How the numbers of a set-up are known, by path; one taken as exact counts as measured throughout."""
    if document.evidence is not None:
        return dict(document.evidence)
    return {path: EvidencePart(origin="measured") for path in evidence_paths(document)}


def inputs(document: SetupDocument) -> list[Input]:
    """What is uncertain in a set-up: the model's parameters and, where it has an evidence block, its numbers.

    >>> from jaxel.demo.workshop import document
    >>> len(inputs(document("mountain-sled")))
    5

    Reference: core/data/evidence.toml; from memory.
    """
    found = model_inputs(document)
    if document.evidence is None:
        return found
    held_at: dict[str, str] = {}

    def held_by(path: str) -> str:
        if path not in held_at:
            held_at[path] = repr(value_at(document, path))
        return held_at[path]

    for kind in _file().input:
        for path in _places(document, kind.path):
            value = value_at(document, path)
            if value is None or value == [] or (value == 0 and kind.typical.relative is not None):
                continue  # the set-up has none
            stated = document.evidence.get(path, EvidencePart(origin="typical"))
            sd, reading = _deviation(kind, stated, value), _reading(kind, value)
            plain = float(value) if isinstance(value, (int, float)) else None
            name = f"{kind.name}, {_station(document, path)}" if "[]" in kind.path else kind.name
            held = "".join(held_by(each) for each in kind.same or [path])
            found.append(Input(path, name, plain, sd, stated.origin, reading, kind.minutes, held))
            if kind.point and stated.origin == "measured" and len(value) > 1:
                found += _point_readings(document, kind, path, held)
    known = {each.path for each in found}
    return found + [_stated(document, path, each) for path, each in document.evidence.items() if path not in known]


def of_a_stranger(document: SetupDocument) -> dict[str, EvidencePart]:
    """The evidence of a machine of which only the kind is known: every number typical, with the spread of all such.

    >>> from jaxel.demo.workshop import document
    >>> of_a_stranger(document("mountain-sled"))["geometry.centre_distance_mm"].sd
    1.8

    Source: core/data/evidence.toml; from memory.
    """
    return _typical(document, lambda kind: kind.stranger)


def of_a_like(document: SetupDocument) -> dict[str, EvidencePart]:
    """The evidence of a machine that is like another: what was known of that is typical of this, with the usual spread.

    Source: core/data/evidence.toml; from memory.
    """
    return _typical(document, lambda kind: kind.typical)


def _typical(document: SetupDocument, spread: Callable[[_Kind], _Spread]) -> dict[str, EvidencePart]:
    found = {}
    for kind in _file().input:
        for path in _places(document, kind.path):
            value = value_at(document, path)
            if value is not None and value != [] and (sd := spread(kind).of(value)):
                found[path] = EvidencePart(origin="typical", sd=sd)
    return found


def deviation_of_origin(document: SetupDocument, path: str, origin: Origin) -> float | None:
    """The standard deviation of a field by where its value comes from, in its unit, of a table as a share.

    None where no kind of input is of the field.
    """
    for kind in _file().input:
        if path in _places(document, kind.path):
            return _deviation(kind, EvidencePart(origin=origin), value_at(document, path))
    return None


MODEL_NAMES = {
    "model.gain_scale": "pull of the weights",
    "model.gain_tilt": "pull of the weights, full shift against start",
    "model.torque_scale": "engine torque",
    "model.seating_primary": "seating of the belt, primary",
    "model.seating_secondary": "seating of the belt, secondary",
}
"""What a hand calls the model's own parameters."""


def input_name(path: str) -> str:
    """What a hand calls a field; the path itself where no kind of input is of it."""
    if path in MODEL_NAMES:
        return MODEL_NAMES[path]
    table, points, _ = path.partition(POINTS)
    pattern = re.sub(r"\[\d+\]", "[]", table)
    name = next((kind.name for kind in _file().input if kind.path == pattern), path)
    return f"{name}: the reading of each point" if points else name


def _stated(document: SetupDocument, path: str, stated: EvidencePart) -> Input:
    """A field whose evidence is stated and whose spread no kind is known for: by its origin's share."""
    value = value_at(document, path)
    plain = float(value) if isinstance(value, (int, float)) else None
    sd = stated.sd or _Spread(relative=_file().origins[stated.origin]).of(value) or SMALL
    return Input(path, path, plain, sd, stated.origin, held=repr(value))


def _places(document: SetupDocument, pattern: str) -> list[str]:
    """The paths of a document that fit a pattern."""
    if "[]" in pattern:
        head, tail = pattern.split("[]")
        return [f"{head}[{index}]{tail}" for index in range(len(value_at(document, head)))]
    try:
        value_at(document, pattern)
    except (NoSuchField, AttributeError):
        return []
    return [pattern]


def _station(document: SetupDocument, path: str) -> str:
    return str(value_at(document, re.sub(r"\.[a-z_]+$", ".station", path)))


def _reading(kind: _Kind, value: object) -> float:
    """The deviation of a field once it is measured."""
    return kind.reading or _file().instruments[kind.instrument].of(value)


def _deviation(kind: _Kind, stated: EvidencePart, value: object) -> float:
    """The deviation of a field by where its value came from."""
    typical = kind.typical.of(value)
    if stated.sd is not None:
        return stated.sd
    if stated.origin == "measured":
        return _reading(kind, value)
    if stated.origin == "typical":
        return typical
    if stated.origin == "unknown":
        return kind.stranger.of(value)
    if stated.origin == "stamped" and kind.stamped:
        return min(typical, kind.stamped.of(value))
    return min(typical, _Spread(relative=_file().origins[stated.origin]).of(value) or typical)
