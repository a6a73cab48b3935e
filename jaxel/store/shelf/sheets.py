"""A stock sheet taken in: each good row written, each refused one reported."""

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.shelf.part_sheet import read_sheet, write_sheet
from jaxel.core.trade.shelf.sheet_rows import RefusedRow, SheetRow

from ..db import Conflict, writing
from ..edits import DEFAULT_HAND, Edit, check_hand
from . import parts, shelf
from .parts import Part


@dataclass(frozen=True)
class SheetReport:
    """What became of a sheet: part numbers `added` and `changed`, how many stood so already, rows `refused`."""

    added: list[str] = field(default_factory=list)
    changed: list[str] = field(default_factory=list)
    alike: int = 0
    refused: list[RefusedRow] = field(default_factory=list)


def take_in(
    connection: sqlite3.Connection, data: bytes, by: str = DEFAULT_HAND, watch: Callable[[float], None] = lambda _: None
) -> SheetReport:
    """Write a sheet's parts: a number that is known is changed where the sheet says otherwise, a new one is added.

    All in one transaction: `watch`, which hears the share done, may raise to have nothing of it. Raises InvalidValue,
    field `sheet`, for one that cannot be read at all; a row that is refused is reported and the rest is written.
    """
    check_hand(by)
    sheet = read_sheet(data, parts.part_kinds())
    added: list[str] = []
    changed: list[str] = []
    alike, refused = 0, list(sheet.refused)
    with writing(connection):
        known = {each.number.casefold(): each for each in parts.all_parts(connection)}
        for place, row in enumerate(sheet.rows):
            watch(place / len(sheet.rows))
            try:
                held = known.get(row.number.casefold())
                if held is None:
                    with _all_or_nothing(connection):
                        _write(connection, row, _added(connection, row, by), by)
                    added.append(row.number)
                elif held.kind != row.kind:
                    raise InvalidValue("kind", f"{row.number} is known as {held.kind}")
                else:
                    with _all_or_nothing(connection):
                        written = _write(connection, row, held, by)
                    if written:
                        changed.append(row.number)
                    alike += not written
            except InvalidValue as error:
                refused.append(RefusedRow(row.line, row.number, error.field, error.reason))
            except Conflict as error:
                refused.append(RefusedRow(row.line, row.number, error.field, str(error)))
    return SheetReport(added, changed, alike, sorted(refused, key=lambda each: each.line))


class _all_or_nothing:  # noqa: N801
    """A savepoint: a row that is refused half-way leaves nothing behind."""

    def __init__(self, connection: sqlite3.Connection):
        self.connection = connection

    def __enter__(self) -> None:
        self.connection.execute("SAVEPOINT row")

    def __exit__(self, kind: object, *_: object) -> None:
        if kind:
            self.connection.execute("ROLLBACK TO row")
        self.connection.execute("RELEASE row")


def _added(connection: sqlite3.Connection, row: SheetRow, by: str) -> Part:
    part_id = parts.add(connection, row.number, row.kind, by)
    return parts.one(connection, part_id)


def _write(connection: sqlite3.Connection, row: SheetRow, held: Part, by: str) -> bool:
    """Write what a row says of a part; whether anything was otherwise."""
    edits = {
        name: Edit(getattr(held, name), value)
        for name, value in row.of.items()
        if name != "pieces" and getattr(held, name) != value
    }
    if row.spec is not None and row.spec != held.spec:
        edits["spec"] = Edit(held.spec, dict(row.spec))
    if edits:
        parts.change(connection, held.id, edits, by)
    pieces: Any = row.of.get("pieces")
    counted = pieces is not None and pieces != held.pieces
    if counted:
        shelf.count(connection, held.id, Edit(held.pieces, pieces), by)
    return bool(edits) or counted


def sheet(connection: sqlite3.Connection) -> str:
    """Every part as a sheet."""
    names = ("make", "place", "fits", "pieces", "price", "pack", "superseded_by", "supplier_note", "life_km", "life_h")
    return write_sheet(
        SheetRow(0, each.number, each.kind, {name: getattr(each, name) for name in names}, each.spec)
        for each in parts.all_parts(connection)
    )
