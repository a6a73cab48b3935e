"""Line-up: offset and toe between the clutches from a bar's gaps, which way to move, and the shims that do it.

The bar lies against the secondary and reaches past the primary's face toward the engine side of it; a gap is measured
from jaxel.core.words import q
from the bar to that face. Offset is how much further in, toward the chassis, the primary's face lies than where it
should: too large a gap means the secondary stands too far out. Toe is the angle between the two faces, positive where
the front gap is the larger.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.units import said
from jaxel.core.words import q

from ..record.facts import Origin
from ..record.quantities import (
    AngleTolerance,
    Gap,
    Length,
    Offset,
    OffsetTolerance,
    PerTurn,
    Reach,
    Ride,
    Shims,
    Turns,
    Words,
)
from ..record.said import Said
from ..setup.lie import lie_of_belt

SEATING_TURNS = 5
"""Turns of the secondary after which a belt rides at the rim: five to seven (common practice)."""

OFFSET_TOLERANCE_MM, TOE_TOLERANCE_DEG = 0.8, 0.3
"""Where neither manual nor workshop says otherwise; from memory, the manual wins."""

LIE_TOLERANCE, LIE_LEAST_MM = 0.15, 5.0
"""By how much a deflection may differ from where it should be, as a share and at least [mm]: a hand's press gives some
even on a taut belt; from memory, the manual wins."""

ADJUSTER_MM = 4.0
"""As far either way as an adjuster is looked at."""

MOST_SHIMS = 12
FINEST = 100
"""Shims are told apart to a hundredth of a millimetre."""

Way = Literal["", "gaps", "points"]


@dataclass(frozen=True)
class LineUp:
    """The line-up of a visit as it was read.

    `way` it was measured: `gaps` of the bar at the front and rear edge of the primary's face, `base_mm` apart, or
    `points`, its offset at two points, so far from the secondary's centre along the bar; `nominal_mm`, the gap a right
    line-up leaves, with its tolerances and where those come from; `behind`, the shims behind the secondary now [mm];
    `deflection_mm` and `ride_mm` of the belt that goes on, `wanted_deflection_mm` where the manual says one;
    `per_turn_mm`, how much further one turn of the adjuster lets the secondary close; `turned`, times the secondary was
    turned until the belt sat at the rim; `seated`, whether it did; `reason`, why it stays where it is out;
    `unmeasured`, that it was not disturbed, or why it was not measured.
    """

    way: Annotated[Way, Said("how it is measured")] = ""
    front_mm: Annotated[Gap | None, Said("front gap")] = None
    rear_mm: Annotated[Gap | None, Said("rear gap")] = None
    base_mm: Annotated[Length | None, Said("base")] = None
    near_mm: Annotated[Offset | None, Said("offset at the near point")] = None
    near_at_mm: Annotated[Reach | None, Said("near point at")] = None
    far_mm: Annotated[Offset | None, Said("offset at the far point")] = None
    far_at_mm: Annotated[Reach | None, Said("far point at")] = None
    nominal_mm: Annotated[Offset | None, Said("gap it should be")] = None
    offset_tolerance_mm: Annotated[OffsetTolerance | None, Said("offset, give or take")] = None
    toe_tolerance_deg: Annotated[AngleTolerance | None, Said("toe, give or take")] = None
    origin: Annotated[Origin | Literal[""], Said("whose tolerances")] = ""
    behind: Annotated[Shims, Said("shims behind the secondary")] = ()
    deflection_mm: Annotated[Gap | None, Said("belt deflection")] = None
    ride_mm: Annotated[Ride | None, Said("ride below the rim")] = None
    wanted_deflection_mm: Annotated[Gap | None, Said("deflection it should be")] = None
    per_turn_mm: Annotated[PerTurn | None, Said("a turn of the adjuster")] = None
    turned: Annotated[Turns | None, Said("turns of the secondary")] = None
    seated: Annotated[bool, Said("belt at the rim")] = False
    reason: Annotated[Words, Said("why it stays so")] = ""
    unmeasured: Annotated[Words, Said("why it was not measured")] = ""

    @property
    def remembered(self) -> "LineUp":
        """What of it is the machine's rather than this visit's: what should be, and what it was measured with."""
        kept: dict[str, Any] = {name: getattr(self, name) for name in _REMEMBERED}
        return LineUp(**kept)

    @property
    def begun(self) -> bool:
        """Whether a hand has been at it; what is remembered of the machine is no reading."""
        return self != self.remembered


_REMEMBERED = (
    "way", "base_mm", "near_at_mm", "far_at_mm", "nominal_mm", "offset_tolerance_mm", "toe_tolerance_deg", "origin",
    "behind", "wanted_deflection_mm", "per_turn_mm",
)  # fmt: skip


@dataclass(frozen=True)
class Alignment:
    """How the clutches stand to each other.

    `gap_mm`, from bar to face at the middle of the primary; `offset_mm`, that less what it should be, None where that
    is not known; `toe_deg`; `toe_mm`, what the toe comes to over the primary's face or between the two points.
    """

    gap_mm: float
    offset_mm: float | None
    toe_deg: float
    toe_mm: float


def from_gaps(front_mm: float, rear_mm: float, base_mm: float, nominal_mm: float | None = None) -> Alignment:
    """Alignment from the gaps at the two edges of a face.

    toe = atan((front − rear)/base), gap = (front + rear)/2

    Parameters: gaps [mm], not below 0; `base_mm` between where they are measured [mm]; `nominal_mm`, the gap it should
    be [mm]. Raises InvalidValue naming the field.

    >>> from_gaps(36.0, 34.0, 200.0, 34.5).offset_mm, round(from_gaps(36.0, 34.0, 200.0).toe_deg, 4)
    (0.5, 0.5729)

    Reference: plane trigonometry.
    """
    if not base_mm > 0:
        raise InvalidValue("base_mm", "between front and rear gap must be above 0")
    for name, gap in (("front_mm", front_mm), ("rear_mm", rear_mm)):
        if gap < 0:
            raise InvalidValue(name, "is a gap: 0 or more")
    gap = (front_mm + rear_mm) / 2
    toe = math.degrees(math.atan2(front_mm - rear_mm, base_mm))
    return Alignment(gap, None if nominal_mm is None else gap - nominal_mm, toe, front_mm - rear_mm)


def from_points(
    near_mm: float, near_at_mm: float, far_mm: float, far_at_mm: float, centres_mm: float,
    nominal_mm: float | None = None,
) -> Alignment:  # fmt: skip
    """Alignment from the offset at two points along the bar, the line through them carried to the primary's centre.

    Parameters: offsets [mm] and how far each lies from the secondary's centre [mm]; `centres_mm`, centre to centre
    [mm]; `nominal_mm`, the offset it should be [mm]. Raises InvalidValue for points that are one.

    >>> round(from_points(1.0, 200.0, 2.0, 300.0, 260.0).gap_mm, 9)
    1.6

    Reference: plane trigonometry.
    """
    if not far_at_mm > near_at_mm:
        raise InvalidValue("far_at_mm", "must lie further from the secondary than the near point")
    slope = (far_mm - near_mm) / (far_at_mm - near_at_mm)
    gap = near_mm + slope * (centres_mm - near_at_mm)
    return Alignment(
        gap, None if nominal_mm is None else gap - nominal_mm, math.degrees(math.atan(slope)), far_mm - near_mm
    )


def alignment_of(line_up: LineUp, centres_mm: float) -> Alignment | None:
    """What a visit's readings come to; None while one is missing. Raises InvalidValue as the two ways do."""
    if line_up.way == "gaps":
        front, rear, base = line_up.front_mm, line_up.rear_mm, line_up.base_mm
        if front is not None and rear is not None and base is not None:
            return from_gaps(front, rear, base, line_up.nominal_mm)
    if line_up.way == "points":
        given = (line_up.near_mm, line_up.near_at_mm, line_up.far_mm, line_up.far_at_mm)
        if None not in given:
            near, near_at, far, far_at = (float(each or 0.0) for each in given)
            return from_points(near, near_at, far, far_at, centres_mm, line_up.nominal_mm)
    return None


