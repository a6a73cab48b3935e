"""One visit as its pages show it: every station's fields with what was computed from them."""

import sqlite3
from collections.abc import Mapping

from pydantic import BaseModel

from jaxel.core.formats.prediction import PredictionFigures
from jaxel.core.formats.setup import SetupDocument
from jaxel.core.trade.belt_wear import BeltAssessment, WidthCost, assess
from jaxel.core.trade.cautions import cautions
from jaxel.core.trade.kinds import Kinds, Side, kinds_for
from jaxel.core.trade.scores import Comparison, PredictedFigures, compare, predicted_figures
from jaxel.core.trade.slots import changes, slots
from jaxel.core.trade.stations import (
    STATIONS,
    Decision,
    HandOver,
    Intake,
    OpenItem,
    Station,
    open_items,
    station_states,
)
from jaxel.store import machines, revisions, visit_log, visits
from jaxel.store.db import reading
from jaxel.store.visit_log import LoggedChange
from jaxel.store.visits import TestRun, Visit

from .errors import Refusal
from .predictions import costs, predicted_or_fault


class MachineHead(BaseModel):
    id: int
    name: str
    kind: str
    rider: str


class StationView(BaseModel):
    station: Station
    state: str
    caution: str


class SpareBelt(BaseModel):
    id: int
    number: int
    width_mm: float


class BeltView(BaseModel):
    """The belt as found, what it costs, and what was decided; widths by place."""

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
    spares: list[SpareBelt]


class NumberView(BaseModel):
    """A number of a slot as found and as left, None where there is none.

    `changed` when they differ; `tried` while it differs from what was last recorded; `weighed`, of how many weights.
    """

    key: str
    label: str
    unit: str
    found: float | None
    left: float | None
    changed: bool
    tried: bool
    weighed: int
    options: list[str]


class SlotView(BaseModel):
    """What is changed together at one place: its name, one step in words, and its numbers."""

    name: str
    step: str
    numbers: list[NumberView]


class ChangeView(BaseModel):
    """A change; both figures None for a part whose difference is not one number."""

    slot: str
    label: str
    unit: str
    found: float | None
    left: float | None


class KindOption(BaseModel):
    key: str
    name: str


class KindsView(BaseModel):
    """The kinds of the two clutches, None where not stated, and those that fit the machine's set-up."""

    primary_kind: str | None
    secondary_kind: str | None
    primaries: list[KindOption]
    secondaries: list[KindOption]


class RecordedChange(BaseModel):
    revision_id: int
    reason: str
    created_at: str
    changes: list[ChangeView]


class Drawing(BaseModel):
    """Lengths [mm] and angle the pictures are drawn from."""

    centre_distance_mm: float
    half_angle_deg: float
    hub_radius_mm: float
    closed_radius_mm: float
    belt_width_mm: float
    cord_depth_mm: float


class SetupView(BaseModel):
    slots: list[SlotView]
    found_slots: list[SlotView]
    changes: list[ChangeView]
    recorded: list[RecordedChange]
    draft: dict[str, float]
    found_draft: dict[str, float]
    reason: str
    rev_limit_rpm: float
    drawing: Drawing


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


class VisitView(BaseModel):
    id: int
    edit: int
    machine: MachineHead
    opened_at: str
    signed_off_at: str | None
    signed_off_by: str
    stations: list[StationView]
    open: list[OpenItem]
    intake: Intake
    kinds: KindsView
    belt: BeltView
    setup: SetupView
    found: PredictionFigures | None
    left: PredictionFigures | None
    fault: Refusal | None
    baseline: list[Comparison]
    runs: list[RunView]
    found_revision_id: int
    left_revision_id: int
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
    found, found_fault = predicted_or_fault(visit.as_found())
    left, left_fault = predicted_or_fault(visit.as_left())
    return VisitView(
        id=visit.id,
        edit=visit.edit,
        machine=MachineHead(id=machine.id, name=machine.name, kind=machine.kind, rider=machine.rider),
        opened_at=visit.opened_at,
        signed_off_at=visit.signed_off_at,
        signed_off_by=visit.signed_off_by,
        stations=[StationView(station=s, state=states[s], caution=cautions()[s]) for s in STATIONS],
        open=[] if signed else open_items(record),
        intake=visit.intake,
        kinds=_kinds(visit),
        belt=_belt(connection, visit, machine.limit_origin),
        setup=_setup(connection, visit),
        found=found,
        left=left,
        fault=found_fault or left_fault,
        baseline=_baseline(visit, found),
        runs=[_run(visit, run) for run in visit.runs],
        found_revision_id=visit.set_up.found_revision_id,
        left_revision_id=visit.set_up.left_revision_id,
        hand_over=visit.hand_over,
        last_change=None if signed else visit_log.last(connection, visit),
    )


