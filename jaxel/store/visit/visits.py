"""Visits: one machine through the stations, read whole from the tables of its stations."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, replace

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import ConditionsPart, SetupDocument, TargetPart, write_setup
from jaxel.core.mechanism.equilibrium.shift import engagement
from jaxel.core.trade.belt.check import BeltCheck
from jaxel.core.trade.belt.wear import with_belt
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.line_up.break_in import BreakIn
from jaxel.core.trade.line_up.line_up import LineUp
from jaxel.core.trade.rebuild.rebuild import Bench, Rebuild, expected_of
from jaxel.core.trade.record.scope import Scope, scopes_for
from jaxel.core.trade.setup.slots import changes, with_kept_numbers
from jaxel.core.trade.setup.tried import SetUp
from jaxel.core.trade.shelf.shelf import StockPart, filled
from jaxel.core.trade.stranger.as_found import FoundFault, with_faults
from jaxel.core.trade.stranger.origins import with_origins
from jaxel.core.trade.strip.inspection import Odometer
from jaxel.core.trade.strip.strip import Inspection, Strip
from jaxel.core.trade.visit.intake import Intake
from jaxel.core.trade.visit.record import VisitRecord
from jaxel.core.trade.visit.told import HandOver
from jaxel.core.units import RPM

from ..db import Conflict, NotFound, inserted, now, writing
from ..edits import DEFAULT_HAND, check_hand, record_of
from ..kinds.choices import cycles_asked
from ..machine import machines, mountings, variants
from ..rebuild import bench_records
from ..rebuild.bench_records import BackTogether
from ..record.rows import begin, open_visit_of, stations
from ..record.whole import read_by
from ..run import calibrations
from ..setup import revisions
from ..setup.calibrated import AsFound, Calibrated, Ground
from ..shelf import shelf
from ..shelf.shelf import kit_asks, numbers_in, parts_in
from ..stranger.faults import faults_of
from ..strip import inspections
from .entries import FoundMark, FoundWord, TestRun, marks_of, run_of, words_of


@dataclass(frozen=True)
class Visit:
    """One visit as stored: its stations' records, and what they point at.

    `fitted_belt` came in on the machine; `widths_mm` of it by place; `found` and `left`, the documents of the
    set-ups recorded; `corrected`, for revisions whose record was put right since, the one in their place; `kits`, those
    fitted at it; `unrepaired`, why it was closed without being repaired; `calibration` its predictions stand on;
    `tray`, parts of the shelf tried in slots.
    """

    id: int
    machine_id: int
    edit: int
    opened_at: str
    opened_by: str
    signed_off_at: str | None
    signed_off_by: str
    scope: Scope
    unrepaired: str
    intake: Intake
    belt: BeltCheck
    set_up: SetUp
    hand_over: HandOver
    fitted_belt: machines.Belt
    widths_mm: dict[int, float]
    runs: tuple[TestRun, ...]
    found: SetupDocument
    left: SetupDocument
    kinds: Kinds
    faults: tuple[FoundFault, ...]
    corrected: dict[int, int]
    marks: tuple[FoundMark, ...]
    words: tuple[FoundWord, ...]
    inspection: Inspection
    calibration_id: int | None
    calibration: Calibrated | None
    tray: Mapping[str, StockPart]
    back_together: BackTogether
    cycles_asked: int
    identity: str = ""
    kits: tuple[StockPart, ...] = ()

    @property
    def mean_width_mm(self) -> float:
        """Width of the belt as found: the mean of what was measured, else what was last known."""
        widths = self.widths_mm.values()
        return sum(widths) / len(widths) if widths else self.fitted_belt.width_mm

    @property
    def left_width_mm(self) -> float:
        """Width of the belt the machine leaves on."""
        if self.belt.replaced:
            return self.belt.next_width_mm or self.left.belt.top_width_new_mm
        return self.mean_width_mm

    @property
    def conditions(self) -> ConditionsPart:
        intake = self.intake
        return ConditionsPart(
            elevation_m=intake.elevation_m,
            temperature_c=intake.temperature_c,
            relative_humidity=intake.humidity_pct / 100,
        )

    @property
    def target(self) -> TargetPart:
        intake = self.intake
        return TargetPart(
            engagement_rpm=intake.target_engagement_rpm,
            engagement_tolerance_rpm=intake.target_engagement_tolerance_rpm,
            shift_rpm=intake.target_shift_rpm,
            shift_tolerance_rpm=intake.target_shift_tolerance_rpm,
        )

    def as_found(self) -> SetupDocument:
        """The set-up the machine came in with, on its worn belt, in the air of its use; its faults aside."""
        tried = with_kept_numbers(self.found, self.set_up.found_draft)
        known = with_origins(tried, self.set_up.found_origins, self.kinds)
        return known.in_use(self.mean_width_mm, self.conditions, self.target)

    def as_it_works(self) -> SetupDocument:
        """The set-up as found with the faults found in it; raises InvalidValue where one leaves nothing to predict."""
        return with_faults(self.as_found(), [each.fault for each in self.faults])

    @property
    def ground(self) -> Ground | None:
        """What predictions of its set-ups stand on: the machine's calibration, else the set-up it came in with; None
        where a fault found in that leaves nothing to predict."""
        if self.calibration:
            return self.calibration
        try:
            return AsFound(write_setup(self.as_it_works().bare()))
        except InvalidValue:
            return None

    def as_left(self) -> SetupDocument:
        """The set-up on the bench: recorded changes and the draft, on the belt that goes on."""
        tried = with_kept_numbers(self.left_with_parts(), numbers_in(self.set_up.left_draft))
        if self.set_up.found_origins:  # what stayed in its slot is known as well as it was found
            changed = {each.slot.key for each in changes(self.as_found(), tried, self.kinds)}
            stayed = {key: each for key, each in self.set_up.found_origins.items() if key not in changed}
            tried = with_origins(tried, stayed, self.kinds)
        return tried.in_use(self.left_width_mm, self.conditions, self.target)

    def as_recorded(self) -> SetupDocument:
        """The set-up as last recorded, without what is tried, on the belt that goes on."""
        return self.left.in_use(self.left_width_mm, self.conditions, self.target)

    def left_with_parts(self) -> SetupDocument:
        """The set-up as last recorded with the parts that lie on the tray; what is typed over them aside."""
        return filled(self.left, self.tray)

    @property
    def bench(self) -> Bench:
        """What putting back looks at: against the set-up as last recorded."""
        belt_way = self.belt.way_off(self.widths_mm)
        left = self.left
        expected = expected_of(left.primary.weights.model_dump(), left.secondary.model_dump())
        expected = replace(expected, kit=kit_asks(self.kits))
        new_belt = None if self.scope == "bench" else self.belt.new_one
        return self.back_together.bench(
            self.inspection.strip, self.kinds, self.set_up.changed, belt_way, expected, new_belt
        )

    def record(self) -> VisitRecord:
        """The visit as the core's rules look at it."""
        limits = self.found.belt
        held = self.back_together
        return VisitRecord(
            scope=self.scope,
            faults=self.faults,
            intake=self.intake,
            belt=self.belt,
            set_up=self.set_up,
            hand_over=self.hand_over,
            widths_mm=self.widths_mm,
            belt_limits_mm=(limits.top_width_new_mm, limits.top_width_min_mm),
            rides=tuple(replace(run.ride, revision_id=self.ridden(run)) for run in self.runs),
            marks=tuple(each.mark for each in self.marks),
            inspection=self.inspection,
            bench=self.bench,
            line_up=held.line_up,
            centres_mm=self.found.geometry.centre_distance_mm,
            break_in=held.break_in,
            cycles=held.cycles,
            cycles_asked=self.cycles_asked,
            counts=held.counts,
            usual=held.usual,
        )

    def ridden(self, run: TestRun) -> int:
        """The set-up a run was made on, as it is recorded now."""
        left = self.set_up.left_revision_id
        return left if self.now(run.revision_id) == self.now(left) else self.now(run.revision_id)

    def now(self, revision_id: int) -> int:
        """The revision that holds in a revision's place: itself, unless its record was put right since."""
        return self.corrected.get(revision_id, revision_id)