@dataclass(frozen=True)
class Within:
    """A tolerance, in the unit of what it is of, where it comes from, and whether a reading lies outside it."""

    value: float
    origin: str
    out: bool


def within(line_up: LineUp, found: Alignment | None) -> tuple[Within, Within]:
    """The tolerance of the offset [mm] and of the toe [°], each with its own origin, and whether it is kept."""

    def of(stated: float | None, usual: float, reading: float | None) -> Within:
        value = usual if stated is None else stated
        origin = "from memory" if stated is None else line_up.origin or "the workshop"
        return Within(value, origin, reading is not None and abs(reading) > value + 1e-9)

    offset_mm, toe_deg = (found.offset_mm, found.toe_deg) if found else (None, None)
    return (
        of(line_up.offset_tolerance_mm, OFFSET_TOLERANCE_MM, offset_mm),
        of(line_up.toe_tolerance_deg, TOE_TOLERANCE_DEG, toe_deg),
    )


def out_of(line_up: LineUp, found: Alignment) -> list[str]:
    """What of an alignment is out, and which way it must move, in words."""
    offset, toe = within(line_up, found)
    told = []
    if found.offset_mm is not None and offset.out:
        way = "in, toward the chassis" if found.offset_mm > 0 else "out, away from the chassis"
        told.append(f"offset out by {q(abs(found.offset_mm), 'mm', 2)}: the secondary must move {way}")
    if toe.out:
        end = "front" if found.toe_deg > 0 else "rear"
        told.append(f"not parallel by {said(round(abs(found.toe_deg), 2))}°: the {end} of the primary must come out")
    return told


