"""Limits of a machine as somebody states them: with their origin, side by side where they conflict.

The one in force is by the best origin, the latest of those; it is the one the set-up's document holds.
"""

import sqlite3
from dataclasses import dataclass
from typing import Literal, get_args

from jaxel.core.errors import InvalidValue

from .db import NotFound, inserted, now
from .edits import DEFAULT_HAND, check_hand

What = Literal["belt_width_min_mm", "rev_limit_rpm"]
LimitOrigin = Literal["manual", "part maker's sheet", "common practice", "from memory"]

PATHS: dict[What, str] = {"belt_width_min_mm": "belt.top_width_min_mm", "rev_limit_rpm": "engine.rev_limit_rpm"}
"""The field of a set-up that each limit is."""

_RANK: tuple[LimitOrigin, ...] = get_args(LimitOrigin)


@dataclass(frozen=True)
class Limit:
    """A limit as it was stated: its value in the unit its name ends in, where it comes from, and who said so."""

    id: int
    what: What
    value: float
    origin: LimitOrigin
    stated_at: str
    stated_by: str


def state(
    connection: sqlite3.Connection, machine_id: int, what: What, value: float, origin: LimitOrigin, by: str
) -> int:
    """Enter a limit inside the caller's transaction; returns its id. Raises InvalidValue for one that cannot be."""
    check_hand(by)
    if what not in PATHS:
        raise InvalidValue("what", "is no limit known here")
    if origin not in _RANK:
        raise InvalidValue("origin", f"is one of: {', '.join(_RANK)}")
    if not value > 0:
        raise InvalidValue("value", "must be above 0")
    return inserted(
        connection.execute(
            "INSERT INTO machine_limit (machine_id, what, value, origin, stated_at, stated_by)"
            " VALUES (?, ?, ?, ?, ?, ?)",
            (machine_id, what, value, origin, now(), by),
        )
    )


def withdraw(connection: sqlite3.Connection, machine_id: int, limit_id: int, by: str = DEFAULT_HAND) -> Limit:
    """Take a limit out of force inside the caller's transaction; it stays on record. Raises NotFound."""
    check_hand(by)
    found = next((each for each in of_machine(connection, machine_id) if each.id == limit_id), None)
    if found is None:
        raise NotFound("limit")
    connection.execute("UPDATE machine_limit SET withdrawn = 1 WHERE id = ?", (limit_id,))
    return found


def of_machine(connection: sqlite3.Connection, machine_id: int) -> list[Limit]:
    """The limits that stand, the one in force of each kind first."""
    rows = connection.execute(
        "SELECT id, what, value, origin, stated_at, stated_by FROM machine_limit"
        " WHERE machine_id = ? AND withdrawn = 0",
        (machine_id,),
    )
    found = [Limit(**dict(row)) for row in rows]
    order = list(PATHS)
    return sorted(found, key=lambda each: (order.index(each.what), _RANK.index(each.origin), -each.id))


def in_force(connection: sqlite3.Connection, machine_id: int, what: What) -> Limit | None:
    """The limit that holds; None where none is stated."""
    return next((each for each in of_machine(connection, machine_id) if each.what == what), None)
