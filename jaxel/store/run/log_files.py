"""Logs as they were sent, kept whole in the database, each once by its digest."""

import sqlite3
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from hashlib import sha256

from ..db import NotFound, now, writing


def keep(connection: sqlite3.Connection, upload_id: int, data: bytes) -> str:
    """Keep a file that came in, within a transaction of the caller's; returns its digest.

    One that is kept already stays. Its parts are taken over as they are, and packed when there is time for it.
    """
    digest = sha256(data).hexdigest()
    if connection.execute("SELECT 1 FROM log_file WHERE digest = ?", (digest,)).fetchone() is None:
        connection.execute("INSERT INTO log_file VALUES (?, ?, ?)", (digest, len(data), now()))
        connection.execute(
            "INSERT INTO log_file_part SELECT ?, number, 0, data FROM log_upload_part WHERE upload_id = ?",
            (digest, upload_id),
        )
    return digest


def pack(connection: sqlite3.Connection, digest: str) -> None:
    """Pack the parts of a file that are not yet, each in a transaction of its own."""
    waiting = "SELECT number, data FROM log_file_part WHERE digest = ? AND packed = 0 LIMIT 1"
    while (row := connection.execute(waiting, (digest,)).fetchone()) is not None:
        packed = zlib.compress(row["data"], 1)
        with writing(connection):
            connection.execute(
                "UPDATE log_file_part SET packed = 1, data = ? WHERE digest = ? AND number = ?",
                (packed, digest, row["number"]),
            )


def parts(connection: sqlite3.Connection, digest: str) -> Iterator[bytes]:
    """A file part by part; raises NotFound."""
    rows = connection.execute(
        "SELECT packed, data FROM log_file_part WHERE digest = ? ORDER BY number", (digest,)
    ).fetchall()
    if not rows:
        raise NotFound("log")
    return (zlib.decompress(row["data"]) if row["packed"] else row["data"] for row in rows)


@dataclass(frozen=True)
class LogLine:
    """A log of a machine as its page lists it: of which run and visit, the file's name and size [bytes], its day."""

    run_id: int
    visit_id: int
    name: str
    size: int
    kept_at: str
    kept_by: str
    counts: bool


def of_machine(connection: sqlite3.Connection, machine_id: int) -> list[LogLine]:
    """Every log of a machine's runs, newest first."""
    rows = connection.execute(
        "SELECT road_test.id AS run_id, visit_id, name, size, run_log.kept_at, kept_by, counts FROM run_log"
        " JOIN road_test ON road_test.id = road_test_id JOIN visit ON visit.id = visit_id"
        " JOIN log_file ON log_file.digest = run_log.digest WHERE machine_id = ? ORDER BY run_log.kept_at DESC, 1 DESC",
        (machine_id,),
    )
    return [LogLine(**dict(row) | {"counts": bool(row["counts"])}) for row in rows]
