"""Predictions kept by their key: worked out once, served for as long as they are asked for."""

import sqlite3
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass
from functools import lru_cache

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import MODEL_VERSION, PredictionFigures, figures_of, prediction_key
from jaxel.core.formats.setup.setup import SetupDocument, write_setup, written_setup
from jaxel.core.trade.setup.calibration import Calibration, Estimate
from jaxel.core.trade.setup.prediction import predicted, predicted_quickly

from ..db import NotFound, now, read_once, writing
from .calibrated import Ground, applied

QUICK = "q"
"""What the key of a prediction begins with that is never kept: no digit of a key, so that nobody asks for it."""


@dataclass(frozen=True)
class KeptPrediction:
    """A prediction by its key: `figures` for lists and pages, `document` with its curves; both JSON text."""

    key: str
    figures: str
    document: str


def key_of(document: SetupDocument, on: Ground | None) -> str:
    """What a prediction on what is known of a machine, or on nothing, is kept under."""
    stands = on is not None and on.text != write_setup(document.bare())
    return prediction_key(document, on.key if on and stands else "")


def work_out(document: SetupDocument, on: Ground | None = None) -> KeptPrediction:
    """Predict a set-up with its backshift and band, on what is known of its machine; raises InvalidValue where the
    parts do not fit.

    A calibration from before the machine's own numbers were put right is of another clutch, and is left out.
    """
    return _worked_out(key_of(document, on), write_setup(document.bare()), on.text if on else None)


@lru_cache(maxsize=512)
def _worked_out(key: str, text: str, ground: str | None) -> KeptPrediction:
    document = written_setup(text)
    known, estimate = _standing(text, ground)
    found = predicted(document, known, backshift=True, estimate=estimate)
    return KeptPrediction(key, figures_of(key, found).model_dump_json(), found.model_dump_json())


def work_out_quickly(document: SetupDocument, standing: SetupDocument, on: Ground | None) -> KeptPrediction:
    """The same without its band, in a tenth of the time, for a set-up changed from one that stands.

    Never kept: its figures may lie some rpm off those of `work_out`. Raises InvalidValue.
    """
    known, estimate = _standing(write_setup(standing.bare()), on.text if on else None)
    found = predicted_quickly(document, known, standing, estimate)
    key = QUICK + key_of(document, on)[1:]
    return KeptPrediction(key, figures_of(key, found).model_dump_json(), found.model_dump_json())


@lru_cache(maxsize=256)
def _standing(text: str, ground: str | None) -> tuple[Calibration, Estimate]:
    """What is known of a set-up's machine, and what it will do: worked out once for all that is asked of it."""
    document = written_setup(text)
    if ground:
        known = applied(ground)
        with suppress(InvalidValue):  # of another clutch
            return known, known.estimates([document], 41)[0]
    known = Calibration.none(document)
    return known, known.estimates([document], 41)[0]


@read_once
def figures(connection: sqlite3.Connection, key: str) -> PredictionFigures | None:
    """The figures of a kept prediction, or None where none is kept under this key."""
    row = connection.execute("SELECT figures FROM prediction WHERE key = ?", (key,)).fetchone()
    return None if row is None else PredictionFigures.model_validate_json(row["figures"])


def kept(connection: sqlite3.Connection, document: SetupDocument, on: Ground | None = None) -> PredictionFigures:
    """A set-up's figures as kept, or worked out and kept now; raises InvalidValue where the parts do not fit."""
    known = figures(connection, key_of(document, on))
    if known is not None:
        return known
    fresh = work_out(document, on)
    keep(connection, [fresh])
    return PredictionFigures.model_validate_json(fresh.figures)


def looked_up(connection: sqlite3.Connection, document: SetupDocument, on: Ground | None = None) -> PredictionFigures:
    """A set-up's figures as kept, or worked out now and not kept; raises InvalidValue where the parts do not fit."""
    known = figures(connection, key_of(document, on))
    return known or PredictionFigures.model_validate_json(work_out(document, on).figures)


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
