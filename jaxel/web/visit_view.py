"""One visit as its pages show it: every station's fields with what was computed from them."""

import sqlite3
from dataclasses import replace

from pydantic import BaseModel

from jaxel.core.formats.prediction import PredictionFigures
from jaxel.core.formats.setup import BeltPart, SetupDocument
from jaxel.core.trade.as_found import consequence, fault_kinds
from jaxel.core.trade.belt_look import SEARCHES, Flank, look_finding, mark_kinds, patterns
from jaxel.core.trade.belt_wear import BeltAssessment, GapWidth, WidthCost, assess, lie_of_belt, width_from_gap
from jaxel.core.trade.cautions import cautions
from jaxel.core.trade.kind_file import Finding
from jaxel.core.trade.kinds import Side, kinds_for
from jaxel.core.trade.schools import followed
from jaxel.core.trade.scores import Comparison, PredictedFigures, compare, predicted_figures
from jaxel.core.trade.stations import (
    SCOPE_NAMES,
    Decision,
    HandOver,
    Intake,
    OpenItem,
    Scope,
    Station,
    open_items,
    scopes_for,
    station_states,
    stations_of,
)
from jaxel.store import addenda, calibrations, choices, machines, visit_log, visits
from jaxel.store.db import reading
from jaxel.store.limits import in_force
from jaxel.store.visit_log import ChangeLine, LoggedChange
from jaxel.store.visits import TestRun, Visit

from .errors import Refusal
from .line_up_view import BreakInView, CloseView, LineUpView, break_in_view, close_view, line_up_view
from .predictions import costs, figures_or_fault, predicted_or_fault
from .rebuild_view import RebuildView, rebuild_view
from .setup_view import SetupView, setup_view
from .strip_view import InspectionView, strip_view
from .units import retold


class MachineHead(BaseModel):
    id: int
    name: str
    kind: str
    rider: str


class StationView(BaseModel):
    station: Station
    state: str
    caution: str


class SpareOption(BaseModel):
    id: int
    number: int
    width_mm: float


class MarkView(BaseModel):
    """A mark on the belt, under its number."""

    id: int
    kind: str
    name: str
    place: float
    flank: Flank
    length_mm: float | None


class PatternView(BaseModel):
    """Marks that belong together, and what they mean."""

    name: str
    means: str
    finding: Finding


class SearchView(BaseModel):
    """Where the pieces of a belt that failed go, and what was found there."""

    key: str
    name: str
    found: str


class BeltView(BaseModel):
    """The belt as found, what it costs, and what was decided; widths by place.

    `gap_width`, the width its side gap tells; `model_deflection_mm` and `model_ride_mm`, what the model says of the
    belt as measured; `way_round`, the workshop's rule.
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
    reason: str
    next_belt_id: int | None
    next_width_mm: float | None
    spares: list[SpareOption]


class FaultView(BaseModel):
    """A fault as found, what it does, and what was done about it."""

    id: int
    kind: str
    name: str
    means: str
    note: str
    put_right: str


class FaultOption(BaseModel):
    """A kind of fault these clutches can have; `figures`, what it is recorded with, if anything."""

    key: str
    name: str
    figures: str | None


class ScopeOption(BaseModel):
    key: Scope
    name: str


class AddendumView(BaseModel):
    id: int
    text: str
    added_at: str
    added_by: str


class KindOption(BaseModel):
    key: str
    name: str


class KindsView(BaseModel):
    """The kinds of the two clutches, None where not stated, and those that fit the machine's set-up."""

    primary_kind: str | None
    secondary_kind: str | None
    primaries: list[KindOption]
    secondaries: list[KindOption]


class RunView(BaseModel):
    id: int
    revision_id: int
    on_left: bool
    belt_width_mm: float
    engagement_rpm: float | None
    shift_rpm: float | None
    note: str
    taken_at: str
    comparison: list[Comparison]


class StandsOn(BaseModel):
    """The calibration a visit's predictions stand on: its day, its runs, and the last one it is anchored on."""

    id: int
    made_at: str
    runs: int
    anchor: str


