"""A belt's width over its life: how it wears, whether that speeds up, and the distance left to its limit as a range.

A belt beds in, then wears at a rate that changes as it goes:

    W(u) = B·(1 − e^{−u/u_b}) + r·(e^{κu} − 1)/κ,   κ = h/U₀,  U₀ = (new − limit)/r

What is known of bedding B, rate r, bend h and the width it began with is taken from its readings and from what belts
do, on a fixed grid.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log, sqrt

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.words import q

CONFIDENCE = 0.90
"""Of the range and the band."""

RATE_SPREAD, BEND_SPREAD, BEDDING_MM = 0.5, 0.9, 0.10
"""Prior standard deviations: of the logarithm of a belt's rate about the typical one, of its bend, and of its bedding
[mm]; from memory."""

USUAL_BEND, BEND_COUNTS = 0.4, 4
"""Mean bend of belts, and how many belts of the workshop's own it counts for; from memory."""

USUAL_RATE = {"km": 0.4 / 1000, "h": 0.4 / 25}
"""Wear of a belt of which no like is known [mm a km, mm an hour]; from memory."""

BEDDED = {"km": 200.0, "h": 5.0}
"""Use over which a new belt beds in; from memory."""

CALIPER_MM = (0.05, 0.10)
"""Standard deviations of a visit's mean width, either as likely [mm]; from memory."""

LEAST_LOSS_MM, MOST_RISE_MM = 0.02, 0.3
"""A loss below the first tells no rate; a rise above the second is no reading of this belt."""

RATES, RATE_REACH = 61, 2.2
BENDS = np.linspace(-0.8, 2.2, 13)
BEDDINGS = np.array([0.0, 0.08, 0.16, 0.24])
LEVELS = np.array([[-sqrt(3), 1 / 6], [0.0, 2 / 3], [sqrt(3), 1 / 6]])
"""Gauss–Hermite of three points: places in standard deviations, and weights."""

LEAST_WEIGHT = 1e-4
"""Combinations less likely than the likeliest by more than this are left out: together they weigh nothing."""

MOST_LEFT = 1e6
"""Use left beyond which a forecast is not told."""

MOST_GROWTH = 50.0
"""κu beyond which a rate has grown past anything a belt does."""

MANY_TIMES = 4.0
"""Where the far end of the range lies beyond so many times its middle, only the near end is told."""

BAND_POINTS = 15
"""Distances at which a trend's band is told, for drawing."""


@dataclass(frozen=True)
class Typical:
    """What belts of a kind do before one's own readings: `rate` r₀ [mm a km or hour], mean of the bend h."""

    rate: float
    bend: float = USUAL_BEND


@dataclass(frozen=True)
class BandPoint:
    """The width at one distance, or after so many hours: its median and range [mm]."""

    use: float
    width_mm: float
    low_mm: float
    high_mm: float


@dataclass(frozen=True)
class Trend:
    """A belt's wear told from its widths.

    `wear_mm_per_1000` at the last reading, in 1,000 km or hours; `rate` r [mm a km or hour] and `bend` h, medians;
    `left` from the last reading to the limit, median, `left_from` and `left_to` its range: `left_to` None where its
    readings say no more than the near end. `at_limit`, the last reading is at or past it.
    """

    wear_mm_per_1000: float
    rate: float
    bend: float
    band: tuple[BandPoint, ...]
    left: float | None
    left_from: float
    left_to: float | None
    at_limit: bool
    confidence: float


def typical_of(others: Sequence[Trend], unit: str) -> Typical:
    """What belts of a kind do, by the trends of others of it; the usual where there is none.

    r₀ is the middle of their rates by logarithm, the mean of h is shrunk: (4·0.4 + Σh)/(4 + n). `unit`, `km` or `h`.

    >>> typical_of([], "km")
    Typical(rate=0.0004, bend=0.4)

    Reference: shrinkage towards a prior mean that counts for BEND_COUNTS belts.
    """
    if not others:
        return Typical(USUAL_RATE[unit])
    rate = exp(sum(log(each.rate) for each in others) / len(others))
    bend = (BEND_COUNTS * USUAL_BEND + sum(each.bend for each in others)) / (BEND_COUNTS + len(others))
    return Typical(rate, bend)


def trend_of(
    use: Sequence[float], width_mm: Sequence[float], new_mm: float, limit_mm: float, unit: str = "km",
    typical: Typical | None = None, *, from_new: bool = True,
) -> Trend | None:  # fmt: skip
    """The trend of a belt; None with fewer than two distances.

    Parameters: `use`, distance [km] or hours on the belt in order; `width_mm`, mean width then; width when new and wear
    limit [mm]; `unit`, `km` or `h`; `typical` of its kind; `from_new`, whether it is known from its first day: one that
    ran before has bedded in. Raises InvalidValue (field `widths`) for a width above an earlier one that no belt has.

    >>> found = trend_of([0, 1000, 2000], [36.5, 36.1, 35.7], 36.5, 35.0)
    >>> found.left_from < found.left < found.left_to, 0.3 < found.wear_mm_per_1000 < 0.6
    (True, True)

    Reference: Bayes' rule on a grid; the wear of a belt that beds in and speeds up is our own, from memory.
    """
    if len(set(use)) < 2:
        return None
    at, width = np.asarray(use, float), np.asarray(width_mm, float)
    rise = float(np.max(width - np.minimum.accumulate(width)))
    if rise > MOST_RISE_MM:
        raise InvalidValue("widths", f"rise by {q(rise, 'mm', 2)}: no belt grows, measure again")
    known = typical or Typical(USUAL_RATE[unit])
    if not from_new:
        at = at - at[0]
    belief = _Belief(at, width, new_mm - limit_mm, BEDDED[unit], known, bedding=from_new)
    near, middle, far = _quantiles(belief.left(limit_mm), belief.weights)
    reach = far if np.isfinite(far) else 2 * middle if np.isfinite(middle) else 2 * at[-1]
    end = at[-1] + max(min(1.1 * reach, 2 * max(at[-1] - at[0], near)), 0.25 * at[-1], 1.0)
    places = np.linspace(at[0], end, BAND_POINTS)
    band = tuple(
        BandPoint(place + (use[0] - at[0]), mid, low, high)
        for place in places.tolist()
        for low, mid, high in [_quantiles(belief.width(place), belief.weights)]
    )
    tells = np.isfinite(far) and far <= MANY_TIMES * middle
    return Trend(
        wear_mm_per_1000=1000 * _quantiles(belief.rate_at(at[-1]), belief.weights)[1],
        rate=_quantiles(belief.spread(belief.rate), belief.weights)[1],
        bend=_quantiles(belief.spread(belief.bend), belief.weights)[1],
        band=band,
        left=float(middle) if np.isfinite(middle) else None,
        left_from=min(near, MOST_LEFT),
        left_to=float(far) if tells else None,
        at_limit=float(width[-1]) <= limit_mm,
        confidence=CONFIDENCE,
    )


