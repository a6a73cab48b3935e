"""Readings of the intake and the hand-over that could be but hardly are.

Every window here is from memory: it decides whether to ask, never what is right. A hand that says so is believed.
"""

from collections.abc import Callable
from typing import Any

from jaxel.core.errors import Implausible
from jaxel.core.units import other_units, said
from jaxel.core.words import q

from ..record.plausible import engagement, in_order, shift, within
from .intake import Intake

TOLERANCE_RPM = (10.0, 1000.0)
FURTHEST_KM = 30_000.0
FURTHEST_H = 1_000.0
"""Between two visits."""


def intake_value(field: str, value: Any, intake: Intake, last: float | None) -> None:
    """Ask about a reading of the intake.

    Parameters: `intake` as it stands; `last`, the same meter at the machine's last visit. Raises Implausible.
    """
    if not isinstance(value, float | int):
        return
    ask = _INTAKE.get(field)
    if ask:
        ask(field, value, intake)
    if field == "odometer_km":
        odometer(value, last)
    if field == "odometer_h":
        hour_meter(value, last)
    if field in ("target_engagement_rpm", "target_shift_rpm", "baseline_engagement_rpm", "baseline_shift_rpm"):
        kind = field.split("_", maxsplit=1)[0]
        speeds = {name: getattr(intake, name) for name in (f"{kind}_engagement_rpm", f"{kind}_shift_rpm")}
        in_order(field, speeds | {field: value})


def odometer(km: float, last_km: float | None) -> None:
    """Ask about an odometer [km] that runs backwards or has leapt since the last visit; raises Implausible."""
    if last_km is None or last_km <= km <= last_km + FURTHEST_KM:
        return
    mile = other_units("km")["mi"][0]
    # Typed for the other unit: miles where kilometres were read, or the other way round.
    meant = next((each for each in (km * mile, km / mile) if last_km <= each <= last_km + FURTHEST_KM), None)
    words = ""
    if meant is not None:
        words = f"{said(km)} mi, which is {q(meant, 'km', 0)}" if meant > km else f"{q(meant, 'km', 0)}"
    raise Implausible(
        "odometer_km",
        f"{q(km, 'km')} is {'less' if km < last_km else 'far more'} than at the last visit, {q(last_km, 'km')}",
        words,
        {} if meant is None else {"odometer_km": f"{said(km)} mi" if meant > km else f"{said(meant)} km"},
    )


def hour_meter(hours: float, last: float | None) -> None:
    """Ask about an hour meter [h] that runs backwards or has leapt since the last visit; raises Implausible."""
    if last is None or last <= hours <= last + FURTHEST_H:
        return
    raise Implausible(
        "odometer_h",
        f"{said(hours)} h is {'less' if hours < last else 'far more'} than at the last visit, {said(last)} h",
    )


def next_service(field: str, at: float, stands: float | None) -> None:
    """Ask about a next service [km or h] that lies behind; likely meant as so far from here. Raises Implausible."""
    if stands is None or at > stands:
        return
    unit, there = field.rsplit("_", maxsplit=1)[-1], stands + at
    raise Implausible(
        field,
        f"lies behind: {q(stands, unit)} stand on the machine",
        f"in {q(at, unit)}, at {q(there, unit)}",
        {field: there},
    )


def _humidity(field: str, percent: float, _: Intake) -> None:
    if 0 < percent < 1:
        whole = percent * 100
        raise Implausible(field, f"{said(percent)} % is drier than any air", f"{said(whole)} %", {field: whole})


def _tolerance(field: str, rpm: float, _: Intake) -> None:
    within(field, rpm, TOLERANCE_RPM, "rpm", 100, "is no window to land in")


_INTAKE: dict[str, Callable[[str, float, Intake], None]] = {
    "target_engagement_rpm": lambda field, rpm, held: engagement(field, rpm, held.target_engagement_rpm),
    "baseline_engagement_rpm": lambda field, rpm, held: engagement(field, rpm, held.target_engagement_rpm),
    "target_shift_rpm": lambda field, rpm, held: shift(field, rpm, held.target_shift_rpm),
    "baseline_shift_rpm": lambda field, rpm, held: shift(field, rpm, held.target_shift_rpm),
    "target_engagement_tolerance_rpm": _tolerance,
    "target_shift_tolerance_rpm": _tolerance,
    "humidity_pct": _humidity,
}
