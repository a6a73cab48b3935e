"""Predictions as answers need them: with their band, and kept while the same set-up is asked for again."""

from functools import lru_cache

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.prediction import PredictionDocument, prediction_document
from jaxel.core.formats.pull import pull_figures
from jaxel.core.formats.setup import SetupDocument, write_setup
from jaxel.core.mechanism.pull import simulate
from jaxel.core.mechanism.shift import predict
from jaxel.core.mechanism.uncertainty import prior_band
from jaxel.core.trade.belt_wear import WidthCost, width_costs
from jaxel.core.trade.sensitivity import Sensitivity, sensitivities

from .errors import Refusal


def predicted(document: SetupDocument) -> PredictionDocument:
    """The prediction of a set-up with its band; raises InvalidValue where the parts do not fit."""
    return _predicted(write_setup(document))


def predicted_or_fault(document: SetupDocument) -> tuple[PredictionDocument | None, Refusal | None]:
    """The prediction, or why there is none: a page must open even while its set-up cannot work."""
    try:
        return predicted(document), None
    except InvalidValue as error:
        return None, Refusal(field=error.field, reason=error.reason)


@lru_cache(maxsize=512)
def _predicted(text: str) -> PredictionDocument:
    drivetrain = SetupDocument.model_validate_json(text).core()
    with in_document_terms():
        return prediction_document(predict(drivetrain, backshift=True), prior_band(drivetrain))


def steps(document: SetupDocument) -> list[Sensitivity]:
    """What one step of each slot does; raises InvalidValue where the parts do not fit."""
    return _steps(write_setup(document))


@lru_cache(maxsize=128)
def _steps(text: str) -> list[Sensitivity]:
    return sensitivities(SetupDocument.model_validate_json(text))


def strip_figures(document: SetupDocument) -> dict[str, float | None]:
    """A full pull on the simulated strip in figures; raises InvalidValue where the parts do not fit."""
    return _strip_figures(write_setup(document))


@lru_cache(maxsize=128)
def _strip_figures(text: str) -> dict[str, float | None]:
    return pull_figures(simulate(SetupDocument.model_validate_json(text).core()))


def costs(document: SetupDocument) -> list[WidthCost]:
    """What the document's belt width costs against a new belt; nothing where it cannot be worked out."""
    try:
        return _costs(write_setup(document))
    except InvalidValue:
        return []


@lru_cache(maxsize=128)
def _costs(text: str) -> list[WidthCost]:
    return width_costs(SetupDocument.model_validate_json(text))
