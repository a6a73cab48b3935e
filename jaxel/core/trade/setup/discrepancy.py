"""How the model tells a change: the factor by which it is known to tell some too strong or too weak, and how far it
misses beyond that, by what was changed.

Both come from a study; as a workshop's own predictions are scored they are estimated anew, shrunk towards it.
"""

import tomllib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import Field

from jaxel.core.formats.reading import Part, validate

ROUNDS = 40
"""Of expectation and maximisation; each halves what is left, or better."""

Figure = Literal["engagement", "shift", "full_shift"]
"""What a change is told of: where it bites, the mean and slope of the shift, its end."""

FIGURES: tuple[Figure, ...] = ("engagement", "shift", "full_shift")

PLAIN = "as predicted; from a simulation study"
"""The words of a kind of change that nothing is to be said of."""

Positive = Annotated[float, Field(gt=0)]


class _Factor(Part):
    shift: Positive
    full_shift: Positive
    engagement: Positive


class _Rel(Part):
    shift: Annotated[float, Field(ge=0)]
    engagement: Annotated[float, Field(ge=0)]


class _Change(Part):
    name: str
    parts: list[str]
    factor: _Factor
    factor_sd: Positive
    rel: _Rel


class _File(Part):
    floor_rpm: Positive
    prior_scores: Positive
    least_scores: Annotated[int, Field(ge=1)]
    least_change_rpm: Positive
    lowest_factor: Positive
    highest_factor: Positive
    change: dict[str, _Change]


@cache
def _file() -> _File:
    text = resources.files("jaxel.core.data").joinpath("discrepancy.toml").read_text(encoding="utf-8")
    return validate(_File, tomllib.loads(text))


@cache
def floor_rpm() -> float:
    """What every figure's discrepancy comes to at least [rpm], one and the same for all runs of a machine."""
    return _file().floor_rpm


@cache
def least_scores() -> int:
    """Scores of a kind of change from which its factor is a workshop's own."""
    return _file().least_scores


@cache
def _kinds() -> dict[str, str]:
    return {part: name for name, each in _file().change.items() for part in each.parts}


def kind_of(part: str) -> str:
    """The kind of change a part's swap is.

    >>> kind_of("load:heel"), kind_of("holes")
    ('arms', 'secondary_spring')
    """
    return _kinds()["load" if part.startswith("load:") else part]


def kind_name(kind: str) -> str:
    """What a hand calls a kind of change.

    >>> kind_name("air")
    'air and power'
    """
    return _file().change[kind].name


@dataclass(frozen=True)
class Telling:
    """How a change of one kind is told for one figure.

    `factor` b on the predicted change and its standard deviation `factor_sd`; `rel`, the miss as a share of the change
    before the factor, one standard deviation [-].
    """

    factor: float
    factor_sd: float
    rel: float


@cache
def study() -> Mapping[tuple[str, Figure], Telling]:
    """How every kind of change is told before a workshop has scored any."""
    file = _file()
    return {
        (kind, figure): Telling(
            getattr(each.factor, figure),
            each.factor_sd,
            each.rel.engagement if figure == "engagement" else each.rel.shift,
        )
        for kind, each in file.change.items()
        for figure in FIGURES
    }


@dataclass(frozen=True)
class Discrepancy:
    """How changes are told, by kind and figure; `scored`, how many scores of each kind that stands on."""

    tellings: Mapping[tuple[str, Figure], Telling]
    scored: Mapping[str, int]

    @classmethod
    def of_the_study(cls) -> "Discrepancy":
        return cls(study(), {})

    def of(self, parts: Iterable[str], figure: Figure) -> Telling:
        """How the change of a part is told; of parts swapped together by the mean factor and the largest miss."""
        found = [self.tellings[kind, figure] for kind in dict.fromkeys(kind_of(part) for part in parts)]
        return Telling(
            sum(each.factor for each in found) / len(found),
            max(each.factor_sd for each in found),
            max(each.rel for each in found),
        )

    def own(self, kind: str) -> bool:
        """Whether a kind's factor is the workshop's own."""
        return self.scored.get(kind, 0) >= least_scores()

    def words(self, kind: str) -> str:
        """How a kind of change is told, with its origin.

        >>> Discrepancy.of_the_study().words("helix"), Discrepancy.of_the_study().words("arms")
        ('shift at 75 %; from a simulation study', 'as predicted; from a simulation study')
        """
        told = [
            f"{figure} at {round(factor * 100)} %"
            for figure, factor in (
                ("shift", self.tellings[kind, "shift"].factor),
                ("engagement", self.tellings[kind, "engagement"].factor),
            )
            if round(factor * 100) != 100
        ]  # fmt: skip
        count = self.scored.get(kind, 0)
        scores = f"{count} score{'s' if count > 1 else ''}"
        moved = f"from a simulation study{f', moved by {scores}' if count else ''}"
        return f"{', '.join(told) or 'as predicted'}; {f'of your own, {scores}' if self.own(kind) else moved}"


@dataclass(frozen=True)
class Score:
    """A prediction of a change that was then measured.

    `figure`; `changes` [rpm] as predicted before the run, signed and without factors, by kind; `told` [rpm], what was
    predicted of it with the study's factors; `measured` [rpm]; `variance` [rpm²] of the miss from noise and parameters;
    `swap`, by which the same two parts on one machine are known, whichever way they were swapped.
    """

    figure: Figure
    changes: Mapping[str, float]
    told: float
    measured: float
    variance: float
    swap: str = ""


