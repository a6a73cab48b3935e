"""Predicted against measured: the miss of each figure, and whether the prediction's band covers it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import sqrt

from jaxel.core.formats.prediction import MODEL_VERSION, PredictionDocument, PredictionFigures
from jaxel.core.formats.run.runs import RunFigure

from .road_test import Figures


@dataclass(frozen=True)
class PredictedFigures:
    """What was predicted for a run on its day [rpm]: engagement (bite) and shift mean, each with its standard
    deviation; `model_version` says by which model."""

    model_version: int
    engagement_rpm: float
    engagement_sd_rpm: float
    shift_rpm: float
    shift_sd_rpm: float

    def of(self) -> Figures:
        """The same by figure, each with its standard deviation."""
        return {
            "engagement_rpm": (self.engagement_rpm, self.engagement_sd_rpm),
            "shift_mean_rpm": (self.shift_rpm, self.shift_sd_rpm),
        }


@dataclass(frozen=True)
class Comparison:
    """One figure of a run [rpm]: `miss` is measured less predicted; `sure` says it lies within two standard
    deviations of prediction and measurement together; `in_target` that the measured figure is in its window, None where
    nobody stated one.

    `predicted`, `band`, `miss` and `sure` are None where no prediction was kept; `measured_sd_rpm` is the run's own.
    """

    figure: str
    predicted_rpm: float | None
    band_rpm: float | None
    measured_rpm: float
    miss_rpm: float | None
    sure: bool | None
    in_target: bool | None
    measured_sd_rpm: float


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


SCORED: Mapping[RunFigure, str] = {"engagement_rpm": "Engagement", "shift_mean_rpm": "Shift"}
"""The figures a prediction is scored by, with the words they go by."""


def compare(
    predicted: PredictedFigures | None,
    measured: Figures,
    windows: tuple[tuple[float, float], tuple[float, float]] | None,
) -> list[Comparison]:
    """Set what a run measured beside what was predicted for it; figures not measured are left out.

    Parameters: `predicted` that day, None where none was kept; `measured`, each figure with its standard deviation
    [rpm]; `windows` of engagement and shift as (target, tolerance) [rpm], None where nobody stated them.
    """
    window = dict(zip(SCORED, windows, strict=True)) if windows else {}
    told = predicted.of() if predicted else {}
    return [
        _compared(name, told.get(figure), measured[figure], window.get(figure))
        for figure, name in SCORED.items()
        if figure in measured
    ]


def _compared(
    name: str, expected: tuple[float, float] | None, measured: tuple[float, float], window: tuple[float, float] | None
) -> Comparison:
    value, noise = measured
    inside = abs(value - window[0]) <= window[1] if window else None
    if expected is None:
        return Comparison(name, None, None, value, None, None, inside, noise)
    predicted, sigma = expected
    miss = value - predicted
    within = abs(miss) <= 2 * sqrt(sigma**2 + noise**2)
    return Comparison(name, predicted, sigma, value, round(miss, 1), within, inside, noise)


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


def score_card(rows: Sequence[tuple[PredictedFigures, Figures]]) -> list[Tally]:
    """The predictions of a workshop against what was then measured; a figure nobody measured is left out.

    Parameters: `rows` of what was predicted and what a run measured, each figure with its standard deviation [rpm].

    >>> told = PredictedFigures(2, 4000.0, 60.0, 7900.0, 80.0)
    >>> card = score_card([(told, {"engagement_rpm": (4030.0, 75.0)})])
    >>> [(each.figure, each.inside, each.mean_miss_rpm) for each in card]
    [('Engagement', 1, 30.0)]

    Reference: the band is the deviation of the true figure, so a measured one is scored with the run's own variance
    added; normal distribution.
    """
    found = []
    for figure, name in SCORED.items():
        misses = []
        for predicted, measured in rows:
            if figure in measured:
                told, sd = predicted.of()[figure]
                misses.append((measured[figure][0] - told, sqrt(sd**2 + measured[figure][1] ** 2)))
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
