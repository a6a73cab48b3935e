"""Measured tables as smooth curves: what every arm, cam, ramp and torque curve is read from."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
Values = Array | float


class HeldCurve:
    """A shape-preserving curve through table points that holds its end values outside the table.

    Piecewise cubic Hermite interpolation keeps the table's monotonicity. Outside the table both the
    value and the slope stay at their end values, so a quantity built from both (A = m·r·dr/dx) is held.

    Parameters: `at` [n ≥ 2, increasing], `values` [n]; both stand in `points`, by which two curves are told apart.

    >>> curve = HeldCurve([0.0, 1.0, 2.0], [0.0, 1.0, 4.0])
    >>> float(curve(1.0)), float(curve(9.0))
    (1.0, 4.0)

    Reference: F. N. Fritsch, J. Butland, "A method for constructing local monotone piecewise cubic
    interpolants", SIAM J. Sci. Stat. Comput. 5 (1984), as in scipy.interpolate.PchipInterpolator.
    """

    def __init__(self, at: Sequence[float] | Array, values: Sequence[float] | Array):
        from scipy.interpolate import PchipInterpolator  # slow to import: a server answers before it needs one

        # Its coefficients are evaluated here: on a curve's few dozen points its own call takes longer than the cubic.
        curve = PchipInterpolator(np.asarray(at, float), np.asarray(values, float))
        self._at, self._coefficients = curve.x, curve.c
        self.first, self.last = float(curve.x[0]), float(curve.x[-1])
        self.points = (*curve.x.tolist(), *np.asarray(values, float).tolist())
        self.highest = float(np.max(values))
        """The largest value of the table; the curve never exceeds it."""

    def __call__(self, at: Values) -> Array:
        """The value [same shape as `at`]."""
        piece, step = self._piece(at)
        cubic, square, linear, constant = self._coefficients
        return np.asarray(((cubic[piece] * step + square[piece]) * step + linear[piece]) * step + constant[piece])

    def slope(self, at: Values) -> Array:
        """The derivative [same shape as `at`], held outside the table."""
        piece, step = self._piece(at)
        cubic, square, linear, _ = self._coefficients
        return np.asarray((3 * cubic[piece] * step + 2 * square[piece]) * step + linear[piece])

    def _piece(self, at: Values) -> tuple[NDArray[np.intp], Array]:
        """The cubic piece each place lies in, and how far in [shape of `at`]."""
        inside = np.minimum(np.maximum(at, self.first), self.last)
        piece = np.searchsorted(self._at[1:-1], inside, side="right")
        return piece, inside - self._at[piece]


@lru_cache(maxsize=1024)
def held_curve(at: tuple[float, ...], values: tuple[float, ...]) -> HeldCurve:
    """The curve through these points, made once: set-ups compared with each other share most of theirs.

    >>> held_curve((0.0, 1.0, 2.0), (0.0, 1.0, 2.0)) is held_curve((0.0, 1.0, 2.0), (0.0, 1.0, 2.0))
    True

    Reference: as `HeldCurve`.
    """
    return HeldCurve(at, values)
