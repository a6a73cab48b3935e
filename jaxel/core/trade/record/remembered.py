"""An answer worked out once of a record: a record never changes, so what was said of it once stays true."""

from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar

Record = TypeVar("Record")
Answer = TypeVar("Answer")


def of_record(question: Callable[[Record], Answer]) -> Callable[[Record], Answer]:
    """Remember what a function says of a record, with the record; nobody changes what it returns.

    >>> from dataclasses import dataclass
    >>> @dataclass(frozen=True)
    ... class Width:
    ...     mm: float
    >>> asked = []
    >>> @of_record
    ... def thin(width):
    ...     asked.append(width)
    ...     return width.mm < 34
    >>> belt = Width(33.5)
    >>> thin(belt), thin(belt), len(asked), belt == Width(33.5)
    (True, True, 1, True)
    """
    name = f"_{question.__module__}.{question.__qualname__}"

    @wraps(question)
    def once(record: Record) -> Answer:
        held = vars(record)
        if name not in held:
            held[name] = question(record)
        found: Answer = held[name]
        return found

    return once


def of_both(question: Callable[[Any, Record], Answer]) -> Callable[[Any, Record], Answer]:
    """Remember what a method says of its record and one other, for the other it was asked of last.

    >>> class Gauge:
    ...     asked = 0
    ...
    ...     @of_both
    ...     def wider(self, other):
    ...         Gauge.asked += 1
    ...         return other[0] > 34
    >>> gauge, thin, wide = Gauge(), [33.5], [35.9]
    >>> gauge.wider(thin), gauge.wider(thin), gauge.wider(wide), gauge.wider(thin), Gauge.asked
    (False, False, True, False, 3)
    """
    name = f"_{question.__module__}.{question.__qualname__}"

    @wraps(question)
    def once(self: Any, other: Record) -> Answer:
        held = vars(self).get(name)
        if held is None or held[0] is not other:
            held = vars(self)[name] = (other, question(self, other))
        found: Answer = held[1]
        return found

    return once
