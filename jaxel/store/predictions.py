"""Predictions kept by their key: worked out once, served for as long as they are asked for."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from jaxel.core.formats.prediction import (
    MODEL_VERSION,
    PredictionFigures,
    figures_of,
    prediction_key,
)
from jaxel.core.formats.setup import SetupDocument, write_setup
from jaxel.core.trade.prediction import predicted

from .db import NotFound, now, writing


@dataclass(frozen=True)
class KeptPrediction:
    """A prediction by its key: `figures` for lists and pages, `document` with its curves; both JSON text."""

    key: str
    figures: str
    document: str


def work_out(document: SetupDocument) -> KeptPrediction:
    """Predict a set-up with its backshift and band; raises InvalidValue where the parts do not fit."""
    return _worked_out(prediction_key(document), write_setup(document.bare()))


@lru_cache(maxsize=512)
def _worked_out(key: str, text: str) -> KeptPrediction:
    document = predicted(SetupDocument.model_validate_json(text), backshift=True)
    return KeptPrediction(key, figures_of(key, document).model_dump_json(), document.model_dump_json())


def figures(connection: sqlite3.Connection, key: str) -> PredictionFigures | None:
    """The figures of a kept prediction, or None where none is kept under this key."""
    row = connection.execute("SELECT figures FROM prediction WHERE key = ?", (key,)).fetchone()
    return None if row is None else PredictionFigures.model_validate_json(row["figures"])


def kept(connection: sqlite3.Connection, document: SetupDocument) -> PredictionFigures:
    """A set-up's figures as kept, or worked out and kept now; raises InvalidValue where the parts do not fit."""
    known = figures(connection, prediction_key(document))
    if known is not None:
        return known
    fresh = work_out(document)
    keep(connection, [fresh])
    return PredictionFigures.model_validate_json(fresh.figures)


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
            "INSERT OR IGNORE INTO prediction (key, model_version, figures, document, created_at)"
            " VALUES (?, ?, ?, ?, ?)",
            [(each.key, MODEL_VERSION, each.figures, each.document, now()) for each in predictions],
        )
