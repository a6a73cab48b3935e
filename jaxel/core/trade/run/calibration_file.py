"""A calibration as a document: written down after a fit, and read back to be applied."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.calibration import CalibrationDocument, DiscrepancyPart
from jaxel.core.formats.run.runs import RunPart
from jaxel.core.formats.setup.setup import SetupDocument

from ..setup.calibration import Calibration, Fitted, least_deviations
from ..setup.discrepancy import Discrepancy
from ..setup.evidence import inputs, model_inputs
from .fit import calibrate

MOVED = 0.2
"""Prior deviations by which the data must move a parameter for it to be named; from memory."""


def calibrated(base: SetupDocument, runs: Sequence[RunPart]) -> CalibrationDocument:
    """Fit a machine's model to its runs and write down what they said; raises InvalidValue as `calibrate`."""
    fit, calibration = calibrate(base, runs)
    fitted, deviations = calibration.fitted, np.array([each.input.sd for each in calibration.fitted])
    covariance = calibration.covariance * np.outer(deviations, deviations)
    model = {each.name for each in calibration.fitted[: len(model_inputs(base))]}
    sd = np.sqrt(np.diag(covariance))
    rel = calibration.discrepancy
    return CalibrationDocument(
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
        discrepancy=DiscrepancyPart(
            origin=rel.origin, scored=rel.scored,
            engagement={kind: round(share, 4) for kind, share in rel.engagement.items()},
            shift={kind: round(share, 4) for kind, share in rel.shift.items()},
        ),
    )  # fmt: skip


def from_document(document: CalibrationDocument) -> Calibration:
    """A calibration as it was written down.

    Raises InvalidValue for one whose names are not of its set-ups or whose covariance is none.
    """
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
    rel = document.discrepancy
    for field, shares in (("engagement", rel.engagement), ("shift", rel.shift)):
        if set(shares) != set(bare.discrepancy.shift):
            raise InvalidValue(f"discrepancy.{field}", f"must hold {', '.join(bare.discrepancy.shift)}")
    discrepancy = Discrepancy(rel.engagement, rel.shift, rel.origin, rel.scored)
    return Calibration(document.setup, tuple(document.runs), tuple(fitted), covariance, discrepancy)
