"""What to look at in the time there is: of the readings not yet taken those that narrow most together."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt
from typing import Protocol

MINUTES = 10.0
"""How long a hand has where nobody says."""

LEAST_RPM = 1.0
"""A reading that takes off less than this is not worth walking to the bench for."""


class Offer(Protocol):
    """A reading as it is offered: the paths it settles, how long it takes, what it would take off each deviation."""

    @property
    def key(self) -> str: ...
    @property
    def paths(self) -> tuple[str, ...]: ...
    @property
    def minutes(self) -> float: ...
    @property
    def engagement_rpm(self) -> float: ...
    @property
    def shift_rpm(self) -> float: ...


@dataclass(frozen=True)
class Combination:
    """Readings by key, the `minutes` they take, and the deviations of engagement and shift they leave [rpm]."""

    readings: tuple[str, ...]
    minutes: float
    engagement_sd_rpm: float
    shift_sd_rpm: float


def combination(offers: Sequence[Offer], sd_rpm: tuple[float, float], minutes: float) -> Combination:
    """The readings that leave the least of engagement's and shift's deviations together, in so many minutes.

    Independent readings take off variance, and variances add: what is left of a deviation σ after readings that would
    each alone bring it to σᵢ is √(σ² − Σ(σ² − σᵢ²)). Of two readings that settle the same number one is enough.
    Every choice within the time is looked at, those dropped that another beats in minutes and in both deviations.

    Parameters: `sd_rpm`, the deviations of engagement and shift now; `minutes` there are.

    Reference: JCGM 100:2008, 5.1.2; the choice, a knapsack by dynamic programming (Bellman 1957).
    """
    worth = [each for each in offers if each.engagement_rpm + each.shift_rpm >= LEAST_RPM and each.minutes <= minutes]
    choices = [_Choice((), 0.0, (sd_rpm[0] ** 2, sd_rpm[1] ** 2))]
    for rivals in _of_one_number(worth):
        more = [
            _Choice((*each.readings, offer.key), each.minutes + offer.minutes, _left(each, offer, sd_rpm))
            for offer in rivals
            for each in choices
            if each.minutes + offer.minutes <= minutes
        ]
        choices = _unbeaten([*choices, *more])
    best = min(choices, key=lambda each: (each.sum_rpm, each.minutes))
    return Combination(best.readings, best.minutes, sqrt(best.left[0]), sqrt(best.left[1]))


@dataclass(frozen=True)
class _Choice:
    """Readings, the minutes they take, and the variances of engagement and shift they leave [rpm²]."""

    readings: tuple[str, ...]
    minutes: float
    left: tuple[float, float]

    @property
    def sum_rpm(self) -> float:
        return sqrt(self.left[0]) + sqrt(self.left[1])


def _left(choice: _Choice, offer: Offer, sd_rpm: tuple[float, float]) -> tuple[float, float]:
    took = (offer.engagement_rpm, offer.shift_rpm)
    off = [sd**2 - (sd - rpm) ** 2 for sd, rpm in zip(sd_rpm, took, strict=True)]
    return max(0.0, choice.left[0] - off[0]), max(0.0, choice.left[1] - off[1])


def _of_one_number(offers: Sequence[Offer]) -> list[list[Offer]]:
    """The readings that settle a number between them, together."""
    groups: list[tuple[set[str], list[Offer]]] = []
    for offer in offers:
        paths, together = set(offer.paths), [offer]
        apart = []
        for known, rivals in groups:
            if known & paths:
                paths |= known
                together = [*rivals, *together]
            else:
                apart.append((known, rivals))
        groups = [*apart, (paths, together)]
    return [rivals for _, rivals in groups]


def _unbeaten(choices: list[_Choice]) -> list[_Choice]:
    """The choices that no other beats in minutes and in both deviations."""
    kept: list[_Choice] = []
    for each in sorted(choices, key=lambda one: (one.minutes, one.left)):
        if not any(one.left[0] <= each.left[0] and one.left[1] <= each.left[1] for one in kept):
            kept.append(each)
    return kept
