"""Limits of wear items from manuals: of one machine, or of every one of a make and model; another's is only offered."""

import sqlite3
from collections import defaultdict

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kinds import Kinds, clutches, kinds
from jaxel.core.trade.record.facts import Fact, OnMachine, Origin, by_rank
from jaxel.core.trade.strip.inspection import StatedLimit
from jaxel.core.trade.strip.strip import Place
from jaxel.core.words import q

from ..db import writing
from ..edits import DEFAULT_HAND, check_hand
from ..machine import machines
from ..record import facts


def state(
    connection: sqlite3.Connection,
    kind: str,
    item: str,
    value: float,
    origin: Origin,
    by: str = DEFAULT_HAND,
    *,
    machine_id: int | None = None,
    model: str = "",
    manual: str = "",
) -> int:
    """Enter a limit; returns its id.

    Raises NotFound, and InvalidValue: field `item` for one that is not measured, `value` for a limit on the wrong side
    of new, `origin`, `machine_id` for a machine without such a clutch, `model` and `manual` where they are missing.
    """
    check_hand(by)
    known = kinds().get(kind)
    found = next((each for each in known.guide.item if each.key == item), None) if known else None
    if known is None or found is None or found.measure is None:
        raise InvalidValue("item", "is nothing that is measured of this kind")
    if not 0 <= value <= 10000:
        raise InvalidValue("value", "must be from 0 to 10,000")
    new = found.measure.new
    if new is not None and value != new and (value > new) != (found.measure.wears == "up"):
        side = "above" if found.measure.wears == "up" else "below"
        raise InvalidValue("value", f"must be {side} {q(new, found.measure.unit)}, what a new one reads")
    with writing(connection):
        if machine_id is not None:
            machine = machines.get(connection, machine_id)
            if kind not in (machine.primary_kind, machine.secondary_kind):
                raise InvalidValue("machine_id", "has no such clutch")
        return facts.state(
            connection, "item", item, value, origin, by, kind=kind, machine_id=machine_id, model=model, manual=manual
        )


def withdraw(connection: sqlite3.Connection, limit_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a limit out of force; it stays on record. Raises NotFound."""
    with writing(connection):
        facts.withdraw(connection, "item", limit_id, by)


class Stated:
    """Every limit that stands, read once."""

    def __init__(self, connection: sqlite3.Connection):
        self._by_kind: dict[str, list[Fact]] = defaultdict(list)
        for each in facts.standing(connection, "item"):
            self._by_kind[each.kind].append(each)

    def all_of(self, kind: str, on: OnMachine) -> list[Fact]:
        """Limits that hold of a machine's clutch of a kind, the one in force of each item first."""
        return by_rank((each for each in self._by_kind[kind] if each.of(on)), on)

    def offered(self, kind: str, item: str, on: OnMachine) -> list[Fact]:
        """Limits of an item that were stated elsewhere: known, and in force here only once they are stated here."""
        return [each for each in self._by_kind[kind] if each.name == item and not each.of(on)]

    def all_stated(self, kind: str) -> list[Fact]:
        """Every limit of a kind, those of single machines too."""
        return sorted(self._by_kind[kind], key=lambda each: (each.name, each.machine_id is None, each.id))

    def of(self, on: OnMachine, machine: Kinds) -> dict[Place, StatedLimit]:
        """The limits in force of a machine's items: by the best origin, the latest of those."""
        found: dict[Place, StatedLimit] = {}
        for side, kind in clutches(machine):
            for each in self.all_of(kind.key, on):
                whose = each.whose(on) if each.model else f"this machine's {each.origin}"
                found.setdefault((side, each.name), StatedLimit(each.value or 0.0, whose, own=True))
        return found


def in_force(connection: sqlite3.Connection, machine_id: int, machine: Kinds) -> dict[Place, StatedLimit]:
    """The workshop's own limits of a machine's items."""
    return Stated(connection).of(facts.on_machine(connection, machine_id), machine)
