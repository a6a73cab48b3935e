"""The `jaxel-prediction` document: what a set-up will do, in the units people read."""

from hashlib import sha256
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from jaxel.core.mechanism.equilibrium.shift import Prediction, ShiftCurve
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.numerics.uncertainty import Band
from jaxel.core.units import KPH, MM, RPM
from jaxel.core.words import q

from .run.calibration import Anchor
from .setup.setup import SetupDocument, write_setup

MODEL_VERSION = 4
"""Counts up when the model predicts otherwise than before from the same set-up and air."""

SLACK_SAID = 3 * MM
"""Slack in low ratio from which it is worth a word [m]: less is how a loop is meant to lie; from memory."""


class _Figures(BaseModel, defer_build=True):
    model_config = ConfigDict(frozen=True)


class BeltFigures(_Figures):
    """The belt at rest and over the shift: travel at which the sheave meets it and at which it is gripped; slack and
    mid-span deflection in low ratio."""

    pitch_length_mm: float
    contact_travel_mm: float
    engagement_travel_mm: float
    low_ratio: float
    high_ratio: float
    low_slack_mm: float
    deflection_mm: float


class EngagementFigures(_Figures):
    """Touch and bite, the clamp that comes at once, the clamp 100 rpm past the bite, and that gained per 100 rpm."""

    touch_rpm: float
    bite_rpm: float
    snap_n: float
    hit_n: float
    bite_rate_n_per_100rpm: float


class ShiftFigures(_Figures):
    """Mean, spread and slope over 20–95 % of the travel; `over_rev_rpm` at the end, below 0 inside the limit."""

    mean_rpm: float
    spread_rpm: float
    slope_rpm: float
    full_shift_rpm: float
    full_shift_kph: float
    over_rev_rpm: float
    least_grip: float


class CurvePoint(_Figures):
    """One node of the shift; `flags` say what limits it there."""

    travel_mm: float
    ratio: float
    rpm: float
    clamp_primary_n: float
    clamp_secondary_n: float
    tight_n: float
    slack_n: float
    grip_primary: float
    grip_secondary: float
    speed_kph: float
    belt_speed_mps: float
    primary_radius_mm: float
    secondary_radius_mm: float
    secondary_opening_mm: float
    flags: list[str]


class Uncertainty(_Figures):
    """One standard deviation of each figure, and what is counted: the model's parameters alone where the set-up's
    numbers are taken as exact, else those by their evidence too."""

    counts: Literal["model", "model and evidence"]
    bite_rpm: float
    mean_rpm: float
    full_shift_rpm: float


class BandFigures(Uncertainty):
    """One standard deviation of each figure, and of the speed at each node of the curve."""

    curve_rpm: list[float]


class WorthFigures(_Figures):
    """An uncertain number of the set-up: where it came from, its standard deviation in its own unit, of a table as a
    share; its share of the variance of engagement and shift, and what a reading would take off each."""

    path: str
    name: str
    origin: str
    sd: float
    engagement_share: float
    shift_share: float
    engagement_off_rpm: float
    shift_off_rpm: float
    minutes: float | None
    off_rpm_per_minute: float


class PredictionFigures(_Figures):
    """A prediction without its curves, and the key they are kept under."""

    key: str
    power_factor: float
    density_altitude_m: float
    belt: BeltFigures
    engagement: EngagementFigures
    shift: ShiftFigures
    warnings: list[str]
    backshift: ShiftFigures | None = None
    friction_band_rpm: float | None = None
    band: Uncertainty | None = None
    anchor: list[Anchor] | None = None


class PredictionDocument(_Figures):
    """A `jaxel-prediction` document, version 1."""

    format: Literal["jaxel-prediction"] = "jaxel-prediction"
    version: Literal[1] = 1
    power_factor: float
    density_altitude_m: float
    belt: BeltFigures
    engagement: EngagementFigures
    shift: ShiftFigures
    curve: list[CurvePoint]
    warnings: list[str]
    backshift: ShiftFigures | None = None
    friction_band_rpm: float | None = None
    backshift_curve: list[CurvePoint] | None = None
    band: BandFigures | None = None
    anchor: list[Anchor] | None = None
    worth: list[WorthFigures] | None = None


def prediction_key(document: SetupDocument, calibration: str = "") -> str:
    """What a prediction is kept under: a digest of the model's version and of all it depends on.

    The mechanism and the air, not the machine's name and not the target; `calibration`, the key of the one applied.
    Returns 64 hexadecimal digits.

    Reference: SHA-256, FIPS 180-4.
    """
    on = f"\n{calibration}" if calibration else ""
    return sha256(f"{MODEL_VERSION}\n{write_setup(document.bare())}{on}".encode()).hexdigest()


