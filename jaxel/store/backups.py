"""Backups one after the other: each dated, proved by a drill, noted in the database, and the oldest let go."""

import re
import sqlite3
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from . import copies
from .copies import Contents
from .db import Unusable, connect, now, writing

MOST_KEPT = 1000


@dataclass(frozen=True)
class Backup:
    """A backup that was proved: when, under what name, its size [bytes], and the machines and visits in it."""

    at: str
    name: str
    size: int
    machines: int
    visits: int


def keep(database: Path, folder: Path, most: int) -> tuple[Path, Contents]:
    """Write a backup into a folder, prove it, note it in the database, and let go of all but the `most` newest.

    Only backups of this database made so are let go. Raises Unusable where the backup cannot be written or does not
    hold; then the earlier ones stay.
    """
    if not 1 <= most <= MOST_KEPT:
        raise Unusable(f"the number of backups to keep must be 1 to {MOST_KEPT:,}")
    if folder.exists() and not folder.is_dir():
        raise Unusable(f"{folder} is a file: backups that are kept need a folder")
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Unusable(f"{folder} cannot be made: {error.strerror or error}") from None
    copy = folder / f"{database.stem}-{datetime.now(UTC):%Y%m%dT%H%M%SZ}.db"
    copies.backup(database, copy)
    try:
        contents = copies.check(copy)
    except Unusable:
        copy.unlink(missing_ok=True)
        raise
    _note(database, copy, contents)
    for old in dated(database, folder)[:-most]:
        old.unlink(missing_ok=True)
    return copy, contents


def dated(database: Path, folder: Path) -> list[Path]:
    """The backups of a database that were made into a folder so, the oldest first."""
    ours = re.compile(re.escape(database.stem) + r"-\d{8}T\d{6}Z\.db")
    return sorted(each for each in folder.iterdir() if ours.fullmatch(each.name)) if folder.is_dir() else []


def made_at(copy: Path) -> datetime:
    """When a dated backup was begun, by its name."""
    return datetime.strptime(copy.stem.rpartition("-")[2], "%Y%m%dT%H%M%SZ").replace(tzinfo=UTC)


def _note(database: Path, copy: Path, contents: Contents) -> None:
    values = (now(), copy.name, copy.stat().st_size, contents.machines, contents.visits)
    try:
        with closing(connect(database)) as connection, writing(connection):
            connection.execute("INSERT INTO backup (at, name, size, machines, visits) VALUES (?, ?, ?, ?, ?)", values)
    except sqlite3.Error:  # one of an older version, or a disk that is full: the backup stands all the same
        return


def last(connection: sqlite3.Connection) -> Backup | None:
    """The last backup that was proved; None where there is none."""
    row = connection.execute("SELECT at, name, size, machines, visits FROM backup ORDER BY id DESC LIMIT 1").fetchone()
    return Backup(**dict(row)) if row else None
