"""What is stated of machines, as it is kept: limits, limits of items, torques; and the one a machine goes by."""

import sqlite3
from collections import defaultdict
from collections.abc import Mapping
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kind_file import Tightness
from jaxel.core.trade.record.facts import RANK, Fact, Origin

from ..db import NotFound, inserted, now, read_once
from ..edits import check_hand

What = Literal["limit", "item", "torque"]


def state(
    connection: sqlite3.Connection,
    what: What,
    name: str,
    value: float | None,
    origin: Origin,
    by: str,
    *,
    kind: str = "",
    machine_id: int | None = None,
    tightness: Tightness | None = None,
) -> int:
    """Enter what somebody states, inside the caller's transaction; returns its id.

    Parameters: `machine_id`, the machine it is stated at, None where that is not known. Raises InvalidValue for an
    origin that is none, or an actor without a name.
    """
    check_hand(by)
    if origin not in RANK:
        raise InvalidValue("origin", f"is one of: {', '.join(RANK)}")
    return inserted(
        connection.execute(
            "INSERT INTO stated (what, machine_id, kind, name, value, tightness, origin, stated_at, stated_by)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
            (what, machine_id, kind, name, value, tightness, origin, now(), by),
        )
    )


def withdraw(connection: sqlite3.Connection, what: What, fact_id: int, by: str) -> Fact:
    """Take something stated out of force, inside the caller's transaction; it stays on record. Raises NotFound."""
    check_hand(by)
    row = connection.execute(
        "SELECT * FROM stated WHERE id = ? AND what = ? AND withdrawn = 0", (fact_id, what)
    ).fetchone()
    if row is None:
        raise NotFound(what if what == "torque" else "limit")
    connection.execute("UPDATE stated SET withdrawn = 1 WHERE id = ?", (fact_id,))
    return _fact(row)


def standing(connection: sqlite3.Connection, what: What, machine_id: int | None = None) -> list[Fact]:
    """What stands of one sort, of every machine or of one, in the order it was stated."""
    held = _standing(connection).get(what, [])
    return held if machine_id is None else [each for each in held if each.machine_id == machine_id]


@read_once
def _standing(connection: sqlite3.Connection) -> Mapping[str, list[Fact]]:
    found: dict[str, list[Fact]] = defaultdict(list)
    for row in connection.execute("SELECT * FROM stated WHERE withdrawn = 0 ORDER BY id"):
        found[row["what"]].append(_fact(row))
    return found


def choose(connection: sqlite3.Connection, machine_id: int, fact: Fact) -> None:
    """Go by a statement on a machine from now on, inside the caller's transaction."""
    connection.execute(
        "INSERT INTO stated_choice (machine_id, kind, name, stated_id) VALUES (?, ?, ?, ?)"
        " ON CONFLICT (machine_id, kind, name) DO UPDATE SET stated_id = excluded.stated_id",
        (machine_id, fact.kind, fact.name, fact.id),
    )


def chosen(connection: sqlite3.Connection, machine_id: int) -> Mapping[tuple[str, str], int]:
    """The statements a machine goes by, by kind and name."""
    rows = connection.execute("SELECT kind, name, stated_id FROM stated_choice WHERE machine_id = ?", (machine_id,))
    return {(row["kind"], row["name"]): row["stated_id"] for row in rows}


def _fact(row: sqlite3.Row) -> Fact:
    names = ("id", "kind", "name", "value", "tightness", "origin", "stated_at", "stated_by", "machine_id")
    return Fact(**{name: row[name] for name in names})