def figures_of(key: str, document: PredictionDocument) -> PredictionFigures:
    """The figures of a prediction, without its curves."""
    kept = document.model_dump(include=set(PredictionFigures.model_fields) - {"key"})
    return PredictionFigures.model_validate({"key": key} | kept)


def prediction_document(prediction: Prediction, band: Band | None = None, *, exact: bool = True) -> PredictionDocument:
    """A prediction in mm, rpm, N and km/h, with its band where one was worked out.

    `exact`, whether the set-up's numbers were taken as exact.
    """
    drive, engagement, back = prediction.drivetrain.drive, prediction.engagement, prediction.backshift
    return PredictionDocument(
        power_factor=round(prediction.drivetrain.power_factor, 5),
        density_altitude_m=round(prediction.drivetrain.conditions.density_altitude, 1),
        belt=BeltFigures(
            pitch_length_mm=round(drive.pitch_length / MM, 3),
            contact_travel_mm=round(drive.contact_travel / MM, 3),
            engagement_travel_mm=round(drive.engagement_travel / MM, 3),
            low_ratio=round(prediction.low_ratio, 4),
            high_ratio=round(prediction.high_ratio, 4),
            low_slack_mm=round(drive.low_slack / MM, 3),
            deflection_mm=round(drive.deflection / MM, 2),
        ),
        engagement=EngagementFigures(
            touch_rpm=round(engagement.touch / RPM, 1),
            bite_rpm=round(engagement.bite / RPM, 1),
            snap_n=round(engagement.snap, 1),
            hit_n=round(engagement.hit, 1),
            bite_rate_n_per_100rpm=round(engagement.bite_rate, 1),
        ),
        shift=_figures(prediction.shift),
        curve=_curve(prediction.shift),
        warnings=warnings(prediction),
        backshift=_figures(back) if back else None,
        friction_band_rpm=None if prediction.friction_band is None else round(prediction.friction_band / RPM, 1),
        backshift_curve=_curve(back) if back else None,
        band=_band(band, exact) if band else None,
    )


def warnings(prediction: Prediction) -> list[str]:
    """What the figures mean for the machine, in words."""
    said = []
    drive, curve = prediction.drivetrain.drive, prediction.shift
    ratio = curve.path.ratio
    for travel in prediction.drivetrain.primary.profile.misfits:
        at = q(travel / MM, "mm", 2)
        said.append(f"the point at {at} does not fit a smooth arm: read it again, or set pieces")
    if drive.side_gap < 0:
        said.append("the belt is pinched at idle: it is wider than the open sheaves")
    if drive.low_slack > SLACK_SAID:
        slack = f"{q(drive.low_slack / MM, 'mm', 1)}"
        said.append(f"the belt is slack in low ratio by {slack}: it is met late and starts in a higher gear")
    if curve.over_rev > 0:
        said.append(f"runs past the rev limit at the top: {curve.over_rev / RPM:.0f} rpm over")
    elif curve.over_rev_nodes.any():
        top = curve.speed[curve.over_rev_nodes].max() - curve.rev_limit
        said.append(f"runs past the rev limit during the shift: {top / RPM:.0f} rpm over")
    for name, slips in curve.slips.items():
        where = np.flatnonzero(slips)
        if len(where):
            said.append(f"{name} slips at full throttle from ratio {ratio[where[0]]:.2f} to {ratio[where[-1]]:.2f}")
    return said


def write_prediction(document: PredictionDocument) -> str:
    """The document as JSON text."""
    return document.model_dump_json(indent=2, exclude_none=True)


def _band(band: Band, exact: bool) -> BandFigures:
    return BandFigures(
        counts="model" if exact else "model and evidence",
        bite_rpm=round(band.bite / RPM, 1),
        mean_rpm=round(band.shift_mean / RPM, 1),
        full_shift_rpm=round(band.full_shift / RPM, 1),
        curve_rpm=np.round(band.speed / RPM, 1).tolist(),
    )


def _figures(curve: ShiftCurve) -> ShiftFigures:
    return ShiftFigures(
        mean_rpm=round(curve.mean / RPM, 1),
        spread_rpm=round(curve.spread / RPM, 1),
        slope_rpm=round(curve.slope / RPM, 1),
        full_shift_rpm=round(curve.full_shift / RPM, 1),
        full_shift_kph=round(float(curve.vehicle_speed[-1]) / KPH, 2),
        over_rev_rpm=round(curve.over_rev / RPM, 1),
        least_grip=round(curve.least_grip, 4),
    )


def _curve(curve: ShiftCurve) -> list[CurvePoint]:
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
    return [CurvePoint(**dict(zip(columns, row, strict=True)), flags=flags[i]) for i, row in enumerate(rows)]
