"""Measured tables as curves: a torque curve through its points, a flyweight's profile smooth among them."""

from collections.abc import Sequence
from functools import lru_cache
from math import factorial

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
Values = Array | float

DEGREE = 3
MOST_PIECES = 4
"""Pieces of a profile unless it asks for more: enough for an arm's shape, too few to follow the error of a reading."""


class Cubics:
    """A piecewise cubic that holds its end values outside its table.

    Outside the table both the value and the slope stay at their end values, so a quantity built from both
    (A = m·r·dr/dx) is held.

    `points`, by which two curves are told apart, hold the table's places and then its values; `first` and `last` are
    the ends of the table. Its coefficients are evaluated here: on a curve's few dozen points the own call of SciPy's
    classes takes longer than the cubic.
    """

    def __init__(self, points: tuple[float, ...], breaks: Array, coefficients: Array):
        self.points = points
        self.first, self.last = float(breaks[0]), float(breaks[-1])
        self._breaks, self._coefficients = breaks, coefficients

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
        piece = np.searchsorted(self._breaks[1:-1], inside, side="right")
        return piece, inside - self._breaks[piece]


class HeldCurve(Cubics):
    """A shape-preserving curve through every point of a table: an engine's torque, whose points are measured each.

    Piecewise cubic Hermite interpolation keeps the table's monotonicity.
    Parameters: `at` [n ≥ 2, increasing], `values` [n].

    >>> curve = HeldCurve([0.0, 1.0, 2.0], [0.0, 1.0, 4.0])
    >>> float(curve(1.0)), float(curve(9.0))
    (1.0, 4.0)

    Reference: F. N. Fritsch, J. Butland, "A method for constructing local monotone piecewise cubic
    interpolants", SIAM J. Sci. Stat. Comput. 5 (1984), as in scipy.interpolate.PchipInterpolator.
    """

    def __init__(self, at: Sequence[float] | Array, values: Sequence[float] | Array):
        from scipy.interpolate import PchipInterpolator  # slow to import: a server answers before it needs one

        given = np.asarray(values, float)
        curve = PchipInterpolator(np.asarray(at, float), given)
        super().__init__((*curve.x.tolist(), *given.tolist()), curve.x, curve.c)
        self.highest = float(np.max(given))
        """The largest value of the table; the curve never exceeds it."""


class SmoothCurve(Cubics):
    """The smooth curve among the points of a table: an arm's swing, a roller's path.

    The weights' force goes with the slope of it, and a curve through every point has the error of each reading in its
    slope. This one is the least-squares cubic spline of few pieces: it is linear in the values, runs through any
    straight line and any cubic, and its slope has no kink.

    Parameters: `at` [n ≥ 2, increasing], `values` [n]; `pieces`, 1 to `most_pieces(n)`, None for what a smooth part
    needs. `off` is what each point lies off the curve [n].

    >>> curve = SmoothCurve([0.0, 1.0, 2.0, 3.0, 4.0], [0.0, 1.0, 8.0, 27.0, 64.0])
    >>> round(float(curve(2.5)), 9), round(float(curve.slope(2.5)), 9)
    (15.625, 18.75)

    Reference: C. de Boor, A Practical Guide to Splines (1978), least-squares approximation, as in
    scipy.interpolate.make_lsq_spline.
    """

    def __init__(self, at: Sequence[float] | Array, values: Sequence[float] | Array, pieces: int | None = None):
        given = np.asarray(values, float)
        places = tuple(np.asarray(at, float).tolist())
        breaks, through, fitted = _least_squares(places, pieces or usual_pieces(len(places)))
        super().__init__((*places, *given.tolist()), breaks, through @ given)
        self.off = given - fitted @ given


def usual_pieces(points: int) -> int:
    """Pieces of the spline among so many points: a third as many as their gaps, at most MOST_PIECES.

    >>> [usual_pieces(points) for points in (2, 6, 7, 16, 40)]
    [1, 1, 2, 4, 4]
    """
    return max(1, min(MOST_PIECES, (points - 1) // 3))


def most_pieces(points: int) -> int:
    """The most pieces so many points can bear: there the curve runs through every one.

    >>> most_pieces(16), most_pieces(2)
    (13, 1)
    """
    return points - min(DEGREE, points - 1)


def curve_directions(at: tuple[float, ...], pieces: int | None = None) -> Array:
    """Directions of the values of a table, at right angles to each other, along which its smooth curve follows them.

    Returns unit vectors [pieces + degree, n]. What of a change of the values lies along none of them the curve ignores.

    >>> curve_directions((0.0, 1.0, 2.0, 3.0, 4.0, 5.0)).shape
    (4, 6)

    Reference: a least-squares fit is a projection; its range by the eigenvectors of eigenvalue 1.
    """
    _, _, fitted = _least_squares(at, pieces or usual_pieces(len(at)))
    found, vectors = np.linalg.eigh((fitted + fitted.T) / 2)
    return np.asarray(vectors[:, found > 0.5].T)


@lru_cache(maxsize=256)
def _least_squares(at: tuple[float, ...], pieces: int) -> tuple[Array, Array, Array]:
    """What the values of a table at these places are multiplied by to be its curve.

    Returns the breaks [pieces + 1], the coefficients per value [4, pieces, n], highest power first, and the curve's
    own value at each place per value [n, n]. Knots stand at the table's own places.
    """
    from scipy.interpolate import make_lsq_spline  # slow to import: a server answers before it needs one

    degree = min(DEGREE, len(at) - 1)
    inner = [at[j * (len(at) - 1) // pieces] for j in range(1, pieces)]
    knots = np.array([at[0]] * (degree + 1) + inner + [at[-1]] * (degree + 1))
    spline = make_lsq_spline(at, np.eye(len(at)), knots, k=degree)
    breaks = np.array([at[0], *inner, at[-1]])
    coefficients = np.zeros((DEGREE + 1, pieces, len(at)))
    for power in range(degree + 1):
        coefficients[DEGREE - power] = spline.derivative(power)(breaks[:-1]) / factorial(power)
    return breaks, coefficients, np.asarray(spline(np.array(at)), float)


@lru_cache(maxsize=1024)
def held_curve(at: tuple[float, ...], values: tuple[float, ...]) -> HeldCurve:
    """The curve through these points, made once: set-ups compared with each other share most of theirs.

    >>> held_curve((0.0, 1.0, 2.0), (0.0, 1.0, 2.0)) is held_curve((0.0, 1.0, 2.0), (0.0, 1.0, 2.0))
    True

    Reference: as `HeldCurve`.
    """
    return HeldCurve(at, values)


@lru_cache(maxsize=1024)
def smooth_curve(at: tuple[float, ...], values: tuple[float, ...], pieces: int | None = None) -> SmoothCurve:
    """The smooth curve among these points, made once: set-ups compared with each other share most of theirs.

    >>> smooth_curve((0.0, 1.0, 2.0), (0.0, 1.0, 2.0)) is smooth_curve((0.0, 1.0, 2.0), (0.0, 1.0, 2.0))
    True

    Reference: as `SmoothCurve`.
    """
    return SmoothCurve(at, values, pieces)
