"""Changes of a visit: compared with what they replace, written in one transaction, and logged so as to be undone.

Every write says, per field, what it replaces (`was`) and what it becomes (`now`). A field that another hand changed
meanwhile is refused with both values; one that already holds `now` is left as it is.
"""

import json
import sqlite3
from collections.abc import Iterator, Mapping
from contextlib import AbstractContextManager, contextmanager, nullcontext
from contextvars import ContextVar
from dataclasses import dataclass
from functools import cache
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.record.said import check_value, fields_of, written
from jaxel.core.trade.visit.records import TABLES, field_of

from .db import Conflict, NotFound, inserted, now, writing
from .workshop_log import noting

DEFAULT_HAND = "bench"
NAME_LIMIT = 120

WHOLE_ROW = "*"


@dataclass(frozen=True)
class Edit:
    """One field's change: what stood there when the hand began, and what it becomes.

    `sure`, whether the hand stands by a value that was asked about.
    """

    was: Any
    now: Any
    sure: bool = False


Edits = Mapping[str, Edit]


@dataclass(frozen=True)
class Logged:
    """A line of a visit's log: the edit it belongs to, who made it and when, and what a field held and holds.

    `place` is the table and `row` its row; field WHOLE_ROW for a row added (`was` None) or taken away; `instrument`,
    the device that read it, None where a hand typed it.
    """

    change: int
    at: str
    by: str
    place: str
    row: int
    field: str
    was: Any
    now: Any
    instrument: str | None = None


_read_with: ContextVar[str | None] = ContextVar("read_with", default=None)


def read_with(instrument: str | None) -> None:
    """Say with which device what is written from here on was read; None for a hand's own."""
    _read_with.set(instrument)


@contextmanager
def reading(instrument: str) -> Iterator[None]:
    """Everything written inside was read with a device."""
    token = _read_with.set(instrument)
    try:
        yield
    finally:
        _read_with.reset(token)


def device_in_hand() -> str | None:
    """The device that read what is being written, None where a hand typed it."""
    return _read_with.get()


def stored(table: str, field: str, value: Any) -> Any:
    """A record's value as its column keeps it."""
    known = field_of(table, field)
    return json.dumps(value) if known is not None and known.is_json else value


def held(table: str, field: str, column: Any) -> Any:
    """A field as a record holds it, from what its column keeps."""
    known = field_of(table, field)
    if known is None or column is None:
        return column
    if known.is_json:
        return json.loads(column)
    return bool(column) if known.kind is bool else column


def record_of(table: str, row: sqlite3.Row | Mapping[str, Any]) -> Any:
    """A table's record from its row; lists are held as tuples, so that what nobody touched equals a fresh one."""
    record = TABLES[table].record
    if record is None:
        raise TypeError(f"{table} keeps no record")
    values = {name: row[name] for name in fields_of(record)}
    for name in _kept_otherwise(table):
        value = held(table, name, values[name])
        values[name] = tuple(value) if isinstance(value, list) else value
    return record(**values)


@cache
def _kept_otherwise(table: str) -> tuple[str, ...]:
    """The fields of a table's record that its columns keep in another form."""
    known = {name: field_of(table, name) for name in fields_of(TABLES[table].record)}
    return tuple(name for name, each in known.items() if each is not None and (each.is_json or each.kind is bool))


def check_fields(table: str, edits: Edits) -> None:
    """Refuse what no hand writes in a table, or what is out of its bounds; raises InvalidValue naming the field."""
    record = TABLES[table].record
    for name, edit in edits.items():
        if record is None or name not in written(record):
            raise InvalidValue(name, "is nothing that is written there")
        check_value(record, name, edit.now)


class Desk:
    """One change of one visit in the making, inside its transaction."""

    def __init__(self, connection: sqlite3.Connection, visit_id: int, by: str, change: int, undoes: int | None = None):
        self._db, self.visit_id, self._by, self._change, self._undoes = connection, visit_id, by, change, undoes

    def value(self, table: str, row: int, field: str) -> Any:
        """What a field holds now; raises NotFound where there is no such row."""
        found = self._db.execute(f'SELECT "{field}" FROM {table} WHERE {TABLES[table].key} = ?', (row,)).fetchone()
        if found is None:
            raise NotFound(table.replace("_", " "))
        return held(table, field, found[0])

    def write(self, table: str, row: int, edits: Edits) -> None:
        """Write fields that still hold what they held; raises Conflict naming the first that does not."""
        for field, edit in edits.items():
            self.check(field, self.value(table, row, field), edit)
        for field, edit in edits.items():
            self.set(table, row, field, edit.now)

    def check(self, field: str, held: Any, edit: Edit) -> None:
        """Raises Conflict where another hand changed a field: it holds neither what was nor what it becomes."""
        if not _equal(held, edit.was) and not _equal(held, edit.now):
            raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=held)

    def set(self, table: str, row: int, field: str, value: Any) -> None:
        """Put a value in a field, logged with what it replaces; nothing where it holds it already."""
        before = self.value(table, row, field)
        if _equal(before, value):
            return
        self._db.execute(
            f'UPDATE {table} SET "{field}" = ? WHERE {TABLES[table].key} = ?', (stored(table, field, value), row)
        )
        self.note(table, row, field, before, value)

    def insert(self, table: str, values: Mapping[str, Any]) -> int:
        """Add a row; returns its id."""
        names, marks = ", ".join(f'"{name}"' for name in values), ", ".join(f":{name}" for name in values)
        with self._on_shelf(table, values):
            row = inserted(self._db.execute(f"INSERT INTO {table} ({names}) VALUES ({marks})", dict(values)))
        self.note(table, row, WHOLE_ROW, None, self._whole(table, row))
        return row

    def delete(self, table: str, row: int) -> None:
        """Take a row away; the log keeps it."""
        before = self._whole(table, row)
        with self._on_shelf(table, before):
            self._db.execute(f"DELETE FROM {table} WHERE {TABLES[table].key} = ?", (row,))
        self.note(table, row, WHOLE_ROW, before, None)

    def _on_shelf(self, table: str, values: Mapping[str, Any]) -> AbstractContextManager[None]:
        """What a visit takes off the shelf, or puts back, stands in the workshop's log too."""
        return noting(self._db, self._by, "part", values["part_id"]) if table == "stock_move" else nullcontext()

    def _whole(self, table: str, row: int) -> dict[str, Any]:
        found = self._db.execute(f"SELECT * FROM {table} WHERE {TABLES[table].key} = ?", (row,)).fetchone()
        if found is None:
            raise NotFound(table.replace("_", " "))
        return dict(found)

    def note(self, table: str, row: int, field: str, was: Any, became: Any) -> None:
        """Enter what a field held and holds now in the visit's log."""
        self._db.execute(
            "INSERT INTO visit_log (visit_id, change, at, by, place, row, field, was, now, undoes, instrument)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            (
                self.visit_id,
                self._change,
                now(),
                self._by,
                table,
                row,
                field,
                _json(was),
                _json(became),
                self._undoes,
                _read_with.get(),
            ),
        )