class VisitView(BaseModel):
    """`fresh_runs`, runs and baselines of the machine that the visit's calibration does not know."""

    id: int
    edit: int
    machine: MachineHead
    opened_at: str
    signed_off_at: str | None
    signed_off_by: str
    scope: Scope
    scopes: list[ScopeOption]
    unrepaired: str
    addenda: list[AddendumView]
    faults: list[FaultView]
    fault_kinds: list[FaultOption]
    stations: list[StationView]
    open: list[OpenItem]
    intake: Intake
    kinds: KindsView
    belt: BeltView
    strip: InspectionView
    setup: SetupView
    found: PredictionFigures | None
    left: PredictionFigures | None
    fault: Refusal | None
    baseline: list[Comparison]
    runs: list[RunView]
    calibration: StandsOn | None
    fresh_runs: int
    found_revision_id: int
    left_revision_id: int
    rebuild: RebuildView
    line_up: LineUpView
    break_in: BreakInView | None
    close: CloseView
    hand_over: HandOver
    last_change: LoggedChange | None


def visit_view(connection: sqlite3.Connection, visit_id: int) -> VisitView:
    """Everything the pages of a visit show, read at one moment; raises NotFound."""
    with reading(connection):
        return _read(connection, visit_id)


def _read(connection: sqlite3.Connection, visit_id: int) -> VisitView:
    visit = visits.get(connection, visit_id)
    machine = machines.get(connection, visit.machine_id)
    record = visit.record()
    signed = visit.signed_off_at is not None
    states = station_states(record, signed)
    belt = _belt(connection, visit)
    found, found_fault = figures_or_fault(visit.as_it_works, visit.calibration)
    left, left_fault = predicted_or_fault(visit.as_left(), visit.calibration)
    return VisitView(
        id=visit.id,
        edit=visit.edit,
        machine=MachineHead(id=machine.id, name=machine.name, kind=machine.kind, rider=machine.rider),
        opened_at=visit.opened_at,
        signed_off_at=visit.signed_off_at,
        signed_off_by=visit.signed_off_by,
        scope=visit.scope,
        scopes=[ScopeOption(key=each, name=SCOPE_NAMES[each]) for each in scopes_for(machine.kind)],
        unrepaired=visit.unrepaired,
        addenda=[
            AddendumView(id=each.id, text=each.text, added_at=each.added_at, added_by=each.added_by)
            for each in addenda.of_visit(connection, visit_id)
        ],
        faults=_faults(visit),
        fault_kinds=[
            FaultOption(key=each.key, name=each.name, figures=each.values)
            for each in fault_kinds(visit.found, visit.kinds)
        ],
        stations=[StationView(station=s, state=states[s], caution=cautions()[s]) for s in stations_of(record)],
        open=[] if signed else open_items(record),
        intake=visit.intake,
        kinds=_kinds(visit),
        belt=belt,
        strip=strip_view(connection, visit, belt.assessment),
        setup=setup_view(connection, visit),
        found=found,
        left=left,
        fault=found_fault or left_fault,
        baseline=_baseline(visit),
        runs=[_run(visit, run) for run in visit.runs],
        calibration=_stands_on(visit),
        fresh_runs=0 if signed else calibrations.fresh(connection, visit.machine_id, visit.calibration),
        found_revision_id=visit.set_up.found_revision_id,
        left_revision_id=visit.set_up.left_revision_id,
        rebuild=rebuild_view(connection, visit, left),
        line_up=line_up_view(connection, visit),
        break_in=break_in_view(connection, visit, list(states)),
        close=close_view(visit),
        hand_over=visit.hand_over,
        last_change=None if signed else retold_change(visit_log.last(connection, visit)),
    )


def _stands_on(visit: Visit) -> StandsOn | None:
    on = visit.calibration
    if on is None:
        return None
    runs, anchors = on.document.runs, on.document.anchor
    last = runs[max(each.run for each in anchors) - 1].note if anchors else ""
    return StandsOn(id=on.id, made_at=on.made_at, runs=len(runs), anchor=last)


def retold_change(change: LoggedChange | None) -> LoggedChange | None:
    """A change of the log in this hand's units."""
    if change is None:
        return None
    lines = (ChangeLine(line.station, retold(line.what), retold(line.was), retold(line.now)) for line in change.lines)
    return replace(change, lines=tuple(lines))


