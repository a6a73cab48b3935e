"""How sure a prediction is: the model's uncertain parameters and what they do to each figure.

Without a measured run only the priors speak, and the band is wide.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from .batch import shifts
from .drivetrain import Drivetrain
from .tables import Array

PRIOR = {"gain_scale": 0.06, "gain_tilt": 0.10, "torque_scale": 0.06, "friction": 0.04}
"""Standard deviations before any run is measured; from memory, to be narrowed by calibration."""


@dataclass(frozen=True)
class Band:
    """One standard deviation of bite, shift mean and full shift [rad/s], and of the curve's speed [n, rad/s]."""

    bite: float
    shift_mean: float
    full_shift: float
    speed: Array


def with_parameters(drivetrain: Drivetrain, **change: float) -> Drivetrain:
    """The set-up with some of its calibration parameters (the names in PRIOR) replaced."""
    primary: dict[str, Any] = {name: value for name, value in change.items() if name.startswith("gain_")}
    belt: dict[str, Any] = {name: value for name, value in change.items() if not name.startswith("gain_")}
    return replace(drivetrain, primary=replace(drivetrain.primary, **primary), belt=replace(drivetrain.belt, **belt))


def prior_band(drivetrain: Drivetrain, nodes: int = 41) -> Band:
    """Propagate the priors through the prediction: σ² = Σ (∂y/∂p·σ_p)², by central differences of one σ_p.

    Reference: Guide to the expression of uncertainty in measurement (JCGM 100:2008), 5.1.2.
    """

    parameters = {
        "gain_scale": drivetrain.primary.gain_scale,
        "gain_tilt": drivetrain.primary.gain_tilt,
        "torque_scale": drivetrain.belt.torque_scale,
        "friction": drivetrain.belt.friction,
    }
    sides = [
        with_parameters(drivetrain, **{name: parameters[name] + step})
        for name, sigma in PRIOR.items()
        for step in (sigma, -sigma)
    ]
    moved = shifts(sides, nodes)
    for reason in moved.reasons:
        if reason is not None:
            raise reason
    figures = np.column_stack([moved.bite, moved.mean, moved.full_shift, moved.speed])
    spread = np.sqrt((((figures[0::2] - figures[1::2]) / 2) ** 2).sum(axis=0))
    return Band(float(spread[0]), float(spread[1]), float(spread[2]), spread[3:])
