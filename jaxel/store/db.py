"""The database file: opening it, bringing its schema up to date, and writing in one transaction."""

import sqlite3
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from contextvars import ContextVar
from datetime import UTC, datetime
from functools import partial, wraps
from importlib import import_module, resources
from pathlib import Path
from typing import Any, ParamSpec, TypeVar

from jaxel.core.errors import Refused


class NotFound(LookupError):
    """No such row; the message names what was looked for."""


class Conflict(Exception):
    """A field was changed elsewhere since it was read, or no longer takes changes; the message says which.

    `field` that holds something else now, and what: `theirs`; field `edit` where it is the whole visit.
    """

    def __init__(self, reason: str, *, field: str = "edit", theirs: Any = None):
        super().__init__(reason)
        self.field, self.theirs = field, theirs


class Unusable(Refused):
    """The file cannot be the database; the message says why in one line."""


BUSY_SECONDS = 10.0
"""How long a request waits for another that is writing."""

APPLICATION_ID = 0x4A41584C
"""“JAXL” in the file's header, so that a foreign database is told from ours."""


def connect(path: Path) -> sqlite3.Connection:
    """Open the file for one request: rows by name, foreign keys on, transactions begun by `writing` and `reading`."""
    connection = sqlite3.connect(path, isolation_level=None, timeout=BUSY_SECONDS)
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA foreign_keys = ON")
    return connection


def migrate(path: Path) -> None:
    """Bring the schema up to date under one lock, after keeping a copy of the file.

    The copy stands beside the file as NAME.before-NNNN and is made only when there is something to do. Foreign keys
    are off while tables are rebuilt and checked before the change is committed; either every step is done, or none.
    Raises Unusable for a folder, a file that may not be written, one that is no database or not ours, and one made
    by a newer program.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        if path.is_dir():
            raise Unusable(f"{path} is a folder, not a database")
        with closing(connect(path)) as connection:
            version = check_ours(connection, path)
            _write_ahead(connection)
            if version < len(_migrations()):
                _step_up(connection, path)
    except OSError as error:
        raise Unusable(f"{path} cannot be opened: {error.strerror or error}") from None
    except sqlite3.DatabaseError as error:
        raise Unusable(f"{path} cannot be used: {error}") from None


def _write_ahead(connection: sqlite3.Connection) -> None:
    """Readers must not wait for a writer, also in a copy put back, which comes without its journal's mode.

    Changing the mode takes the whole file for a moment; SQLite refuses at once, without its usual patience, where
    another start is doing the same.
    """
    until = time.monotonic() + BUSY_SECONDS
    while True:
        try:
            connection.execute("PRAGMA journal_mode = WAL")
            return
        except sqlite3.OperationalError as error:
            if "locked" not in str(error) or time.monotonic() > until:
                raise
            time.sleep(0.02)


def check_ours(connection: sqlite3.Connection, path: Path) -> int:
    """The schema's version of an open file, 0 for an empty one; raises Unusable for what is not ours."""
    with reading(connection):
        tables = {row[0] for row in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}
        marked = connection.execute("PRAGMA application_id").fetchone()[0]
        version: int = connection.execute("PRAGMA user_version").fetchone()[0]
    # The first schema was not marked.
    first = not marked and version == 1 and {"machine", "visit", "setup_revision"} <= tables
    if marked != APPLICATION_ID and not first and (marked or version or tables):
        raise Unusable(f"{path} is a database of another program")
    if version > len(_migrations()):
        raise Unusable(f"{path} was made by a newer version of this program")
    return version


def _step_up(connection: sqlite3.Connection, path: Path) -> None:
    connection.execute("PRAGMA foreign_keys = OFF")
    connection.execute("BEGIN IMMEDIATE")
    try:
        done = check_ours(connection, path)  # another start may have been first
        waiting = [(number, step) for number, step in _migrations() if number > done]
        if done and waiting:
            _keep_copy(path, Path(f"{path}.before-{waiting[0][0]:04}"))
        for _, step in waiting:
            step(connection)
        if waiting:
            import_module("jaxel.store.migrations.pages").write_missing(connection)
            if torn := connection.execute("PRAGMA foreign_key_check").fetchone():
                raise sqlite3.IntegrityError(f"a row of {torn[0]} would point at nothing in {torn[2]}")
            connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            connection.execute(f"PRAGMA user_version = {waiting[-1][0]}")
        connection.execute("COMMIT")
    except BaseException:
        if connection.in_transaction:
            connection.execute("ROLLBACK")
        raise


def _keep_copy(path: Path, copy: Path) -> None:
    """A whole copy of the file as last committed: taken through a connection of its own, beside the lock."""
    with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(copy)) as target:
        source.backup(target)


def _statements(sql: str) -> Iterator[str]:
    """The statements of a script one by one: executescript would commit between them."""
    statement = ""
    for piece in sql.split(";")[:-1]:
        statement += piece + ";"
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""


def _migrations() -> list[tuple[int, Callable[[sqlite3.Connection], None]]]:
    """The steps by number: files of plain SQL, and modules whose `step` writes what SQL alone cannot."""
    folder = resources.files("jaxel.store.migrations")
    names = sorted(file.name for file in folder.iterdir() if file.name[:4].isdigit())
    return [(int(name[:4]), partial(_run, name)) for name in names]


def _run(name: str, connection: sqlite3.Connection) -> None:
    if name.endswith(".py"):
        import_module(f"jaxel.store.migrations.{name.removesuffix('.py')}").step(connection)
        return
    sql = resources.files("jaxel.store.migrations").joinpath(name).read_text(encoding="utf-8")
    for statement in _statements(sql):
        connection.execute(statement)


@contextmanager
def writing(connection: sqlite3.Connection) -> Iterator[None]:
    """One transaction: everything inside is written, or nothing. Inside another it is part of that one."""
    if connection.in_transaction:
        yield
        return
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
        connection.execute("COMMIT")
    except BaseException:
        if connection.in_transaction:
            connection.execute("ROLLBACK")
        raise


@contextmanager
def reading(connection: sqlite3.Connection) -> Iterator[None]:
    """One moment: everything inside is read as it stood at the first look."""
    if connection.in_transaction:
        yield
        return
    connection.execute("BEGIN")
    token = _looked_up.set({})
    try:
        yield
    finally:
        _looked_up.reset(token)
        connection.execute("ROLLBACK")


_looked_up: ContextVar[dict[Any, Any] | None] = ContextVar("looked_up", default=None)

P = ParamSpec("P")
Found = TypeVar("Found")


def read_once(read: Callable[P, Found]) -> Callable[P, Found]:
    """A read that is done once in a `reading`: what stood there at its first look stands there until its end.

    Its parameters must be hashable, and what it returns is not changed by whoever asked.
    """

    @wraps(read)
    def once(*given: P.args, **named: P.kwargs) -> Found:
        held = _looked_up.get()
        if held is None:
            return read(*given, **named)
        key = (read, given, tuple(named.items()))
        if key not in held:
            held[key] = read(*given, **named)
        found: Found = held[key]
        return found

    return once


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
