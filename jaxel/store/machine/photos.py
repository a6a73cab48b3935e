"""Photos of a machine, kept in the database.

A backup stays one file. What a hand removes stays kept and comes back.
"""

import sqlite3
from dataclasses import dataclass, fields
from typing import TYPE_CHECKING

from jaxel.core.errors import InvalidValue

from ..db import Conflict, NotFound, inserted, now, writing
from ..edits import DEFAULT_HAND, Edits, check_hand
from . import machines

if TYPE_CHECKING:
    from .pixels import Encoded

LIMIT_BYTES = 8_000_000


@dataclass(frozen=True)
class Photo:
    """A photo without its pixels: what it shows in words, its size [px], when and by whom it was taken."""

    id: int
    machine_id: int
    caption: str
    width: int
    height: int
    taken_at: str
    taken_by: str
    removed: bool
    visit_id: int | None = None
    subject: str = ""


def add(
    connection: sqlite3.Connection,
    machine_id: int,
    photo: "Encoded",
    by: str = DEFAULT_HAND,
    *,
    visit_id: int | None = None,
    subject: str = "",
) -> int:
    """Keep a photo of a machine, or of what it shows at a visit, as `side.item`; returns its id. Raises NotFound."""
    check_hand(by)
    machines.get(connection, machine_id)
    with writing(connection):
        of = connection.execute("SELECT machine_id FROM visit WHERE id = ?", (visit_id,)).fetchone()
        if visit_id is not None and (of is None or of["machine_id"] != machine_id):
            raise NotFound("visit")
        return inserted(
            connection.execute(
                "INSERT INTO photo (machine_id, width, height, image, small, taken_at, taken_by, visit_id, subject)"
                " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
                (machine_id, photo.width, photo.height, photo.image, photo.small, now(), by, visit_id, subject),
            )
        )


def of_machine(connection: sqlite3.Connection, machine_id: int) -> list[Photo]:
    """The photos of a machine, newest first, those removed too."""
    rows = connection.execute(f"SELECT {_SAID} FROM photo WHERE machine_id = ? ORDER BY id DESC", (machine_id,))
    return [_photo(row) for row in rows]


def of_visit(connection: sqlite3.Connection, visit_id: int) -> list[Photo]:
    """The photos of what was looked at during a visit, oldest first."""
    rows = connection.execute(f"SELECT {_SAID} FROM photo WHERE visit_id = ? AND removed = 0 ORDER BY id", (visit_id,))
    return [_photo(row) for row in rows]


def image(connection: sqlite3.Connection, photo_id: int, *, small: bool = False) -> bytes:
    """A photo's JPEG; raises NotFound."""
    row = connection.execute(f"SELECT {'small' if small else 'image'} FROM photo WHERE id = ?", (photo_id,)).fetchone()
    if row is None:
        raise NotFound("photo")
    data: bytes = row[0]
    return data


def change(connection: sqlite3.Connection, photo_id: int, edits: Edits, by: str = DEFAULT_HAND) -> int:
    """Write a photo's caption, or remove it or bring it back; returns its machine's id. Raises NotFound, Conflict."""
    check_hand(by)
    if unknown := set(edits) - {"caption", "removed"}:
        raise InvalidValue(min(unknown), "is not said of a photo")
    with writing(connection):
        row = connection.execute(f"SELECT {_SAID} FROM photo WHERE id = ?", (photo_id,)).fetchone()
        if row is None:
            raise NotFound("photo")
        held = _photo(row)
        for field, edit in edits.items():
            if getattr(held, field) not in (edit.was, edit.now):
                raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=getattr(held, field))
            connection.execute(f"UPDATE photo SET {field} = ? WHERE id = ?", (edit.now, photo_id))
    return held.machine_id


_SAID = ", ".join(each.name for each in fields(Photo))


def _photo(row: sqlite3.Row) -> Photo:
    return Photo(**dict(row) | {"removed": bool(row["removed"])})
