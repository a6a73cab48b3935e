"""What widths round a belt say: mean, spread, wear used, how it is worn, and what the width already costs."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.setup.setup import WIDER_THAN_NEW_MM, SetupDocument
from jaxel.core.mechanism.equilibrium.shift import Prediction, predict
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.core.units import KPH, MM, RPM
from jaxel.core.words import q

from ..kinds.kind_file import Finding
from ..setup.where_from import FigureName

EVEN_SPREAD_MM = 0.3
"""A spread above this is a local burn, cup or flat spot; from memory. 0.1 mm is an even belt (common practice)."""

WATCH_SHARE = 0.7
"""Share of the wear used from which a belt is watched; from memory."""


Form = Literal["one place", "even", "local", "tapered"]


@dataclass(frozen=True)
class BeltAssessment:
    """Places judged against the new width and the wear limit [mm]; `wear_used` 1 at the limit.

    `form`, how it is worn: even all round, local at one place, or tapered, wider on one side of the way round than on
    the other.
    """

    mean_mm: float
    spread_mm: float
    wear_used: float
    form: Form
    finding: Finding
    reason: str

    @property
    def narrow(self) -> bool:
        """Whether so much of its wear is used that its width may be felt."""
        return self.wear_used >= WATCH_SHARE


def assess(widths_mm: Sequence[float], new_mm: float, limit_mm: float) -> BeltAssessment:
    """Judge a belt by the widths measured round it, in the order of their places.

    wear used = (new − mean)/(new − limit). At the limit anywhere: replace; nearly there, uneven, or wider than the new
    belt as it is known by now: watch. Parameters: `widths_mm` [1 or more, mm]. Raises InvalidValue when there is none.

    >>> assess([30.6, 30.7, 30.6], 31.5, 30.0).spread_mm
    0.1

    Source: common practice (three places, even to 0.1 mm); the limit is the machine's own manual's.
    """
    if not widths_mm:
        raise InvalidValue("widths_mm", "no width has been measured yet")
    mean = sum(widths_mm) / len(widths_mm)
    spread = round(max(widths_mm) - min(widths_mm), 3)
    used = (new_mm - mean) / (new_mm - limit_mm)
    form, how = _form(widths_mm, spread)
    finding: Finding
    if min(widths_mm) <= limit_mm:
        finding, reason = (
            "replace",
            f"at {q(min(widths_mm), 'mm', 1)} it has reached the limit of {q(limit_mm, 'mm', 1)}",
        )
    elif max(widths_mm) > new_mm + WIDER_THAN_NEW_MM:
        finding, reason = (
            "watch",
            f"at {q(max(widths_mm), 'mm', 1)} it is more than {q(WIDER_THAN_NEW_MM, 'mm')} wider than the new belt,"
            f" {q(new_mm, 'mm')}: measure again, or check which belt this is",
        )
    elif form in ("local", "tapered"):
        finding, reason = "watch", how
    elif used >= WATCH_SHARE:
        finding, reason = (
            "watch",
            f"{used:.0%} of the wear is used, {WATCH_SHARE:.0%} is watched (from memory); {how}",
        )
    else:
        finding, reason = "keep", f"{max(0.0, used):.0%} of the wear is used; {how}"
    return BeltAssessment(mean, spread, used, form, finding, reason)


def _form(widths_mm: Sequence[float], spread: float) -> tuple[Form, str]:
    """How a belt is worn round its length, with the words for it: without its narrowest place the rest of a local one
    agree."""
    if len(widths_mm) == 1:
        return "one place", "one place measured"
    if spread <= EVEN_SPREAD_MM:
        return "even", f"even all round, {q(spread, 'mm', 1)} between places"
    narrow = min(range(len(widths_mm)), key=lambda place: widths_mm[place])
    rest = [width for place, width in enumerate(widths_mm) if place != narrow]
    apart = f"{q(spread, 'mm', 1)} between places, more than {q(EVEN_SPREAD_MM, 'mm')} (from memory)"
    if max(rest) - min(rest) <= EVEN_SPREAD_MM:
        return "local", f"{apart}, all of it at place {narrow + 1}: a local burn, cup or flat spot"
    wide = max(range(len(widths_mm)), key=lambda place: widths_mm[place])
    return "tapered", f"{apart}, tapered from place {wide + 1} to place {narrow + 1}: a belt that ran or lay uneven"


AGREE_MM = 0.3
"""How far the width a side gap implies and a caliper's may lie apart; from memory."""


