"""Readings that lie far beyond what is typical: asked about in words before they are taken."""

from typing import Any

import numpy as np

from jaxel.core.errors import Expected, Implausible
from jaxel.core.formats.paths import value_at, with_value
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.units import said

from ..record.plausible import read_otherwise
from .measure import Measure, as_read, as_words, in_words, row_value, scale
from .reading import Reading, Settled, Typed

FAR = 3.0
"""A reading more than so many of its spread from what is typical, or none at all, is asked about; from memory."""

NEAR = 2.5
"""Where what stands there is no typical number: a reading so many times it, or less than that part of it, is asked
about; from memory."""

ANYTHING = frozenset({"altitude", "loads", "hole_pair"})
"""Readings whose numbers may lie anywhere: where it is ridden, what a hand put in, which holes."""


def ask_if_far(typical: SetupDocument, reading: Reading, found: Settled, typed: Typed) -> None:
    """Raise Implausible, field `KEY.FIELD`, for a reading far from what stood there, with what was likely meant.

    Parameters: `typical`, the set-up before any reading, its evidence with it; `typed`, as the hand typed it.
    """
    if reading.key.split(":")[0] in ANYTHING:
        return
    for path, value in found.values.items():
        was, known = value_at(typical, path), (typical.evidence or {}).get(path)
        here, near = scale(value), _beside(was, value)
        if here is None or near is None:
            continue
        sd = known.sd if known and known.sd and known.origin == "typical" else None
        if sd is not None:
            spread = sd * abs(near) if isinstance(was, list) else sd
            far = abs(here - near) > FAR * spread or here <= 0 < near
        else:
            far = near > 0 and not near / NEAR <= here <= near * NEAR
        if far:
            raise _asked(typical, reading, path, value, typed)


def _beside(was: Any, value: Any) -> float | None:
    """What stood there as one number, of a table over the travel read at the same places as the new one."""
    tables = isinstance(was, list) and isinstance(value, list)
    if not tables or not all(hasattr(row, "travel_mm") for row in (*was, *value)):
        return scale(was)
    at = [row.travel_mm for row in value]
    return float(np.mean(np.interp(at, [row.travel_mm for row in was], [row_value(row) for row in was])))


def _asked(typical: SetupDocument, reading: Reading, path: str, value: Any, typed: Typed) -> Implausible:
    given = [each for each in reading.fields if typed.get(each.name, "").strip()]
    field = f"{reading.key}.{given[0].name}"
    measure = as_read(typical, reading) if path == reading.paths[0] else None
    if measure is None or measure.unit != given[0].unit or len(given) > 1:
        words = f"comes to {in_words(path, value)}, far from the {in_words(path, value_at(typical, path))}"
        return Implausible(field, f"{words} {_stood(typical, path)}")
    text = typed[given[0].name].strip()
    expected = _window(measure)
    meant, as_typed = ("", "") if given[0].several else read_otherwise(text, expected)
    words = f"is far from the {as_words(measure)} {_stood(typical, path)}"
    shown = as_read(with_value(typical, path, value), reading)
    if measure.sd and shown:
        words += f": {said(round(abs(shown.value - measure.value) / measure.sd))} times its ±"
    return Implausible(field, words, meant, {given[0].name: as_typed} if as_typed else {}, expected)


def _stood(document: SetupDocument, path: str) -> str:
    """How what stood there is known: typical is not measured."""
    known = (document.evidence or {}).get(path)
    return f"that is {known.origin}" if known else "on record"


def _window(measure: Measure) -> Expected:
    spread = FAR * measure.sd if measure.sd else 0.0
    low = measure.value - spread if spread else measure.value / NEAR
    high = measure.value + spread if spread else measure.value * NEAR
    return Expected(measure.unit, max(low, 1e-9), high, measure.value)
