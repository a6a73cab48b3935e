"""How sure a figure is: the linear algebra of a fit with priors and of estimates that share some of their errors."""

from dataclasses import dataclass

import numpy as np

from .tables import Array


@dataclass(frozen=True)
class Band:
    """One standard deviation of bite, shift mean and full shift [rad/s], and of the curve's speed [n, rad/s]."""

    bite: float
    shift_mean: float
    full_shift: float
    speed: Array


@dataclass(frozen=True)
class Combined:
    """An estimate from several that share some of their errors: its `value`, `variance` and the `weights` of each."""

    value: float
    variance: float
    weights: Array


def combined(values: Array, covariance: Array) -> Combined:
    """One value from several of it, by generalised least squares.

    x = (1ᵀV⁻¹a)/(1ᵀV⁻¹1),  σ² = 1/(1ᵀV⁻¹1)

    What the values share stays shared: however many there are, σ² never falls below it.
    Parameters: `values` a [n ≥ 1]; `covariance` V [n, n], positive definite.

    >>> found = combined(np.array([10.0, 20.0]), np.array([[1.0, 0.0], [0.0, 4.0]]))
    >>> round(found.value, 9), round(found.variance, 9)
    (12.0, 0.8)

    Reference: A. C. Aitken, "On least squares and linear combination of observations", Proc. R. Soc. Edinburgh 55
    (1935) 42.
    """
    through = np.asarray(np.linalg.solve(covariance, np.ones(len(values))), float)
    total = float(through.sum())
    weights = through / total
    return Combined(float(weights @ values), 1 / total, weights)


def posterior(effects: Array, residuals: Array, covariance: Array, at: Array) -> tuple[Array, Array]:
    """Where a linear model with unit priors settles, and the covariance there.

    C = (JᵀV⁻¹J + 1)⁻¹,  t = at + C·(JᵀV⁻¹r − at)

    Parameters: `effects` J [n, p] of the parameters in units of their prior deviations; `residuals` r [n] and their
    `covariance` V [n, n] at `at` [p]. Returns t [p] and C [p, p].

    >>> t, c = posterior(np.array([[1.0]]), np.array([2.0]), np.array([[1.0]]), np.array([0.0]))
    >>> t.tolist(), c.tolist()  # a prior and one reading as sure as it: half-way, at half the variance
    ([1.0], [[0.5]])

    Reference: Gauss–Newton step of weighted least squares with the priors as residuals; JCGM 100:2008, annex H.3 for a
    calibration by least squares.
    """
    weighted = np.linalg.solve(covariance, effects).T if len(residuals) else np.zeros((len(at), 0))
    precision = weighted @ effects + np.eye(len(at))
    spread = np.asarray(np.linalg.inv(precision), float)
    return at + spread @ (weighted @ residuals - at), spread
