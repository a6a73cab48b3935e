"""What each thing a visit records is called, where it stands and in which unit: the words of its log."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..units import said
from .stations import Station

LONGEST = 80
"""Of a text, so many characters are repeated."""


@dataclass(frozen=True)
class Called:
    """A record's field: the station it stands at, its name in the trade's words, its unit."""

    station: Station
    words: str
    unit: str = ""


FIELDS: Mapping[str, Mapping[str, Called]] = {
    "intake": {
        "odometer_km": Called("intake", "odometer", "km"),
        "odometer_h": Called("intake", "hour meter", "h"),
        "no_tachometer": Called("intake", "no tachometer"),
        "complaint": Called("intake", "complaint"),
        "riding": Called("intake", "riding"),
        "elevation_m": Called("intake", "altitude of use", "m"),
        "temperature_c": Called("intake", "temperature", "°C"),
        "humidity_pct": Called("intake", "humidity", "%"),
        "target_engagement_rpm": Called("intake", "target engagement", "rpm"),
        "target_engagement_tolerance_rpm": Called("intake", "target engagement, give or take", "rpm"),
        "target_shift_rpm": Called("intake", "target shift", "rpm"),
        "target_shift_tolerance_rpm": Called("intake", "target shift, give or take", "rpm"),
        "baseline_engagement_rpm": Called("intake", "baseline engagement", "rpm"),
        "baseline_shift_rpm": Called("intake", "baseline shift", "rpm"),
        "walking_range": Called("intake", "range used at walking pace"),
        "symptoms": Called("intake", "symptoms"),
        "fitted_confirmed": Called("intake", "what is fitted, looked at"),
    },
    "machine": {
        "primary_kind": Called("intake", "kind of primary"),
        "secondary_kind": Called("intake", "kind of secondary"),
    },
    "belt_check": {
        "decision": Called("belt", "belt decision"),
        "reason": Called("belt", "reason for the belt decision"),
        "next_belt_id": Called("belt", "spare belt going on"),
        "next_width_mm": Called("belt", "width of the belt going on", "mm"),
        "direction": Called("belt", "way it ran"),
        "no_width": Called("belt", "belt without a width"),
        "failure": Called("belt", "how the belt failed"),
        "pieces": Called("belt", "pieces of the belt"),
        "ducts": Called("belt", "ducts"),
        "seals": Called("belt", "seals"),
        "faces": Called("belt", "faces, for burrs"),
        "side_gap_mm": Called("belt", "side gap", "mm"),
        "deflection_mm": Called("belt", "deflection", "mm"),
        "ride_mm": Called("belt", "ride below the rim", "mm"),
    },
    "belt_mark": {},
    "strip": {
        "depth": Called("strip", "how far it is opened"),
        "marked": Called("strip", "marks made"),
        "spring_note": Called("strip", "spring holes and twist"),
    },
    "item_look": {
        "looked": Called("strip", "how it was looked at"),
        "because": Called("strip", "why it was left alone"),
        "readings": Called("strip", "readings"),
        "rings": Called("strip", "rings"),
        "grade": Called("strip", "grade"),
        "compared": Called("strip", "beside a new one"),
        "note": Called("strip", "note"),
        "overruled": Called("strip", "decision"),
        "reason": Called("strip", "why it was overruled"),
        "remedy": Called("strip", "put right by"),
    },
    "belt": {"width_mm": Called("belt", "belt width, as it is known", "mm")},
    "belt_reading": {"width_mm": Called("belt", "belt width", "mm")},
    "set_up": {
        "reason": Called("set-up", "reason for the change"),
        "found_draft": Called("intake", "what is fitted"),
        "left_draft": Called("set-up", "tried on the bench"),
        "found_revision_id": Called("intake", "what is fitted, looked at"),
        "left_revision_id": Called("set-up", "change recorded as fitted"),
        "found_origins": Called("intake", "how a part is known"),
    },
    "rebuild": {
        "seen": Called("rebuild", "seen going back"),
        "left_on": Called("rebuild", "not taken off"),
        "closes": Called("rebuild", "way the sheave turns as it closes"),
        "wound": Called("rebuild", "way the top was turned"),
        "wound_deg": Called("rebuild", "spring wound", "deg"),
        "sheave_hole": Called("rebuild", "spring's hole in the sheave"),
        "helix_hole": Called("rebuild", "spring's hole in the helix"),
        "weighed": Called("rebuild", "weighed"),
        "radius_mm": Called("rebuild", "radius they turn on"),
        "accepted": Called("rebuild", "why it is left so"),
        "helper": Called("rebuild", "second person"),
    },
    "tightened": {
        "state": Called("rebuild", "tightened"),
        "torque_nm": Called("rebuild", "torque", "N·m"),
        "means": Called("rebuild", "tightened with"),
        "wrench": Called("rebuild", "wrench"),
        "note": Called("rebuild", "note"),
        "first_at": Called("rebuild", "first pass round"),
        "compound_at": Called("rebuild", "compound on"),
    },
    "line_up": {
        "way": Called("line-up", "how it is measured"),
        "front_mm": Called("line-up", "front gap", "mm"),
        "rear_mm": Called("line-up", "rear gap", "mm"),
        "base_mm": Called("line-up", "base", "mm"),
        "near_mm": Called("line-up", "offset at the near point", "mm"),
        "near_at_mm": Called("line-up", "near point at", "mm"),
        "far_mm": Called("line-up", "offset at the far point", "mm"),
        "far_at_mm": Called("line-up", "far point at", "mm"),
        "nominal_mm": Called("line-up", "gap it should be", "mm"),
        "offset_tolerance_mm": Called("line-up", "offset, give or take", "mm"),
        "toe_tolerance_deg": Called("line-up", "toe, give or take", "deg"),
        "origin": Called("line-up", "whose tolerances"),
        "behind": Called("line-up", "shims behind the secondary"),
        "deflection_mm": Called("line-up", "belt deflection", "mm"),
        "ride_mm": Called("line-up", "ride below the rim", "mm"),
        "wanted_deflection_mm": Called("line-up", "deflection it should be", "mm"),
        "per_turn_mm": Called("line-up", "a turn of the adjuster", "mm"),
        "turned": Called("line-up", "turns of the secondary", "turns"),
        "seated": Called("line-up", "belt at the rim"),
        "reason": Called("line-up", "why it stays so"),
    },
    "break_in": {
        "released": Called("line-up", "break-in"),
        "reason": Called("line-up", "why the break-in was overruled"),
    },
    "heat_cycle": {
        "warm_at": Called("line-up", "belt warmed through"),
        "warm_c": Called("line-up", "belt temperature, warm", "°C"),
        "cool_at": Called("line-up", "belt cooled down"),
        "cool_c": Called("line-up", "belt temperature, cool", "°C"),
    },
    "counted": {
        "out": Called("hand-over", "out"),
        "back": Called("hand-over", "back"),
        "note": Called("hand-over", "its own torque or adjustment"),
    },
    "road_test": {
        "engagement_rpm": Called("road-test", "engagement", "rpm"),
        "shift_rpm": Called("road-test", "shift", "rpm"),
        "note": Called("road-test", "note"),
    },
    "hand_over": {
        "watch": Called("hand-over", "what to watch"),
        "next_service_km": Called("hand-over", "next service", "km"),
        "next_service_h": Called("hand-over", "next service", "h"),
        "guard_on": Called("hand-over", "guard and duct on"),
    },
    "visit": {
        "signed_off_by": Called("hand-over", "signed off by"),
        "scope": Called("intake", "what it is here for"),
        "unrepaired": Called("hand-over", "closed unrepaired"),
    },
    "fault": {
        "put_right": Called("intake", "put right"),
        "note": Called("intake", "fault found"),
    },
}
"""By the table of the store that keeps it, and the field."""


def value_in_words(value: Any, unit: str = "") -> str:
    """A recorded value as it is read, empty for nothing.

    >>> value_in_words(2310.0, "km"), value_in_words(None), value_in_words("bogs")
    ('2,310 km', '', '“bogs”')
    """
    if value is None or value == "":
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, dict):
        told = {key.replace(".", " ").replace("_", " "): value_in_words(each) for key, each in value.items()}
        return "; ".join(f"{key}: {each}" for key, each in told.items())
    if isinstance(value, list):
        return ", ".join(
            "–" if each is None else said(each) if isinstance(each, float) else str(each) for each in value
        )
    if isinstance(value, int | float):
        return f"{said(value)} {unit}".strip() if unit != "deg" else f"{said(value)}°"
    text = str(value)
    return f"“{text if len(text) <= LONGEST else text[: LONGEST - 1] + '…'}”"
