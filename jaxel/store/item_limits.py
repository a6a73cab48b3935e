"""Limits of wear items from the workshop's own manuals: of a kind, or of one machine, which wins."""

import sqlite3
from collections import defaultdict
from dataclasses import dataclass
from typing import get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.inspection import StatedLimit
from jaxel.core.trade.kinds import Kinds, kinds
from jaxel.core.trade.strip import Place, clutches

from . import machines
from .db import NotFound, inserted, now, writing
from .edits import DEFAULT_HAND, check_hand
from .limits import LimitOrigin

_RANK: tuple[LimitOrigin, ...] = get_args(LimitOrigin)


@dataclass(frozen=True)
class ItemLimit:
    """A limit as the workshop stated it: of every clutch of a kind, or of one machine's."""

    id: int
    kind: str
    machine_id: int | None
    item: str
    value: float
    origin: LimitOrigin
    stated_at: str
    stated_by: str


def state(
    connection: sqlite3.Connection,
    kind: str,
    item: str,
    value: float,
    origin: LimitOrigin,
    by: str = DEFAULT_HAND,
    *,
    machine_id: int | None = None,
) -> int:
    """Enter a limit; returns its id.

    Raises NotFound, and InvalidValue: field `item` for one that is not measured, `value` for a limit on the wrong side
    of new, `origin`, `machine_id` for a machine without such a clutch.
    """
    check_hand(by)
    known = kinds().get(kind)
    found = next((each for each in known.guide.item if each.key == item), None) if known else None
    if known is None or found is None or found.measure is None:
        raise InvalidValue("item", "is nothing that is measured of this kind")
    if origin not in _RANK:
        raise InvalidValue("origin", f"is one of: {', '.join(_RANK)}")
    if not 0 <= value <= 10000:
        raise InvalidValue("value", "must be from 0 to 10,000")
    new = found.measure.new
    if new is not None and value != new and (value > new) != (found.measure.wears == "up"):
        side = "above" if found.measure.wears == "up" else "below"
        raise InvalidValue("value", f"must be {side} {new:g} {found.measure.unit}, what a new one reads")
    with writing(connection):
        if machine_id is not None:
            machine = machines.get(connection, machine_id)
            if kind not in (machine.primary_kind, machine.secondary_kind):
                raise InvalidValue("machine_id", "has no such clutch")
        return inserted(
            connection.execute(
                "INSERT INTO item_limit (kind, machine_id, item, value, origin, stated_at, stated_by)"
                " VALUES (?, ?, ?, ?, ?, ?, ?)",
                (kind, machine_id, item, value, origin, now(), by),
            )
        )


def withdraw(connection: sqlite3.Connection, limit_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a limit out of force; it stays on record. Raises NotFound."""
    check_hand(by)
    with writing(connection):
        changed = connection.execute("UPDATE item_limit SET withdrawn = 1 WHERE id = ? AND withdrawn = 0", (limit_id,))
        if changed.rowcount == 0:
            raise NotFound("limit")


class Stated:
    """Every limit that stands, read once."""

    def __init__(self, connection: sqlite3.Connection):
        self._by_kind: dict[str, list[ItemLimit]] = defaultdict(list)
        rows = connection.execute(
            "SELECT id, kind, machine_id, item, value, origin, stated_at, stated_by FROM item_limit WHERE withdrawn = 0"
        )
        for row in rows:
            self._by_kind[row["kind"]].append(ItemLimit(**dict(row)))

    def all_of(self, kind: str, machine_id: int | None) -> list[ItemLimit]:
        """Limits that concern a machine's clutch of a kind, the one in force of each item first."""
        concern = [each for each in self._by_kind[kind] if each.machine_id in (None, machine_id)]
        return sorted(concern, key=lambda each: (each.machine_id is None, _RANK.index(each.origin), -each.id))

    def all_stated(self, kind: str) -> list[ItemLimit]:
        """Every limit of a kind, those of single machines too."""
        return sorted(self._by_kind[kind], key=lambda each: (each.item, each.machine_id is None, each.id))

    def of(self, machine_id: int, machine: Kinds) -> dict[Place, StatedLimit]:
        """The limits in force of a machine's items: its own before its kind's, then by origin, the latest last said."""
        found: dict[Place, StatedLimit] = {}
        for side, kind in clutches(machine):
            for each in self.all_of(kind.key, machine_id):
                whose = "this machine's" if each.machine_id else "the workshop's"
                found.setdefault((side, each.item), StatedLimit(each.value, f"{whose} {each.origin}", own=True))
        return found


def in_force(connection: sqlite3.Connection, machine_id: int, machine: Kinds) -> dict[Place, StatedLimit]:
    """The workshop's own limits of a machine's items."""
    return Stated(connection).of(machine_id, machine)
