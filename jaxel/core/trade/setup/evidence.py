"""How sure a set-up's numbers are, what that does to its figures, and what is worth measuring next.

A document's `evidence` block says where each number came from, and with it a standard deviation. What it does not name
is typical of its kind; a document without the block is taken as exact, and the model's own parameters alone are
uncertain. Deviations are propagated to first order and taken as independent.
"""

import re
import tomllib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from math import sqrt
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.paths import NoSuchField, value_at, with_value
from jaxel.core.formats.reading import Part, validate
from jaxel.core.formats.setup.evidence import EvidencePart, Origin
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.numerics.tables import Array

from .discrepancy import floor_rpm
from .figures import ENGAGEMENT, MEAN, NODES, Figures, figures_of

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
    instrument: str
    reading: Positive | None = None
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
    cannot be; `held`, what two set-ups must have alike for this number of theirs to be one and the same part's.
    """

    path: str
    name: str
    value: float | None
    sd: float
    origin: str
    reading: float | None = None
    minutes: float | None = None
    held: str = ""

    @property
    def key(self) -> str:
        """What tells it from the same number of another part; the model's own are one in every set-up."""
        return f"{self.name} {self.held}"

    def moved(self, document: SetupDocument, by: float) -> SetupDocument:
        """The set-up with this input so far from its value, not checked: `by` in its unit, of a table as a share."""
        if self.path == "engine.curve":
            return with_value(document, "model.torque_scale", document.model.torque_scale * (1 + by))
        found = value_at(document, self.path)
        return with_value(document, self.path, _scaled(found, by) if self.value is None else found + by)


def _scaled(table: Sequence[Part], by: float) -> list[Any]:
    """A table with its values, not its travels, scaled by 1 + `by`."""
    name = next(name for name in ("deg", "radius_mm", "pretwist_deg") if name in type(table[0]).model_fields)
    return [row.model_copy(update={name: getattr(row, name) * (1 + by)}) for row in table]


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
    for kind in _file().input:
        for path in _places(document, kind.path):
            value = value_at(document, path)
            if value is None or value == [] or (value == 0 and kind.typical.relative is not None):
                continue  # the set-up has none
            stated = document.evidence.get(path, EvidencePart(origin="typical"))
            sd, reading = _deviation(kind, stated, value), _reading(kind, value)
            plain = float(value) if isinstance(value, (int, float)) else None
            name = f"{kind.name}, {_station(document, path)}" if "[]" in kind.path else kind.name
            held = "".join(repr(value_at(document, each)) for each in kind.same or [path])
            found.append(Input(path, name, plain, sd, stated.origin, reading, kind.minutes, held))
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
    pattern = re.sub(r"\[\d+\]", "[]", path)
    return next((kind.name for kind in _file().input if kind.path == pattern), path)


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
    return min(typical, _Spread(relative=_file().origins[stated.origin]).of(value) or typical)


@dataclass(frozen=True)
class Worth:
    """What an input is worth: its share of the variance of engagement and of shift [0–1], and what a reading of it
    would take off the standard deviation of each [rpm], also per minute."""

    input: Input
    engagement_share: float
    shift_share: float
    engagement_off_rpm: float
    shift_off_rpm: float

    @property
    def off_per_minute(self) -> float:
        """What a minute of measuring takes off engagement and shift together [rpm/min]."""
        return (self.engagement_off_rpm + self.shift_off_rpm) / self.input.minutes if self.input.minutes else 0.0


def effects_on(
    documents: Sequence[SetupDocument], uncertain: Sequence[Sequence[Input]], nodes: int = NODES
) -> tuple[Figures, list[Figures]]:
    """The figures of set-ups, and what one standard deviation of each of their inputs does to them.

    Central differences; an input that could only move one way without the clutch becoming impossible is moved that
    way. Returns the figures of the k set-ups, and for each its effects [inputs]. Raises InvalidValue where a set-up
    cannot work itself.

    Reference: central difference quotient, error O(h²).
    """
    with in_document_terms():
        for each in documents:
            each.core()
    sides = [
        one.moved(document, by)
        for document, inputs in zip(documents, uncertain, strict=True)
        for one in inputs
        for by in (-one.sd, one.sd)
    ]
    found = figures_of([*documents, *sides], nodes)
    count, effects, at = len(documents), [], len(documents)
    for index, inputs in enumerate(uncertain):
        rows = slice(at, at + 2 * len(inputs))
        effects.append(
            Figures(
                _half(found.values[rows], found.values[index]),
                _half(found.curve[rows], found.curve[index]),
                found.slips[rows],
            )
        )
        at = rows.stop
    return Figures(found.values[:count], found.curve[:count], found.slips[:count]), effects


def _half(sides: Array, here: Array) -> Array:
    """Half of what lies between the sides below and above in turn [2p, m]: of one side alone what lies between it and
    `here` [m], of none 0."""
    below, above = sides[0::2], sides[1::2]
    low, high = np.isnan(below), np.isnan(above)
    step = np.where(high, here, above) - np.where(low, here, below)
    return np.where(low ^ high, step, step / 2)


NOTHING: Mapping[str, float] = {}


@dataclass(frozen=True)
class Variances:
    """What makes the figures of a set-up uncertain: of each input its share of the variance of engagement and of the
    shift mean [rpm², inputs], and the share of its deviation that stays once it is measured [inputs]."""

    inputs: tuple[Input, ...]
    engagement: Array
    shift: Array
    left: Array

    def deviation(self, after: Mapping[str, float] = NOTHING) -> tuple[float, float]:
        """Standard deviations of engagement and shift [rpm], also with inputs, by path, known to other deviations."""
        stays = np.array([min(1.0, after.get(each.path, each.sd) / each.sd) ** 2 for each in self.inputs])
        floor = floor_rpm() ** 2
        return sqrt(float(self.engagement @ stays) + floor), sqrt(float(self.shift @ stays) + floor)


def variances(document: SetupDocument) -> Variances:
    """What makes a set-up's engagement and shift uncertain; raises InvalidValue where it cannot work."""
    uncertain = inputs(document)
    _, (effects,) = effects_on([document], [uncertain])
    left = np.array([_after(each) for each in uncertain])
    return Variances(tuple(uncertain), effects.values[:, ENGAGEMENT] ** 2, effects.values[:, MEAN] ** 2, left)


def worths(document: SetupDocument) -> list[Worth]:
    """Every uncertain input with what it is worth, the one to measure next first.

    Raises InvalidValue where the set-up cannot work.

    Reference: Guide to the expression of uncertainty in measurement (JCGM 100:2008), 5.1.2; a reading takes off the
    deviation now less the deviation after it.
    """
    known = variances(document)
    columns = []
    for parts in (known.engagement, known.shift):
        total = float(parts.sum())
        shares = parts / total if total > 0 else np.zeros_like(parts)
        now = total + floor_rpm() ** 2
        columns += [shares, np.sqrt(now) - np.sqrt(now - parts * (1 - known.left**2))]
    bite, bite_off, shift, shift_off = columns
    rows = [
        Worth(each, float(a), float(b), float(c), float(d))
        for each, a, b, c, d in zip(known.inputs, bite, shift, bite_off, shift_off, strict=True)
    ]
    return sorted(rows, key=lambda each: (-each.off_per_minute, -each.shift_share))


def _after(each: Input) -> float:
    """The deviation after a reading, as a share of the one now."""
    return 1.0 if each.reading is None else min(1.0, each.reading / each.sd)
