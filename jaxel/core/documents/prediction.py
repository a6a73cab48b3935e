"""The `jaxel-prediction` document: what a set-up will do, in the units people read."""

from typing import Any

import numpy as np

from ..shift import Prediction, ShiftCurve
from ..tables import Array
from ..units import KPH, MM, RPM


def prediction_document(prediction: Prediction) -> dict[str, Any]:
    """A prediction as a JSON-ready mapping: mm, rpm, N, km/h."""
    drive, shift, engagement = prediction.setup.drive, prediction.shift, prediction.engagement
    document: dict[str, Any] = {
        "format": "jaxel-prediction",
        "version": 1,
        "power_factor": round(prediction.setup.power_factor, 5),
        "density_altitude_m": round(prediction.setup.conditions.density_altitude, 1),
        "belt": {
            "pitch_length_mm": round(drive.pitch_length / MM, 3),
            "engagement_travel_mm": round(drive.engagement_travel / MM, 3),
            "low_ratio": round(prediction.low_ratio, 4),
            "high_ratio": round(prediction.high_ratio, 4),
            "low_slack_mm": round(drive.low_slack / MM, 3),
            "deflection_mm": round(drive.deflection / MM, 2),
        },
        "engagement": {
            "touch_rpm": round(engagement.touch / RPM, 1),
            "bite_rpm": round(engagement.bite / RPM, 1),
            "bite_rate_n_per_100rpm": round(engagement.bite_rate, 1),
        },
        "shift": _figures(shift),
        "curve": _curve(shift),
        "warnings": prediction.warnings(),
    }
    if prediction.backshift:
        document["backshift"] = _figures(prediction.backshift)
        document["backshift_curve"] = _curve(prediction.backshift)
    return document


def _figures(curve: ShiftCurve) -> dict[str, float]:
    return {
        "mean_rpm": round(curve.mean / RPM, 1),
        "spread_rpm": round(curve.spread / RPM, 1),
        "slope_rpm": round(curve.slope / RPM, 1),
        "full_shift_rpm": round(curve.full_shift / RPM, 1),
        "full_shift_kph": round(float(curve.vehicle_speed[-1]) / KPH, 2),
        "over_rev_rpm": round(curve.over_rev / RPM, 1),
        "least_grip": round(curve.least_grip, 4),
    }


def _curve(curve: ShiftCurve) -> list[dict[str, Any]]:
    path, balance = curve.path, curve.balance
    columns: dict[str, tuple[Array, int]] = {
        "travel_mm": (path.travel / MM, 4),
        "ratio": (path.ratio, 5),
        "rpm": (curve.speed / RPM, 2),
        "clamp_primary_n": (balance.primary_clamp, 2),
        "clamp_secondary_n": (balance.secondary_clamp, 2),
        "tight_n": (balance.tight, 2),
        "slack_n": (balance.slack, 2),
        "grip_primary": (balance.grip_primary, 4),
        "grip_secondary": (balance.grip_secondary, 4),
        "speed_kph": (curve.vehicle_speed / KPH, 3),
        "belt_speed_mps": (curve.belt_speed, 3),
        "primary_radius_mm": (path.primary_radius / MM, 4),
        "secondary_radius_mm": (path.secondary_radius / MM, 4),
        "secondary_opening_mm": (path.secondary_opening / MM, 4),
    }
    rows = zip(*(np.round(values, digits).tolist() for values, digits in columns.values()), strict=True)
    flags = curve.flags()
    return [dict(zip(columns, row, strict=True), flags=flags[i]) for i, row in enumerate(rows)]