def _baseline(visit: Visit, found: PredictionFigures | None) -> list[Comparison]:
    predicted = predicted_figures(found) if found else None
    return _compared(visit.intake, predicted, visit.intake.baseline_engagement_rpm, visit.intake.baseline_shift_rpm)


def _belt(connection: sqlite3.Connection, visit: Visit, limit_origin: str) -> BeltView:
    limits = visit.found.belt
    widths = [visit.widths_mm[place] for place in sorted(visit.widths_mm)]
    return BeltView(
        number=visit.fitted_belt.number,
        last_known_mm=visit.fitted_belt.width_mm,
        new_width_mm=limits.top_width_new_mm,
        limit_mm=limits.top_width_min_mm,
        limit_origin=limit_origin,
        widths_mm=visit.widths_mm,
        assessment=assess(widths, limits.top_width_new_mm, limits.top_width_min_mm) if widths else None,
        costs=costs(visit.as_found()),
        decision=visit.belt.decision,
        reason=visit.belt.reason,
        next_belt_id=visit.belt.next_belt_id,
        next_width_mm=visit.belt.next_width_mm,
        spares=[
            SpareBelt(id=belt.id, number=belt.number, width_mm=belt.width_mm)
            for belt in machines.belts(connection, visit.machine_id)
            if belt.state == "spare"
        ],
    )


def _setup(connection: sqlite3.Connection, visit: Visit) -> SetupView:
    found, left = visit.as_found(), visit.as_left()
    geometry = found.geometry
    recorded = [each for each in revisions.of_visit(connection, visit.id) if each.parent_id is not None]
    return SetupView(
        slots=_slots(found, left, visit.set_up.left_draft, visit.kinds),
        found_slots=_slots(found, found, visit.set_up.found_draft, visit.kinds),
        changes=change_views(found, left, visit.kinds),
        recorded=[
            RecordedChange(
                revision_id=revision.id,
                reason=revision.reason,
                created_at=revision.created_at,
                changes=change_views(
                    revisions.get(connection, revision.parent_id).document, revision.document, visit.kinds
                ),
            )
            for revision in recorded
            if revision.parent_id is not None
        ],
        draft=dict(visit.set_up.left_draft),
        found_draft=dict(visit.set_up.found_draft),
        reason=visit.set_up.reason,
        rev_limit_rpm=found.engine.rev_limit_rpm,
        drawing=Drawing(
            centre_distance_mm=geometry.centre_distance_mm,
            half_angle_deg=geometry.sheave_half_angle_deg,
            hub_radius_mm=geometry.primary.hub_radius_mm,
            closed_radius_mm=geometry.secondary.closed_radius_mm,
            belt_width_mm=left.belt.top_width_mm,
            cord_depth_mm=left.belt.cord_depth_mm,
        ),
    )


def _slots(found: SetupDocument, left: SetupDocument, draft: Mapping[str, float], kinds: Kinds) -> list[SlotView]:
    before = {number.key: number.value for slot in slots(found, kinds) for number in slot.numbers}
    differing = {change.key for change in changes(found, left, kinds)}
    shown: list[SlotView] = []
    for slot in slots(left, kinds):
        rows = [
            NumberView(
                key=number.key,
                label=number.label,
                unit=number.unit,
                found=before.get(number.key),
                left=number.value,
                changed=number.key in differing,
                tried=number.key in draft,
                weighed=number.weighed,
                options=list(number.options),
            )
            for number in slot.numbers
            if number.typed
        ]
        if shown and shown[-1].name == slot.name:
            shown[-1].numbers.extend(rows)
        else:
            shown.append(SlotView(name=slot.name, step=slot.step_words, numbers=rows))
    return shown


def change_views(found: SetupDocument, left: SetupDocument, kinds: Kinds) -> list[ChangeView]:
    """What differs between two set-ups, as the pages show it."""
    return [
        ChangeView(slot=change.slot.name, label=change.label, unit=change.unit, found=change.found, left=change.left)
        for change in changes(found, left, kinds)
    ]


def _kinds(visit: Visit) -> KindsView:
    def options(side: Side) -> list[KindOption]:
        return [KindOption(key=kind.key, name=kind.name) for kind in kinds_for(visit.found, side)]

    return KindsView(
        primary_kind=visit.kinds.primary,
        secondary_kind=visit.kinds.secondary,
        primaries=options("primary"),
        secondaries=options("secondary"),
    )


def _run(visit: Visit, run: TestRun) -> RunView:
    return RunView(
        id=run.id,
        revision_id=run.revision_id,
        on_left=run.revision_id == visit.set_up.left_revision_id,
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
