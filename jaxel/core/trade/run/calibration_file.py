"""A calibration as a document: written down after a fit, and read back to be applied."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import MODEL_VERSION
from jaxel.core.formats.run.calibration import CalibrationDocument, DiscrepancyPart, ScorePart, TellingPart
from jaxel.core.formats.run.runs import RunPart
from jaxel.core.formats.setup.setup import SetupDocument

from ..setup.calibration import Calibration, Fitted, least_deviations
from ..setup.discrepancy import FIGURES, Discrepancy, Score, Telling, study
from ..setup.evidence import inputs, model_inputs
from ..setup.figures import figures_of
from .fit import calibrate, counted

MOVED = 0.2
"""Prior deviations by which the data must move a parameter for it to be named; from memory."""


def calibrated(base: SetupDocument, runs: Sequence[RunPart], others: Sequence[ScorePart] = ()) -> CalibrationDocument:
    """Fit a machine's model to its runs and write down what they said; raises InvalidValue as `calibrate`.

    `others` are scores of the workshop's other machines.
    """
    fit, calibration = calibrate(base, runs, [_score(each, place) for place, each in enumerate(others)])
    fitted, deviations = calibration.fitted, np.array([each.input.sd for each in calibration.fitted])
    covariance = calibration.covariance * np.outer(deviations, deviations)
    model = {each.name for each in calibration.fitted[: len(model_inputs(base))]}
    sd = np.sqrt(np.diag(covariance))
    return CalibrationDocument(
        model_version=MODEL_VERSION,
        setup=base,
        runs=list(runs),
        model={each.name: round(each.value, 6) for each in fitted if each.name in model},
        inputs={each.name: round(each.value, 6) for each in fitted if each.name not in model},
        order=[each.name for each in fitted],
        sd={each.name: float(f"{one:.6g}") for each, one in zip(fitted, sd, strict=True)},
        covariance=[[float(f"{one:.9g}") for one in row] for row in covariance.tolist()],
        residuals=fit.residuals(calibration),
        moved=[each.name for each in fitted if abs(each.at) >= MOVED],
        contradicts=fit.contradictions(calibration),
        anchor=calibration.anchors,
        discrepancy=_written(calibration.discrepancy),
        scores=[
            ScorePart(
                figure=each.figure,
                changes={kind: round(change, 2) for kind, change in each.changes.items() if round(change, 2)},
                told=round(each.told, 2), measured=round(each.measured, 2), variance=round(each.variance, 1),
                swap=each.swap,
            )
            for each in fit.scored
        ],
        others=list(others),
    )  # fmt: skip


def _score(part: ScorePart, place: int) -> Score:
    """A score of another machine: parts swapped there are not those of this one."""
    return Score(part.figure, part.changes, part.told, part.measured, part.variance, f"{place} {part.swap}")


def _written(told: Discrepancy) -> DiscrepancyPart:
    of = {
        figure: {
            kind: TellingPart(factor=round(each.factor, 4), factor_sd=round(each.factor_sd, 4), rel=round(each.rel, 4))
            for (kind, its), each in told.tellings.items()
            if its == figure
        }
        for figure in FIGURES
    }
    return DiscrepancyPart(**of, scored=dict(told.scored))


def _read(written: DiscrepancyPart) -> Discrepancy:
    """Raises InvalidValue where a kind of change is missing or not known."""
    known = {kind for kind, _ in study()}
    tellings = {}
    for figure in FIGURES:
        told: dict[str, TellingPart] = getattr(written, figure)
        if set(told) != known:
            raise InvalidValue(f"discrepancy.{figure}", f"must hold {', '.join(sorted(known))}")
        for kind, each in told.items():
            tellings[kind, figure] = Telling(each.factor, each.factor_sd, each.rel)
    return Discrepancy(tellings, written.scored)


def current(document: CalibrationDocument) -> CalibrationDocument:
    """A calibration by today's model: one of another version is fitted anew, from those of its runs whose set-ups work.

    Raises InvalidValue where none does.
    """
    if document.model_version == MODEL_VERSION and document.discrepancy is not None:
        return document
    values = figures_of([document.setup, *(run.setup or document.setup for run in document.runs)]).values
    base, *works = [bool(np.isfinite(row).all()) for row in values]
    runs = [run for run, one in zip(document.runs, works, strict=True) if one]
    if not base or not runs:
        raise InvalidValue("runs", "are of set-ups that cannot work by today's model")
    return calibrated(document.setup, runs, document.others)


def from_document(document: CalibrationDocument) -> Calibration:
    """A calibration as it was written down; one of another version of the model is fitted anew from its runs.

    Raises InvalidValue for one whose names are not of its set-ups or whose covariance is none, or whose runs cannot be
    fitted any more.
    """
    document = current(document)
    setups = {0: document.setup} | {index: run.setup for index, run in enumerate(document.runs, start=1) if run.setup}
    bare = Calibration.none(document.setup)
    own = {each.name: each.input for each in bare.fitted}
    known = [each for some in least_deviations(list(setups.values())) for each in some]
    least = {each.key: each for each in known}
    fitted = []
    for name in document.order:
        path, _, run = name.partition("@")
        values = document.model if name in own else document.inputs
        if name not in values:
            raise InvalidValue("order", f"names {name}, which has no value")
        found = own.get(name)
        if found is None:
            setup = setups.get(int(run)) if run.isdigit() else document.setup
            found = next((each for each in inputs(setup) if each.path == path), None) if setup else None
        if found is None:
            raise InvalidValue("order", f"names {name}, which is no uncertain number of its set-ups")
        found = replace(found, sd=least[found.key].sd)
        at = (values[name] - (1.0 if found.value is None else found.value)) / found.sd
        fitted.append(Fitted(found, name, at))
    missing = set(own) - set(document.order)
    if missing:
        raise InvalidValue("order", f"leaves out {min(missing)}")
    deviations = np.array([each.input.sd for each in fitted])
    covariance = np.array(document.covariance) / np.outer(deviations, deviations)
    if not np.allclose(covariance, covariance.T, atol=1e-6) or np.linalg.eigvalsh(covariance).min() < -1e-6:
        raise InvalidValue("covariance", "is none: it must be symmetric, and no combination may have less than nothing")
    assert document.discrepancy is not None
    runs = tuple(counted(document.setup, document.runs))
    return Calibration(document.setup, runs, tuple(fitted), covariance, _read(document.discrepancy))
