"""What is of no machine, taken in: people and parts by identity or name, tools and choices where none is here."""

import json
import sqlite3
from collections import Counter
from collections.abc import Callable
from typing import Any

from jaxel.core.formats.bundle import Row, WorkshopBundle

from .rows import Chosen, Incoming, Outgoing

Differs = Callable[[str, Any, Row, Row], None]
"""Hears of a row that is here and in the bundle: the sort of thing, what it is called, here, there."""


def take_in_workshop(
    connection: sqlite3.Connection, incoming: Incoming, document: WorkshopBundle, differs: Differs
) -> None:
    """What is of no machine; pieces are those of parts that are new: here they were counted here."""
    fresh: set[str] = set()
    here = Outgoing(connection, Chosen([], [], [])).workshop(whole=True)
    for name in ("person", "part"):
        held = {row["id"]: row for row in here.rows[name]}
        called = "number" if name == "part" else "name"
        names = {str(row[called]).casefold(): row for row in here.rows[name]}
        for row in document.rows.get(name, ()):
            same = names.get(str(row.get(called)).casefold())
            if row["id"] in held:
                differs(name, row[called], held[row["id"]], row)
            elif same is not None:  # typed here by itself: the same thing, under its identity here
                incoming.keys[name][row["id"]] = incoming.keys[name].get(
                    same["id"], incoming.known(name, same["id"]) or 0
                )
                differs(name, row[called], same, row)
            else:
                incoming.insert(name, row)
                fresh.add(row["id"])
    for name in ("tool", "wrench", "stamp", "school_choice", "logger"):
        for row in document.rows.get(name, ()):
            incoming.insert_if_free(name, row)
    for row in document.rows.get("stock_move", ()):
        if row["part_id"] in fresh:
            incoming.make("stock_move", row["id"])
            incoming.insert("stock_move", row)
    _log(incoming, document, here.rows["workshop_log"])
    for row in document.rows.get("workshop", ()):
        _named(connection, incoming, row)


def _named(connection: sqlite3.Connection, incoming: Incoming, row: Row) -> None:
    """A workshop that has no name yet takes the other's, with its units and what its hour costs."""
    table = incoming.tables["workshop"]
    values = {key: incoming.stored(table, key, row[key], row) for key in ("name", "units", "hour_price")}
    connection.execute(
        "UPDATE workshop SET name = :name, units = :units, hour_price = :hour_price WHERE name = ''", values
    )


def _log(incoming: Incoming, document: WorkshopBundle, here: list[Row]) -> None:
    """Lines of the other's log that are not here, behind those that are; two that are alike are two."""
    held = Counter(_line(row) for row in here)
    for row in document.rows.get("workshop_log", ()):
        line = _line(row)
        if held[line]:
            held[line] -= 1
        else:
            incoming.make("workshop_log", row["id"])
            incoming.insert("workshop_log", row)


def _line(row: Row) -> str:
    """A line of the workshop's log as it is told from others."""
    return json.dumps({key: each for key, each in row.items() if key != "id"}, sort_keys=True)
