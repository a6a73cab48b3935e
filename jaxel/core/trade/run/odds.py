"""An answer's odds and what came of them: kept with the set-up recorded as it, and set against what was measured."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Self

from pydantic import Field, model_validator

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import MODEL_VERSION
from jaxel.core.formats.reading import Part
from jaxel.core.formats.run.runs import RunPart

Chance = Annotated[float, Field(ge=0, le=1)]
Window = tuple[float, float]


class AnswerTaken(Part):
    """An answer of the planner as it was taken up: its `probability` of landing in both windows (target, tolerance
    [rpm]), what it was predicted to do with the deviations,
    and what it was `known_from`."""

    probability: Chance
    engagement_window: Window
    shift_window: Window
    engagement_rpm: float
    engagement_sd_rpm: Annotated[float, Field(ge=0)]
    shift_rpm: float
    shift_sd_rpm: Annotated[float, Field(ge=0)]
    known_from: Annotated[str, Field(max_length=200)]
    model_version: int = MODEL_VERSION

    @model_validator(mode="after")
    def _windows(self) -> Self:
        for name in ("engagement_window", "shift_window"):
            if getattr(self, name)[1] <= 0:
                raise InvalidValue(name, "must have a tolerance above 0 rpm")
        return self

    def landed(self, engagement_rpm: float, shift_rpm: float) -> bool:
        """Whether both measured figures lie in the windows it was aimed at."""
        pairs = ((engagement_rpm, self.engagement_window), (shift_rpm, self.shift_window))
        return all(abs(value - target) <= tolerance for value, (target, tolerance) in pairs)


GROUPS: tuple[tuple[float, float], ...] = ((0.0, 0.5), (0.5, 0.8), (0.8, 1.0))
"""Odds that are told together: up to one in two, up to four in five, above."""

LEAST_SHOWN = 5
"""Outcomes of a group from which its share is shown."""


@dataclass(frozen=True)
class OddsGroup:
    """Answers taken up at odds from `low` to `high`: how many were ridden, how many landed in both windows, and the
    mean odds they were taken at. `landed` and `odds` are None below LEAST_SHOWN; `landed_low` and `landed_high`, the
    95 % interval of the share that lands."""

    low: float
    high: float
    count: int
    landed: int | None
    odds: float | None
    landed_low: float | None
    landed_high: float | None


def odds_groups(outcomes: Sequence[tuple[float, bool]]) -> list[OddsGroup]:
    """Odds against outcomes in the three groups, every group with its count.

    Parameters: `outcomes` of (odds, landed), one for each answer that was ridden.

    >>> [(each.count, each.landed) for each in odds_groups([(0.9, True)] * 4 + [(0.6, True)] * 5)]
    [(0, None), (5, 5), (4, None)]

    Reference: interval of a share by C. J. Clopper and E. S. Pearson, Biometrika 26 (1934) 404.
    """
    from scipy.special import betaincinv  # slow to import: a server answers before it needs it

    found = []
    for low, high in GROUPS:
        here = [each for each in outcomes if low < each[0] <= high or (low == 0 and each[0] == 0)]
        count = len(here)
        if count < LEAST_SHOWN:
            found.append(OddsGroup(low, high, count, None, None, None, None))
            continue
        landed = sum(one for _, one in here)
        least = 0.0 if landed == 0 else float(betaincinv(landed, count - landed + 1, 0.025))
        most = 1.0 if landed == count else float(betaincinv(landed + 1, count - landed, 0.975))
        odds = sum(odds for odds, _ in here) / count
        found.append(OddsGroup(low, high, count, landed, round(odds, 3), round(least, 3), round(most, 3)))
    return found


def known_from(runs: Sequence[RunPart]) -> str:
    """What predictions stand on, in words.

    >>> known_from([])
    'no run of this machine'
    >>> known_from([RunPart(engagement_rpm=4000.0, note="2026-11-28, road test")])
    '1 run, 2026-11-28, road test'
    """
    if not runs:
        return "no run of this machine"
    if len(runs) == 1:
        return f"1 run, {runs[0].note}" if runs[0].note else "1 run"
    return f"{len(runs)} runs, the last {runs[-1].note}" if runs[-1].note else f"{len(runs)} runs"
