"""How long parts last, those still running counted: the survival curve of each make beside its maker's word."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby
from math import isnan
from typing import Any, Literal
from warnings import catch_warnings, simplefilter

from jaxel.core.errors import InvalidValue

Unit = Literal["km", "h"]

HALF = 0.5


@dataclass(frozen=True)
class PartLife:
    """One part's use so far, in km or h; `ended`, whether it was taken out, else it still runs."""

    use: float
    ended: bool


@dataclass(frozen=True)
class Fitting:
    """A part put in or taken out: where, of which `make`, at which odometer reading, None where nobody read it."""

    place: tuple[int, str, str]
    make: str
    way: Literal["in", "out"]
    km: float | None
    h: float | None


@dataclass(frozen=True)
class SurvivalStep:
    """After `use` a `share` of the parts still runs, between `low` and `high` with 95 % confidence; `at_risk` parts had
    come that far."""

    use: float
    share: float
    low: float
    high: float
    at_risk: int


@dataclass(frozen=True)
class Survival:
    """How long parts lasted: the curve's steps; `lives` seen, of which so many are still `running`; the `median` use,
    None while more than half still runs."""

    steps: tuple[SurvivalStep, ...]
    lives: int
    running: int
    median: float | None

    def share_at(self, use: float) -> float | None:
        """The share still running after so much use; None beyond what any part has come to."""
        if not self.steps or use > self.steps[-1].use:
            return None
        return next((step.share for step in reversed(self.steps) if step.use <= use), 1.0)


def survival(lives: Sequence[PartLife]) -> Survival:
    """The share of parts still running after each use.

        S(t) = Π_{t_i ≤ t} (1 − d_i/n_i)

    d_i ended at t_i of n_i that had come so far; a part still running counts as at risk up to its use so far.

    Raises InvalidValue for a life below 0, or none at all.

    >>> found = survival([PartLife(100, True), PartLife(150, False), PartLife(200, True)])
    >>> [(step.use, round(step.share, 3)) for step in found.steps]
    [(100.0, 0.667), (150.0, 0.667), (200.0, 0.0)]

    Reference: E. L. Kaplan, P. Meier, "Nonparametric estimation from incomplete observations", J. Am. Stat. Assoc. 53
    (1958) 457; scipy.stats.ecdf, its interval by Greenwood's formula on the log-log scale.
    """
    from scipy.stats import CensoredData, ecdf  # slow to import: a server answers before it needs them

    if not lives:
        raise InvalidValue("lives", "are none: no part was put in and followed")
    if min(each.use for each in lives) < 0:
        raise InvalidValue("use", "must not be below 0")
    ended = [each.use for each in lives if each.ended]
    running = [each.use for each in lives if not each.ended]
    curve = ecdf(CensoredData(uncensored=ended, right=running)).sf
    shares = [float(each) for each in curve.probabilities]
    lows, highs = shares, shares
    if ended:
        with catch_warnings():
            simplefilter("ignore", RuntimeWarning)  # where all or none have ended the interval has no width to give
            interval: Any = curve.confidence_interval(method="log-log")
        lows, highs = (_known(side.probabilities, shares) for side in (interval.low, interval.high))
    steps = [
        SurvivalStep(float(use), share, low, high, sum(1 for each in lives if each.use >= float(use)))
        for use, share, low, high in zip(curve.quantiles, shares, lows, highs, strict=True)
    ]
    median = next((step.use for step in steps if step.share <= HALF), None)
    return Survival(tuple(steps), len(lives), len(running), median)


def _known(edges: Any, shares: list[float]) -> list[float]:
    """An interval's edges, those that have no value on the curve itself."""
    return [share if isnan(float(edge)) else float(edge) for edge, share in zip(edges, shares, strict=True)]


def lives_of(
    fittings: Sequence[Fitting], now: Mapping[int, tuple[float | None, float | None]], unit: Unit
) -> dict[str, list[PartLife]]:
    """The lives of parts by make, from what was put in and taken out.

    Parameters: `fittings`, oldest first within a place (machine, side, kind); `now`, each machine's odometer in km and
    h. A part that came on the machine, or whose odometer nobody read, is left out: nobody knows when its life began.
    """
    found: dict[str, list[PartLife]] = {}

    def place_of(each: Fitting) -> tuple[int, str, str]:
        return each.place

    for place, group in groupby(sorted(fittings, key=place_of), key=place_of):
        begun: tuple[str, float] | None = None
        for each in group:
            at = each.km if unit == "km" else each.h
            if each.way == "out" and begun and at is not None and at >= begun[1]:
                found.setdefault(begun[0], []).append(PartLife(at - begun[1], True))
            begun = (each.make, at) if each.way == "in" and at is not None else None
        reached = now.get(place[0], (None, None))[0 if unit == "km" else 1]
        if begun and reached is not None and reached > begun[1]:
            found.setdefault(begun[0], []).append(PartLife(reached - begun[1], False))
    return found
