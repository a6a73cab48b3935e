"""Predicted against measured: the miss of each figure, and whether the prediction's band covers it."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from jaxel.core.formats.prediction import MODEL_VERSION, PredictionDocument, PredictionFigures
from jaxel.core.formats.run.runs import NOISE


@dataclass(frozen=True)
class PredictedFigures:
    """What was predicted for a run on its day [rpm]: engagement (bite) and shift mean, each with its standard
    deviation; `model_version` says by which model."""

    model_version: int
    engagement_rpm: float
    engagement_sd_rpm: float
    shift_rpm: float
    shift_sd_rpm: float


@dataclass(frozen=True)
class Comparison:
    """One figure of a run [rpm]: `miss` is measured less predicted; `sure` says it lies within two standard
    deviations of the prediction; `in_target` that the measured figure is in its window.

    `predicted`, `band`, `miss` and `sure` are None where no prediction was kept.
    """

    figure: str
    predicted_rpm: float | None
    band_rpm: float | None
    measured_rpm: float
    miss_rpm: float | None
    sure: bool | None
    in_target: bool


def predicted_figures(prediction: PredictionDocument | PredictionFigures) -> PredictedFigures:
    """The figures of a prediction that a run is scored against."""
    band = prediction.band
    return PredictedFigures(
        MODEL_VERSION,
        prediction.engagement.bite_rpm,
        band.bite_rpm if band else 0.0,
        prediction.shift.mean_rpm,
        band.mean_rpm if band else 0.0,
    )


def compare(
    predicted: PredictedFigures | None,
    engagement_rpm: float | None,
    shift_rpm: float | None,
    engagement_window: tuple[float, float],
    shift_window: tuple[float, float],
) -> list[Comparison]:
    """Set what a run measured beside what was predicted for it; figures not measured are left out.

    Parameters: `predicted` that day, None where none was kept; measured engagement (bite) and shift mean [rpm];
    windows as (target, tolerance) [rpm].
    """
    of_engagement = of_shift = None
    if predicted is not None:
        of_engagement = (predicted.engagement_rpm, predicted.engagement_sd_rpm)
        of_shift = (predicted.shift_rpm, predicted.shift_sd_rpm)
    rows = (("Engagement", of_engagement, engagement_rpm, engagement_window),
            ("Shift", of_shift, shift_rpm, shift_window))  # fmt: skip
    return [_compared(name, expected, got, window) for name, expected, got, window in rows if got is not None]


def _compared(
    name: str, expected: tuple[float, float] | None, measured: float, window: tuple[float, float]
) -> Comparison:
    inside = abs(measured - window[0]) <= window[1]
    if expected is None:
        return Comparison(name, None, None, measured, None, None, inside)
    predicted, sigma = expected
    miss = measured - predicted
    return Comparison(name, predicted, sigma, measured, round(miss, 1), abs(miss) <= 2 * sigma, inside)


COVERS = 1.6449
"""Deviations either side that hold 90 % of a normal distribution."""


@dataclass(frozen=True)
class Tally:
    """How a figure was predicted over many runs.

    `runs` scored; `inside`, how many lay in the 90 % band, the run's own noise added; `mean_miss_rpm`, measured less
    predicted, and `rms_miss_rpm` its root mean square.
    """

    figure: str
    runs: int
    inside: int
    mean_miss_rpm: float
    rms_miss_rpm: float


def score_card(rows: Sequence[tuple[PredictedFigures, float | None, float | None]]) -> list[Tally]:
    """The predictions of a workshop against what was then measured; a figure nobody measured is left out.

    Parameters: `rows` of predicted figures, measured engagement and measured shift [rpm].

    >>> told = PredictedFigures(2, 4000.0, 60.0, 7900.0, 80.0)
    >>> [(each.figure, each.inside, each.mean_miss_rpm) for each in score_card([(told, 4030.0, None)])]
    [('Engagement', 1, 30.0)]

    Reference: the band is the deviation of the true figure, so a measured one is scored with the run's own variance
    added; normal distribution.
    """
    found = []
    for name, noise, columns in (
        ("Engagement", NOISE["engagement_rpm"], [(p.engagement_rpm, p.engagement_sd_rpm, e) for p, e, _ in rows]),
        ("Shift", NOISE["shift_mean_rpm"], [(p.shift_rpm, p.shift_sd_rpm, s) for p, _, s in rows]),
    ):
        misses = [(measured - told, sqrt(sd**2 + noise**2)) for told, sd, measured in columns if measured is not None]
        if misses:
            found.append(
                Tally(
                    name,
                    len(misses),
                    sum(abs(miss) <= COVERS * sd for miss, sd in misses),
                    round(sum(miss for miss, _ in misses) / len(misses), 1),
                    round(sqrt(sum(miss**2 for miss, _ in misses) / len(misses)), 1),
                )
            )
    return found
