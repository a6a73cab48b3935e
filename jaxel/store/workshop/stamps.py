"""Stamps: what an arm weighs by the letter on it, once this workshop has weighed its like."""

import sqlite3
from dataclasses import dataclass

from jaxel.core.errors import InvalidValue

from ..db import NotFound, now, writing
from ..edits import DEFAULT_HAND, check_hand
from ..workshop_log import noting


@dataclass(frozen=True)
class Stamp:
    """A stamp and the mass [g] the workshop weighed."""

    id: int
    stamp: str
    mass_g: float
    noted_at: str
    noted_by: str


def note(connection: sqlite3.Connection, stamp: str, mass_g: float, by: str = DEFAULT_HAND) -> None:
    """Note what a stamp weighs; one noted before is weighed again. Raises InvalidValue (field `stamp`, `mass_g`)."""
    check_hand(by)
    name = stamp.strip().upper()
    if not 1 <= len(name) <= 20:
        raise InvalidValue("stamp", "needs 1 to 20 characters")
    if not 0 < mass_g <= 1000:
        raise InvalidValue("mass_g", "must be above 0 and at most 1,000")
    with writing(connection):
        row = connection.execute("SELECT id FROM stamp WHERE stamp = ?", (name,)).fetchone()
        with noting(connection, by, "stamp", row["id"] if row else _next(connection)):
            _write(connection, name, mass_g, by)


def _next(connection: sqlite3.Connection) -> int:
    """The number the next stamp gets."""
    found: int = connection.execute("SELECT coalesce(max(id), 0) + 1 FROM stamp").fetchone()[0]
    return found


def _write(connection: sqlite3.Connection, name: str, mass_g: float, by: str) -> None:
    connection.execute(
        "INSERT INTO stamp (stamp, mass_g, noted_at, noted_by) VALUES (?, ?, ?, ?) ON CONFLICT (stamp)"
        " DO UPDATE SET mass_g = excluded.mass_g, noted_at = excluded.noted_at, noted_by = excluded.noted_by",
        (name, mass_g, now(), by),
    )


def forget(connection: sqlite3.Connection, stamp_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a stamp off the table; raises NotFound."""
    check_hand(by)
    with noting(connection, by, "stamp", stamp_id):
        if connection.execute("DELETE FROM stamp WHERE id = ?", (stamp_id,)).rowcount == 0:
            raise NotFound("stamp")


def all_stamps(connection: sqlite3.Connection) -> list[Stamp]:
    """Every stamp, by name."""
    return [Stamp(**dict(row)) for row in connection.execute("SELECT * FROM stamp ORDER BY stamp")]


def masses(connection: sqlite3.Connection) -> dict[str, float]:
    """What each stamp weighs [g]."""
    return {each.stamp: each.mass_g for each in all_stamps(connection)}
