"""Predictions as answers need them: with their band, and kept while the same set-up is asked for again."""

import sqlite3
from collections.abc import Callable, Iterable
from functools import lru_cache
from threading import Lock

from flask import Flask, Response, g

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import PredictionFigures
from jaxel.core.formats.run.pull import pull_figures
from jaxel.core.formats.setup.setup import SetupDocument, write_setup, written_setup
from jaxel.core.trade.belt.wear import StandingStart, WidthCost, standing_start, width_costs
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.setup.sensitivity import Sensitivity, sensitivities
from jaxel.core.trade.shelf.window import Lies, lies
from jaxel.core.trade.visit.intake import Intake
from jaxel.core.units import Units
from jaxel.store.db import NotFound
from jaxel.store.setup import predictions as store
from jaxel.store.setup import revisions
from jaxel.store.setup.calibrated import Ground, applied
from jaxel.store.setup.predictions import KeptPrediction
from jaxel.store.setup.revisions import Figures, Revision

from ..database import connection
from ..errors import Refusal
from ..record.model import Model
from ..units import units


def predicted(document: SetupDocument, on: Ground | None = None) -> PredictionFigures:
    """The prediction of a set-up with its band, on what is known of its machine; raises InvalidValue where it cannot
    work.

    One kept under its key is taken as it is; a new one is kept when the request has been answered.
    """
    known = store.figures(connection(), store.key_of(document, on))
    if known is not None:
        return known
    fresh = store.work_out(document, on)
    to_keep()[fresh.key] = fresh
    return PredictionFigures.model_validate_json(fresh.figures)


class WhereItLies(Model):
    """Where engagement and shift lie of the windows somebody stated, as far as that can be said; else empty."""

    engagement: Lies = ""
    shift: Lies = ""


def where_it_lies(figures: PredictionFigures | None, intake: Intake) -> WhereItLies:
    """Where a prediction lies; nothing is said of a target that is only typical."""
    windows = intake.stated_windows
    if figures is None or windows is None:
        return WhereItLies()
    band = figures.band
    return WhereItLies(
        engagement=lies(figures.engagement.bite_rpm, band.bite_rpm if band else 0.0, windows[0]),
        shift=lies(figures.shift.mean_rpm, band.mean_rpm if band else 0.0, windows[1]),
    )


def prediction_of(document: SetupDocument, on: Ground | None) -> str:
    """A set-up's prediction with its curves, as JSON; raises InvalidValue."""
    key = store.key_of(document, on)
    try:
        return whole(key)
    except NotFound:
        fresh = store.work_out(document, on)
        to_keep()[fresh.key] = fresh
        return fresh.document


def predicted_or_fault(
    document: SetupDocument, on: Ground | None = None
) -> tuple[PredictionFigures | None, Refusal | None]:
    """The prediction, or why there is none: a page must open even while its set-up cannot work."""
    return figures_or_fault(lambda: document, on)


def figures_or_fault(
    made: Callable[[], SetupDocument], on: Ground | None = None
) -> tuple[PredictionFigures | None, Refusal | None]:
    """The same of a set-up that may not even be made: as found with a fault that leaves nothing to predict."""
    try:
        figures = predicted(made(), on)
        return figures, None
    except InvalidValue as error:
        return None, Refusal(field=error.field, reason=error.reason)


def to_keep() -> dict[str, KeptPrediction]:
    """Predictions made by this request, by key."""
    made: dict[str, KeptPrediction] = g.setdefault("to_keep", {})
    return made


def keep_figures(figures: dict[int, Figures]) -> None:
    """Figures of revisions made by this request, to be kept when it has been answered."""
    made: dict[int, Figures] = g.setdefault("figures", {})
    made.update(figures)


def figures_now(revision: Revision) -> Figures:
    """Figures of a set-up from before they were kept: worked out now, kept when the request has been answered."""
    prediction, fault = predicted_or_fault(revision.document)
    figures = (
        revisions.figures_of(prediction)
        if prediction
        else Figures(None, None, None, None, fault.reason if fault else "")
    )
    keep_figures({revision.id: figures})
    return figures


def register(app: Flask) -> None:
    """Keep what a request predicted before its answer leaves: the answer names its keys."""

    @app.after_request
    def keep(response: Response) -> Response:
        if to_keep() or g.get("figures"):
            try:
                connection().execute(f"PRAGMA busy_timeout = {KEEP_PATIENCE_MS}")
                store.keep(connection(), to_keep().values())
                revisions.keep_figures(connection(), g.get("figures", {}))
            except sqlite3.Error:
                _remember(to_keep().values())
        return response


def whole(key: str) -> str:
    """A prediction with its curves, as JSON; raises NotFound."""
    try:
        return store.document(connection(), key)
    except NotFound:
        with _lock:
            if key in _unkept:
                return _unkept[key]
        raise


KEEP_PATIENCE_MS = 200
"""How long an answer waits to keep what it predicted: a reader must not wait for another's writing."""

MOST_UNKEPT = 64
_unkept: dict[str, str] = {}
_lock = Lock()


def _remember(predictions: Iterable[KeptPrediction]) -> None:
    """Hold the latest predictions in this process while the disk takes no more."""
    with _lock:
        _unkept.update({each.key: each.document for each in predictions})
        for key in list(_unkept)[:-MOST_UNKEPT]:
            del _unkept[key]


def steps(document: SetupDocument, kinds: Kinds, on: Ground | None = None) -> list[Sensitivity]:
    """What one step of each slot does, on what is known of its machine; raises InvalidValue."""
    return _steps(write_setup(document.bare()), kinds, units(), on.text if on else None)


def _applied(text: str, ground: str | None) -> SetupDocument:
    """A set-up on what is known of its machine: what was fitted may lie where no hand would type it."""
    document = written_setup(text)
    return applied(ground).applied(document) if ground else document


@lru_cache(maxsize=128)
def _steps(text: str, kinds: Kinds, read_in: Units, ground: str | None) -> list[Sensitivity]:
    told = applied(ground).discrepancy if ground else None
    return sensitivities(_applied(text, ground), kinds, read_in, told)


def strip_figures(document: SetupDocument, on: Ground | None = None) -> dict[str, float | None]:
    """A full pull on the simulated strip in figures; raises InvalidValue where the parts do not fit."""
    return _strip_figures(write_setup(document.bare()), on.text if on else None)


@lru_cache(maxsize=128)
def _strip_figures(text: str, ground: str | None) -> dict[str, float | None]:
    return pull_figures(_applied(text, ground).core())


def costs(document: SetupDocument) -> list[WidthCost]:
    """What the document's belt width costs against a new belt; nothing where it cannot be worked out."""
    try:
        return _costs(write_setup(document.bare()))
    except InvalidValue:
        return []


def start_time(document: SetupDocument) -> StandingStart | None:
    """A standing start on the document's belt; None where the belt cannot be gripped."""
    try:
        return _start_time(write_setup(document.bare()))
    except InvalidValue:
        return None


@lru_cache(maxsize=128)
def _start_time(text: str) -> StandingStart:
    return standing_start(written_setup(text))


@lru_cache(maxsize=128)
def _costs(text: str) -> list[WidthCost]:
    return width_costs(written_setup(text))
