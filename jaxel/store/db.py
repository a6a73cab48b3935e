"""The database file: opening it, bringing its schema up to date, and writing in one transaction."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from contextvars import ContextVar
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path


class NotFound(LookupError):
    """No such row; the message names what was looked for."""


class Conflict(Exception):
    """The row was changed elsewhere since it was read, or no longer takes changes; the message says which."""


def connect(path: Path) -> sqlite3.Connection:
    """Open the file for one request: rows by name, foreign keys on, transactions begun by `writing`."""
    connection = sqlite3.connect(path, isolation_level=None, timeout=10)
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA foreign_keys = ON")
    return connection


def migrate(path: Path) -> None:
    """Bring the schema up to date, each migration in one transaction, after keeping a copy of the file.

    The copy stands beside the file as NAME.before-NNNN and is made only when there is something to do.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    with closing(connect(path)) as connection:
        connection.execute("PRAGMA journal_mode = WAL")
        done = connection.execute("PRAGMA user_version").fetchone()[0]
        for number, sql in _migrations():
            if number <= done:
                continue
            if done:
                with closing(sqlite3.connect(f"{path}.before-{number:04}")) as copy:
                    connection.backup(copy)
            try:
                connection.executescript(f"BEGIN IMMEDIATE;\n{sql}\nPRAGMA user_version = {number};\nCOMMIT;")
            except sqlite3.Error:
                if connection.in_transaction:
                    connection.execute("ROLLBACK")
                raise


def _migrations() -> list[tuple[int, str]]:
    folder = resources.files("jaxel.store.migrations")
    files = sorted(file.name for file in folder.iterdir() if file.name.endswith(".sql"))
    return [(int(name[:4]), folder.joinpath(name).read_text(encoding="utf-8")) for name in files]


@contextmanager
def writing(connection: sqlite3.Connection) -> Iterator[None]:
    """One transaction: everything inside is written, or nothing."""
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


_moment: ContextVar[datetime | None] = ContextVar("moment", default=None)


def now() -> str:
    """The time in UTC, ISO 8601, to the second."""
    return (_moment.get() or datetime.now(UTC)).strftime("%Y-%m-%dT%H:%M:%SZ")


@contextmanager
def at_moment(moment: datetime) -> Iterator[None]:
    """Everything written inside is dated `moment`: for entering what happened earlier."""
    token = _moment.set(moment)
    try:
        yield
    finally:
        _moment.reset(token)


def inserted(cursor: sqlite3.Cursor) -> int:
    """The id of the row just inserted."""
    if cursor.lastrowid is None:
        raise sqlite3.IntegrityError("nothing was inserted")
    return cursor.lastrowid
