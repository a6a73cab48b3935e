"""Photos of a machine: turned upright, made small, stripped of what a camera adds, kept in the database.

A backup stays one file. What a hand removes stays kept and comes back.
"""

import io
import sqlite3
import warnings
from dataclasses import dataclass, fields

from PIL import Image, ImageOps, UnidentifiedImageError

from jaxel.core.errors import InvalidValue

from . import machines
from .db import Conflict, NotFound, inserted, now, writing
from .edits import DEFAULT_HAND, Edits, check_hand

LIMIT_BYTES = 8_000_000
FORMATS = ("JPEG", "PNG", "WEBP")
LONGEST, SMALL = 2000, 320
"""Longest side of a photo kept, and of its small copy [px]."""
MOST_PIXELS = 60_000_000
_DAMAGE = (
    OSError,
    SyntaxError,
    ValueError,
    ArithmeticError,
    EOFError,
    MemoryError,
    Warning,
    Image.DecompressionBombError,
)
"""What the decoders raise for bytes that begin like a photo and go on otherwise."""


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


@dataclass(frozen=True)
class Encoded:
    """A photo as it is kept: an upright JPEG of at most LONGEST, its small copy, and its size [px]."""

    image: bytes
    small: bytes
    width: int
    height: int


def add(
    connection: sqlite3.Connection,
    machine_id: int,
    photo: Encoded,
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


def encoded(data: bytes) -> Encoded:
    """A photo upright, made small and stripped of what a camera adds; no one waits for it to write.

    Raises InvalidValue (field `photo`) for what is too large or no JPEG, PNG or WebP.
    """
    if len(data) > LIMIT_BYTES:
        raise InvalidValue("photo", f"is larger than {LIMIT_BYTES // 1_000_000} MB")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
                if opened.width * opened.height > MOST_PIXELS:
                    raise InvalidValue("photo", f"has more than {MOST_PIXELS // 1_000_000} million pixels")
                upright = ImageOps.exif_transpose(opened)
                flat = Image.new("RGB", upright.size, "white")
                rgba = upright.convert("RGBA")
                flat.paste(rgba, mask=rgba.getchannel("A"))
    except UnidentifiedImageError:
        raise InvalidValue("photo", "is no photo read here: JPEG, PNG or WebP") from None
    except InvalidValue:
        raise
    except _DAMAGE:
        raise InvalidValue("photo", "is damaged: it cannot be read whole") from None
    flat.thumbnail((LONGEST, LONGEST))
    width, height = flat.size
    image = _jpeg(flat)
    flat.thumbnail((SMALL, SMALL))
    return Encoded(image, _jpeg(flat), width, height)


def _jpeg(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=85)
    return out.getvalue()


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
