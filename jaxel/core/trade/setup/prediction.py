"""The one route to a prediction document: the shift worked out, its band, and what of it was measured."""

from dataclasses import replace

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.prediction import PredictionDocument, WorthFigures, prediction_document
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.equilibrium.shift import Prediction, ShiftCurve, predict, window, window_mean
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.numerics.uncertainty import Band
from jaxel.core.units import RPM

from .calibration import Calibration, Estimate
from .figures import ENGAGEMENT, FULL_SHIFT, MEAN
from .worth import worths


def predicted(
    document: SetupDocument,
    calibration: Calibration | None = None,
    *,
    points: int = 41,
    backshift: bool = False,
    banded: bool = True,
    worth: bool = False,
    estimate: Estimate | None = None,
) -> PredictionDocument:
    """What a set-up will do.

    Parameters: `calibration` of its machine, None where it was never measured and this is the fitted set-up; `points`
    of the curve; `backshift`, whether to add the curve on which it shifts back; `banded`, whether to say how sure;
    `worth`, what it would be worth to measure each of its numbers, before any run; `estimate` of this very set-up at
    these points, where it is known already. Raises InvalidValue where its parts do not fit together, it is of another
    machine than the calibration, or worth is asked for beside one.
    """
    if calibration and worth:
        raise InvalidValue("worth", "is told before any run: leave the calibration out")
    known = calibration or Calibration.none(document)
    if estimate is None and (banded or calibration):
        (estimate,) = known.estimates([document], points)
    with in_document_terms():
        prediction = predict(known.applied(document).core(), points, backshift=backshift)
    if estimate and (known.runs or known.base.bare() != document.bare()):
        prediction = anchored(prediction, estimate)
    found = prediction_document(prediction, _band(estimate) if estimate else None, exact=document.evidence is None)
    return found.model_copy(
        update={
            "anchor": calibration.anchors if calibration and calibration.runs else None,
            "worth": _worths(document) if worth else None,
        }
    )


def predicted_quickly(
    document: SetupDocument, calibration: Calibration, origin: SetupDocument, standing: Estimate
) -> PredictionDocument:
    """What a set-up will do, without its band and backshift: what one near it does, plus the change told.

    Exact where one run anchors the machine and one part is changed; else some rpm off.
    Parameters: `origin`, the set-up it was changed from, and `standing`, the estimate of that at 41 nodes. Raises
    InvalidValue.
    """
    with in_document_terms():
        prediction = predict(calibration.applied(document).core(), 41)
    figures = [ENGAGEMENT, MEAN, FULL_SHIFT]
    off = np.array([standing.engagement, standing.mean, standing.full_shift]) - standing.bare[figures]
    (changes,) = calibration.shares([(origin, document)])
    bare = np.array([prediction.engagement.bite, *_held(prediction.shift)]) / RPM
    bite, mean, full = (bare + off + calibration.beyond(changes)[figures]).tolist()
    moved = replace(standing, engagement=bite, mean=mean, full_shift=full)
    return prediction_document(anchored(prediction, moved), exact=document.evidence is None)


def anchored(prediction: Prediction, estimate: Estimate) -> Prediction:
    """The prediction moved onto its estimate: touch with bite, the curve linearly in travel to mean and full shift."""
    bite = estimate.engagement * RPM - prediction.engagement.bite
    engagement = replace(
        prediction.engagement, touch=prediction.engagement.touch + bite, bite=prediction.engagement.bite + bite
    )
    shift = prediction.shift
    held_mean, held_full = _held(shift)
    mean, full = estimate.mean * RPM - held_mean, estimate.full_shift * RPM - held_full
    done = np.linspace(0.0, 1.0, len(shift.speed))
    middle = float(done[window(len(done))].mean())
    slope = (full - mean) / (1 - middle)
    offset = full + slope * (done - 1)
    back = prediction.backshift
    return replace(
        prediction, engagement=engagement, shift=_moved(shift, offset), backshift=_moved(back, offset) if back else None
    )


def _held(curve: ShiftCurve) -> tuple[float, float]:
    """Mean and end of the speeds that balance the belt [rad/s], of which estimates are."""
    return float(window_mean(curve.held)), float(curve.held[-1])


def _moved(curve: ShiftCurve, offset: Array) -> ShiftCurve:
    speed = curve.speed + offset
    by = speed / curve.speed
    return replace(
        curve,
        speed=speed,
        held=curve.held + offset,
        vehicle_speed=curve.vehicle_speed * by,
        belt_speed=curve.belt_speed * by,
    )


def _band(estimate: Estimate) -> Band:
    return Band(
        estimate.engagement_sd * RPM, estimate.mean_sd * RPM, estimate.full_shift_sd * RPM, estimate.curve_sd * RPM
    )


def _worths(document: SetupDocument) -> list[WorthFigures]:
    return [
        WorthFigures(
            path=each.input.path,
            name=each.input.name,
            origin=each.input.origin,
            sd=float(f"{each.input.sd:.4g}"),
            engagement_share=round(each.engagement_share, 4),
            shift_share=round(each.shift_share, 4),
            engagement_off_rpm=round(each.engagement_off_rpm, 2),
            shift_off_rpm=round(each.shift_off_rpm, 2),
            minutes=each.input.minutes,
            off_rpm_per_minute=round(each.off_per_minute, 3),
        )
        for each in worths(document)
    ]
