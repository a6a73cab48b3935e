"""The target's windows: where a figure lies, and how likely two correlated figures land in both of them."""

from typing import Literal

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument, TargetPart
from jaxel.core.mechanism.numerics.tables import Array, Values
from jaxel.core.units import said

from ..setup.calibration import Estimate

Lies = Literal["inside", "outside", ""]


def lies(value: float, sd: float, window: tuple[float, float]) -> Lies:
    """Where a figure lies, as far as that can be said: inside with a ± no wider than the window's own, outside where
    its ± does not reach the window's edge; else nothing.

    Parameters: the figure, its standard deviation, and the window as (target, tolerance), all in one unit.

    >>> window = (3900.0, 100.0)
    >>> lies(3950, 80, window), lies(3950, 120, window), lies(4100, 120, window), lies(4100, 80, window)
    ('inside', '', '', 'outside')
    """
    target, tolerance = window
    off = abs(value - target)
    if off <= tolerance:
        return "inside" if sd <= tolerance else ""
    return "outside" if off - sd > tolerance else ""


def inside_both(
    first: Values, first_sd: Values, second: Values, second_sd: Values, correlation: Values,
    first_window: tuple[float, float], second_window: tuple[float, float],
) -> Array:  # fmt: skip
    """Probability that two normal figures both lie in their windows [0–1, any shape].

    P = Φ₂(b₁, b₂) − Φ₂(a₁, b₂) − Φ₂(b₁, a₂) + Φ₂(a₁, a₂)

    Parameters: means, standard deviations above 0 and `correlation` (−1 to 1), of any broadcastable shapes; windows as
    (target, tolerance).

    >>> round(float(inside_both(0.0, 1.0, 0.0, 1.0, 0.0, (0.0, 1.96), (0.0, 100.0))), 4)
    0.95

    Reference: D. B. Owen, "Tables for computing bivariate normal probabilities", Ann. Math. Stat. 27 (1956) 1075.
    """
    edges = []
    for mean, sd, (target, tolerance) in ((first, first_sd, first_window), (second, second_sd, second_window)):
        edges.append([(target + side * tolerance - np.asarray(mean, float)) / sd for side in (-1, 1)])
    (a1, b1), (a2, b2) = edges
    found = sum(
        sign * _both_below(h, k, correlation) for h, k, sign in ((b1, b2, 1), (a1, b2, -1), (b1, a2, -1), (a1, a2, 1))
    )
    return np.clip(found, 0.0, 1.0)


def checked_target(document: SetupDocument) -> TargetPart:
    """The set-up's target; raises InvalidValue where there is none, or none that a machine could have."""
    target = document.target
    if target is None:
        raise InvalidValue("target", "is missing: a plan needs a window to land in")
    if target.engagement_rpm >= target.shift_rpm:
        raise InvalidValue("target.engagement_rpm", "must be below the shift: no clutch engages above it")
    if target.shift_rpm - target.shift_tolerance_rpm > document.engine.rev_limit_rpm:
        raise InvalidValue("target.shift_rpm", f"lies past the rev limit, {said(document.engine.rev_limit_rpm)} rpm")
    return target


def odds_of(estimate: Estimate, target: TargetPart) -> float:
    """Probability that a set-up lies in both windows of its target."""
    found = inside_both(
        estimate.engagement, estimate.engagement_sd, estimate.mean, estimate.mean_sd, estimate.correlation,
        (target.engagement_rpm, target.engagement_tolerance_rpm), (target.shift_rpm, target.shift_tolerance_rpm),
    )  # fmt: skip
    return float(found)


def _both_below(h: Array, k: Array, correlation: Values) -> Array:
    """Φ₂(h, k; ρ) = ½Φ(h) + ½Φ(k) − T(h, (k − ρh)/(h√(1 − ρ²))) − T(k, …), less ½ where h and k differ in sign."""
    from scipy.special import ndtr, owens_t  # slow to import: a server answers before it needs them

    h, k = np.where(h == 0, 1e-12, h), np.where(k == 0, 1e-12, k)
    rest = np.sqrt(1 - np.square(correlation))
    apart = np.where(h * k < 0, 0.5, 0.0)
    turned = owens_t(h, (k - correlation * h) / (h * rest)) + owens_t(k, (h - correlation * k) / (k * rest))
    return np.asarray(ndtr(h) / 2 + ndtr(k) / 2 - turned - apart)
