"""Machines: bringing one in from its setup document, and finding them again."""

import sqlite3
from dataclasses import dataclass
from typing import Literal

from jaxel.core.formats.setup import SetupDocument
from jaxel.core.trade.kinds import Kinds

from . import revisions
from .db import NotFound, inserted, now, writing
from .edits import DEFAULT_HAND, check_hand

Kind = Literal["sled", "side-by-side", "quad"]
LimitOrigin = Literal["manual, entered by the workshop", "common practice", "from memory"]


@dataclass(frozen=True)
class Machine:
    """A machine the workshop knows; `limit_origin` says where its belt's wear limit comes from.

    `primary_kind` and `secondary_kind` are keys of core.trade.kinds, None where not stated.
    """

    id: int
    name: str
    kind: Kind
    rider: str
    limit_origin: LimitOrigin
    created_at: str
    primary_kind: str | None
    secondary_kind: str | None
    brought_in_by: str

    @property
    def kinds(self) -> Kinds:
        """The kinds of its two clutches."""
        return Kinds(self.primary_kind, self.secondary_kind)


@dataclass(frozen=True)
class Belt:
    """A belt of one machine, by its number there; `width_mm` as last measured."""

    id: int
    number: int
    state: Literal["fitted", "spare", "discarded"]
    width_mm: float
    fitted_at_km: float | None


def bring_in(
    connection: sqlite3.Connection,
    document: SetupDocument,
    kind: Kind,
    rider: str = "",
    limit_origin: LimitOrigin = "manual, entered by the workshop",
    by: str = DEFAULT_HAND,
) -> int:
    """Enter a machine with its first set-up revision and the belt that is on it; returns its id."""
    check_hand(by)
    with writing(connection):
        machine = inserted(
            connection.execute(
                "INSERT INTO machine (name, kind, rider, limit_origin, created_at, brought_in_by)"
                " VALUES (?, ?, ?, ?, ?, ?)",
                (document.name.strip() or "Unnamed machine", kind, rider.strip(), limit_origin, now(), by),
            )
        )
        revisions.add(connection, machine, document, reason="as brought in", by=by)
        connection.execute(
            "INSERT INTO belt (machine_id, number, state, width_mm) VALUES (?, 1, 'fitted', ?)",
            (machine, document.belt.top_width_mm),
        )
    return machine


def get(connection: sqlite3.Connection, machine_id: int) -> Machine:
    """One machine; raises NotFound."""
    row = connection.execute("SELECT * FROM machine WHERE id = ?", (machine_id,)).fetchone()
    if row is None:
        raise NotFound("machine")
    return Machine(**row)


def all_machines(connection: sqlite3.Connection) -> list[Machine]:
    """Every machine, by name."""
    return [Machine(**row) for row in connection.execute("SELECT * FROM machine ORDER BY name, id")]


def belt(connection: sqlite3.Connection, belt_id: int) -> Belt:
    """One belt; raises NotFound."""
    row = connection.execute(f"SELECT {_BELT} FROM belt WHERE id = ?", (belt_id,)).fetchone()
    if row is None:
        raise NotFound("belt")
    return Belt(**row)


def fitted_belt(connection: sqlite3.Connection, machine_id: int) -> Belt:
    """The belt on a machine; raises NotFound."""
    row = connection.execute(
        f"SELECT {_BELT} FROM belt WHERE machine_id = ? AND state = 'fitted'", (machine_id,)
    ).fetchone()
    if row is None:
        raise NotFound("belt")
    return Belt(**row)


_BELT = "id, number, state, width_mm, fitted_at_km"


def belts(connection: sqlite3.Connection, machine_id: int) -> list[Belt]:
    """The belts of a machine, oldest first."""
    rows = connection.execute(f"SELECT {_BELT} FROM belt WHERE machine_id = ? ORDER BY number", (machine_id,))
    return [Belt(**row) for row in rows]
