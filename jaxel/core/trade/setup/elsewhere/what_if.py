"""The same set-up elsewhere: at another altitude, in other air, on other tyres or gearing, with another engine, with
more or less air over the clutch. Tried without touching anything."""

from dataclasses import dataclass

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.paths import with_value
from jaxel.core.formats.reading import validate
from jaxel.core.formats.run.pull import launch_warning
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.core.units import RPM

from ..calibration import Calibration
from .gearing import promise

POWER = (0.3, 3.0)
AIRFLOW = (0.0, 10.0)
"""Shares of what it is now that power and airflow may be tried at."""


@dataclass(frozen=True)
class Elsewhere:
    """What is tried; None stays as it is. `power` and `airflow` as shares of what they are."""

    elevation_m: float | None = None
    temperature_c: float | None = None
    rolling_radius_mm: float | None = None
    drive_ratio: float | None = None
    power: float | None = None
    airflow: float | None = None


@dataclass(frozen=True)
class WhatIf:
    """What a set-up does under other conditions.

    Engagement, shift mean with its deviation, full shift [rpm]; speed at full shift [km/h]; `power_factor` of the air;
    peak power at the crank there [kW]; least grip; `starting_gearing` and `overall_gearing`, engine turns a wheel turn
    at the start and at full shift; `push`, at the wheel at the start for a torque of the engine [N per N·m]; time
    to 20 m and to 200 m, None where not reached; the hottest belt of a pull [°C]; `warning`, what is to be said of its
    launch.
    """

    engagement_rpm: float
    engagement_sd_rpm: float
    shift_rpm: float
    shift_sd_rpm: float
    full_shift_rpm: float
    top_kph: float
    power_factor: float
    power_kw: float
    least_grip: float
    starting_gearing: float
    overall_gearing: float
    push: float
    to_20_m_s: float | None
    to_200_m_s: float | None
    belt_max_c: float
    warning: str


def elsewhere(document: SetupDocument, tried: Elsewhere) -> SetupDocument:
    """The set-up under other conditions; raises InvalidValue naming what is out of range.

    Power scales the engine's torque at every speed. At another altitude the air's pressure is the standard one there.
    """
    changes = {
        "conditions.elevation_m": tried.elevation_m,
        "conditions.temperature_c": tried.temperature_c,
        "vehicle.rolling_radius_mm": tried.rolling_radius_mm,
        "vehicle.drive_ratio": tried.drive_ratio,
    }
    there = document
    for path, value in changes.items():
        if value is not None:
            there = with_value(there, path, float(value))
    if tried.elevation_m is not None:
        there = with_value(there, "conditions.barometer_hpa", None)
    for name, value, (low, high) in (("power", tried.power, POWER), ("airflow", tried.airflow, AIRFLOW)):
        if value is not None and not low <= value <= high:
            raise InvalidValue(name, f"must be {low * 100:g} to {high * 100:g} % of what it is")
    if tried.power is not None:
        curve = [p.model_copy(update={"torque_nm": p.torque_nm * tried.power}) for p in there.engine.curve]
        there = with_value(there, "engine.curve", curve)
    try:
        return validate(SetupDocument, there.model_dump(exclude_none=True))
    except InvalidValue as error:
        raise InvalidValue(error.field.rsplit(".", maxsplit=1)[-1], error.reason) from None


def what_if(document: SetupDocument, tried: Elsewhere, calibration: Calibration | None = None) -> WhatIf:
    """What a set-up does under other conditions, on the machine's calibration; without one it is the fitted set-up.

    Raises InvalidValue.

    Airflow scales what the moving belt gives off to the air; the still loss stays.

    >>> from jaxel.demo.workshop import document
    >>> sled = document("mountain-sled")
    >>> high = what_if(sled, Elsewhere(elevation_m=3000))
    >>> high.shift_rpm < what_if(sled, Elsewhere()).shift_rpm
    True

    Reference: as `predicted` and `simulate`; overall gearing is ratio times final drive.
    """
    there = elsewhere(document, tried)
    known = calibration or Calibration.none(document)
    (estimate,) = known.estimates([there], 41)
    with in_document_terms():
        core = known.applied(there).core()
        shift = predict(core).shift
        usual = Strip()
        airflow = 1.0 if tried.airflow is None else tried.airflow
        run = simulate(core, Strip(moving_loss=usual.moving_loss * airflow))
    peak, geared = core.engine.peak_power_speed(), promise(there)
    speed = float(shift.vehicle_speed[-1]) * 3.6 * estimate.full_shift * RPM / float(shift.held[-1])
    return WhatIf(
        engagement_rpm=round(estimate.engagement, 1),
        engagement_sd_rpm=round(estimate.engagement_sd, 1),
        shift_rpm=round(estimate.mean, 1),
        shift_sd_rpm=round(estimate.mean_sd, 1),
        full_shift_rpm=round(estimate.full_shift, 1),
        top_kph=round(speed, 1),
        power_factor=round(core.power_factor, 4),
        power_kw=round(float(core.engine.torque(peak)) * core.torque_factor * peak / 1000, 1),
        least_grip=round(shift.least_grip, 3),
        starting_gearing=geared.overall_low,
        overall_gearing=geared.overall_high,
        push=geared.push,
        to_20_m_s=_rounded(run.time_to_distance(20.0)),
        to_200_m_s=_rounded(run.time_to_distance(200.0)),
        belt_max_c=round(float(run.belt_temperature.max()), 1),
        warning=launch_warning(run.gripped_on_limiter(core)),
    )


def _rounded(seconds: float | None) -> float | None:
    return None if seconds is None else round(seconds, 2)
