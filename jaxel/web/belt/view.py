"""The belt of a visit as its page shows it: as found, what it costs, and what was decided."""

import sqlite3
from typing import Literal

from jaxel.core.trade.belt.check import Decision
from jaxel.core.trade.belt.look import SEARCHES, Flank, look_finding, mark_kinds, patterns
from jaxel.core.trade.belt.wear import BeltAssessment, GapWidth, WidthCost, assess, width_from_gap
from jaxel.core.trade.kinds.kind_file import Finding
from jaxel.core.trade.kinds.schools import followed
from jaxel.core.trade.setup.lie import lie_of_belt
from jaxel.store.belt import belts
from jaxel.store.kinds import choices
from jaxel.store.machine import machines
from jaxel.store.machine.limits import in_force
from jaxel.store.shelf import parts
from jaxel.store.visit.visits import Visit

from ..record.model import Model
from ..setup.predictions import costs

Known = Literal["measured", "typical", "on record"]


class BeltNumber(Model):
    """A belt the part table has: its number, its price, pieces at hand, None where nobody counted."""

    number: str
    price: float | None
    at_hand: int | None


class SpareOption(Model):
    id: int
    number: int
    width_mm: float


class MarkView(Model):
    """A mark on the belt, under its number."""

    id: int
    kind: str
    name: str
    place: float
    flank: Flank
    length_mm: float | None


class PatternView(Model):
    """Marks that belong together, and what they mean."""

    name: str
    means: str
    finding: Finding


class SearchView(Model):
    """Where the pieces of a belt that failed go, and what was found there."""

    key: str
    name: str
    found: str


class BeltView(Model):
    """The belt as found, what it costs, and what was decided; widths by place.

    `gap_width`, the width its side gap tells; `model_deflection_mm` and `model_ride_mm`, what the model says of the
    belt as measured; `way_round`, the workshop's rule;
    `way`, the one it came off by, empty where nobody said; `next_…`, the one that goes on; `on_again`, whether one has
    to; `known_by`, what `last_known_mm` is; `numbers` of belts the workshop knows.
    """

    id: int
    make_number: str
    batch: str
    direction: str
    no_width: str | None
    failure: str
    searches: list[SearchView]
    side_gap_mm: float | None
    gap_width: GapWidth | None
    deflection_mm: float | None
    model_deflection_mm: float | None
    ride_mm: float | None
    model_ride_mm: float | None
    marks: list[MarkView]
    patterns: list[PatternView]
    look: Finding | None
    way_round: str
    walking_range: str

    number: int
    last_known_mm: float
    new_width_mm: float
    limit_mm: float
    limit_origin: str
    widths_mm: dict[int, float]
    assessment: BeltAssessment | None
    costs: list[WidthCost]
    decision: Decision | None
    replaced: bool
    reason: str
    next_belt_id: int | None
    next_width_mm: float | None
    next_is: str
    next_number: str
    next_as_numbered: bool
    next_length_mm: float | None
    next_price: float | None
    waits: str
    went_on: str
    risen: bool
    on_again: bool
    unmeasured: str
    cause: str
    cause_words: str
    length_mm: float
    known_by: Known
    numbers: list[BeltNumber]
    spares: list[SpareOption]
    way: str


def belt_view(connection: sqlite3.Connection, visit: Visit) -> BeltView:
    """The belt of a visit, inside the caller's reading."""
    limits = visit.found.belt
    stated = in_force(connection, visit.machine_id, "belt_width_min_mm")
    widths = [visit.widths_mm[place] for place in sorted(visit.widths_mm)]
    said, marks = visit.belt, [each.mark for each in visit.marks]
    gap = said.side_gap_mm
    clearance = visit.found.geometry.primary.idle_clearance_mm
    round_mm = limits.outer_circumference_mm
    model = lie_of_belt(visit.as_found())
    return BeltView(
        way=said.way,
        id=visit.fitted_belt.id,
        make_number=visit.fitted_belt.make_number,
        batch=visit.fitted_belt.batch,
        direction=said.direction or visit.fitted_belt.direction,
        no_width=said.no_width,
        failure=said.failure,
        searches=[SearchView(key=key, name=name, found=getattr(said, key)) for key, name in SEARCHES.items()],
        side_gap_mm=gap,
        gap_width=None
        if gap is None or gap > limits.top_width_new_mm
        else width_from_gap(gap, clearance, limits.top_width_new_mm, visit.mean_width_mm if widths else None),
        deflection_mm=said.deflection_mm,
        model_deflection_mm=model.deflection_mm if model else None,
        ride_mm=said.ride_mm,
        model_ride_mm=model.ride_mm if model else None,
        marks=[
            MarkView(
                id=each.id,
                kind=each.mark.kind,
                name=mark_kinds()[each.mark.kind].name if each.mark.kind in mark_kinds() else each.mark.kind,
                place=each.mark.place,
                flank=each.mark.flank,
                length_mm=each.mark.length_mm,
            )
            for each in visit.marks
        ],
        patterns=[
            PatternView(name=each.name, means=each.means, finding=each.finding) for each in patterns(marks, round_mm)
        ],
        look=look_finding(marks, round_mm),
        way_round=followed("belt_way", choices.made(connection)).name,
        walking_range=visit.intake.walking_range,
        number=visit.fitted_belt.number,
        last_known_mm=visit.fitted_belt.width_mm,
        new_width_mm=limits.top_width_new_mm,
        limit_mm=limits.top_width_min_mm,
        limit_origin=stated.origin if stated else "from memory",
        widths_mm=visit.widths_mm,
        assessment=assessed(visit),
        costs=costs(visit.as_found()),
        decision=visit.belt.decision,
        replaced=visit.belt.replaced,
        reason=visit.belt.reason,
        next_belt_id=visit.belt.next_belt_id,
        **{name: getattr(said, name) for name in GOING_ON},
        on_again=said.on_again(visit.widths_mm),
        length_mm=visit.left.belt.outer_circumference_mm,
        known_by=_known_by(connection, visit),
        numbers=[
            BeltNumber(number=each.number, price=each.price, at_hand=each.pieces)
            for each in (parts.all_parts(connection) if said.replaced else [])
            if each.kind == "belt" and not each.superseded_by
        ],
        spares=[
            SpareOption(id=belt.id, number=belt.number, width_mm=belt.width_mm)
            for belt in machines.belts(connection, visit.machine_id)
            if belt.state == "spare"
        ],
    )


def _known_by(connection: sqlite3.Connection, visit: Visit) -> Known:
    """What the width is that is known of the belt before it is measured here."""
    if visit.fitted_belt.fitted_width_mm is not None or belts.measured_before(
        connection, visit.fitted_belt.id, visit.id
    ):
        return "measured"
    known = (visit.found.evidence or {}).get("belt.top_width_mm")
    return "typical" if known is not None and known.origin == "typical" else "on record"


GOING_ON = (
    "next_width_mm", "next_is", "next_number", "next_as_numbered", "next_length_mm", "next_price", "waits", "went_on",
    "risen", "unmeasured", "cause", "cause_words",
)  # fmt: skip


def assessed(visit: Visit) -> BeltAssessment | None:
    """What the widths measured at a visit say of its belt; None where none was."""
    widths, belt = [visit.widths_mm[place] for place in sorted(visit.widths_mm)], visit.found.belt
    return assess(widths, belt.top_width_new_mm, belt.top_width_min_mm) if widths else None