def estimated(scores: Sequence[Score]) -> Discrepancy:
    """Factors and shares anew from scored predictions, shrunk towards the study's.

    Each figure by itself, of every kind the factor first and once: with t_s what was measured less what the study's
    factors tell of all other kinds, Δ_s the kind's own change without factor, v_s its noise and parameter variance,

        w_s = 1/(v_s + Σ_k rel_k²·Δ_k²)
        b = (b₀/s₀² + Σ w_s·Δ_s·t_s)/(1/s₀² + Σ w_s·Δ_s²),  s_b² = 1/(1/s₀² + Σ w_s·Δ_s²)

    held within its bounds. Then the shares, from what is missed after b: each miss is a sum of independent errors,
    rel_k·Δ_k of every kind changed and the rest, whose variances are found by expectation and maximisation, the study
    counting as so many scores of each kind:

        rel_k² = (ν·rel₀² + Σ E[ε_k²|miss]/Δ_k²)/(ν + n_k),   E[ε_k²|miss] = v_k − v_k²/V + (v_k/V)²·miss²

    All figures share one multiple of the study's shares. Kinds of which none was scored keep theirs.

    >>> often = [Score("shift", {"helix": 100.0}, 75.0, 50.0, 100.0, str(n)) for n in range(200)]
    >>> round(estimated(often).of(["helix"], "shift").factor, 2)
    0.5

    Reference: Bayes' rule for a normal mean with known variances, the study's factor as its prior; A. P. Dempster,
    N. M. Laird, D. B. Rubin, "Maximum likelihood from incomplete data via the EM algorithm", J. R. Statist. Soc. B 39
    (1977); shrinkage as a scaled inverse-χ² prior.
    """
    once = _once(scores)
    if not any(_changed(each) for each in once):
        return Discrepancy.of_the_study()
    tellings = dict(study())
    for kind, figure in study():
        tellings[kind, figure] = _with_factor(kind, figure, [each for each in once if each.figure == figure])
    shares = _shares(once, tellings)
    counted = {kind: max(_count(once, kind, figure) for figure in FIGURES) for kind in _file().change}
    return Discrepancy(
        {key: replace(each, rel=each.rel * shares[key[0]]) for key, each in tellings.items()},
        {kind: count for kind, count in counted.items() if count},
    )


def _once(scores: Sequence[Score]) -> list[Score]:
    """The scores, of those of the same two parts on one machine the most telling one."""
    groups: dict[tuple[str, str], list[Score]] = {}
    for place, each in enumerate(scores):
        groups.setdefault((each.figure, each.swap or f"{place}"), []).append(each)
    return [max(each, key=_telling) for each in groups.values()]


def _telling(score: Score) -> float:
    """The size of a score's change against its doubt."""
    return sum(change**2 for change in score.changes.values()) / max(score.variance, 1.0)


def _changed(score: Score) -> bool:
    return any(change for change in score.changes.values())


def _count(scores: Sequence[Score], kind: str, figure: Figure) -> int:
    """Scores of a kind's change, of one large enough to be told from a reading's error."""
    least = _file().least_change_rpm
    return sum(1 for each in scores if each.figure == figure and abs(each.changes.get(kind, 0.0)) >= least)


def _with_factor(kind: str, figure: Figure, scores: Sequence[Score]) -> Telling:
    """How a kind is told for a figure once its factor is estimated anew."""
    file, before = _file(), study()[kind, figure]
    precision = 1 / before.factor_sd**2
    weighted = before.factor * precision
    for each in scores:
        change = each.changes.get(kind, 0.0)
        missed = sum((study()[other, figure].rel * of) ** 2 for other, of in each.changes.items())
        weight = 1 / (each.variance + missed)
        weighted += weight * change * (each.measured - each.told + before.factor * change)
        precision += weight * change**2
    factor = min(max(weighted / precision, file.lowest_factor), file.highest_factor)
    return replace(before, factor=factor, factor_sd=precision**-0.5)


def _shares(scores: Sequence[Score], tellings: Mapping[tuple[str, Figure], Telling]) -> dict[str, float]:
    """What the study's shares are multiplied by, by kind."""
    told = []
    for each in scores:
        unit = {kind: (study()[kind, each.figure].rel * change) ** 2 for kind, change in each.changes.items()}
        moved = sum(
            (tellings[kind, each.figure].factor - study()[kind, each.figure].factor) * change
            for kind, change in each.changes.items()
        )
        told.append((each.measured - each.told - moved, each.variance, {k: v for k, v in unit.items() if v > 0}))
    weight = _file().prior_scores
    shares = dict.fromkeys(_file().change, 1.0)  # on rel², of each kind
    for _ in range(ROUNDS):
        sums, counts = dict.fromkeys(shares, 0.0), dict.fromkeys(shares, 0)
        for miss, variance, unit in told:
            total = variance + sum(shares[kind] * of for kind, of in unit.items())
            for kind, of in unit.items():
                v = shares[kind] * of
                sums[kind] += (v - v * v / total + (v / total * miss) ** 2) / of
                counts[kind] += 1
        shares = {kind: (weight + sums[kind]) / (weight + counts[kind]) for kind in shares}
    return {kind: share**0.5 for kind, share in shares.items()}