@dataclass(frozen=True)
class GapWidth:
    """The width that the side gap tells before the belt is off [mm]; `agrees` with the caliper's, None unmeasured."""

    width_mm: float
    agrees: bool | None


def width_from_gap(gap_mm: float, new_gap_mm: float, new_mm: float, measured_mm: float | None = None) -> GapWidth:
    """What a belt has lost is what the total side gap has gained: width = new − (gap − gap with a new belt).

    Parameters: gaps at rest, both sides together, and widths [mm]; `measured_mm`, the caliper's mean.
    Raises InvalidValue for a gap that cannot be.

    >>> width_from_gap(2.4, 1.2, 36.5, 35.4).agrees
    True

    Source: common practice.
    """
    if not 0 <= gap_mm <= new_mm:
        raise InvalidValue("side_gap_mm", f"must be from 0 to {q(new_mm, 'mm', 1)}, the width of the belt")
    width = new_mm - (gap_mm - new_gap_mm)
    # Half a hundredth aside for readings that stand right at the edge.
    return GapWidth(width, None if measured_mm is None else abs(width - measured_mm) <= AGREE_MM + 0.005)


@dataclass(frozen=True)
class WidthCost:
    """A figure of the same set-up on two belts: as measured, and new; `key`, its formula's."""

    key: FigureName
    name: str
    unit: str
    now: float
    new: float


DIGITS = 4
"""Decimals a figure of two belts is told to: more than any page shows."""


def width_costs(document: SetupDocument) -> list[WidthCost]:
    """What the document's belt width costs against a new belt in the same set-up.

    A worn belt meets the sheave later and sinks in the secondary: it bites elsewhere and harder, starts in a higher
    gear and tops out earlier. Raises InvalidValue where the belt cannot be gripped.
    """
    return compare_belts(document, document.with_belt_width(document.belt.top_width_new_mm))


def compare_belts(document: SetupDocument, other: SetupDocument) -> list[WidthCost]:
    """Figures of one set-up on two belts, the document's and another's; raises InvalidValue for one not gripped."""
    with in_document_terms():
        now, new = (predict(each.core()) for each in (document, other))
    rows: list[tuple[FigureName, str, str, Callable[[Prediction], float]]] = [
        ("low_ratio", "Starting ratio", "", lambda p: p.low_ratio),
        ("top_ratio", "Top ratio", "", lambda p: p.high_ratio),
        ("engagement", "Engagement", "rpm", lambda p: p.engagement.bite / RPM),
        ("hit", "Hit", "N", lambda p: p.engagement.hit),
        ("snap", "Of it at once", "N", lambda p: p.engagement.snap),
        ("top_of_shift", "Top of the shift", "km/h", lambda p: float(p.shift.vehicle_speed[-1]) / KPH),
        ("side_gap", "Side gap at rest", "mm", lambda p: p.drivetrain.drive.side_gap / MM),
        ("deflection", "Deflection", "mm", lambda p: p.drivetrain.drive.deflection / MM),
    ]
    return [
        WidthCost(key, name, unit, round(read(now), DIGITS), round(read(new), DIGITS)) for key, name, unit, read in rows
    ]


def with_belt(
    document: SetupDocument, width_mm: float | None, round_mm: float | None, new_mm: float | None = None
) -> SetupDocument:
    """The document on a belt of another width, outside circumference and new width [mm], None for as they are.

    One wider than the set-up's belt when new rides higher and may be pinched by the open primary: a gap below 0.
    """
    other: dict[str, float] = {}
    if width_mm is not None:
        other["top_width_mm"] = width_mm
    if round_mm is not None:
        other["outer_circumference_mm"] = round_mm
    if new_mm is not None:
        other["top_width_new_mm"] = new_mm
    return document.model_copy(update={"belt": document.belt.model_copy(update=other)})


@dataclass(frozen=True)
class StandingStart:
    """A start from rest on the simulated strip: seconds to 5 and to 20 m, None where the machine does not get there in
    15 s; `limited`, seconds on the rev limiter with the belt only just gripped."""

    to_5_m: float | None
    to_20_m: float | None
    limited: float


def standing_start(document: SetupDocument) -> StandingStart:
    """How a set-up comes off the line; raises InvalidValue where the belt cannot be gripped."""
    with in_document_terms():
        core = document.core()
        pull = simulate(core, Strip(duration=15))
    return StandingStart(pull.time_to_distance(5.0), pull.time_to_distance(20.0), pull.gripped_on_limiter(core))
