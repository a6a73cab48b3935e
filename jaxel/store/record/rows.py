"""A station's row of a visit: begun when the visit opens, read as the station's record."""

import sqlite3
from collections.abc import Iterable, Sequence
from typing import Any, TypeVar

from jaxel.core.trade.record.said import fields_of
from jaxel.core.trade.visit.records import TABLES

from ..db import NotFound
from ..edits import record_of, stored

Record = TypeVar("Record")

_TABLE_OF = {table.record: name for name, table in TABLES.items() if table.key == "visit_id"}


def station(connection: sqlite3.Connection, visit_id: int, record: type[Record]) -> Record:
    """One station's record of a visit; raises NotFound."""
    table = _TABLE_OF[record]
    row = connection.execute(f"SELECT * FROM {table} WHERE visit_id = ?", (visit_id,)).fetchone()
    if row is None:
        raise NotFound("visit")
    found: Record = record_of(table, row)
    return found


def stations(connection: sqlite3.Connection, visit_id: int, records: Sequence[type]) -> dict[type, Any]:
    """Several stations' records of a visit in one look, by their class; raises NotFound."""
    tables = {record: _TABLE_OF[record] for record in records}
    columns = ", ".join(
        f'{table}."{name}" AS "{table}.{name}"' for record, table in tables.items() for name in fields_of(record)
    )
    joins = "".join(f" JOIN {table} ON {table}.visit_id = visit.id" for table in tables.values())
    row = connection.execute(f"SELECT {columns} FROM visit{joins} WHERE visit.id = ?", (visit_id,)).fetchone()
    if row is None:
        raise NotFound("visit")
    return {
        record: record_of(table, {name: row[f"{table}.{name}"] for name in fields_of(record)})
        for record, table in tables.items()
    }


def begin(connection: sqlite3.Connection, visit_id: int, records: Iterable[Any]) -> None:
    """The rows of a visit's stations as they begin."""
    for record in records:
        table = _TABLE_OF[type(record)]
        values = {name: stored(table, name, getattr(record, name)) for name in fields_of(record.__class__)}
        names, marks = ", ".join(values), ", ".join(f":{name}" for name in values)
        connection.execute(
            f"INSERT INTO {table} (visit_id, {names}) VALUES (:visit_id, {marks})", values | {"visit_id": visit_id}
        )


def open_visit_of(connection: sqlite3.Connection, machine_id: int) -> int | None:
    """The id of a machine's open visit, if it has one."""
    row = connection.execute(
        "SELECT id FROM visit WHERE machine_id = ? AND signed_off_at IS NULL", (machine_id,)
    ).fetchone()
    return row["id"] if row else None
