"""One visit as its pages show it: every station's fields with what was computed from them."""

import sqlite3

from jaxel.core.formats.prediction import PredictionFigures
from jaxel.core.trade.kinds.cautions import cautions
from jaxel.core.trade.kinds.kinds import Side
from jaxel.core.trade.record.said import Station
from jaxel.core.trade.record.scope import SCOPE_NAMES, Scope, scopes_for
from jaxel.core.trade.run.road_test import Measured, typed_figures
from jaxel.core.trade.run.scores import Comparison, compare, predicted_figures
from jaxel.core.trade.stranger.as_found import consequence, fault_kinds
from jaxel.core.trade.visit.intake import Intake
from jaxel.core.trade.visit.stations import OpenItem, open_items, station_states, stations_of
from jaxel.core.trade.visit.told import HandOver
from jaxel.store.db import reading
from jaxel.store.machine import machines
from jaxel.store.run import calibrations
from jaxel.store.setup.following import CORRECTED_SINCE
from jaxel.store.visit import addenda, visit_log, visits
from jaxel.store.visit.entries import FoundWord, TestRun
from jaxel.store.visit.visit_log import LoggedChange
from jaxel.store.visit.visits import Visit

from ..belt.view import BeltView, belt_view
from ..errors import Refusal
from ..kinds.options import KindOption, kind_options
from ..line_up.view import BreakInView, CloseView, LineUpView, break_in_view, close_view, line_up_view
from ..machine.head import MachineHead
from ..rebuild.view import RebuildView, rebuild_view
from ..record.model import Model
from ..setup.predictions import WhereItLies, figures_or_fault, predicted_or_fault, where_it_lies
from ..setup.view import SetupView, setup_view
from ..strip.view import InspectionView, strip_view


class StationView(Model):
    station: Station
    state: str
    caution: str


class FaultView(Model):
    """A fault as found, what it does, and what was done about it."""

    id: int
    kind: str
    name: str
    means: str
    note: str
    put_right: str


class FaultOption(Model):
    """A kind of fault these clutches can have; `figures`, what it is recorded with, if anything."""

    key: str
    name: str
    figures: str | None


class ScopeOption(Model):
    key: Scope
    name: str


class AddendumView(Model):
    id: int
    text: str
    added_at: str
    added_by: str


class KindsView(Model):
    """The kinds of the clutches, None where not stated, and those that fit the machine's set-up; `sides`, those there
    are: of a bare clutch its own half."""

    primary_kind: str | None
    secondary_kind: str | None
    sides: list[Side]
    primaries: list[KindOption]
    secondaries: list[KindOption]


class LogNote(Model):
    """A run's log in a line: its file, whether it counts, and what changes whenever what was read of it does."""

    name: str
    counts: bool
    state: str


class RunView(Model):
    """A run: what was typed of it, its log, and what it measured by either."""

    id: int
    revision_id: int
    on_left: bool
    set_aside: str
    belt_width_mm: float
    engagement_rpm: float | None
    second_roll_on_rpm: float | None
    third_roll_on_rpm: float | None
    shift_rpm: float | None
    note: str
    rider: str
    strip: str
    taken_at: str
    log: LogNote | None
    measured_engagement_rpm: float | None
    measured_shift_rpm: float | None
    comparison: list[Comparison]


class WordView(Model):
    """What a rider said: of which set-up, where, which way, in their own words."""

    id: int
    on_left: bool
    place: str
    word: str
    note: str
    sentence: str
    said_at: str


class StandsOn(Model):
    """The calibration a visit's predictions stand on: its day, its runs, and the last one it is anchored on."""

    id: int
    made_at: str
    runs: int
    anchor: str


