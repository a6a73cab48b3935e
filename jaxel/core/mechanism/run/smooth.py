"""Local straight lines through a series: its value, its slope, and what noise leaves of either."""

from functools import cache
from math import sqrt

import numpy as np

from ..numerics.tables import Array


def window(points: int, step: float, seconds: float) -> int:
    """An odd number of points that spans a length of time [s], three at least where the series has them."""
    wanted = max(3, 2 * round(seconds / step / 2) + 1)
    return min(wanted, points - 1 + points % 2)


def level(values: Array, step: float, seconds: float) -> Array:
    """Each value as the straight line through those about it gives it [points].

    Reference: A. Savitzky, M. J. E. Golay, Anal. Chem. 36 (1964) 1627: their filter of degree 1.
    """
    return _fitted(values, step, seconds, 0)


def rate(values: Array, step: float, seconds: float) -> Array:
    """Slope of the straight line through each value and those about it [per s, points]."""
    return _fitted(values, step, seconds, 1)


class Smooths:
    """One series' local lines, each made once: of the same stretch much is asked."""

    def __init__(self, values: Array, step: float):
        self.values, self.step = values, step
        self.kept: dict[tuple[int, int, bool], Array] = {}

    def level(self, seconds: float) -> Array:
        """The series smoothed [points]."""
        return self._of(seconds, 0)

    def rate(self, seconds: float) -> Array:
        """The series' slope [per s, points]."""
        return self._of(seconds, 1)

    def _of(self, seconds: float, order: int) -> Array:
        key = (window(len(self.values), self.step, seconds), order, seconds < 1.5 * self.step)
        if key not in self.kept:
            self.kept[key] = _fitted(self.values, self.step, seconds, order)
        return self.kept[key]


def _fitted(values: Array, step: float, seconds: float, order: int) -> Array:
    from scipy.ndimage import correlate1d  # slow to import: a server answers before it needs it

    size = window(len(values), step, seconds)
    if size < 3 or (order == 0 and seconds < 1.5 * step):  # slower than that, a reading is all there is
        return values.copy() if order == 0 else np.zeros_like(values)
    # The ends are held, so that a blank touches nothing but what is about it.
    return np.asarray(correlate1d(values, _weights(size, order), mode="nearest")) / step**order


@cache
def _weights(size: int, order: int) -> Array:
    """What each point counts in the line's level, 1/n, or its slope, k/Σk², at the middle of `size` points."""
    places = np.arange(size) - size // 2
    return np.asarray(places / np.sum(places**2) if order else np.full(size, 1 / size))


def level_noise(noise: float, every: float, seconds: float) -> float:
    """Standard deviation of a mean over `seconds` of readings `every` so often, each in doubt by `noise`."""
    return noise / sqrt(max(1.0, seconds / every))


def rate_noise(noise: float, every: float, seconds: float) -> float:
    """Standard deviation of a slope through `seconds` of readings [per s]: σ·√(12/n)/T."""
    return noise * sqrt(12 / max(2.0, seconds / every)) / seconds
