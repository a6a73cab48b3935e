"""Roots of many equations at once, each in its own bracket.

scipy.optimize.elementwise.find_root does the same; on the forty-one small equations of a shift curve its
bookkeeping takes longer than the mechanics, so the one method used here is written out.
"""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from .tables import Array, HeldCurve

Excess = Callable[[Array], Array]
"""Elementwise in its last axes; a leading axis of trial values may stand before them."""


def first_rise(
    excess: Excess, low: Array, high: Array, *, scan: int = 13, tolerance: float = 1e-8, most: int = 60
) -> Array:
    """Lowest root of each equation at which it rises through zero.

    Each bracket is scanned in `scan` even steps for the first change from below zero to zero or above; that
    step is closed by `false_position`.

    Parameters: `excess` of speeds [scan × shape, then shape], below zero at `low` [shape], not below at `high`
    [shape]; `tolerance`, the relative width at which it stops, and `most` steps. Returns the roots [shape].

    >>> first_rise(lambda x: x * x - np.array([4.0, 9.0]), np.zeros(2), np.full(2, 10.0)).round(9).tolist()
    [2.0, 3.0]

    Reference: as `false_position`, on the first bracket of a scan.
    """
    steps = np.linspace(0.0, 1.0, scan, dtype=low.dtype).reshape(-1, *(1,) * low.ndim)
    grid = low + steps * (high - low)
    values = excess(grid)
    first = np.maximum(np.argmax(values >= 0, axis=0), 1)[None]

    def pick(table: Array, at: NDArray[np.intp]) -> Array:
        return np.take_along_axis(table, at, axis=0)[0]

    return false_position(
        excess, pick(grid, first - 1), pick(grid, first), pick(values, first - 1), pick(values, first), tolerance, most
    )


def first_fall(curve: HeldCurve, level: Array, start: Array, end: float) -> Array:
    """The lowest place at or after `start` at which a curve is at or below a level; where it stays above, `end`, or
    `start` if that lies beyond.

    Between two points of its table such a curve only rises or only falls: the first point at or below the level is
    preceded by the crossing.

    Parameters: `level` and `start` [m]; `end`. Returns the places [m].

    >>> hill = HeldCurve([0.0, 1.0, 2.0], [0.0, 1.0, 0.0])
    >>> first_fall(hill, np.array([0.75, 0.1]), np.array([0.6, 1.0]), 1.7).round(6).tolist()
    [1.5, 1.7]

    Reference: as `false_position`, on the first falling piece of a monotone interpolant.
    """
    places = np.asarray(curve.points[: len(curve.points) // 2])
    grid = np.clip(places, start[:, None], np.maximum(start, end)[:, None])
    grid = np.column_stack([start, grid, np.maximum(start, end)])
    below = curve(grid) <= level[:, None]
    found = np.where(below.any(axis=1), below.argmax(axis=1), grid.shape[1] - 1)
    rows = np.arange(len(start))
    low, high = grid[rows, np.maximum(found - 1, 0)], grid[rows, found]
    crosses = below.any(axis=1) & (high > low)
    if crosses.any():
        a, b, at = low[crosses], high[crosses], level[crosses]
        high[crosses] = false_position(lambda x: at - curve(x), a, b, at - curve(a), at - curve(b), 1e-10, 60)
    return high


def false_position(excess: Excess, a: Array, b: Array, at_a: Array, at_b: Array, tolerance: float, most: int) -> Array:
    """The root between `a` and `b` [shape], where `excess` is `at_a` below zero and `at_b` not below.

    False position with the weight of Anderson and Björck on a retained end, until every guess moves by less than
    `tolerance` of itself, or `most` steps are done. Returns the roots [shape].

    >>> a, b = np.array([0.0]), np.array([10.0])
    >>> false_position(lambda x: x * x - 2.0, a, b, a - 2.0, b * b - 2.0, 1e-12, 60).round(9).tolist()
    [1.414213562]

    Reference: N. Anderson, Å. Björck, "A new high order method of regula falsi type for computing a root of an
    equation", BIT 13 (1973) 253.
    """
    least = float(np.finfo(np.float32).tiny)
    guess, at_b = b, np.where(at_b == 0, least, at_b)
    for _ in range(most):
        last, guess = guess, b - at_b * (b - a) / (at_b - at_a)
        if np.all(np.abs(guess - last) <= tolerance * np.abs(guess)):
            break
        value = excess(guess)
        crossed = (value >= 0) != (at_b >= 0)
        kept = 1 - value / at_b
        a, at_a = np.where(crossed, b, a), np.where(crossed, at_b, at_a * np.where(kept > 0, kept, 0.5))
        b, at_b = guess, np.where(value == 0, least, value)
    return guess
