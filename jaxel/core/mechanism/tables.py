"""Measured tables as smooth curves: what every arm, cam, ramp and torque curve is read from."""

from collections.abc import Sequence

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

        self._curve = PchipInterpolator(np.asarray(at, float), np.asarray(values, float))
        self._slope = self._curve.derivative()
        self.first, self.last = float(self._curve.x[0]), float(self._curve.x[-1])
        self.points = (*self._curve.x.tolist(), *np.asarray(values, float).tolist())

    def __call__(self, at: Values) -> Array:
        """The value [same shape as `at`]."""
        return self._curve(np.clip(at, self.first, self.last))

    def slope(self, at: Values) -> Array:
        """The derivative [same shape as `at`], held outside the table."""
        return self._slope(np.clip(at, self.first, self.last))

    @property
    def highest(self) -> float:
        """The largest value of the table; the curve never exceeds it."""
        return float(np.max(self._curve(self._curve.x)))
