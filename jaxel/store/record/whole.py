"""The visit as a whole, for a station whose change depends on others: asked of whoever reads it, never imported."""

import sqlite3
from collections.abc import Callable
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..visit.visits import Visit

_reader: list[Callable[[sqlite3.Connection, int], "Visit"]] = []


def read_by(reader: Callable[[sqlite3.Connection, int], "Visit"]) -> None:
    """Say who reads a visit whole: the one module that knows every station."""
    _reader[:] = [reader]


def whole_visit(connection: sqlite3.Connection, visit_id: int) -> "Visit":
    """A visit with its stations' records, readings and runs; raises NotFound."""
    return _reader[0](connection, visit_id)
