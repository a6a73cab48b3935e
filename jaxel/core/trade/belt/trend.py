"""A belt's width over its life: the line through it with its band, and the distance left to the limit as a range."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np

from jaxel.core.errors import InvalidValue

CONFIDENCE = 0.8
"""Of the range and the band: four visits in five."""

WIDTH_SD_MM = 0.1
"""Standard deviation of a visit's mean width where too few were measured to tell it from them [mm]; from memory."""


@dataclass(frozen=True)
class Line:
    """Least squares through n points: width = intercept + slope·use.

    `sd` of one measured width about the line; `freedom`, degrees of freedom it was told from, None where `sd` is
    assumed. `mean_use`, `spread`: mean of the uses and Σ(use − mean)².
    """

    slope: float
    intercept: float
    sd: float
    freedom: int | None
    points: int
    mean_use: float
    spread: float

    def at(self, use: float) -> float:
        """Width on the line."""
        return self.intercept + self.slope * use

    def quantile(self, confidence: float) -> float:
        """Student's quantile of a two-sided band; the normal's where the deviation is assumed."""
        from scipy.stats import norm, t

        tail = 0.5 + confidence / 2
        return float(norm.ppf(tail) if self.freedom is None else t.ppf(tail, self.freedom))

    def half_band(self, use: float, confidence: float = CONFIDENCE) -> float:
        """Half the width of the confidence band of the line.

        t·s·√(1/n + (x − x̄)²/Σ(x − x̄)²)
        """
        away = (use - self.mean_use) ** 2
        return self.quantile(confidence) * self.sd * sqrt(1 / self.points + away / self.spread)


def line_through(use: Sequence[float], width_mm: Sequence[float]) -> Line:
    """The least-squares line through a belt's widths.

    Parameters: `use`, distance [km] or hours on the belt; `width_mm`, mean width then; both of one length. With two
    points, or where three or more lie closer to a line than a caliper can tell, the deviation is WIDTH_SD_MM.
    Raises InvalidValue with fewer than two different uses.

    >>> round(line_through([0, 1000, 2000], [36.5, 36.1, 35.7]).slope * 1000, 3)
    -0.4

    Reference: scipy.stats.linregress; NIST/SEMATECH e-Handbook of Statistical Methods, 4.1.4.1 and 4.5.1.2.
    """
    from scipy.stats import linregress

    if len(set(use)) < 2:
        raise InvalidValue("use", "a trend needs widths at two distances")
    found = linregress(use, width_mm)
    points = np.asarray(use, float)
    spread = float(((points - points.mean()) ** 2).sum())
    if len(use) > 2:
        told = float(found.stderr) * sqrt(spread)
        if told >= WIDTH_SD_MM / 2:
            return Line(
                float(found.slope), float(found.intercept), told, len(use) - 2, len(use), float(points.mean()), spread
            )
    return Line(float(found.slope), float(found.intercept), WIDTH_SD_MM, None, len(use), float(points.mean()), spread)


@dataclass(frozen=True)
class Forecast:
    """Where a line meets the limit: at `use` on the line, between `soonest` and `latest` of its band.

    None where the line, or the band's edge, never comes down to the limit.
    """

    use: float | None
    soonest: float | None
    latest: float | None
    confidence: float = CONFIDENCE


def forecast(line: Line, limit_mm: float, confidence: float = CONFIDENCE) -> Forecast:
    """The use at which the line and the edges of its band come down to the limit.

    The edges meet it where (ŷ(x) − limit)² = t²s²(1/n + (x − x̄)²/Sxx): a quadratic in x − x̄ (Fieller).

    Parameters: `limit_mm`, wear limit [mm]. Returns uses in the unit of the line's.

    >>> found = forecast(line_through([0, 500, 1000, 1500], [36.5, 36.2, 36.1, 35.8]), 35.0)
    >>> found.soonest < found.use < found.latest
    True

    Reference: E. C. Fieller (1954), Some problems in interval estimation, J. R. Stat. Soc. B 16, 175-185; from memory.
    """
    over = line.at(line.mean_use) - limit_mm
    meets = line.mean_use - over / line.slope if line.slope < 0 else None
    scale = (line.quantile(confidence) * line.sd) ** 2
    a = line.slope**2 - scale / line.spread
    b = 2 * line.slope * over
    c = over**2 - scale / line.points
    inside = b * b - 4 * a * c
    if abs(a) < 1e-300 or inside < 0:
        return Forecast(meets, None, None, confidence)
    roots = sorted(line.mean_use + (-b + sign * sqrt(inside)) / (2 * a) for sign in (-1, 1))
    # Of a falling line both edges meet it, the lower one first. Where the slope may as well be level, the upper never
    # does: only the root the lower edge meets is a root of it.
    falling = [root for root in roots if line.at(root) - limit_mm > 0]
    rising = [root for root in roots if line.at(root) - limit_mm <= 0]
    if a > 0 and line.slope < 0:
        return Forecast(meets, roots[0], roots[1], confidence)
    soonest = min((root for root in falling if root >= line.mean_use), default=None)
    return Forecast(meets, soonest, None if a <= 0 else max(rising, default=None), confidence)


BAND_POINTS = 25
"""Distances at which a trend's band is told, for drawing."""


@dataclass(frozen=True)
class BandPoint:
    """The line and half its band at one distance, or after so many hours."""

    use: float
    width_mm: float
    half_mm: float


@dataclass(frozen=True)
class Trend:
    """A belt's wear told from its widths: the line with its band, and where it comes down to the limit.

    `wear_mm_per_1000`, in 1,000 km or hours; `left` from the last reading to the limit on the line, `left_from` and
    `left_to` to the band's edges; None where the line, or its upper edge, never comes down to it.
    """

    wear_mm_per_1000: float
    band: tuple[BandPoint, ...]
    limit: Forecast
    left: float | None
    left_from: float | None
    left_to: float | None
    confidence: float


def trend_of(use: Sequence[float], width_mm: Sequence[float], limit_mm: float) -> Trend | None:
    """The trend of a belt; None with fewer than two distances.

    Parameters: `use`, distance [km] or hours on the belt in order; `width_mm`, mean width then. The band is told as far
    as the limit is likely met, at most three times the use so far.

    >>> found = trend_of([0, 1000, 2000], [36.5, 36.1, 35.7], 35.0)
    >>> round(found.wear_mm_per_1000, 2), round(found.left)
    (0.4, 1750)
    """
    if len(set(use)) < 2:
        return None
    line = line_through(use, width_mm)
    found = forecast(line, limit_mm)
    first, last = min(use), use[-1]
    ahead = next((each for each in (found.latest, found.use) if each is not None), 1.6 * last)
    reach = max(1.25 * last, min(ahead, 3 * last), last + 1)

    def to_go(at: float | None) -> float | None:
        return None if at is None else max(0.0, at - last)

    return Trend(
        -line.slope * 1000,
        tuple(BandPoint(at, line.at(at), line.half_band(at)) for at in np.linspace(first, reach, BAND_POINTS).tolist()),
        found,
        to_go(found.use),
        to_go(found.soonest),
        to_go(found.latest),
        found.confidence,
    )