@contextmanager
def changing(connection: sqlite3.Connection, visit_id: int, by: str, *, undoes: int | None = None) -> Iterator[Desk]:
    """One change of a visit in one transaction, counted as its next edit.

    Raises NotFound; Conflict when the visit is signed off; InvalidValue for an actor without a name.
    """
    check_hand(by)
    with writing(connection):
        row = connection.execute("SELECT signed_off_at, edit FROM visit WHERE id = ?", (visit_id,)).fetchone()
        if row is None:
            raise NotFound("visit")
        if row["signed_off_at"] is not None:
            raise Conflict("the visit is signed off and takes no more changes")
        connection.execute("UPDATE visit SET edit = edit + 1 WHERE id = ?", (visit_id,))
        yield Desk(connection, visit_id, by, row["edit"] + 1, undoes)


def last_change(connection: sqlite3.Connection, visit_id: int) -> list[Logged]:
    """The last change of a visit that has not been undone, in the order it was written; none where there is none."""
    rows = connection.execute(
        "SELECT * FROM visit_log WHERE visit_id = :visit AND change = (SELECT max(change) FROM visit_log"
        " WHERE visit_id = :visit AND undoes IS NULL AND change NOT IN"
        " (SELECT undoes FROM visit_log WHERE visit_id = :visit AND undoes IS NOT NULL)) ORDER BY id",
        {"visit": visit_id},
    )
    return [_logged(row) for row in rows]


def changes_after(connection: sqlite3.Connection, visit_id: int, edit: int, limit: int = 200) -> list[Logged]:
    """What a visit's log holds of the edits after one, undoing included, oldest first."""
    rows = connection.execute(
        "SELECT * FROM visit_log WHERE visit_id = ? AND change > ? ORDER BY id LIMIT ?", (visit_id, edit, limit)
    )
    return [_logged(row) for row in rows]


def undo(connection: sqlite3.Connection, visit_id: int, by: str, change: int | None = None) -> list[Logged]:
    """Put back what the last change of a visit replaced that has not been undone; itself logged, naming it.

    Parameters: `change`, the one that was shown as last. Returns what was undone. Raises NotFound; Conflict where
    there is nothing to undo, another change came after the one shown, or a field was changed since.
    """
    with writing(connection):
        last = last_change(connection, visit_id)
        if not last:
            raise Conflict("there is nothing to undo")
        if change is not None and last[0].change != change:
            raise Conflict("something else was changed last: look at it before it is undone")
        if not all(still_kept(connection, each) for each in last):
            raise Conflict("what was changed last is kept elsewhere since: it cannot be put back from here")
        with changing(connection, visit_id, by, undoes=last[0].change) as desk:
            for logged in reversed(last):
                _put_back(desk, logged)
    return last


def still_kept(connection: sqlite3.Connection, logged: Logged) -> bool:
    """Whether what a line of the log names is kept where it says: a field may have moved since it was logged."""
    if logged.place not in TABLES:
        return False
    columns = {row["name"] for row in connection.execute("SELECT name FROM pragma_table_info(?)", (logged.place,))}
    return logged.field == WHOLE_ROW or logged.field in columns


def _put_back(desk: Desk, logged: Logged) -> None:
    if logged.field != WHOLE_ROW:
        desk.write(logged.place, logged.row, {logged.field: Edit(logged.now, logged.was)})
    elif logged.was is None:
        desk.delete(logged.place, logged.row)
    else:
        desk.insert(logged.place, logged.was)


def _logged(row: sqlite3.Row) -> Logged:
    was, became = (None if row[name] is None else json.loads(row[name]) for name in ("was", "now"))
    return Logged(
        row["change"], row["at"], row["by"], row["place"], row["row"], row["field"], was, became, row["instrument"]
    )


def check_hand(by: str) -> None:
    """Refuse an actor without a name, or with one too long."""
    if not by.strip() or len(by) > NAME_LIMIT:
        raise InvalidValue("by", f"needs a name of at most {NAME_LIMIT} characters")


def _equal(one: Any, other: Any) -> bool:
    """Whether two stored values are one: numbers by value, 0 and false alike, lists as JSON holds them."""
    return bool(_plain(one) == _plain(other))


def _plain(value: Any) -> Any:
    return list(value) if isinstance(value, tuple) else value


def _json(value: Any) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False)
