"""The workshop's log: who changed what outside a visit, when, what it was and is now; nothing in it is ever changed.

A visit has a log of its own (`edits`). Here is what outlives visits: parts and their pieces, tools, wrenches, photos,
people, stated limits and torques, stamps, belts on the shelf, benches, machines, and the workshop's own settings.
"""

import json
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from .db import now, writing

WHOLE_ROW = "*"
"""The field of a line that says a row was added, with nothing before, or taken away, with nothing after."""


@dataclass(frozen=True)
class Place:
    """A table whose changes are logged: SQL for a row's `key` and for what a hand calls it, and the fields shown.

    `also`, fields that are kept elsewhere, by name.
    """

    table: str
    called: str
    shows: tuple[str, ...]
    key: str = "id"
    also: tuple[tuple[str, str], ...] = ()

    @cached_property
    def select(self) -> str:
        """The row of a key as it is logged, with what it is called."""
        columns = [*(f'"{name}"' for name in self.shows), *(f'{sql} AS "{name}"' for name, sql in self.also)]
        return f'SELECT {self.called} AS "{WHOLE_ROW}", {", ".join(columns)} FROM {self.table} WHERE {self.key} = ?'


_ON_MACHINE = "coalesce((SELECT ' of ' || machine.name FROM machine WHERE machine.id = machine_id), ' of ' || model)"

PLACES: dict[str, Place] = {
    "part": Place(
        "part", "number",
        ("number", "kind", "make", "price", "pack", "life_km", "life_h", "superseded_by", "supplier_note", "place",
         "fits", "spec"),
        also=(("pieces", "(SELECT sum(pieces) FROM stock_move WHERE part_id = part.id)"),),
    ),
    "tool": Place("tool", "name", ("price", "owned"), key="name"),
    "wrench": Place(
        "wrench", "name", ("name", "kind", "low_nm", "high_nm", "step_nm", "length_mm", "ratio", "due_on", "retired")
    ),
    "photo": Place(
        "photo",
        "'photo of ' || (SELECT name FROM machine WHERE machine.id = machine_id)",
        ("caption", "removed", "marks", "place", "subject", "visit_id", "width", "height"),
    ),
    "person": Place("person", "name", ("name", "archived", "units")),
    "workshop": Place("workshop", "'the workshop'", ("name", "units", "hour_price")),
    "stamp": Place("stamp", "'stamp ' || stamp", ("stamp", "mass_g")),
    "school": Place("school_choice", "question", ("school",), key="question"),
    "limit": Place(
        "stated", f"what || ' ' || name || {_ON_MACHINE}",
        ("what", "kind", "name", "value", "tightness", "origin", "model", "manual", "withdrawn"),
    ),
    "torque source": Place(
        "stated_choice", "'torque ' || name", ("stated_id",), key="machine_id || ' ' || kind || ' ' || name"
    ),
    "machine": Place(
        "machine", "name",
        ("name", "model", "rider", "kind", "tyre", "primary_kind", "secondary_kind", "taper", "offset_mm", "stamp",
         "archived", "merged_into"),
    ),
    "belt": Place(
        "belt", "'belt ' || number || ' of ' || (SELECT name FROM machine WHERE machine.id = machine_id)",
        ("state", "width_mm", "make_number", "batch", "bought_on", "direction", "place", "new_width_mm", "length_mm"),
    ),
    "bench": Place("bench", "name", ("name", "made_at")),
    "logger": Place("logger", "json_extract(document, '$.name')", ("document",), key="headings"),
}  # fmt: skip
"""Every sort of thing that is logged here, by its word."""


@dataclass(frozen=True)
class LogLine:
    """A line of the log: when, by whom, of what (`place`, its key `row`, what it was called), which field, was, now."""

    id: int
    at: str
    by: str
    place: str
    row: str
    name: str
    field: str
    was: Any
    now: Any


@contextmanager
def noting(connection: sqlite3.Connection, by: str, place: str, row: int | str) -> Iterator[None]:
    """One transaction that may change a row: every field that is otherwise afterwards is logged with both values."""
    with writing(connection):
        before = _row(connection, place, row)
        yield
        _compare(connection, by, place, row, before, _row(connection, place, row))


def added(connection: sqlite3.Connection, by: str, place: str, row: int | str) -> None:
    """Log a row that was added just now, inside the caller's transaction."""
    _compare(connection, by, place, row, None, _row(connection, place, row))


def _row(connection: sqlite3.Connection, place: str, row: int | str) -> dict[str, Any] | None:
    found = connection.execute(PLACES[place].select, (row,)).fetchone()
    return dict(found) if found else None


def _compare(
    connection: sqlite3.Connection,
    by: str,
    place: str,
    row: int | str,
    before: dict[str, Any] | None,
    after: dict[str, Any] | None,
) -> None:
    if before == after:
        return
    name = str((after or before or {})[WHOLE_ROW] or "")[:300]
    if before is None or after is None:
        changed: list[tuple[str, Any, Any]] = [(WHOLE_ROW, _shown(before), _shown(after))]
    else:
        changed = [(each, before[each], after[each]) for each in after if each != WHOLE_ROW]
    connection.executemany(
        "INSERT INTO workshop_log (at, by, place, row, name, field, was, now) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        [
            (now(), by, place, str(row)[:120], name, field, _json(was), _json(became))
            for field, was, became in changed
            if was != became
        ],
    )


def _shown(row: dict[str, Any] | None) -> dict[str, Any] | None:
    """A row without what is said of nothing."""
    return None if row is None else {key: each for key, each in row.items() if key != WHOLE_ROW and each is not None}


def _json(value: Any) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False)


def lines(
    connection: sqlite3.Connection,
    *,
    place: str | None = None,
    by: str | None = None,
    word: str = "",
    before: int | None = None,
    limit: int = 100,
) -> list[LogLine]:
    """Lines of the log, the newest first: of one sort of thing, by one hand, of what is called with a word.

    `before`, the line from which to go on. They stand in the order they were written, whatever the clock said.
    """
    like = "%" + word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
    rows = connection.execute(
        "SELECT * FROM workshop_log WHERE (:place IS NULL OR place = :place) AND (:by IS NULL OR by = :by)"
        " AND (:word = '%%' OR name LIKE :word ESCAPE '\\') AND (:before IS NULL OR id < :before)"
        " ORDER BY id DESC LIMIT :limit",
        {"place": place, "by": by, "word": like, "before": before, "limit": limit},
    )
    return [
        LogLine(**dict(row) | {name: None if row[name] is None else json.loads(row[name]) for name in ("was", "now")})
        for row in rows
    ]


def hands(connection: sqlite3.Connection) -> list[str]:
    """Everybody who wrote in the log, by name."""
    return [row[0] for row in connection.execute("SELECT DISTINCT by FROM workshop_log ORDER BY by")]