class _Belief:
    """What a belt's readings make of its wear: `weights` of every combination of rate, bend, bedding, caliper and
    starting width [flat]."""

    def __init__(self, at: Array, width: Array, room: float, bedded: float, known: Typical, *, bedding: bool):
        self.at, self.room, self.bedded = at, room, bedded
        loss = max(float(width[0] - width[-1]), LEAST_LOSS_MM)
        own = log(loss / float(at[-1] - at[0]))
        rates = np.exp(np.linspace(own - RATE_REACH, own + RATE_REACH, RATES))
        beddings = BEDDINGS if bedding else BEDDINGS[:1]
        rate, bend, bed = np.meshgrid(rates, BENDS, beddings, indexing="ij")
        self.rate, self.bend, self.bed = rate.ravel(), bend.ravel(), bed.ravel()
        prior = (
            -0.5 * ((np.log(self.rate) - log(known.rate)) / RATE_SPREAD) ** 2
            - 0.5 * ((self.bend - known.bend) / BEND_SPREAD) ** 2
            - 0.5 * (self.bed / BEDDING_MM) ** 2
        )
        begun = width[None] + self.worn(at)  # what each reading makes of the starting width
        mean = begun.mean(axis=1)
        misses = ((begun - mean[:, None]) ** 2).sum(axis=1)
        logs, starts = [], []
        for sd in CALIPER_MM:
            likely = prior - 0.5 * misses / sd**2 - (len(at) - 1) * log(sd)
            for place, weight in LEVELS.tolist():
                logs.append(likely + log(weight))
                starts.append(mean + place * sd / sqrt(len(at)))
        every, self.start = np.stack(logs, axis=1), np.stack(starts, axis=1)
        likely = (every > every.max() + log(LEAST_WEIGHT)).any(axis=1)
        self.rate, self.bend, self.bed, self.start = (
            each[likely] for each in (self.rate, self.bend, self.bed, self.start)
        )
        self.weights = np.exp(every[likely] - every.max()).ravel()
        self.weights /= self.weights.sum()

    @property
    def bends(self) -> Array:
        """κ of each combination, the share by which its rate grows with a unit of use."""
        return np.asarray(self.bend * self.rate / self.room)

    def worn(self, at: Array) -> Array:
        """Width lost by each combination at some uses [combinations, uses; mm]."""
        bends = self.bends[:, None]
        grown = np.expm1(np.minimum(bends * at, MOST_GROWTH))
        steady = np.where(np.abs(bends) < 1e-12, at, grown / np.where(bends == 0, 1.0, bends))
        return self.bed[:, None] * -np.expm1(-at / self.bedded) + self.rate[:, None] * steady

    def spread(self, values: Array) -> Array:
        """Values of the combinations, at every caliper and starting width."""
        return np.repeat(values, self.start.shape[1])

    def width(self, use: float) -> Array:
        return np.asarray((self.start - self.worn(np.array([use]))).ravel())

    def rate_at(self, use: float) -> Array:
        """Wear a unit of use, bedding taken as finished."""
        return self.spread(self.rate * np.exp(np.minimum(self.bends * use, MOST_GROWTH)))

    def left(self, limit_mm: float) -> Array:
        """Use from the last reading to the limit, solved in closed form, bedding taken as finished; never below 0."""
        bends = self.bends[:, None]
        lost = (self.start - self.bed[:, None] - limit_mm) / self.rate[:, None]
        grown = 1 + bends * lost
        with np.errstate(divide="ignore", invalid="ignore"):
            bent = np.log(np.maximum(grown, 0.0)) / np.where(bends == 0, 1.0, bends)
        meets = np.where(np.abs(bends) < 1e-12, lost, np.where(grown > 0, bent, np.inf))
        return np.maximum(0.0, meets - self.at[-1]).ravel()


def _quantiles(values: Array, weights: Array) -> tuple[float, float, float]:
    """The near end, the middle and the far end of a weighted sample's range."""
    order = np.argsort(values)
    summed = np.cumsum(weights[order])
    tail = (1 - CONFIDENCE) / 2
    near, middle, far = values[order][np.minimum(np.searchsorted(summed, (tail, 0.5, 1 - tail)), len(values) - 1)]
    return float(near), float(middle), float(far)
