"""A log on its way in: announced by name and size, sent in parts, and gone once it is read, refused or given up."""

import sqlite3
from dataclasses import dataclass

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.layout import HEAD
from jaxel.core.formats.run.log_file import LOG_LIMIT

from ..db import Conflict, NotFound, inserted, now, writing
from ..edits import DEFAULT_HAND, check_hand

PART = 4 * 1024 * 1024
"""Bytes of a part, all but the last."""

MOST_WAITING = 8
"""Files on their way in at once; the oldest gives way."""


@dataclass(frozen=True)
class Upload:
    """A file on its way in: for which run, its `name`, its `size` and what `came` of it [bytes]."""

    id: int
    road_test_id: int
    name: str
    size: int
    came: int


def begin(connection: sqlite3.Connection, run_id: int, name: str, size: int, by: str = DEFAULT_HAND) -> int:
    """Announce a log for a run; returns its id. Raises InvalidValue for one too large, NotFound, Conflict."""
    check_hand(by)
    if size > LOG_LIMIT:
        raise InvalidValue("size", f"is {size / 1e6:.0f} MB: a log may have {LOG_LIMIT // 1_000_000} MB")
    if size < 1:
        raise InvalidValue("size", "is 0: the file is empty")
    with writing(connection):
        check_open(connection, run_id)
        connection.execute(
            "DELETE FROM log_upload WHERE road_test_id = ? OR id IN"
            " (SELECT id FROM log_upload ORDER BY id DESC LIMIT -1 OFFSET ?)",
            (run_id, MOST_WAITING - 1),
        )
        return inserted(
            connection.execute(
                "INSERT INTO log_upload (road_test_id, name, size, begun_at, begun_by) VALUES (?, ?, ?, ?, ?)",
                (run_id, name.strip()[:200] or "log", size, now(), by),
            )
        )


def check_open(connection: sqlite3.Connection, run_id: int) -> None:
    """Refuse a run that is gone, whose visit is closed, or that has a log: none is written over.

    Raises NotFound, Conflict.
    """
    check_unsigned(connection, run_id)
    if connection.execute("SELECT 1 FROM run_log WHERE road_test_id = ?", (run_id,)).fetchone():
        raise Conflict("this run has a log: begin another run for another one", field="log")


def check_unsigned(connection: sqlite3.Connection, run_id: int) -> None:
    """Refuse a run that is gone or whose visit is closed; raises NotFound, Conflict."""
    row = connection.execute(
        "SELECT signed_off_at FROM road_test JOIN visit ON visit.id = visit_id WHERE road_test.id = ?", (run_id,)
    ).fetchone()
    if row is None:
        raise NotFound("road test")
    if row["signed_off_at"] is not None:
        raise Conflict("the visit is closed")


def get(connection: sqlite3.Connection, upload_id: int) -> Upload:
    """One file on its way in; raises NotFound."""
    row = connection.execute(
        "SELECT log_upload.id, road_test_id, name, size, coalesce(sum(length(data)), 0) AS came FROM log_upload"
        " LEFT JOIN log_upload_part ON upload_id = log_upload.id WHERE log_upload.id = ? GROUP BY log_upload.id",
        (upload_id,),
    ).fetchone()
    if row is None:
        raise NotFound("log")
    return Upload(**dict(row))


def of_run(connection: sqlite3.Connection, run_id: int, upload_id: int) -> Upload:
    """One file on its way in for a run; raises NotFound."""
    found = get(connection, upload_id)
    if found.road_test_id != run_id:
        raise NotFound("log")
    return found


def head(connection: sqlite3.Connection, upload_id: int) -> bytes:
    """The beginning of a file that came in."""
    row = connection.execute(
        "SELECT substr(data, 1, ?) AS head FROM log_upload_part WHERE upload_id = ? AND number = 0",
        (HEAD + 1, upload_id),
    ).fetchone()
    found: bytes = row["head"] if row else b""
    return found


def put(connection: sqlite3.Connection, upload_id: int, number: int, data: bytes) -> Upload:
    """Take a part; one that comes again takes its place. Raises InvalidValue for one of the wrong length, NotFound."""
    upload = get(connection, upload_id)
    expected = min(PART, upload.size - number * PART)
    if not data or len(data) != expected:
        raise InvalidValue("part", f"{number + 1} holds {len(data)} bytes where {max(expected, 0)} were announced")
    with writing(connection):
        connection.execute("INSERT OR REPLACE INTO log_upload_part VALUES (?, ?, ?)", (upload_id, number, data))
    return get(connection, upload_id)


def whole(connection: sqlite3.Connection, upload_id: int) -> bytes:
    """The file as it was sent; raises InvalidValue while a part is missing, NotFound."""
    upload = get(connection, upload_id)
    if upload.came != upload.size:
        raise InvalidValue("log", f"has come in with {upload.came} of {upload.size} bytes: send the rest first")
    rows = connection.execute("SELECT data FROM log_upload_part WHERE upload_id = ? ORDER BY number", (upload_id,))
    return b"".join(row["data"] for row in rows)


def drop(connection: sqlite3.Connection, upload_id: int) -> None:
    """Forget a file that came in; nothing where it is gone."""
    with writing(connection):
        connection.execute("DELETE FROM log_upload WHERE id = ?", (upload_id,))
