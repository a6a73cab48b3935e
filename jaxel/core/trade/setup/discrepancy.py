"""How wrong the model is in ways its parameters do not know: a share of every change, by what was changed.

The shares come from a study; as a workshop's own predictions are scored they are estimated anew, shrunk towards it.
"""

import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import Field

from jaxel.core.formats.reading import Part, validate

ROUNDS = 40
"""Of expectation and maximisation; each halves what is left, or better."""


class _Rel(Part):
    parts: list[str]
    engagement: Annotated[float, Field(ge=0)]
    shift: Annotated[float, Field(ge=0)]


class _File(Part):
    floor_rpm: Annotated[float, Field(gt=0)]
    prior_scores: Annotated[float, Field(gt=0)]
    rel: dict[str, _Rel]


@cache
def _file() -> _File:
    text = resources.files("jaxel.core.data").joinpath("discrepancy.toml").read_text(encoding="utf-8")
    return validate(_File, tomllib.loads(text))


@cache
def floor_rpm() -> float:
    """What every figure's discrepancy comes to at least [rpm], one and the same for all runs of a machine."""
    return _file().floor_rpm


@cache
def _kinds() -> dict[str, str]:
    return {part: name for name, each in _file().rel.items() for part in each.parts}


def kind_of(part: str) -> str:
    """The kind of change a part's swap is.

    >>> kind_of("load:heel"), kind_of("holes")
    ('arms', 'secondary_spring')
    """
    return _kinds()["load" if part.startswith("load:") else part]


@dataclass(frozen=True)
class Discrepancy:
    """The share of a change by which a prediction of it is wrong, one standard deviation [-].

    `shift` and `engagement` by kind of change; `origin`, the study's or a workshop's own; `scored`, changes it is
    estimated from.
    """

    engagement: Mapping[str, float] = field(default_factory=lambda: {k: r.engagement for k, r in _file().rel.items()})
    shift: Mapping[str, float] = field(default_factory=lambda: {k: r.shift for k, r in _file().rel.items()})
    origin: Literal["study", "workshop"] = "study"
    scored: int = 0

    def rel(self, *parts: str, engagement: bool) -> float:
        """The share for a part, or for parts swapped together the largest of theirs; 0 for none."""
        of = self.engagement if engagement else self.shift
        return max((of[kind_of(part)] for part in parts), default=0.0)


@dataclass(frozen=True)
class Score:
    """A prediction of a change that was then measured.

    `engagement`, whether it is the engagement's, else the shift's; `changes` [rpm] by kind of change, root of the sum
    of squares; `miss` [rpm], measured less predicted; `variance` [rpm²] of the miss from noise and parameters.
    """

    engagement: bool
    changes: Mapping[str, float]
    miss: float
    variance: float


def estimated(scores: Sequence[Score], study: Discrepancy | None = None) -> Discrepancy:
    """The shares anew from scored predictions, shrunk towards the study's.

    Each miss is a sum of independent errors, rel_k·Δ_k of every kind changed and the rest; their variances are found by
    expectation and maximisation, the study counting as so many scores of each kind:

        rel_k² = (ν·rel₀² + Σ E[ε_k²|miss]/Δ_k²)/(ν + n_k),   E[ε_k²|miss] = v_k − v_k²/V + (v_k/V)²·miss²

    Engagement and shift share one factor on the study's shares. Kinds of which none was scored keep theirs.

    >>> estimated([Score(False, {"helix": 100.0}, 35.0, 0.0)] * 50).shift["helix"]
    0.35

    Reference: A. P. Dempster, N. M. Laird, D. B. Rubin, "Maximum likelihood from incomplete data via the EM algorithm",
    J. R. Statist. Soc. B 39 (1977); shrinkage as a scaled inverse-χ² prior.
    """
    study = study or Discrepancy()
    weight = _file().prior_scores
    factors = dict.fromkeys(study.shift, 1.0)  # on rel², of each kind
    told = [(each, _variances(each, study)) for each in scores]
    for _ in range(ROUNDS):
        sums, counts = dict.fromkeys(factors, 0.0), dict.fromkeys(factors, 0)
        for score, unit in told:
            total = score.variance + sum(factors[kind] * of for kind, of in unit.items())
            for kind, of in unit.items():
                v = factors[kind] * of
                sums[kind] += (v - v * v / total + (v / total * score.miss) ** 2) / of
                counts[kind] += 1
        factors = {kind: (weight + sums[kind]) / (weight + counts[kind]) for kind in factors}
    if not any(unit for _, unit in told):
        return study
    return Discrepancy(
        {kind: rel * factors[kind] ** 0.5 for kind, rel in study.engagement.items()},
        {kind: rel * factors[kind] ** 0.5 for kind, rel in study.shift.items()},
        "workshop",
        sum(bool(unit) for _, unit in told),
    )


def _variances(score: Score, study: Discrepancy) -> dict[str, float]:
    """The variance of each kind's error by the study's share [rpm²]."""
    of = study.engagement if score.engagement else study.shift
    found = {kind: (of[kind] * change) ** 2 for kind, change in score.changes.items()}
    return {kind: variance for kind, variance in found.items() if variance > 0}
