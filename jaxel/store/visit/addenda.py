"""Addenda: what was learnt after a visit was signed, beside the page that stays as it was."""

import sqlite3
from dataclasses import dataclass

from jaxel.core.errors import InvalidValue

from ..db import Conflict, inserted, now, writing
from ..edits import DEFAULT_HAND, check_hand
from . import visits


@dataclass(frozen=True)
class Addendum:
    """What was added to a signed page, when and by whom."""

    id: int
    text: str
    added_at: str
    added_by: str


def add(connection: sqlite3.Connection, visit_id: int, text: str, by: str = DEFAULT_HAND) -> int:
    """Add to a signed page what was learnt since; the page stays as it was signed. Returns the addendum's id.

    Raises NotFound, InvalidValue (field `text`) without words, and Conflict while the visit is open.
    """
    check_hand(by)
    if not text.strip():
        raise InvalidValue("text", "says what is added")
    with writing(connection):
        if visits.get(connection, visit_id).signed_off_at is None:
            raise Conflict("the visit is open: write it where it belongs", field="text")
        row = connection.execute(
            "INSERT INTO addendum (visit_id, text, added_at, added_by) VALUES (?, ?, ?, ?)",
            (visit_id, text.strip(), now(), by),
        )
        return inserted(row)


def of_visit(connection: sqlite3.Connection, visit_id: int) -> list[Addendum]:
    """The addenda of a visit, in their order."""
    rows = connection.execute(
        "SELECT id, text, added_at, added_by FROM addendum WHERE visit_id = ? ORDER BY id", (visit_id,)
    )
    return [Addendum(**dict(row)) for row in rows]