@dataclass(frozen=True)
class ShimStack:
    """Shims to put behind the secondary: `shims` [mm], thickest first, together `total_mm`; `remains_mm`, the offset
    that is left with them [mm], signed like an offset."""

    shims: tuple[float, ...]
    total_mm: float
    remains_mm: float


def shim_stack(offset_mm: float, behind: Sequence[float], stock: Mapping[float, int]) -> ShimStack:
    """The stack that leaves the least offset, of those the fewest shims.

    Parameters: `offset_mm` to take away [mm]; `behind`, the shims that are there now [mm], which may be used again;
    `stock`, pieces by thickness [mm]. At most MOST_SHIMS shims. The stack must come to behind − offset; where no shim
    can take more away, the rest remains.
    """
    wanted = round((sum(behind) - offset_mm) * FINEST)
    pieces: dict[int, int] = {}
    for thick, count in [*((each, 1) for each in behind), *stock.items()]:
        size = round(thick * FINEST)
        if size > 0:
            pieces[size] = min(MOST_SHIMS, pieces.get(size, 0) + count)
    reached: dict[int, tuple[int, ...]] = {0: ()}
    for size in sorted(pieces, reverse=True):
        for total, shims in list(reached.items()):
            for count in range(1, min(pieces[size], MOST_SHIMS - len(shims)) + 1):
                stack, there = (*shims, *[size] * count), total + count * size
                if there > max(wanted, 0) + max(pieces):
                    break
                if there not in reached or len(stack) < len(reached[there]):
                    reached[there] = stack
    total = min(reached, key=lambda each: (abs(each - wanted), len(reached[each]), each))
    return ShimStack(tuple(each / FINEST for each in reached[total]), total / FINEST, (total - wanted) / FINEST)


@dataclass(frozen=True)
class BeltLie:
    """How the belt lies against where it should: `wanted_mm` of deflection [mm] and whose word that is; `off_mm`, what
    was read less that; `turns` of the adjuster that put it right, positive lets the secondary close further."""

    wanted_mm: float
    source: str
    off_mm: float
    right: bool
    turns: float | None


RIDES_MM = 0.05
"""How near the model a belt rides where it has it; a caliper tells no less."""


@dataclass(frozen=True)
class RideLie:
    """How the belt rides against the model: `off_mm`, how much lower in the secondary [mm]; `where` that is."""

    off_mm: float
    where: Literal["there", "lower", "higher"]


