"""What three widths round a belt say: mean, spread, wear used, a finding, and what the width already costs."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from ..errors import InvalidValue
from ..formats.faults import in_document_terms
from ..formats.setup import SetupDocument, check_width
from ..mechanism.shift import Prediction, predict
from ..units import KPH, MM, RPM

Finding = Literal["keep", "watch", "replace"]

EVEN_SPREAD_MM = 0.3
"""A spread above this is a local burn, cup or flat spot; from memory. 0.1 mm is an even belt (common practice)."""

WATCH_SHARE = 0.7
"""Share of the wear used from which a belt is watched; from memory."""


@dataclass(frozen=True)
class BeltAssessment:
    """Three places judged against the new width and the wear limit [mm]; `wear_used` 1 at the limit."""

    mean_mm: float
    spread_mm: float
    wear_used: float
    finding: Finding
    reason: str


def assess(widths_mm: Sequence[float], new_mm: float, limit_mm: float) -> BeltAssessment:
    """Judge a belt by the widths measured round it.

    wear used = (new − mean)/(new − limit). At the limit anywhere: replace; nearly there, or uneven: watch.
    Parameters: `widths_mm` [1 to 3, mm]. Raises InvalidValue when there is none or one cannot be.

    >>> assess([31.0, 31.1, 31.0], 31.5, 30.0).spread_mm
    0.1

    Source: common practice (three places, even to 0.1 mm); the limit is the machine's own manual's.
    """
    if not widths_mm:
        raise InvalidValue("widths_mm", "no width has been measured yet")
    for place, width in enumerate(widths_mm, start=1):
        check_width(f"place_{place}", width, new_mm)
    mean = sum(widths_mm) / len(widths_mm)
    spread = round(max(widths_mm) - min(widths_mm), 3)
    used = (new_mm - mean) / (new_mm - limit_mm)
    even = (
        f"{spread:.1f} mm between places, more than {EVEN_SPREAD_MM} (from memory): a local burn, cup or flat spot"
        if spread > EVEN_SPREAD_MM
        else f"even all round, {spread:.1f} mm between places"
        if len(widths_mm) > 1
        else "one place measured"
    )
    finding: Finding
    if min(widths_mm) <= limit_mm:
        finding, reason = "replace", f"at {min(widths_mm):.1f} mm it has reached the limit of {limit_mm:.1f} mm"
    elif spread > EVEN_SPREAD_MM:
        finding, reason = "watch", even
    elif used >= WATCH_SHARE:
        finding, reason = (
            "watch",
            f"{used:.0%} of the wear is used, watched from {WATCH_SHARE:.0%} (from memory); {even}",
        )
    else:
        finding, reason = "keep", f"{max(0.0, used):.0%} of the wear is used; {even}"
    return BeltAssessment(mean, spread, used, finding, reason)


@dataclass(frozen=True)
class WidthCost:
    """Figures of the same set-up on two belts: as measured, and new."""

    name: str
    unit: str
    now: float
    new: float


def width_costs(document: SetupDocument) -> list[WidthCost]:
    """What the document's belt width costs against a new belt in the same set-up.

    A worn belt meets the sheave later and sinks in the secondary: it bites elsewhere, starts in a higher
    gear and tops out earlier. Raises InvalidValue where the belt cannot be gripped.
    """
    pair = (document, document.with_belt_width(document.belt.top_width_new_mm))
    with in_document_terms():
        now, new = (predict(each.core()) for each in pair)
    rows: list[tuple[str, str, Callable[[Prediction], float]]] = [
        ("Starting ratio", "", lambda p: p.low_ratio),
        ("Top ratio", "", lambda p: p.high_ratio),
        ("Bite", "rpm", lambda p: p.engagement.bite / RPM),
        ("Snap", "N", lambda p: p.engagement.snap),
        ("Top of the shift", "km/h", lambda p: float(p.shift.vehicle_speed[-1]) / KPH),
        ("Side gap at rest", "mm", lambda p: p.drivetrain.drive.contact_travel / MM),
    ]
    return [WidthCost(name, unit, read(now), read(new)) for name, unit, read in rows]