def open_visit(
    connection: sqlite3.Connection, machine_id: int, by: str = DEFAULT_HAND, *, scope: Scope | None = None
) -> int:
    """Open a visit for a machine, its air and target as last known; returns its id.

    Parameters: `scope`, left out the usual one of its kind. Raises NotFound, InvalidValue for a scope it cannot be here
    for, and Conflict when the machine has a visit open or is archived.
    """
    check_hand(by)
    machine = machines.get(connection, machine_id)
    possible = scopes_for(machine.kind)
    if scope is not None and scope not in possible:
        raise InvalidValue("scope", "is not what this can be here for")
    with writing(connection):
        if there := mountings.where(connection, machine_id):
            raise Conflict(f"is on {there.machine} since {there.mounted_on}: open a visit there")
        if machine.archived or machine.merged_into is not None:
            raise Conflict("this machine is archived: restore it first")
        if open_visit_of(connection, machine_id) is not None:
            raise Conflict("this machine already has a visit open")
        current = revisions.newest(connection, machine_id)
        newest = next(iter(calibrations.history(connection, machine_id)), None)
        # A machine run before calibrations were kept has its runs all the same.
        calibration = newest.id if newest else calibrations.make(connection, machine_id, current.document, None, by)
        document = current.document
        target = document.target or _peak_power_target(document)
        visit = inserted(
            connection.execute(
                "INSERT INTO visit (machine_id, opened_at, opened_by, scope, calibration_id) VALUES (?, ?, ?, ?, ?)",
                (machine_id, now(), by, scope or ("tune" if "tune" in possible else possible[0]), calibration),
            )
        )
        intake = Intake(
            elevation_m=document.conditions.elevation_m,
            temperature_c=document.conditions.temperature_c,
            humidity_pct=document.conditions.relative_humidity * 100,
            target_engagement_rpm=target.engagement_rpm,
            target_engagement_tolerance_rpm=target.engagement_tolerance_rpm,
            target_shift_rpm=target.shift_rpm,
            target_shift_tolerance_rpm=target.shift_tolerance_rpm,
            target_typical=_target_typical(connection, machine_id, document),
        )
        belt = BeltCheck(machines.fitted_belt(connection, machine_id).id)
        line_up = _remembered_line_up(connection, machine_id)
        begin(
            connection,
            visit,
            (intake, belt, Strip(), SetUp(current.id, current.id), Rebuild(), line_up, BreakIn(), HandOver()),
        )
    return visit


