"""Backup and restore: a whole copy of the database while it is in use, proved, and put back in its place."""

import os
import sqlite3
import tempfile
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from .db import Unusable, check_ours, connect, migrate

JOURNALS = ("-wal", "-shm", "-journal")
"""Files SQLite keeps beside a database; left behind they would be played into whatever takes its place."""


def backup(database: Path, copy: Path) -> None:
    """Write a whole copy of the database, safe while it is in use; the copy appears complete or not at all.

    Raises Unusable where there is no database, it is not ours, or the copy cannot be written.
    """
    _must_be_ours(database)
    if copy.is_dir():
        raise Unusable(f"{copy} is a folder")
    if copy.exists() and copy.samefile(database):
        raise Unusable(f"{copy} is the database itself")
    half = copy.with_name(copy.name + ".part")
    try:
        half.unlink(missing_ok=True)
        with closing(connect(database)) as source, closing(sqlite3.connect(half)) as target:
            source.backup(target)
            target.execute("PRAGMA journal_mode = DELETE")
        half.replace(copy)
    except (OSError, sqlite3.Error) as error:
        half.unlink(missing_ok=True)
        raise Unusable(f"{copy} cannot be written: {_words(error)}") from None


def restore(copy: Path, database: Path) -> None:
    """Put a copy in the database's place and bring its schema up to date; what was there is kept beside it.

    The old file goes to NAME.before-restore-1, or the next number free, with its journals. The copy is written under
    another name and moved in whole, so that no journal of the old file is played into it. Stop the server first.
    Raises Unusable where the copy is not a sound database of ours; then nothing has changed.
    """
    _must_be_ours(copy)
    if database.exists() and database.samefile(copy):
        raise Unusable(f"{copy} is the database itself")
    fresh = database.with_name(database.name + ".restoring")
    try:
        database.parent.mkdir(parents=True, exist_ok=True)
        fresh.unlink(missing_ok=True)
        with closing(connect(copy)) as source, closing(sqlite3.connect(fresh)) as target:
            source.backup(target)
        _set_aside(database)
        fresh.replace(database)
    except (OSError, sqlite3.Error) as error:
        fresh.unlink(missing_ok=True)
        raise Unusable(f"{database} cannot be written: {_words(error)}") from None
    migrate(database)


@dataclass(frozen=True)
class Contents:
    """What a copy holds: its machines, visits, visits signed off, and when it was last written to, empty for never."""

    machines: int
    visits: int
    signed: int
    newest: str


def check(copy: Path) -> Contents:
    """Prove a copy by a drill: put it back beside, bring it up to date, and read every signed page of it.

    Nothing but a folder of its own is written. Raises Unusable where it could not be put back, or a page cannot be
    read.
    """
    from .visit import pages  # what a visit is needs every station: a plain backup asks for none of it

    with tempfile.TemporaryDirectory(dir=roomy(copy)) as folder:
        tried = Path(folder) / "drill.db"
        restore(copy, tried)
        try:
            with closing(connect(tried)) as connection:
                signed = [row[0] for row in connection.execute("SELECT visit_id FROM hand_over_page")]
                for visit_id in signed:
                    pages.kept(connection, visit_id)
                machines, seen = (
                    connection.execute(f"SELECT count(*) FROM {table}").fetchone()[0] for table in ("machine", "visit")
                )
                newest = connection.execute("SELECT coalesce(max(at), '') FROM visit_log").fetchone()[0]
        except (sqlite3.Error, LookupError, ValueError, TypeError, AttributeError) as error:
            raise Unusable(f"{copy} was put back, but a signed page cannot be read: {error}") from None
    return Contents(machines, seen, len(signed), newest)


def roomy(copy: Path) -> Path | None:
    """Where a drill is held: beside the copy, whose disk has room for one more; elsewhere if that may not be written.

    None for the system's own place.
    """
    return copy.parent if os.access(copy.parent, os.W_OK) else None


def _must_be_ours(path: Path) -> None:
    if not path.is_file():
        raise Unusable(f"{path} is not there" if not path.exists() else f"{path} is not a file")
    try:
        with closing(connect(path)) as connection:
            if not check_ours(connection, path):
                raise Unusable(f"{path} is empty")
            fault = connection.execute("PRAGMA integrity_check(1)").fetchone()[0]
            if fault != "ok":
                raise Unusable(f"{path} is damaged: {fault.splitlines()[0]}")
            if torn := connection.execute("PRAGMA foreign_key_check").fetchone():
                raise Unusable(f"{path} is damaged: a row of {torn[0]} points at nothing in {torn[2]}")
    except sqlite3.Error as error:
        raise Unusable(f"{path} cannot be used: {error}") from None


def _set_aside(database: Path) -> None:
    """Move the old database out of the way with its journals, whole as it was, over nothing kept before."""
    number = 1
    while (kept := database.with_name(f"{database.name}.before-restore-{number}")).exists():
        number += 1
    for suffix in ("", *JOURNALS):
        part = Path(f"{database}{suffix}")
        if part.exists():
            part.replace(f"{kept}{suffix}")


def _words(error: Exception) -> str:
    return error.strerror if isinstance(error, OSError) and error.strerror else str(error)
