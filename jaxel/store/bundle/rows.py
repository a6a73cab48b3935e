"""Rows out of a database and into one: keys become identities on the way out, and keys of the other on the way in."""

import base64
import json
import sqlite3
from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.bundle import MachineBundle, Row, Rows, VisitBundle, WorkshopBundle
from jaxel.core.trade.visit.records import TABLES as LOGGED

from ..edits import WHOLE_ROW
from ..shelf.shelf import PART
from .graph import OF_MACHINE, OF_VISIT, OF_WORKSHOP, Table, tables

GONE = "gone"
"""Stands for a row that a log names and that is there no more."""

PICTURES = ("image", "small")
"""Columns of a photo that go as files."""

DRAFTS = frozenset({"found_draft", "left_draft"})
"""Fields whose entries name parts by their keys."""


def row_of(table: Table) -> str:
    """The table whose keys name this one's rows in a visit's log: a station's row is its visit's."""
    key = LOGGED[table.name].key if table.name in LOGGED else "id"
    return table.name if key == "id" else table.refers[key]


@dataclass
class Chosen:
    """Which rows go: keys of machines, of their signed visits, and of their set-ups."""

    machines: list[int]
    visits: list[int]
    revisions: list[int]


class Outgoing:
    """Documents of a database: rows by table, each row's references as identities.

    A row without an identity of its own is named by its table and its place in the document, `fault#2`.
    """

    def __init__(self, connection: sqlite3.Connection, chosen: Chosen):
        self._db, self._chosen, self.tables = connection, chosen, tables(connection)
        self._visits = frozenset(chosen.visits)
        self._visits_of, self._revisions_of = (
            self._by_machine(table, some) for table, some in (("visit", chosen.visits),
                                                              ("setup_revision", chosen.revisions))
        )  # fmt: skip
        self._numbers: dict[Any, str] = dict(connection.execute("SELECT id, number FROM part").fetchall())
        self._names: dict[str, dict[int, str]] = {name: {} for name in self.tables}
        for name, table in self.tables.items():
            if table.has_identity:
                found = connection.execute(f"SELECT id, identity FROM {name}").fetchall()
                self._names[name] = {row["id"]: row["identity"] for row in found}

    def _by_machine(self, table: str, some: list[int]) -> Mapping[int, list[int]]:
        found: dict[int, list[int]] = defaultdict(list)
        rows = self._db.execute(
            f"SELECT id, machine_id FROM {table} WHERE id IN (SELECT value FROM json_each(?)) ORDER BY id",
            (json.dumps(some),),
        )
        for row in rows:
            found[row["machine_id"]].append(row["id"])
        return found

    def machine(self, machine_id: int) -> MachineBundle:
        """A machine with what outlives its visits."""
        rows = self._rows(OF_MACHINE, self._of_machine(machine_id))
        return MachineBundle(id=self._names["machine"][machine_id], rows=rows)

    def visit(self, visit_id: int) -> VisitBundle:
        """A signed visit, all of it."""
        return VisitBundle(id=self._names["visit"][visit_id], rows=self._rows(OF_VISIT, self._of_visit(visit_id)))

    def workshop(self, *, whole: bool) -> WorkshopBundle:
        """What is of no machine: all of it, or just the parts that the machines' set-ups hold."""
        if whole:
            return WorkshopBundle(rows=self._rows(OF_WORKSHOP, dict.fromkeys(OF_WORKSHOP, ("1", ()))))
        held = (
            "id IN (SELECT part_id FROM revision_part JOIN setup_revision ON setup_revision.id = revision_id"
            " WHERE machine_id IN (SELECT value FROM json_each(?)))"
        )
        return WorkshopBundle(rows=self._rows(("part",), {"part": (held, (json.dumps(self._chosen.machines),))}))

    def _of_machine(self, machine: int) -> dict[str, tuple[str, tuple[Any, ...]]]:
        ours = (machine,)
        visits, revisions = (
            f"({', '.join(map(str, each[machine]))})" for each in (self._visits_of, self._revisions_of)
        )
        signed = f"machine_id = ? AND (visit_id IS NULL OR visit_id IN {visits}"
        stood_on = f"id IN (SELECT calibration_id FROM visit WHERE id IN {visits})"
        of_revisions = f"revision_id IN (SELECT id FROM setup_revision WHERE machine_id = ? AND id IN {revisions})"
        return {
            "machine": ("id = ?", ours),
            **dict.fromkeys(("belt", "stated", "stated_choice", "mounting"), ("machine_id = ?", ours)),
            **dict.fromkeys(("photo", "due"), (f"{signed})", ours)),
            "calibration": (f"{signed} OR {stood_on})", ours),
            "setup_revision": (f"machine_id = ? AND id IN {revisions}", ours),
            **dict.fromkeys(("accepted_answer", "revision_part", "revision_figures"), (of_revisions, ours)),
        }

    def _of_visit(self, visit: int) -> dict[str, tuple[str, tuple[Any, ...]]]:
        of_runs = ("road_test_id IN (SELECT id FROM road_test WHERE visit_id = ?)", (visit,))
        runs = dict.fromkeys(("run_log", "run_trace", "run_counted", "run_twins"), of_runs)
        return dict.fromkeys(OF_VISIT, ("visit_id = ?", (visit,))) | {"visit": ("id = ?", (visit,))} | runs

    def _rows(self, names: Iterable[str], where: Mapping[str, tuple[str, tuple[Any, ...]]]) -> Rows:
        held: dict[str, list[sqlite3.Row]] = {}
        for name in names:
            table = self.tables[name]
            order = "id" if table.has_id else ", ".join(each for each in table.columns if each not in table.blobs)
            sql, given = where[name]
            held[name] = self._db.execute(f"SELECT * FROM {name} WHERE {sql} ORDER BY {order}", given).fetchall()
            if name == "calibration":  # visits stand on it: its name must be the same in every document
                self._names[name] |= {row["id"]: f"{row['key'][:32]} {row['made_at']}" for row in held[name]}
            elif table.has_id and not table.has_identity:
                self._names[name] |= {row["id"]: f"{name}#{place}" for place, row in enumerate(held[name], start=1)}
        return {name: [self._portable(self.tables[name], dict(row)) for row in rows] for name, rows in held.items()}

    def _portable(self, table: Table, row: Row) -> Row:
        """A row whose keys are identities, whose JSON is JSON, and whose bytes are text."""
        row.pop("identity", None)
        if table.name == "photo":
            row = {key: each for key, each in row.items() if key not in PICTURES}
        for column, value in row.items():
            row[column] = self._value(table, column, value)
        if table.name == "visit_log":
            self._logged(row)
        elif table.name == "workshop_log":
            row["row"] = self._log_row(row["place"], row["row"])
        return row

    def _value(self, table: Table, column: str, value: Any) -> Any:
        if value is None:
            return None
        if column == "id" and table.has_id:
            return self._names[table.name].get(value, GONE)
        if column in table.refers:
            stays = table.refers[column] == "visit" and value not in self._visits
            return None if stays else self._names[table.refers[column]].get(value)
        if column in table.documents:
            held = json.loads(value)
            return self._draft(held) if column in DRAFTS else held
        return base64.b64encode(value).decode() if column in table.blobs else value

    def _draft(self, held: Any) -> Any:
        if not isinstance(held, dict):
            return held
        return {key: self._numbers.get(each, GONE) if key.startswith(PART) else each for key, each in held.items()}

    def _logged(self, row: Row) -> None:
        """What a line of a visit's log says of rows, said of identities."""
        place, field_ = row["place"], row["field"]
        table = self.tables.get(place)
        row["row"] = self._key(table, row["row"])
        for side in ("was", "now"):
            if isinstance(row[side], dict) and field_ == WHOLE_ROW and table:
                row[side] = {each: self._said(table, each, value) for each, value in row[side].items()}
            elif row[side] is not None and table:
                row[side] = self._said(table, field_, row[side])

    def _said(self, table: Table, column: str, value: Any) -> Any:
        if column == "identity":
            return None
        if isinstance(value, int) and (column in table.refers or (column == "id" and table.has_id)):
            target = table.name if column == "id" else table.refers[column]
            if target == "part":  # told by its number, under which two workshops know the same one
                return self._numbers.get(value, GONE)
            return GONE if target in OF_WORKSHOP else self._names[target].get(value, GONE)
        return self._draft(value) if column in DRAFTS else value

    def _key(self, table: Table | None, row: int) -> str:
        """A row's name by its key: of a station's, its visit's."""
        if table is None or table.name in OF_WORKSHOP:
            return GONE
        return self._names.get(row_of(table), {}).get(row, GONE)

    def _log_row(self, place: str, row: str) -> str:
        from ..workshop_log import PLACES

        known = PLACES[place]
        if known.key != "id" or known.table not in self._names or not row.isdigit():
            return row
        return self._names[known.table].get(int(row), GONE)


