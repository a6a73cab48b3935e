"""The engine and the air it breathes: indicated torque with the air's density, less what the engine itself takes."""

from dataclasses import dataclass
from math import exp, pi
from typing import Any

import numpy as np
from scipy.interpolate import Akima1DInterpolator

from .wrap import Array

REFERENCE_DRY_HPA, REFERENCE_K = 990.0, 298.15
"""The air in which a torque curve is given."""


@dataclass(frozen=True)
class Engine:
    """`speeds` [rad/s] and `torques` [N·m] at full throttle in this air; `rev_limit` [rad/s]."""

    speeds: Array
    torques: Array
    rev_limit: float

    @classmethod
    def of(cls, document: dict[str, Any], strength: float, own_share: float) -> "Engine":
        """A document's engine in its air: of `strength` times its curve, its own friction a share of it [-]."""
        engine = document["engine"]
        share = 1.0 if engine.get("boost_compensated") else breathing(document.get("conditions"), own_share)
        points = engine["curve"]
        at = np.array([each["rpm"] for each in points]) * pi / 30
        torque = np.array([each["torque_nm"] for each in points]) * strength * share
        fine = np.linspace(at[0], at[-1], 200)
        curve = Akima1DInterpolator(at, torque)(fine) if len(at) > 2 else np.interp(fine, at, torque)
        return cls(fine, np.asarray(curve), engine["rev_limit_rpm"] * pi / 30)

    def torque(self, speed: Array | float) -> Array:
        """Torque at full throttle [N·m]; held beyond the curve's ends."""
        return np.asarray(np.interp(speed, self.speeds, self.torques))


def breathing(conditions: dict[str, Any] | None, own_share: float) -> float:
    """Share of its torque an engine makes in some air [-].

    (1 + f)·ρ/ρ₀·√(T/T₀) − f: what is burnt goes with the dry air's density, what the engine takes does not; f its own
    share. A column of air at 6.5 K per km; Magnus over water, in a form other than the model's.
    """
    if conditions is None:
        return 1.0
    kelvin = conditions.get("temperature_c", 25.0) + 273.15
    pressure = conditions.get("barometer_hpa")
    if pressure is None:
        pressure = 1013.25 * (1 - 2.25577e-5 * conditions.get("elevation_m", 0.0)) ** 5.25588
    celsius = kelvin - 273.15
    vapour = conditions.get("relative_humidity", 0.0) * 6.1094 * exp(17.625 * celsius / (celsius + 243.04))
    density = (pressure - vapour) / REFERENCE_DRY_HPA * REFERENCE_K / kelvin
    return float((1 + own_share) * density * (kelvin / REFERENCE_K) ** 0.5 - own_share)
