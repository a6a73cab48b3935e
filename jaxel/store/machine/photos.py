"""Photos of a machine or of anything seen at a visit, kept in the database in the order a hand puts them.

A backup stays one file. What a hand removes stays kept and comes back; what is drawn on a photo is kept beside it,
never in its pixels.
"""

import json
import sqlite3
from dataclasses import asdict, dataclass, fields
from typing import TYPE_CHECKING, Any

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.machine.marked import PhotoMark

from ..db import Conflict, NotFound, inserted, now, writing
from ..edits import DEFAULT_HAND, Edits, check_hand
from ..workshop_log import added, noting
from . import machines

if TYPE_CHECKING:
    from .pixels import Encoded

LIMIT_BYTES = 8_000_000


@dataclass(frozen=True)
class Photo:
    """A photo without its pixels: what it shows in words, its size [px], when and by whom it was taken.

    `subject`, what it is of at its visit: a station, or an item of it as `side.item`; `place`, from 1, among those of
    the same; `marks`, what is drawn on it.
    """

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
    place: int = 0
    marks: tuple[PhotoMark, ...] = ()


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
        photo_id = inserted(
            connection.execute(
                "INSERT INTO photo (machine_id, width, height, image, small, taken_at, taken_by, visit_id, subject,"
                " place) SELECT ?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, 1 + coalesce(max(place), 0) FROM photo"
                " WHERE machine_id = ?1 AND visit_id IS ?8 AND subject = ?9",
                (machine_id, photo.width, photo.height, photo.image, photo.small, now(), by, visit_id, subject),
            )
        )
        added(connection, by, "photo", photo_id)
    return photo_id


def of_machine(connection: sqlite3.Connection, machine_id: int) -> list[Photo]:
    """The photos of a machine, those of its last visit first, those removed too."""
    rows = connection.execute(
        f"SELECT {_SAID} FROM photo WHERE machine_id = ? ORDER BY visit_id DESC NULLS FIRST, subject, place, id",
        (machine_id,),
    )
    return [_photo(row) for row in rows]


def seen_at(connection: sqlite3.Connection, visit_id: int) -> tuple[list[Photo], list[Photo]]:
    """The photos of a visit in their order, and those of its machine's visits before it, the last first; raises
    NotFound."""
    visit = connection.execute("SELECT machine_id FROM visit WHERE id = ?", (visit_id,)).fetchone()
    if visit is None:
        raise NotFound("visit")
    rows = connection.execute(
        f"SELECT {_SAID} FROM photo WHERE machine_id = ? AND visit_id <= ? AND removed = 0"
        " ORDER BY visit_id DESC, subject, place, id",
        (visit["machine_id"], visit_id),
    )
    photos = [_photo(row) for row in rows]
    return [each for each in photos if each.visit_id == visit_id], [e for e in photos if e.visit_id != visit_id]


def image(connection: sqlite3.Connection, photo_id: int, *, small: bool = False) -> bytes:
    """A photo's JPEG; raises NotFound."""
    row = connection.execute(f"SELECT {'small' if small else 'image'} FROM photo WHERE id = ?", (photo_id,)).fetchone()
    if row is None:
        raise NotFound("photo")
    data: bytes = row[0]
    return data


WRITTEN = frozenset({"caption", "removed", "marks", "place"})


def change(connection: sqlite3.Connection, photo_id: int, edits: Edits, by: str = DEFAULT_HAND) -> int:
    """Write a photo's caption, what is drawn on it or its place, or remove it or bring it back.

    Returns its machine's id. Raises NotFound, Conflict, InvalidValue for a field that is none or a place that is none.
    """
    check_hand(by)
    if unknown := set(edits) - WRITTEN:
        raise InvalidValue(min(unknown), "is not said of a photo")
    with noting(connection, by, "photo", photo_id):
        row = connection.execute(f"SELECT {_SAID} FROM photo WHERE id = ?", (photo_id,)).fetchone()
        if row is None:
            raise NotFound("photo")
        held = _photo(row)
        for field, edit in edits.items():
            stands = [asdict(mark) for mark in held.marks] if field == "marks" else getattr(held, field)
            becomes: Any = [asdict(mark) for mark in edit.now] if field == "marks" else edit.now
            if stands not in (edit.was, becomes):
                raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=stands)
            if field == "place":
                _move(connection, held, becomes)
            else:
                value = json.dumps(becomes) if field == "marks" else becomes
                connection.execute(f"UPDATE photo SET {field} = ? WHERE id = ?", (value, photo_id))
            if field == "removed":
                _number(connection, [each["id"] for each in _same(connection, held)])
    return held.machine_id


def _move(connection: sqlite3.Connection, photo: Photo, place: int) -> None:
    """Put a photo to a place among those of the same; raises InvalidValue where there is none such."""
    rows = _same(connection, photo)
    order = [row["id"] for row in rows]
    shown = sum(not row["removed"] for row in rows)
    if not 1 <= place <= shown:
        raise InvalidValue("place", f"must be 1 to {shown}")
    order.remove(photo.id)
    order.insert(place - 1, photo.id)
    _number(connection, order)


def _same(connection: sqlite3.Connection, photo: Photo) -> list[sqlite3.Row]:
    """The photos of the same thing at the same visit in their order, those removed behind all others."""
    return connection.execute(
        "SELECT id, removed FROM photo WHERE machine_id = ? AND visit_id IS ? AND subject = ?"
        " ORDER BY removed, place, id",
        (photo.machine_id, photo.visit_id, photo.subject),
    ).fetchall()


def _number(connection: sqlite3.Connection, order: list[int]) -> None:
    connection.executemany("UPDATE photo SET place = ? WHERE id = ?", [(n, each) for n, each in enumerate(order, 1)])


_SAID = ", ".join(each.name for each in fields(Photo))


def _photo(row: sqlite3.Row) -> Photo:
    marks = tuple(PhotoMark(**mark) for mark in json.loads(row["marks"]))
    return Photo(**dict(row) | {"removed": bool(row["removed"]), "marks": marks})
