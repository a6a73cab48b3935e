"""Gain or noise: what two sets of runs of one machine differ by, and whether chance could do it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import inf, sqrt
from typing import Literal, get_args

TimeFigure = Literal["to_30_mph_s", "to_60_mph_s", "to_200_m_s", "to_400_m_s"]

SetFigure = Literal[
    "engagement_rpm", "shift_mean_rpm", "spread_rpm", "full_shift_rpm", "low_ratio", "high_ratio", "dip_rpm",
    "recovery_s", "to_30_mph_s", "to_60_mph_s", "to_200_m_s", "to_400_m_s", "top_kph", "wheel_power_kw",
]  # fmt: skip
"""What two sets are compared by."""

SET_FIGURES: tuple[SetFigure, ...] = get_args(SetFigure)

USUAL: Mapping[SetFigure, tuple[float, float]] = {
    "engagement_rpm": (40.0, 30.0),
    "shift_mean_rpm": (20.0, 15.0),
    "spread_rpm": (30.0, 15.0),
    "full_shift_rpm": (30.0, 15.0),
    "low_ratio": (0.05, 0.03),
    "high_ratio": (0.01, 0.005),
    "dip_rpm": (80.0, 40.0),
    "recovery_s": (0.12, 0.06),
    "to_30_mph_s": (0.12, 0.10),
    "to_60_mph_s": (0.20, 0.20),
    "to_200_m_s": (0.15, 0.15),
    "to_400_m_s": (0.25, 0.25),
    "top_kph": (1.5, 1.5),
    "wheel_power_kw": (2.0, 1.5),
}
"""Standard deviation of a figure from pull to pull on one day, and of a day from the next, until a machine's own
repeats say; from memory."""

ROAD: frozenset[SetFigure] = frozenset(
    ("to_30_mph_s", "to_60_mph_s", "to_200_m_s", "to_400_m_s", "top_kph", "wheel_power_kw")
)
"""What strip, rider and load make as much as the clutch."""

LEVEL = 0.05
"""Chance at which a difference that is none would be called real, over all the figures shown together."""


@dataclass(frozen=True)
class Sample:
    """A figure of one pull, and the day it was made."""

    value: float
    day: str


@dataclass(frozen=True)
class Spread:
    """A standard deviation: `sd`, its degrees of freedom, infinite for the usual one, which is from memory."""

    sd: float
    freedom: float

    @property
    def own(self) -> bool:
        """Whether the machine's own runs say it."""
        return self.freedom < inf


@dataclass(frozen=True)
class Difference:
    """A figure of set B less set A.

    `a` and `b`, the means, b's in the air of A; of `count_a` and `count_b` pulls; `difference` and the `half` of its
    95 % interval; `within`, from pull to pull, and `between` days, None where all are of one day; `air`, what was taken
    off b for its air, and its deviation; `p`, the chance that no difference at all shows at least this much, and
    `adjusted` by Holm over the figures shown; `real`.
    """

    figure: SetFigure
    a: float
    b: float
    count_a: int
    count_b: int
    difference: float
    half: float
    within: Spread
    between: Spread | None
    air: float
    air_sd: float
    p: float
    adjusted: float = 1.0
    real: bool = False


def within_of(groups: Sequence[Sequence[Sample]], figure: SetFigure) -> Spread:
    """Deviation from pull to pull: pooled over what was repeated on one set-up on one day; the usual one where nothing
    was.

    s² = Σ(x − x̄)² / Σ(n − 1)

    Parameters: `groups`, each of pulls on one set-up.

    >>> within_of([[Sample(7900.0, "1"), Sample(7910.0, "1"), Sample(7920.0, "1")]], "shift_mean_rpm")
    Spread(sd=10.0, freedom=2)

    Reference: pooled variance, any text on statistics.
    """
    squares, freedom = 0.0, 0
    for cell in (cell for group in groups for cell in _days(group).values()):
        mean = sum(cell) / len(cell)
        squares += sum((value - mean) ** 2 for value in cell)
        freedom += len(cell) - 1
    return Spread(sqrt(squares / freedom), freedom) if freedom and squares else Spread(USUAL[figure][0], inf)


def between_of(groups: Sequence[Sequence[Sample]], within: Spread, figure: SetFigure) -> Spread:
    """Deviation of one day from the next on one set-up; the usual one where no set-up was ridden on two days.

    s_b² = (MS_between − s²)/n₀, n₀ = (N − Σn²/N)/(k − 1), at least nothing

    Parameters: `groups`, each of pulls on one set-up.

    Reference: one-way analysis of variance with unequal groups, e.g. G. W. Snedecor and W. G. Cochran, Statistical
    Methods; from memory.
    """
    squares, freedom, counts = 0.0, 0, 0.0
    for days in (_days(group) for group in groups):
        if len(days) < 2:
            continue
        total = sum(len(cell) for cell in days.values())
        grand = sum(sum(cell) for cell in days.values()) / total
        squares += sum(len(cell) * (sum(cell) / len(cell) - grand) ** 2 for cell in days.values())
        freedom += len(days) - 1
        counts += total - sum(len(cell) ** 2 for cell in days.values()) / total
    if not freedom:
        return Spread(USUAL[figure][1], inf)
    return Spread(sqrt(max(0.0, (squares / freedom - within.sd**2) / (counts / freedom))), freedom)