def _remembered_line_up(connection: sqlite3.Connection, machine_id: int) -> LineUp:
    """What a machine's line-up should be, and what is behind its secondary, as its last visit left it."""
    row = connection.execute(
        "SELECT line_up.* FROM line_up JOIN visit ON visit.id = visit_id WHERE machine_id = ? ORDER BY visit.id DESC",
        (machine_id,),
    ).fetchone()
    return LineUp() if row is None else record_of("line_up", row).remembered


def _target_typical(connection: sqlite3.Connection, machine_id: int, document: SetupDocument) -> bool:
    """Whether nobody has stated a machine's target yet: as its last visit left it, at the first whether its document
    names one."""
    last = connection.execute(
        "SELECT target_typical FROM intake JOIN visit ON visit.id = visit_id"
        " WHERE machine_id = ? ORDER BY visit.id DESC LIMIT 1",
        (machine_id,),
    ).fetchone()
    return bool(last["target_typical"]) if last else document.target is None


def _peak_power_target(document: SetupDocument) -> TargetPart:
    """Where the document names no target: shift at the rpm of peak power, engagement where it bites now."""
    drivetrain = document.core()
    return TargetPart(
        engagement_rpm=round(engagement(drivetrain).bite / RPM, -1),
        shift_rpm=round(drivetrain.engine.peak_power_speed() / RPM, -1),
    )


STATIONS = (Intake, BeltCheck, Strip, SetUp, Rebuild, LineUp, BreakIn, HandOver)
"""The records every visit has one of."""


def get(connection: sqlite3.Connection, visit_id: int) -> Visit:
    """One visit with its stations' records, readings and runs; raises NotFound."""
    row = connection.execute("SELECT * FROM visit WHERE id = ?", (visit_id,)).fetchone()
    if row is None:
        raise NotFound("visit")
    said = stations(connection, visit_id, STATIONS)
    belt, set_up, intake = said[BeltCheck], said[SetUp], said[Intake]
    readings = connection.execute("SELECT place, width_mm FROM belt_reading WHERE visit_id = ?", (visit_id,))
    runs = connection.execute("SELECT * FROM ridden WHERE visit_id = ? ORDER BY id", (visit_id,))
    fitted = machines.belt(connection, belt.belt_id)
    going_on = machines.belt(connection, belt.next_belt_id) if belt.replaced and belt.next_belt_id else None
    found = fitted.on(revisions.get(connection, set_up.found_revision_id).document)
    left = revisions.get(connection, set_up.left_revision_id).document
    if not belt.replaced:
        left = fitted.on(left)
    else:
        left = going_on.on(left) if going_on else with_belt(left, None, belt.next_length_mm)
    machine = machines.get(connection, row["machine_id"])
    machine_kinds = replace(machine.kinds, variants=variants.seen(connection, machine.id, visit_id))
    odometer = Odometer(intake.odometer_km, intake.odometer_h)
    together = bench_records.of_visit(connection, visit_id, said[Rebuild], said[LineUp], said[BreakIn])
    visit = Visit(
        **dict(row),
        intake=intake,
        belt=belt,
        set_up=set_up,
        hand_over=said[HandOver],
        fitted_belt=fitted,
        widths_mm={reading["place"]: reading["width_mm"] for reading in readings},
        runs=tuple(run_of(run) for run in runs),
        found=found,
        left=left,
        kinds=machine_kinds,
        faults=faults_of(connection, visit_id),
        corrected=revisions.corrected(connection, row["machine_id"]),
        marks=marks_of(connection, visit_id),
        words=words_of(connection, visit_id),
        inspection=inspections.of_visit(
            connection, visit_id, row["machine_id"], machine_kinds, found, odometer, said[Strip]
        ),
        calibration=calibrations.get(connection, row["calibration_id"]),
        tray=_tray(connection, set_up, left),
        kits=shelf.kits_fitted(connection, "?", [visit_id]).get(visit_id, ()),
        back_together=together,
        cycles_asked=together.break_in.asked or cycles_asked(connection),
    )
    lying_open = visit.bench.came_off(machine_kinds)
    return replace(visit, inspection=replace(visit.inspection, lying_open=lying_open))


def _tray(connection: sqlite3.Connection, set_up: SetUp, left: SetupDocument) -> dict[str, StockPart]:
    """The parts a visit's draft holds by slot; without those that fit this clutch no more."""
    chosen = parts_in(set_up.left_draft)
    if not chosen:
        return {}
    known = shelf.stocked(connection)
    tray: dict[str, StockPart] = {}
    for slot, part in chosen.items():
        try:
            if part in known:
                filled(left, tray | {slot: known[part]})
                tray[slot] = known[part]
        except InvalidValue:
            continue
    return tray


read_by(get)