def ride_lie(line_up: LineUp, model_mm: float | None) -> RideLie | None:
    """How the belt rides against the model [mm below the rim]; None where it was not read, or the model knows none.

    >>> ride_lie(LineUp(ride_mm=1.5), 1.2).where
    'lower'
    """
    if line_up.ride_mm is None or model_mm is None:
        return None
    off = line_up.ride_mm - model_mm
    return RideLie(off, "there" if abs(off) < RIDES_MM else "lower" if off > 0 else "higher")


def pulley_radius(document: SetupDocument) -> float:
    """Radius of the primary's faces as it is drawn from above [mm]."""
    primary = document.geometry.primary
    return primary.hub_radius_mm + 2 * primary.travel_mm


def belt_lie(line_up: LineUp, document: SetupDocument) -> BeltLie | None:
    """What the belt's deflection says, against the manual's, else against the model's; None where it was not read.

    Parameters: `document`, the set-up as left on the belt that goes on.
    """
    model = lie_of_belt(document)
    wanted = line_up.wanted_deflection_mm
    if line_up.deflection_mm is None or (wanted is None and model is None):
        return None
    source = "the model's" if wanted is None else "the manual's"
    to_be = wanted if wanted is not None else model.deflection_mm if model else 0.0
    off = line_up.deflection_mm - to_be
    turns = None
    if line_up.per_turn_mm:
        stands, wants = (_adjuster_at(document, each) for each in (line_up.deflection_mm, to_be))
        turns = None if stands is None or wants is None else (wants - stands) / line_up.per_turn_mm
    return BeltLie(to_be, source, off, abs(off) <= max(LIE_LEAST_MM, LIE_TOLERANCE * to_be), turns)


def _adjuster_at(document: SetupDocument, deflection_mm: float) -> float | None:
    """How much further than now the secondary would close [mm] at a deflection, by the model; None where none tells."""

    def missed(further: float) -> float:
        geometry = document.geometry
        stop = geometry.secondary.model_copy(update={"adjuster_mm": geometry.secondary.adjuster_mm + further})
        moved = geometry.model_copy(update={"secondary": stop})
        lie = lie_of_belt(document.model_copy(update={"geometry": moved}))
        return math.nan if lie is None else lie.deflection_mm - deflection_mm

    low, high = -ADJUSTER_MM, ADJUSTER_MM
    ends = missed(low), missed(high)
    if deflection_mm <= 0 or any(math.isnan(each) for each in ends) or ends[0] * ends[1] > 0:
        return None
    from scipy.optimize import brentq  # slow to import: a server answers before it needs it

    return float(brentq(missed, low, high, xtol=1e-4))


def lacks(line_up: LineUp, centres_mm: float) -> list[tuple[str, str]]:
    """What a line-up still lacks, as (field, words)."""
    found = []
    try:
        alignment = alignment_of(line_up, centres_mm)
    except InvalidValue as error:
        return [(error.field, f"line-up: {error.field.removesuffix('_mm')} {error.reason}")]
    left = bool(line_up.unmeasured.strip())
    if alignment is None and not left:
        found.append(("way" if not line_up.way else _first_missing(line_up), "line-up: the bar's readings"))
    elif alignment is not None and alignment.offset_mm is None:
        found.append(("nominal_mm", "line-up: the gap it should be, from the manual"))
    if alignment is not None and not line_up.reason.strip():
        found += [("reason", each) for each in out_of(line_up, alignment)]
    if line_up.deflection_mm is None and line_up.ride_mm is None and not left:
        found.append(("deflection_mm", "belt deflection or ride height with the belt on"))
    if not line_up.seated:
        found.append(("seated", "secondary turned until the belt rides at the rim"))
    return found


def _first_missing(line_up: LineUp) -> str:
    names = ("front_mm", "rear_mm", "base_mm") if line_up.way == "gaps" else ("near_mm", "near_at_mm", "far_mm",
                                                                             "far_at_mm")  # fmt: skip
    return next(name for name in names if getattr(line_up, name) is None)
