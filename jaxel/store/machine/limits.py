"""Limits of a machine as somebody states them: with their origin, side by side where they conflict.

The one in force is by the best origin, the latest of those; it is the one the set-up's document holds.
"""

import sqlite3
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.record.facts import Fact, OnMachine, Origin, by_rank

from ..db import NotFound
from ..edits import DEFAULT_HAND
from ..record import facts

What = Literal["belt_width_min_mm", "rev_limit_rpm"]

PATHS: dict[str, str] = {"belt_width_min_mm": "belt.top_width_min_mm", "rev_limit_rpm": "engine.rev_limit_rpm"}
"""The field of a set-up that each limit is; its value is in the unit its name ends in."""


def state(connection: sqlite3.Connection, machine_id: int, what: str, value: float, origin: Origin, by: str) -> int:
    """Enter a limit inside the caller's transaction; returns its id. Raises InvalidValue for one that cannot be."""
    if what not in PATHS:
        raise InvalidValue("what", "is no limit known here")
    if not value > 0:
        raise InvalidValue("value", "must be above 0")
    return facts.state(connection, "limit", what, value, origin, by, machine_id=machine_id)


def withdraw(connection: sqlite3.Connection, machine_id: int, limit_id: int, by: str = DEFAULT_HAND) -> Fact:
    """Take a limit out of force inside the caller's transaction; it stays on record. Raises NotFound."""
    if limit_id not in {each.id for each in of_machine(connection, machine_id)}:
        raise NotFound("limit")
    return facts.withdraw(connection, "limit", limit_id, by)


def of_machine(connection: sqlite3.Connection, machine_id: int) -> list[Fact]:
    """The limits that stand, the one in force of each kind first."""
    order = list(PATHS)
    held = by_rank(facts.standing(connection, "limit", machine_id), OnMachine(machine_id))
    return sorted(held, key=lambda each: order.index(each.name))


def in_force(connection: sqlite3.Connection, machine_id: int, what: str) -> Fact | None:
    """The limit that holds; None where none is stated."""
    return next((each for each in of_machine(connection, machine_id) if each.name == what), None)