def _bytes(value: Any, where: str) -> bytes:
    try:
        return base64.b64decode(value, validate=True)
    except (ValueError, TypeError):
        raise InvalidValue(where, "is not base64") from None


@dataclass
class Incoming:
    """Keys of the rows that come in, by their names: those that are here already, and those made for new ones."""

    connection: sqlite3.Connection
    tables: Mapping[str, Table]
    keys: dict[str, dict[str, int]] = field(default_factory=dict)
    _next: dict[str, int] = field(default_factory=dict)

    def known(self, table: str, name: str) -> int | None:
        """The key here of a row by its identity; None for one that is new."""
        held = self.keys.setdefault(table, {})
        if name not in held and self.tables[table].has_identity:
            row = self.connection.execute(f"SELECT id FROM {table} WHERE identity = ?", (name,)).fetchone()
            if row is not None:
                held[name] = row["id"]
        return held.get(name)

    def make(self, table: str, name: str) -> int:
        """A key for a row that is new."""
        if table not in self._next:
            self._next[table] = self.connection.execute(f"SELECT coalesce(max(id), 0) FROM {table}").fetchone()[0]
        self._next[table] += 1
        self.keys.setdefault(table, {})[name] = self._next[table]
        return self._next[table]

    def insert(self, name: str, row: Row, more: Mapping[str, Any] | None = None) -> None:
        """Write a row whose key was made, and every row it refers to; `more`, columns that came as files.

        Raises InvalidValue for a column the table has not, or a reference to nothing.
        """
        table = self.tables[name]
        if unknown := set(row) - set(table.columns):
            raise InvalidValue(f"{name}.{min(unknown)}", "is no column of this table")
        values: dict[str, Any] = {column: self.stored(table, column, each, row) for column, each in row.items()}
        if table.has_identity:
            values["identity"] = row["id"]
        values |= more or {}
        columns = ", ".join(f'"{each}"' for each in values)
        self.connection.execute(
            f"INSERT INTO {name} ({columns}) VALUES ({', '.join('?' * len(values))})", list(values.values())
        )

    def insert_if_free(self, name: str, row: Row) -> None:
        """Write a row where none of the same key is here: what is said of it here stays."""
        if self.tables[name].has_id:
            self.make(name, row["id"])
        self.connection.execute("SAVEPOINT free")
        try:
            self.insert(name, row)
        except sqlite3.IntegrityError as error:
            self.connection.execute("ROLLBACK TO free")
            if error.sqlite_errorname not in ("SQLITE_CONSTRAINT_UNIQUE", "SQLITE_CONSTRAINT_PRIMARYKEY"):
                raise
        finally:
            self.connection.execute("RELEASE free")

    def stored(self, table: Table, column: str, value: Any, row: Row) -> Any:
        if table.name in ("visit_log", "workshop_log") and column in ("row", "was", "now"):
            return self._log_value(table.name, column, value, row)
        if column == "id" and table.has_id:
            return self.keys.get(table.name, {}).get(value)
        if value is not None and column in table.refers:
            return self._key(table.refers[column], value, f"{table.name}.{column}")
        if value is not None and column in table.documents:
            return json.dumps(self._draft(value) if column in DRAFTS else value, ensure_ascii=False)
        if isinstance(value, dict | list):
            raise InvalidValue(f"{table.name}.{column}", "must be one value")
        return _bytes(value, f"{table.name}.{column}") if value is not None and column in table.blobs else value

    def _key(self, table: str, name: Any, where: str) -> int:
        found = self.known(table, name) if isinstance(name, str) else None
        if found is None:
            raise InvalidValue(where, f"refers to a {table.replace('_', ' ')} that is not in the bundle")
        return found

    def _draft(self, held: Any) -> Any:
        if not isinstance(held, dict):
            return held
        return {key: self._numbered(each) if key.startswith(PART) and isinstance(each, str) else each
                for key, each in held.items()}  # fmt: skip

    def _numbered(self, number: str) -> int:
        """The part of a number; 0 where there is none."""
        row = self.connection.execute("SELECT id FROM part WHERE number = ?", (number,)).fetchone()
        return row["id"] if row else 0

    def _log_value(self, log: str, column: str, value: Any, row: Row) -> Any:
        place = row.get("place")
        if log == "workshop_log":
            return self._workshop_log_value(column, value, place)
        table = self.tables.get(place) if isinstance(place, str) else None
        if column == "row":
            return (self.known(row_of(table), value) if table and isinstance(value, str) else None) or 0
        if value is None:
            return None
        if table and isinstance(value, dict) and row.get("field") == WHOLE_ROW:
            value = {each: self._said(table, each, held) for each, held in value.items()}
        elif table:
            value = self._said(table, str(row.get("field")), value)
        return json.dumps(value, ensure_ascii=False)

    def _said(self, table: Table, column: str, value: Any) -> Any:
        if isinstance(value, str) and (column in table.refers or (column == "id" and table.has_id)):
            target = table.name if column == "id" else table.refers[column]
            return self._numbered(value) if target == "part" else self.known(target, value) or 0
        return self._draft(value) if column in DRAFTS else value

    def _workshop_log_value(self, column: str, value: Any, place: Any) -> Any:
        from ..workshop_log import PLACES

        if column != "row":
            return None if value is None else json.dumps(value, ensure_ascii=False)
        known = PLACES.get(place) if isinstance(place, str) else None
        if known is None or known.key != "id" or not isinstance(value, str):
            return value
        return str(self.known(known.table, value) or 0) if known.table in self.tables else value
