"""What is asked about before it is taken: readings that could be but hardly are, with what was likely meant.

Every window here is from memory: it decides whether to ask, never what is right. A hand that says so is believed.
"""

import math
import re
from collections.abc import Callable, Mapping
from typing import Any

from ..errors import Implausible
from ..units import IMPERIAL, other_units, said, unit_choices
from .kind_file import WearItem
from .slots import Number
from .stations import Intake

ENGAGEMENT_RPM = (800.0, 7000.0)
SHIFT_RPM = (1500.0, 13000.0)
TOLERANCE_RPM = (10.0, 1000.0)
WEAR_DEPTHS = 2.0
"""A belt thinner than new by more than this many times its wear allowance is measured again."""
PART = (0.6, 1.6)
FORCE = (0.4, 2.5)
"""A mass or a spring's force of one part against the one it takes the place of."""
FAR_WORN = 8.0
"""A play so many times its limit is looked at again."""
LOAD_G = 20.0
HELIX_DEG = (20.0, 70.0)
WIND_DEG = (0.0, 200.0)
SHIM_MM = 5.0
FURTHEST_KM = 30_000.0
FURTHEST_H = 1_000.0
"""Between two visits."""

READ_IN = frozenset(getattr(IMPERIAL, name) for name in unit_choices())
"""Units a hand may read in besides the application's own."""

SLIP, OTHER_UNIT = 1.12, 1.4
"""How near what was likely meant must come: as a factor, for a slipped decimal point and for another unit."""


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


def run_value(field: str, value: Any, engagement_rpm: float | None, shift_rpm: float | None, intake: Intake) -> None:
    """Ask about an rpm of a run whose other readings are given; raises Implausible."""
    if not isinstance(value, float | int):
        return
    speeds = {"engagement_rpm": engagement_rpm, "shift_rpm": shift_rpm} | {field: value}
    if field == "engagement_rpm":
        engagement(field, value, intake.target_engagement_rpm)
    else:
        shift(field, value, intake.target_shift_rpm)
    in_order(field, speeds)


def engagement(field: str, rpm: float, near: float) -> None:
    """Ask about an engagement [rpm] no clutch has, `near` the one it should have."""
    _within(field, rpm, ENGAGEMENT_RPM, "rpm", near, "is no speed a clutch engages at")


def shift(field: str, rpm: float, near: float) -> None:
    """Ask about a shift [rpm] no engine holds, `near` the one it should have."""
    _within(field, rpm, SHIFT_RPM, "rpm", near, "is no speed an engine shifts at")


def in_order(field: str, speeds: Mapping[str, float | None]) -> None:
    """Ask about an engagement above the shift.

    Parameters: `field` just typed; `speeds` [rpm], engagement and shift by field. Raises Implausible, likely meant
    the other way round.
    """
    (first, low), (second, high) = speeds.items()
    if low is None or high is None or low < high:
        return
    words = f"engagement {said(high)}, shift {said(low)} rpm" if low > high else ""
    raise Implausible(
        field,
        f"puts the engagement, {said(low)} rpm, "
        + ("above" if low > high else "at")
        + f" the shift, {said(high)} rpm: a clutch engages below the speed it shifts at",
        words,
        {first: high, second: low} if words else {},
    )


def odometer(km: float, last_km: float | None) -> None:
    """Ask about an odometer [km] that runs backwards or has leapt since the last visit; raises Implausible."""
    if last_km is None or last_km <= km <= last_km + FURTHEST_KM:
        return
    mile = other_units("km")["mi"][0]
    # Typed for the other unit: miles where kilometres were read, or the other way round.
    meant = next((each for each in (km * mile, km / mile) if last_km <= each <= last_km + FURTHEST_KM), None)
    words = ""
    if meant is not None:
        words = f"{said(km)} mi, which is {said(round(meant))} km" if meant > km else f"{said(round(meant))} km"
    raise Implausible(
        "odometer_km",
        f"{said(km)} km is {'less' if km < last_km else 'far more'} than at the last visit, {said(last_km)} km",
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
        f"lies behind: {said(stands)} {unit} stand on the machine",
        f"in {said(at)} {unit}, at {said(there)} {unit}",
        {field: there},
    )


def belt_width(field: str, mm: float, new_mm: float, limit_mm: float) -> None:
    """Ask about a belt [mm] worn far beyond any that still drives; raises Implausible."""
    thinnest = new_mm - WEAR_DEPTHS * (new_mm - limit_mm)
    if mm >= thinnest:
        return
    words, meant = _likely(mm, "mm", new_mm, thinnest)
    raise Implausible(
        field,
        f"{said(mm)} mm is {said(round(new_mm - mm, 2))} mm narrower than a new belt, {said(new_mm)} mm: "
        "measure across the top, cords between the jaws",
        words,
        {field: meant} if words else {},
    )


def item_reading(field: str, item: WearItem, value: float, limit: float | None, rated: float | None) -> None:
    """Ask about a reading of a wear item, in its unit, far beyond where it would have been renewed; raises Implausible.

    Parameters: `limit` it is judged by, `rated`, what a new one should read; nothing is asked where neither is known.
    """
    measure = item.measure
    new = rated if rated is not None else measure.new if measure else None
    if measure is None or limit is None:
        return
    high = limit * FAR_WORN if measure.wears == "up" else (new or limit) * PART[1]
    low = 0.0 if measure.wears == "up" else limit * PART[0]
    if low <= value <= high:
        return
    words, meant = _likely(value, measure.unit, new or limit, low) if value < low else ("", 0.0)
    raise Implausible(
        field,
        f"{said(value)} {measure.unit} of {measure.name} is far from the limit, {said(limit)} {measure.unit}: "
        "look again",
        words,
        {field: meant} if words else {},
    )


