"""Fields of a setup document by their path: `primary.spring.force_start_n`, `primary.weights.loads[0].mass_g`."""

import re
from collections.abc import Sequence
from functools import lru_cache
from typing import Any, TypeVar

from pydantic import BaseModel

Document = TypeVar("Document", bound=BaseModel)
Step = str | int

_STEP = re.compile(r"([a-z_0-9]+)((?:\[\d{1,3}\])*)")


class NoSuchField(LookupError):
    """A path that leads nowhere in this document."""


@lru_cache(maxsize=1024)
def steps(path: str) -> tuple[Step, ...]:
    """A path as its steps; raises NoSuchField where it is none.

    >>> steps("belt.rows[2].width_mm")
    ('belt', 'rows', 2, 'width_mm')
    """
    found: list[Step] = []
    for piece in path.split("."):
        match = _STEP.fullmatch(piece)
        if match is None:
            raise NoSuchField(path)
        found.append(match[1])
        found += [int(index) for index in re.findall(r"\d+", match[2])]
    return tuple(found)


def value_at(document: BaseModel, path: str) -> Any:
    """What stands at a path; raises NoSuchField."""
    return _get(document, steps(path), path)


def with_value(document: Document, path: str, value: object) -> Document:
    """The document with another value at a path, not checked; raises NoSuchField."""
    changed: Document = _set(document, steps(path), value, path)
    return changed


_UNITS = {"mm": "mm", "g": "g", "n": "N", "deg": "deg", "kg": "kg", "m": "m", "rpm": "rpm", "c": "°C", "hpa": "hPa"}


def unit_of(path: str) -> str:
    """The unit a field's name ends in, as the core's table of units writes it; empty for a plain number.

    >>> unit_of("primary.spring.force_start_n"), unit_of("vehicle.drive_ratio")
    ('N', '')
    """
    if path.endswith("nm_per_deg"):
        return "N·m/deg"
    return _UNITS.get(path.rsplit("_", maxsplit=1)[-1], "")


def _get(holder: Any, way: Sequence[Step], path: str) -> Any:
    for step in way:
        if isinstance(step, int):
            if not isinstance(holder, list) or step >= len(holder):
                raise NoSuchField(path)
            holder = holder[step]
        elif isinstance(holder, BaseModel) and step in type(holder).model_fields:
            holder = getattr(holder, step)
        else:
            raise NoSuchField(path)
    return holder


def _set(holder: Any, way: Sequence[Step], value: object, path: str) -> Any:
    if not way:
        return value
    step, *rest = way
    inner = _set(_get(holder, [step], path), rest, value, path)
    if isinstance(step, int):
        return [*holder[:step], inner, *holder[step + 1 :]]
    return holder.model_copy(update={step: inner})
