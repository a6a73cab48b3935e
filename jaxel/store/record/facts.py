"""What is stated of machines, as it is kept: limits, limits of items, torques; and the one a machine goes by."""

import sqlite3
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import fields
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kind_file import Tightness
from jaxel.core.trade.record.facts import RANK, Fact, OnMachine, Origin, same_model

from ..db import NotFound, inserted, now, read_once
from ..edits import check_hand
from ..workshop_log import added, noting

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
    model: str = "",
    manual: str = "",
) -> int:
    """Enter what somebody states, inside the caller's transaction; returns its id.

    Parameters: `machine_id`, the machine it is stated at; `model`, where it is of every one of a make and model, and
    the `manual` that says so. Raises InvalidValue for an origin that is none, an actor without a name, a machine and a
    model that are both left out, or a model without its manual.
    """
    check_hand(by)
    if machine_id is None and not model.strip():
        raise InvalidValue(
            "model", "or a machine: what is stated is of one machine, or of every one of a make and model"
        )
    if model.strip() and not manual.strip():
        raise InvalidValue("manual", "names the manual that says so of every one of them")
    if model.strip() and machine_id is not None:
        with noting(connection, by, "machine", machine_id):
            _name_model(connection, machine_id, model)
    if origin not in RANK:
        raise InvalidValue("origin", f"is one of: {', '.join(RANK)}")
    fact_id = inserted(
        connection.execute(
            "INSERT INTO stated"
            " (what, machine_id, kind, name, value, tightness, origin, stated_at, stated_by, model, manual)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            (what, machine_id, kind, name, value, tightness, origin, now(), by, model.strip(), manual.strip()),
        )
    )
    added(connection, by, "limit", fact_id)
    return fact_id


def _name_model(connection: sqlite3.Connection, machine_id: int, model: str) -> None:
    """A machine of which nobody typed its make and model is the one it is said of; another's it is not."""
    held = on_machine(connection, machine_id).model
    if held and not same_model(held, model):
        raise InvalidValue("model", f"is not this machine's: it is said to be a {held}")
    if not held:
        connection.execute("UPDATE machine SET model = ? WHERE id = ?", (model.strip(), machine_id))


def on_machine(connection: sqlite3.Connection, machine_id: int) -> OnMachine:
    """A machine as facts are looked at from it."""
    row = connection.execute("SELECT model FROM machine WHERE id = ?", (machine_id,)).fetchone()
    return OnMachine(machine_id, row["model"] if row else "")


def touches(connection: sqlite3.Connection, fact: Fact) -> int:
    """How many machines something stated holds of."""
    if not fact.model:
        return 0 if fact.machine_id is None else 1
    rows = connection.execute("SELECT id, model FROM machine WHERE merged_into IS NULL").fetchall()
    return sum(1 for row in rows if fact.of(OnMachine(row["id"], row["model"])))


def withdraw(connection: sqlite3.Connection, what: What, fact_id: int, by: str) -> Fact:
    """Take something stated out of force, inside the caller's transaction; it stays on record. Raises NotFound."""
    check_hand(by)
    row = connection.execute(f"{_STATED} AND stated.id = ? AND what = ?", (fact_id, what)).fetchone()
    if row is None:
        raise NotFound(what if what == "torque" else "limit")
    with noting(connection, by, "limit", fact_id):
        connection.execute("UPDATE stated SET withdrawn = 1 WHERE id = ?", (fact_id,))
    return _fact(row)


def standing(connection: sqlite3.Connection, what: What, machine_id: int | None = None) -> list[Fact]:
    """What stands of one sort, of every machine or of one, in the order it was stated."""
    held = _standing(connection).get(what, [])
    return held if machine_id is None else [each for each in held if each.machine_id == machine_id]


@read_once
def _standing(connection: sqlite3.Connection) -> Mapping[str, list[Fact]]:
    found: dict[str, list[Fact]] = defaultdict(list)
    for row in connection.execute(f"{_STATED} ORDER BY stated.id"):
        found[row["what"]].append(_fact(row))
    return found


def choose(connection: sqlite3.Connection, machine_id: int, fact: Fact, by: str) -> None:
    """Go by a statement on a machine from now on, inside the caller's transaction."""
    with noting(connection, by, "torque source", f"{machine_id} {fact.kind} {fact.name}"):
        connection.execute(
            "INSERT INTO stated_choice (machine_id, kind, name, stated_id) VALUES (?, ?, ?, ?)"
            " ON CONFLICT (machine_id, kind, name) DO UPDATE SET stated_id = excluded.stated_id",
            (machine_id, fact.kind, fact.name, fact.id),
        )


def chosen(connection: sqlite3.Connection, machine_id: int) -> Mapping[tuple[str, str], int]:
    """The statements a machine goes by, by kind and name."""
    rows = connection.execute("SELECT kind, name, stated_id FROM stated_choice WHERE machine_id = ?", (machine_id,))
    return {(row["kind"], row["name"]): row["stated_id"] for row in rows}


_STATED = (
    "SELECT stated.*, coalesce(machine.name, '') AS machine_name"
    " FROM stated LEFT JOIN machine ON machine.id = machine_id WHERE withdrawn = 0"
)


def _fact(row: sqlite3.Row) -> Fact:
    return Fact(**{each.name: row[each.name] for each in fields(Fact)})