def _days(samples: Sequence[Sample]) -> dict[str, list[float]]:
    found: dict[str, list[float]] = {}
    for each in samples:
        found.setdefault(each.day, []).append(each.value)
    return found


def difference(
    figure: SetFigure, a: Sequence[Sample], b: Sequence[Sample], others: Sequence[Sequence[Sample]] = (),
    air: tuple[float, float] = (0.0, 0.0),
) -> Difference:  # fmt: skip
    """What set B has more than set A, before Holm.

    d ± t·s·√(1/n_A + 1/n_B), t at 95 %; of days apart the variance of a day joins with 1/d_A + 1/d_B, the degrees of
    freedom by Welch and Satterthwaite; the deviation of what was taken off for the air joins as known.

    Parameters: samples of each set, at least one; `others`, what else of this machine was repeated on one set-up;
    `air`, what b has more for its air, with its deviation.

    >>> found = difference("shift_mean_rpm", [Sample(x, "1") for x in (7710.0, 7720.0, 7730.0)],
    ...                    [Sample(x, "1") for x in (7860.0, 7880.0, 7870.0)])
    >>> round(found.difference), round(found.half, 1)
    (150, 22.7)

    Reference: Student's t of two samples; F. E. Satterthwaite, Biometrics Bulletin 2 (1946) 110.
    """
    from scipy.special import stdtr, stdtrit  # slow to import: a server answers before it needs them

    groups = [a, b, *others]
    within = within_of(groups, figure)
    means = [sum(each.value for each in some) / len(some) for some in (a, b)]
    parts = [(within.sd**2 * (1 / len(a) + 1 / len(b)), within.freedom)]
    days = [set(_days(some)) for some in (a, b)]
    between = None
    if days[0] != days[1] or len(days[0]) > 1:
        between = between_of(groups, within, figure)
        parts.append((between.sd**2 * _apart(_days(a), _days(b)), between.freedom))
    parts.append((air[1] ** 2, inf))
    variance = sum(part for part, _ in parts)
    freedom = variance**2 / sum(part**2 / free for part, free in parts) if any(
        free < inf and part for part, free in parts
    ) else 1e9  # fmt: skip
    error = sqrt(variance)
    off = means[1] - air[0] - means[0]
    p = float(2 * stdtr(freedom, -abs(off) / error)) if error else float(off == 0)
    half = float(stdtrit(freedom, 0.975)) * error
    return Difference(figure, means[0], means[1] - air[0], len(a), len(b), off, half, within, between, *air, p)


def _apart(a: Mapping[str, Sequence[float]], b: Mapping[str, Sequence[float]]) -> float:
    """By how much of a day's variance two means differ: a day that both have cancels as far as both have it.

    >>> _apart({"1": [0.0, 0.0]}, {"2": [0.0]}), _apart({"1": [0.0]}, {"1": [0.0, 0.0]})
    (2.0, 0.0)
    """
    share_a, share_b = (
        {day: len(cell) / sum(len(each) for each in some.values()) for day, cell in some.items()} for some in (a, b)
    )
    return sum((share_a.get(day, 0.0) - share_b.get(day, 0.0)) ** 2 for day in {*share_a, *share_b})


def holm(chances: Sequence[float]) -> list[float]:
    """Chances adjusted for being looked at together, in their order: p̃ = max over j ≤ i of (m − j + 1)·p₍ⱼ₎, at most 1.

    >>> holm([0.01, 0.04, 0.03, 0.005])
    [0.03, 0.06, 0.06, 0.02]

    Reference: S. Holm, "A simple sequentially rejective multiple test procedure", Scand. J. Statist. 6 (1979) 65.
    """
    found, highest = [0.0] * len(chances), 0.0
    for rank, place in enumerate(sorted(range(len(chances)), key=lambda each: chances[each])):
        highest = max(highest, min(1.0, (len(chances) - rank) * chances[place]))
        found[place] = highest
    return found


def judged(differences: Sequence[Difference]) -> list[Difference]:
    """Differences that are shown together, each judged among them by Holm: real, or not shown to differ."""
    adjusted = holm([each.p for each in differences])
    return [
        replace(each, adjusted=chance, real=chance <= LEVEL)
        for each, chance in zip(differences, adjusted, strict=True)
    ]  # fmt: skip
