"""Predictions kept by their key: worked out once, served for as long as they are asked for."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from .db import NotFound, now, writing


@dataclass(frozen=True)
class KeptPrediction:
    """A prediction by its key: `figures` for lists and pages, `document` with its curves; both JSON text."""

    key: str
    figures: str
    document: str


def figures(connection: sqlite3.Connection, key: str) -> str | None:
    """The figures of a kept prediction, or None where none is kept under this key."""
    row = connection.execute("SELECT figures FROM prediction WHERE key = ?", (key,)).fetchone()
    return None if row is None else row["figures"]


def document(connection: sqlite3.Connection, key: str) -> str:
    """A kept prediction whole; raises NotFound."""
    row = connection.execute("SELECT document FROM prediction WHERE key = ?", (key,)).fetchone()
    if row is None:
        raise NotFound("prediction")
    text: str = row["document"]
    return text


def keep(connection: sqlite3.Connection, predictions: Iterable[KeptPrediction]) -> None:
    """Keep predictions; one kept before stays as it is."""
    with writing(connection):
        connection.executemany(
            "INSERT OR IGNORE INTO prediction (key, figures, document, created_at) VALUES (?, ?, ?, ?)",
            [(each.key, each.figures, each.document, now()) for each in predictions],
        )