class VisitView(Model):
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
    lies: WhereItLies
    fault: Refusal | None
    baseline: list[Comparison]
    runs: list[RunView]
    words: list[WordView]
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
    belt = belt_view(connection, visit)
    found, found_fault = figures_or_fault(visit.as_it_works, visit.ground)
    left, left_fault = predicted_or_fault(visit.as_left(), visit.ground)
    return VisitView(
        id=visit.id,
        edit=visit.edit,
        machine=MachineHead(
            id=machine.id, name=machine.name, kind=machine.kind, rider=machine.rider, model=machine.model
        ),
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
        lies=where_it_lies(left, visit.intake),
        fault=found_fault or left_fault,
        baseline=_baseline(visit),
        runs=[_run(visit, run) for run in visit.runs],
        words=[_word(visit, each) for each in visit.words],
        calibration=_stands_on(visit),
        fresh_runs=0 if signed else calibrations.fresh(connection, visit.machine_id, visit.calibration),
        found_revision_id=visit.set_up.found_revision_id,
        left_revision_id=visit.set_up.left_revision_id,
        rebuild=rebuild_view(connection, visit, left),
        line_up=line_up_view(connection, visit),
        break_in=break_in_view(connection, visit, list(states)),
        close=close_view(connection, visit),
        hand_over=visit.hand_over,
        last_change=None if signed else visit_log.last(connection, visit),
    )


def _stands_on(visit: Visit) -> StandsOn | None:
    on = visit.calibration
    if on is None:
        return None
    runs, anchors = on.document.runs, on.document.anchor
    last = runs[max(each.run for each in anchors) - 1].note if anchors else ""
    return StandsOn(id=on.id, made_at=on.made_at, runs=len(runs), anchor=last)


def _faults(visit: Visit) -> list[FaultView]:
    return [
        FaultView(
            id=each.id,
            kind=each.fault.kind,
            name=each.fault.name,
            means=consequence(visit.as_found(), each.fault),
            note=each.fault.note if each.fault.kind != "other" else "",
            put_right=each.fault.put_right,
        )
        for each in visit.faults
    ]


def _baseline(visit: Visit) -> list[Comparison]:
    """The baseline beside the bare model: a calibration on this very baseline would have nothing to be scored by."""
    found, _ = figures_or_fault(visit.as_it_works)
    predicted = predicted_figures(found) if found else None
    intake = visit.intake
    return compare(
        predicted,
        typed_figures(Measured(intake.baseline_engagement_rpm, shift_rpm=intake.baseline_shift_rpm)),
        intake.stated_windows,
    )


def _kinds(visit: Visit) -> KindsView:
    return KindsView(
        primary_kind=visit.kinds.primary,
        secondary_kind=visit.kinds.secondary,
        sides=list(visit.kinds.sides),
        primaries=kind_options(visit.found, "primary"),
        secondaries=kind_options(visit.found, "secondary"),
    )


def _word(visit: Visit, found: FoundWord) -> WordView:
    said = found.word
    return WordView(
        id=found.id,
        on_left=visit.now(said.revision_id) == visit.now(visit.set_up.left_revision_id),
        place=said.place,
        word=said.word,
        note=said.note,
        sentence=said.sentence,
        said_at=found.said_at,
    )


def _log_note(run: TestRun) -> LogNote | None:
    if run.log_name is None:
        return None
    return LogNote(name=run.log_name, counts=bool(run.log_counts), state=run.log_state or "")


def _run(visit: Visit, run: TestRun) -> RunView:
    return RunView(
        id=run.id,
        revision_id=run.revision_id,
        on_left=visit.ridden(run) == visit.set_up.left_revision_id,
        set_aside=run.set_aside or (CORRECTED_SINCE if visit.now(run.revision_id) != run.revision_id else ""),
        belt_width_mm=run.belt_width_mm,
        engagement_rpm=run.engagement_rpm,
        second_roll_on_rpm=run.second_roll_on_rpm,
        third_roll_on_rpm=run.third_roll_on_rpm,
        log=_log_note(run),
        measured_engagement_rpm=run.ride.engagement_rpm,
        measured_shift_rpm=run.ride.shift_rpm,
        shift_rpm=run.shift_rpm,
        note=run.note,
        rider=run.rider,
        strip=run.strip,
        taken_at=run.taken_at,
        comparison=compare(run.predicted, run.figures, visit.intake.stated_windows),
    )
