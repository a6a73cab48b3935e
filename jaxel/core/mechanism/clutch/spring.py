"""Springs: what a clutch does with one, and the catalogue forms they are sold and measured in."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np

from ..errors import Impossible
from ..numerics.tables import Array, Values


@dataclass(frozen=True)
class CompressionSpring:
    """A compression spring as fitted: force over the travel of its clutch.

    F(x) = start + (finish − start)·x/travel

    `force_start`, `force_finish` [N]; `travel` between them [m].

    >>> float(CompressionSpring(600.0, 1400.0, 0.030).force(0.015))
    1000.0

    Reference: Hooke's law.
    """

    force_start: float
    force_finish: float
    travel: float

    @property
    def rate(self) -> float:
        """Stiffness [N/m]."""
        return (self.force_finish - self.force_start) / self.travel

    def shimmed(self, thickness: float) -> "CompressionSpring":
        """The spring with washers [m] under it: preloaded by thickness × rate at both ends.

        >>> CompressionSpring(600.0, 1400.0, 0.040).shimmed(0.002).force_start
        640.0
        """
        preload = thickness * self.rate
        return CompressionSpring(self.force_start + preload, self.force_finish + preload, self.travel)

    def force(self, travel: Values) -> Array:
        """Force [N] at `travel` [m]."""
        return self.force_start + self.rate * np.asarray(travel, float)


@dataclass(frozen=True)
class SpringRating:
    """A spring off the machine: a straight line of force over length.

    F(L) = rate·(free_length − L)

    `rate` [N/m], `free_length` [m], `residual` [N], the standard deviation of the measured points about
    the line (0 where two numbers fix it).
    """

    rate: float
    free_length: float
    residual: float = 0.0

    def force(self, length: Values) -> Array:
        """Force [N] at a length [m]; 0 from the free length up."""
        return np.maximum(0.0, self.rate * (self.free_length - np.asarray(length, float)))

    def fitted(self, installed_length: float, travel: float) -> CompressionSpring:
        """The spring in a clutch that holds it at `installed_length` [m] and closes it by `travel` [m].

        Raises Impossible when it would be loose at rest or compressed to nothing.

        >>> spring = SpringRating(26000.0, 0.089).fitted(0.065, 0.030)
        >>> round(spring.force_start), round(spring.force_finish)
        (624, 1404)

        Reference: Hooke's law.
        """
        if not installed_length < self.free_length:
            raise Impossible("installed_length", "must be below the free length: the spring would be loose")
        if not 0 < travel < installed_length:
            raise Impossible("spring_travel", "must be above 0 and below the installed length")
        start = float(self.force(installed_length))
        return CompressionSpring(start, float(self.force(installed_length - travel)), travel)

    def sag(self, rated: "SpringRating", length: float) -> float:
        """Share of the rated force this spring has lost at `length` [m]; negative if it is stronger.

        >>> round(SpringRating(25000.0, 0.088).sag(SpringRating(26000.0, 0.089), 0.065), 3)
        0.079
        """
        expected = float(rated.force(length))
        if expected <= 0:
            raise Impossible("length", "must be below the rated free length")
        return 1 - float(self.force(length)) / expected


def rating_from_points(lengths: Sequence[float], forces: Sequence[float]) -> SpringRating:
    """Line through points of force at length: two from a catalogue, or a tester's many by least squares.

    Parameters: `lengths` [m, n ≥ 2, not all equal], `forces` [N, n]. Returns the rating; its `residual` is
    √(Σe²/(n − 2)), 0 for two points. Raises Impossible for too few points or a line that falls.

    >>> round(rating_from_points([0.06, 0.05, 0.04], [700.0, 1000.0, 1300.0]).rate)
    30000

    Reference: ordinary least squares; NIST/SEMATECH e-Handbook of Statistical Methods, 4.1.4.1.
    """
    if len(lengths) != len(forces) or len(lengths) < 2:
        raise Impossible("points", "at least two pairs of length and force are needed")
    if min(lengths) <= 0:
        raise Impossible("points", "need lengths above 0")
    if len(set(lengths)) < 2:
        raise Impossible("points", "were all taken at the same length")
    slope, intercept = np.polyfit(lengths, forces, 1)
    if -slope * (max(lengths) - min(lengths)) <= 1e-6 * max(forces):
        raise Impossible("points", "force must grow as the spring gets shorter")
    errors = np.asarray(forces) - (slope * np.asarray(lengths) + intercept)
    freedom = len(lengths) - 2
    residual = sqrt(float(errors @ errors) / freedom) if freedom else 0.0
    return SpringRating(float(-slope), float(-intercept / slope), residual)
