"""The engine as the clutch sees it: full-throttle torque against speed, and where it stops."""

from dataclasses import dataclass

import numpy as np

from ..numerics.tables import Array, HeldCurve, Values

SPEED_STEP = 0.1
"""Step in which the speed of peak power is looked for [rad/s]."""


@dataclass(frozen=True)
class Engine:
    """Full-throttle torque as a measured curve.

    `torque` [N·m over rad/s]; `rev_limit` [rad/s]; `boost_compensated`, true when a regulated
    supercharger or turbocharger holds the power in thin air.
    """

    torque: HeldCurve
    rev_limit: float
    boost_compensated: bool = False

    def peak_power_speed(self) -> float:
        """Speed of the highest power on the curve [rad/s], to SPEED_STEP."""
        speeds = np.arange(self.torque.first, self.torque.last, SPEED_STEP)
        return float(speeds[np.argmax(speeds * self.torque(speeds))])

    def full_throttle(self, speed: Values, factor: float) -> Array:
        """Torque [N·m] at `speed` [rad/s], scaled by `factor` for the air and the calibration."""
        return factor * self.torque(speed)
