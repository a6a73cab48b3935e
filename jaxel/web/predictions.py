"""Predictions as answers need them: with their band, and kept while the same set-up is asked for again."""

from functools import lru_cache

from jaxel.core.belt_wear import WidthCost, width_costs
from jaxel.core.calibration import prior_band
from jaxel.core.documents import PredictionDocument, SetupDocument, prediction_document, write_setup
from jaxel.core.errors import InvalidValue
from jaxel.core.run import simulate
from jaxel.core.sensitivity import Sensitivity, sensitivities
from jaxel.core.shift import predict

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
    setup = SetupDocument.model_validate_json(text).core()
    return prediction_document(predict(setup, backshift=True), prior_band(setup))


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
    return simulate(SetupDocument.model_validate_json(text).core()).figures()


def costs(document: SetupDocument) -> list[WidthCost]:
    """What the document's belt width costs against a new belt; nothing where it cannot be worked out."""
    try:
        return _costs(write_setup(document))
    except InvalidValue:
        return []


@lru_cache(maxsize=128)
def _costs(text: str) -> list[WidthCost]:
    return width_costs(SetupDocument.model_validate_json(text))
