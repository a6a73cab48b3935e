"""Roots of many equations at once, each in its own bracket.

scipy.optimize.elementwise.find_root does the same; on the forty-one small equations of a shift curve its
bookkeeping takes longer than the mechanics, so the one method used here is written out.
"""

from collections.abc import Callable

import numpy as np

from .tables import Array


def first_rise(
    excess: Callable[[Array], Array], low: Array, high: Array, *, scan: int = 13, tolerance: float = 1e-9
) -> Array:
    """Lowest root of each equation at which it rises through zero.

    Each bracket is scanned in `scan` even steps for the first change from below zero to zero or above; that
    step is closed by false position with the Illinois weight on a retained end.

    Parameters: `excess` of speeds [n or scan × n] elementwise, below zero at `low` [n], not below at
    `high` [n]; `tolerance`, the relative width at which it stops. Returns the roots [n].

    >>> first_rise(lambda x: x * x - np.array([4.0, 9.0]), np.zeros(2), np.full(2, 10.0)).tolist()
    [2.0, 3.0]

    Reference: M. Dowell, P. Jarratt, "A modified regula falsi method", BIT 11 (1971) 168.
    """
    grid = low + np.linspace(0.0, 1.0, scan)[:, None] * (high - low)
    values = excess(grid)
    first = np.maximum(np.argmax(values >= 0, axis=0), 1)
    column = np.arange(len(low))
    a, b = grid[first - 1, column], grid[first, column]
    at_a, at_b = values[first - 1, column], values[first, column]
    guess = b
    for _ in range(60):
        last, guess = guess, b - at_b * (b - a) / (at_b - at_a)
        if np.all(np.abs(guess - last) <= tolerance * np.abs(guess)):
            break
        value = excess(guess)
        crossed = (value >= 0) != (at_b >= 0)
        a, at_a = np.where(crossed, b, a), np.where(crossed, at_b, at_a / 2)
        b, at_b = guess, np.where(value == 0, np.finfo(float).tiny, value)
    return guess
