"""Predicted against measured: the miss of each figure, and whether the prediction's band covers it."""

from dataclasses import dataclass

from ..formats.prediction import PredictionDocument


@dataclass(frozen=True)
class Comparison:
    """One figure of a run [rpm]: `miss` is measured less predicted; `sure` says it lies within two standard
    deviations of the prediction; `in_target` that the measured figure is in its window."""

    figure: str
    predicted_rpm: float
    band_rpm: float
    measured_rpm: float
    miss_rpm: float
    sure: bool
    in_target: bool


def compare(
    prediction: PredictionDocument,
    engagement_rpm: float | None,
    shift_rpm: float | None,
    engagement_window: tuple[float, float],
    shift_window: tuple[float, float],
) -> list[Comparison]:
    """Set what a run measured beside what was predicted for it; figures not measured are left out.

    Parameters: measured engagement (bite) and shift mean [rpm]; windows as (target, tolerance) [rpm].
    """
    band = prediction.band
    rows = [
        (
            "Engagement",
            prediction.engagement.bite_rpm,
            band.bite_rpm if band else 0.0,
            engagement_rpm,
            engagement_window,
        ),
        ("Shift", prediction.shift.mean_rpm, band.mean_rpm if band else 0.0, shift_rpm, shift_window),
    ]
    return [
        Comparison(
            name,
            predicted,
            sigma,
            measured,
            round(measured - predicted, 1),
            abs(measured - predicted) <= 2 * sigma,
            abs(measured - window[0]) <= window[1],
        )
        for name, predicted, sigma, measured, window in rows
        if measured is not None
    ]
