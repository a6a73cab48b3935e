"""How sure a prediction is: what uncertain inputs do to each figure, to first order."""

from dataclasses import dataclass, fields

import numpy as np

from .batch import Shifts
from .tables import Array


@dataclass(frozen=True)
class Band:
    """One standard deviation of bite, shift mean and full shift [rad/s], and of the curve's speed [n, rad/s]."""

    bite: float
    shift_mean: float
    full_shift: float
    speed: Array


@dataclass(frozen=True)
class Effects:
    """What one standard deviation of each of p inputs does to a set-up's figures.

    `bite`, `mean`, `slope`, `full_shift` [p, rad/s], `low_ratio`, `high_ratio` [p] and `speed` [p, n, rad/s].
    """

    bite: Array
    mean: Array
    slope: Array
    full_shift: Array
    low_ratio: Array
    high_ratio: Array
    speed: Array

    def scaled(self, by: Array) -> "Effects":
        """Every input's effects multiplied [p]."""
        return Effects(*(getattr(self, each.name) * (by[:, None] if each.name == "speed" else by)
                         for each in fields(Effects)))  # fmt: skip

    def band(self) -> Band:
        """The inputs' deviations together, taken as independent: σ² = Σ (∂y/∂p·σ_p)².

        Reference: Guide to the expression of uncertainty in measurement (JCGM 100:2008), 5.1.2.
        """
        bite, mean, full = (float(np.sqrt(each @ each)) for each in (self.bite, self.mean, self.full_shift))
        return Band(bite, mean, full, np.sqrt((self.speed**2).sum(axis=0)))


def effects_of(found: Shifts) -> Effects:
    """Central differences of figures from set-ups one standard deviation below and above, in turn [2p].

    Reference: central difference quotient, error O(h²).
    """

    def half(values: Array) -> Array:
        return (values[1::2] - values[0::2]) / 2

    return Effects(
        half(found.bite), half(found.mean), half(found.slope), half(found.full_shift),
        half(found.low_ratio), half(found.high_ratio), half(found.speed),
    )  # fmt: skip
