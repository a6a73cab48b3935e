"""A series drawn fast at any width: least and most of ever longer stretches, made once."""

from dataclasses import dataclass

import numpy as np

from ..numerics.tables import Array

FACTOR = 4
"""Points of one level that make one of the next."""

TOP = 1024
"""A level of at most so many points is the last."""


@dataclass(frozen=True)
class Level:
    """`least` and `most` of each stretch of FACTOR^level points; NaN where it holds no reading. The ground level's are
    the series itself."""

    least: Array
    most: Array


def pyramid(values: Array) -> list[Level]:
    """The levels of a series, the series itself first.

    >>> [len(level.least) for level in pyramid(np.arange(5000.0))]
    [5000, 1250, 313]
    """
    levels = [Level(values, values)]
    while len(levels[-1].least) > TOP:
        levels.append(Level(_reduced(levels[-1].least, np.fmin), _reduced(levels[-1].most, np.fmax)))
    return levels


def _reduced(values: Array, keep: np.ufunc) -> Array:
    """Every FACTOR values as the one to keep; blanks count only where there is nothing else."""
    short = -len(values) % FACTOR
    padded = np.concatenate([values, np.full(short, np.nan)]) if short else values
    return np.asarray(keep.reduce(padded.reshape(-1, FACTOR), axis=1))


def level_for(points: int, wanted: int) -> int:
    """The level on which so many points of the series are drawn by about `wanted` stretches.

    >>> level_for(1_000_000, 2000), level_for(1500, 2000)
    (5, 0)
    """
    level = 0
    while points > wanted * FACTOR**level:
        level += 1
    return level