def slot_number(number: Number, value: float) -> None:
    """Ask about a number of a slot: `number` as it stands on the bench, `value` what it would become.

    Raises Implausible.
    """
    unit = number.unit
    near = number.value or 0.0
    if number.key.startswith("load_g."):
        _within(number.key, value, (0, LOAD_G), unit, near, "is heavy for a load on an arm")
    elif unit in ("g", "N") and near > 0:
        low, high = PART if unit == "g" else FORCE
        reason = f"is far from the {said(near)} {unit} that stood here"
        _within(number.key, value, (low * near, high * near), unit, near, reason)
    elif number.key.startswith("helix_deg"):
        _within(number.key, value, HELIX_DEG, unit, near, "is no angle a helix is cut at")
    elif number.key == "pretwist_deg":
        _within(number.key, value, WIND_DEG, unit, near, "is more wind than a spring takes")
    elif unit == "mm":
        thing = number.key.split("_")[0]
        _within(number.key, value, (0, SHIM_MM), unit, near, f"is thick for a {thing}")


def machine_number(field: str, value: float, near: float, unit: str) -> None:
    """Ask about a number of a machine that is far from the one recorded, `near`; raises Implausible."""
    if near > 0:
        _within(field, value, (0.5 * near, 2.0 * near), unit, near, f"is far from the {_figure(near, unit)} recorded")


def helix_stamp(number: Number, text: float | str, last: Number | None) -> None:
    """Ask about two angles typed in one field, `41/37`: the stamp of a progressive helix, not a fraction.

    Parameters: `number`, the angle typed into; `last`, the angle at the far end. Raises Implausible.
    """
    stamp = re.fullmatch(r"\s*(\d\d(?:[.,]\d)?)\s*°?\s*[/–-]\s*(\d\d(?:[.,]\d)?)\s*(?:°|deg)?\s*", str(text))
    if not stamp or not number.key.startswith("helix_deg"):
        return
    first, second = (float(each.replace(",", ".")) for each in stamp.groups())
    raise Implausible(
        number.key,
        f"“{text}” reads as a progressive helix: {said(first)}° where it starts, {said(second)}° where it ends",
        f"{said(first)}° to {said(second)}°" if last else "",
        {"helix_deg.0": first, last.key: second} if last else {},
    )


def _within(field: str, value: float, window: tuple[float, float], unit: str, near: float, reason: str) -> None:
    low, high = window
    if low <= value <= high:
        return
    words, meant = _likely(value, unit, near, low, high)
    raise Implausible(field, f"{_figure(value, unit)} {reason}", words, {field: meant} if words else {})


def _likely(value: float, unit: str, near: float, low: float, high: float = math.inf) -> tuple[str, float | str]:
    """What was likely meant, in words and as it would be typed: a slipped decimal point, or another unit."""
    if value <= 0 or near <= 0:
        return "", value
    options: list[tuple[float, str, float | str]] = []
    for slip in (1000, 100, 10, 0.1, 0.01, 0.001):
        moved = round(value * slip, 6)
        # A point that groups thousands, 7.810, is a habit of typing; another slip must come close.
        if _apart(moved, near) <= math.log(OTHER_UNIT if slip == 1000 else SLIP):
            options.append((moved, _figure(moved, unit), moved))
    for name, (factor, offset) in other_units(unit).items():
        moved = value * factor + offset
        if moved > 0 and _apart(moved, near) <= math.log(OTHER_UNIT):
            typed = f"{said(value)} {name}"
            options.append((moved, f"{typed}, which is {_figure(float(f'{moved:.4g}'), unit)}", typed))
        back = (value - offset) / factor  # typed for this unit where a hand reads in the other
        if name in READ_IN and back > 0 and _apart(back, near) <= math.log(OTHER_UNIT):
            plain = _figure(float(f"{back:.4g}"), unit)
            options.append((back, plain, plain))
    options = [each for each in options if low <= each[0] <= high]
    _, words, meant = min(options, key=lambda each: _apart(each[0], near), default=(0.0, "", value))
    return words, meant


def _apart(one: float, other: float) -> float:
    return abs(math.log(one / other))


def _figure(value: float, unit: str) -> str:
    return f"{said(value)}{'°' if unit == 'deg' else f' {unit}'}"


def _humidity(field: str, percent: float, _: Intake) -> None:
    if 0 < percent < 1:
        whole = percent * 100
        raise Implausible(field, f"{said(percent)} % is drier than any air", f"{said(whole)} %", {field: whole})


def _tolerance(field: str, rpm: float, _: Intake) -> None:
    _within(field, rpm, TOLERANCE_RPM, "rpm", 100, "is no window to land in")


_INTAKE: dict[str, Callable[[str, float, Intake], None]] = {
    "target_engagement_rpm": lambda field, rpm, held: engagement(field, rpm, held.target_engagement_rpm),
    "baseline_engagement_rpm": lambda field, rpm, held: engagement(field, rpm, held.target_engagement_rpm),
    "target_shift_rpm": lambda field, rpm, held: shift(field, rpm, held.target_shift_rpm),
    "baseline_shift_rpm": lambda field, rpm, held: shift(field, rpm, held.target_shift_rpm),
    "target_engagement_tolerance_rpm": _tolerance,
    "target_shift_tolerance_rpm": _tolerance,
    "humidity_pct": _humidity,
}