def _faults(visit: Visit) -> list[FaultView]:
    return [
        FaultView(
            id=each.id,
            kind=each.fault.kind,
            name=each.fault.name,
            means=retold(consequence(visit.as_found(), each.fault)),
            note=each.fault.note if each.fault.kind != "other" else "",
            put_right=each.fault.put_right,
        )
        for each in visit.faults
    ]


def _baseline(visit: Visit) -> list[Comparison]:
    """The baseline beside the bare model: a calibration on this very baseline would have nothing to be scored by."""
    found, _ = figures_or_fault(visit.as_it_works)
    predicted = predicted_figures(found) if found else None
    return _compared(visit.intake, predicted, visit.intake.baseline_engagement_rpm, visit.intake.baseline_shift_rpm)


def _belt(connection: sqlite3.Connection, visit: Visit) -> BeltView:
    limits = visit.found.belt
    stated = in_force(connection, visit.machine_id, "belt_width_min_mm")
    widths = [visit.widths_mm[place] for place in sorted(visit.widths_mm)]
    said, marks = visit.belt, [each.mark for each in visit.marks]
    gap = said.side_gap_mm
    clearance = visit.found.geometry.primary.idle_clearance_mm
    round_mm = limits.outer_circumference_mm
    model = lie_of_belt(visit.as_found())
    return BeltView(
        id=visit.fitted_belt.id,
        make_number=visit.fitted_belt.make_number,
        batch=visit.fitted_belt.batch,
        direction=said.direction or visit.fitted_belt.direction,
        no_width=said.no_width,
        failure=said.failure,
        searches=[SearchView(key=key, name=name, found=getattr(said, key)) for key, name in SEARCHES.items()],
        side_gap_mm=gap,
        gap_width=None
        if gap is None
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
        assessment=_assessed(widths, limits) if widths else None,
        costs=costs(visit.as_found()),
        decision=visit.belt.decision,
        reason=visit.belt.reason,
        next_belt_id=visit.belt.next_belt_id,
        next_width_mm=visit.belt.next_width_mm,
        spares=[
            SpareOption(id=belt.id, number=belt.number, width_mm=belt.width_mm)
            for belt in machines.belts(connection, visit.machine_id)
            if belt.state == "spare"
        ],
    )


def _assessed(widths: list[float], limits: BeltPart) -> BeltAssessment:
    found = assess(widths, limits.top_width_new_mm, limits.top_width_min_mm)
    return replace(found, reason=retold(found.reason))


def kind_options(document: SetupDocument, side: Side) -> list[KindOption]:
    """The kinds a set-up's clutch on this side can be."""
    return [KindOption(key=kind.key, name=kind.name) for kind in kinds_for(document, side)]


def _kinds(visit: Visit) -> KindsView:
    return KindsView(
        primary_kind=visit.kinds.primary,
        secondary_kind=visit.kinds.secondary,
        primaries=kind_options(visit.found, "primary"),
        secondaries=kind_options(visit.found, "secondary"),
    )


def _run(visit: Visit, run: TestRun) -> RunView:
    return RunView(
        id=run.id,
        revision_id=run.revision_id,
        on_left=visit.now(run.revision_id) == visit.set_up.left_revision_id,
        belt_width_mm=run.belt_width_mm,
        engagement_rpm=run.engagement_rpm,
        shift_rpm=run.shift_rpm,
        note=run.note,
        taken_at=run.taken_at,
        comparison=run_comparison(visit.intake, run),
    )


def run_comparison(intake: Intake, run: TestRun) -> list[Comparison]:
    """A run beside what was predicted for it on its day, and the target of its visit."""
    return _compared(intake, run.predicted, run.engagement_rpm, run.shift_rpm)


def _compared(
    intake: Intake, predicted: PredictedFigures | None, engagement_rpm: float | None, shift_rpm: float | None
) -> list[Comparison]:
    return compare(
        predicted,
        engagement_rpm,
        shift_rpm,
        (intake.target_engagement_rpm, intake.target_engagement_tolerance_rpm),
        (intake.target_shift_rpm, intake.target_shift_tolerance_rpm),
    )
