"""Visits: one machine through the stations, every write checked against the edit it was based on."""

import json
import sqlite3
from dataclasses import dataclass, fields
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup import ConditionsPart, SetupDocument, TargetPart, check_width
from jaxel.core.mechanism.shift import engagement
from jaxel.core.trade.belt_wear import assess
from jaxel.core.trade.kinds import Kinds, check_kind
from jaxel.core.trade.scores import PredictedFigures
from jaxel.core.trade.slots import with_numbers
from jaxel.core.trade.visit import Decision, RoadTest, VisitRecord
from jaxel.core.units import RPM

from . import machines, revisions
from .db import Conflict, NotFound, inserted, now, writing


@dataclass(frozen=True)
class TestRun:
    """A run on the road: what was measured, on which set-up, belt and in which air, and what was predicted that day.

    Air and prediction are None for a run from before they were kept; the prediction also where there was none.
    """

    id: int
    revision_id: int
    belt_width_mm: float
    engagement_rpm: float | None
    shift_rpm: float | None
    note: str
    taken_at: str
    elevation_m: float | None
    temperature_c: float | None
    humidity_pct: float | None
    predicted: PredictedFigures | None


@dataclass(frozen=True)
class Visit:
    """One visit as stored; `widths_mm` by place. Drafts are slot values tried but not recorded."""

    id: int
    machine_id: int
    edit: int
    opened_at: str
    signed_off_at: str | None
    signed_off_by: str
    odometer_km: float | None
    complaint: str
    riding: str
    elevation_m: float
    temperature_c: float
    humidity_pct: float
    fitted_confirmed: bool
    target_engagement_rpm: float
    target_engagement_tolerance_rpm: float
    target_shift_rpm: float
    target_shift_tolerance_rpm: float
    baseline_engagement_rpm: float | None
    baseline_shift_rpm: float | None
    belt_id: int
    belt_decision: Decision | None
    belt_reason: str
    next_belt_id: int | None
    next_belt_width_mm: float | None
    found_revision_id: int
    left_revision_id: int
    found_draft: dict[str, float]
    left_draft: dict[str, float]
    change_reason: str
    watch: str
    next_service_km: float | None
    belt: machines.Belt
    widths_mm: dict[int, float]
    runs: tuple[TestRun, ...]
    found: SetupDocument
    left: SetupDocument
    kinds: Kinds

    @property
    def mean_width_mm(self) -> float:
        """Width of the belt as found: the mean of what was measured, else what was last known."""
        widths = self.widths_mm.values()
        return sum(widths) / len(widths) if widths else self.belt.width_mm

    @property
    def left_width_mm(self) -> float:
        """Width of the belt the machine leaves on."""
        if self.belt_decision in ("spare", "discard"):
            return self.next_belt_width_mm or self.left.belt.top_width_new_mm
        return self.mean_width_mm

    @property
    def conditions(self) -> ConditionsPart:
        return ConditionsPart(
            elevation_m=self.elevation_m, temperature_c=self.temperature_c, relative_humidity=self.humidity_pct / 100
        )

    @property
    def target(self) -> TargetPart:
        return TargetPart(
            engagement_rpm=self.target_engagement_rpm,
            engagement_tolerance_rpm=self.target_engagement_tolerance_rpm,
            shift_rpm=self.target_shift_rpm,
            shift_tolerance_rpm=self.target_shift_tolerance_rpm,
        )

    def as_found(self) -> SetupDocument:
        """The set-up the machine came in with, on its worn belt, in the air of its use."""
        return with_numbers(self.found, self.found_draft).in_use(self.mean_width_mm, self.conditions, self.target)

    def as_left(self) -> SetupDocument:
        """The set-up on the bench: recorded changes and the draft, on the belt that goes on."""
        return with_numbers(self.left, self.left_draft).in_use(self.left_width_mm, self.conditions, self.target)

    def record(self) -> VisitRecord:
        """The visit as the core's rules look at it."""
        belt = self.found.belt
        widths = [self.widths_mm[place] for place in sorted(self.widths_mm)]
        finding = assess(widths, belt.top_width_new_mm, belt.top_width_min_mm).finding if widths else None
        return VisitRecord(
            odometer_km=self.odometer_km,
            complaint=self.complaint,
            fitted_confirmed=self.fitted_confirmed and not self.found_draft,
            widths_mm=self.widths_mm,
            belt_finding=finding,
            belt_decision=self.belt_decision,
            belt_reason=self.belt_reason,
            next_belt_width_mm=self.next_belt_width_mm,
            found_revision_id=self.found_revision_id,
            left_revision_id=self.left_revision_id,
            draft=bool(self.left_draft),
            road_tests=tuple(RoadTest(run.revision_id, run.engagement_rpm, run.shift_rpm) for run in self.runs),
        )


def open_visit(connection: sqlite3.Connection, machine_id: int) -> int:
    """Open a visit for a machine, its air and target as last known; returns its id.

    Raises NotFound, and Conflict when the machine has a visit open.
    """
    machines.get(connection, machine_id)
    with writing(connection):
        if open_visit_of(connection, machine_id) is not None:
            raise Conflict("this machine already has a visit open")
        current = revisions.history(connection, machine_id)[0]
        belt = next(belt for belt in machines.belts(connection, machine_id) if belt.state == "fitted")
        document = current.document
        target = document.target or _peak_power_target(document)
        values = {
            "machine_id": machine_id,
            "opened_at": now(),
            "elevation_m": document.conditions.elevation_m,
            "temperature_c": document.conditions.temperature_c,
            "humidity_pct": document.conditions.relative_humidity * 100,
            "target_engagement_rpm": target.engagement_rpm,
            "target_engagement_tolerance_rpm": target.engagement_tolerance_rpm,
            "target_shift_rpm": target.shift_rpm,
            "target_shift_tolerance_rpm": target.shift_tolerance_rpm,
            "belt_id": belt.id,
            "found_revision_id": current.id,
            "left_revision_id": current.id,
        }
        return inserted(
            connection.execute(
                f"INSERT INTO visit ({', '.join(values)}) VALUES ({', '.join(':' + name for name in values)})", values
            )
        )


def _peak_power_target(document: SetupDocument) -> TargetPart:
    """Where the document names no target: shift at the rpm of peak power, engagement where it bites now."""
    setup = document.core()
    return TargetPart(
        engagement_rpm=round(engagement(setup).bite / RPM, -1),
        shift_rpm=round(setup.engine.peak_power_speed() / RPM, -1),
    )


def open_visit_of(connection: sqlite3.Connection, machine_id: int) -> int | None:
    """The id of a machine's open visit, if it has one."""
    row = connection.execute(
        "SELECT id FROM visit WHERE machine_id = ? AND signed_off_at IS NULL", (machine_id,)
    ).fetchone()
    return row["id"] if row else None


def visits_of(connection: sqlite3.Connection, machine_id: int) -> list[Visit]:
    """Every visit of a machine, newest first."""
    rows = connection.execute("SELECT id FROM visit WHERE machine_id = ? ORDER BY id DESC", (machine_id,))
    return [get(connection, row["id"]) for row in rows.fetchall()]


def get(connection: sqlite3.Connection, visit_id: int) -> Visit:
    """One visit with its readings and runs; raises NotFound."""
    row = connection.execute("SELECT * FROM visit WHERE id = ?", (visit_id,)).fetchone()
    if row is None:
        raise NotFound("visit")
    readings = connection.execute("SELECT place, width_mm FROM belt_reading WHERE visit_id = ?", (visit_id,))
    runs = connection.execute("SELECT * FROM road_test WHERE visit_id = ? ORDER BY id", (visit_id,))
    belt = next(b for b in machines.belts(connection, row["machine_id"]) if b.id == row["belt_id"])
    return Visit(
        **dict(row)
        | {
            "fitted_confirmed": bool(row["fitted_confirmed"]),
            "found_draft": json.loads(row["found_draft"] or "{}"),
            "left_draft": json.loads(row["left_draft"] or "{}"),
            "belt": belt,
            "widths_mm": {reading["place"]: reading["width_mm"] for reading in readings},
            "runs": tuple(_run(run) for run in runs),
            "found": revisions.get(connection, row["found_revision_id"]).document,
            "left": revisions.get(connection, row["left_revision_id"]).document,
            "kinds": machines.get(connection, row["machine_id"]).kinds,
        }
    )


def _run(row: sqlite3.Row) -> TestRun:
    values = {field.name: row[field.name] for field in fields(TestRun) if field.name != "predicted"}
    kept = {field.name: row[f"predicted_{field.name}"] for field in fields(PredictedFigures)[1:]}
    predicted = PredictedFigures(row["model_version"], **kept) if row["model_version"] is not None else None
    return TestRun(**values, predicted=predicted)


def begin_edit(connection: sqlite3.Connection, visit_id: int, edit: int) -> Visit:
    """Inside a transaction: take the next edit of a visit that still stands at `edit`.

    Raises NotFound; Conflict when it was changed elsewhere or is signed off.
    """
    visit = get(connection, visit_id)
    if visit.signed_off_at is not None:
        raise Conflict("the visit is signed off and takes no more changes")
    if visit.edit != edit:
        raise Conflict("the visit was changed elsewhere")
    connection.execute("UPDATE visit SET edit = edit + 1 WHERE id = ?", (visit_id,))
    return visit


EDITABLE = frozenset(
    {
        "odometer_km",
        "complaint",
        "riding",
        "elevation_m",
        "temperature_c",
        "humidity_pct",
        "target_engagement_rpm",
        "target_engagement_tolerance_rpm",
        "target_shift_rpm",
        "target_shift_tolerance_rpm",
        "baseline_engagement_rpm",
        "baseline_shift_rpm",
        "belt_decision",
        "belt_reason",
        "next_belt_id",
        "next_belt_width_mm",
        "change_reason",
        "watch",
        "next_service_km",
    }
)
"""Fields of a visit that a station writes as they are typed."""


def change(connection: sqlite3.Connection, visit_id: int, edit: int, values: dict[str, Any]) -> None:
    """Write some of a visit's EDITABLE fields.

    Raises NotFound, Conflict, and InvalidValue for a belt width that cannot be or a spare that is none.
    """
    if unknown := set(values) - EDITABLE:
        raise InvalidValue(min(unknown), "is not a field of a visit")
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        if (spare := values.get("next_belt_id")) is not None:
            belts = machines.belts(connection, visit.machine_id)
            chosen = next((belt for belt in belts if belt.id == spare and belt.state == "spare"), None)
            if chosen is None:
                raise InvalidValue("next_belt_id", "is not a spare belt of this machine")
            values = {"next_belt_width_mm": chosen.width_mm} | values
        if (width := values.get("next_belt_width_mm")) is not None:
            _check_grippable("next_belt_width_mm", visit.left, width)
        _update(connection, visit_id, values)


def measure_belt(connection: sqlite3.Connection, visit_id: int, edit: int, place: int, width_mm: float | None) -> None:
    """Write the belt's width at one place, or take the reading back.

    Raises InvalidValue (field `place_N`) for a width this belt cannot have or the sheaves cannot grip.
    """
    if place not in (1, 2, 3):
        raise InvalidValue("place", "must be 1, 2 or 3")
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        if width_mm is None:
            connection.execute("DELETE FROM belt_reading WHERE visit_id = ? AND place = ?", (visit_id, place))
            return
        _check_grippable(f"place_{place}", visit.found, width_mm)
        connection.execute(
            "INSERT INTO belt_reading (visit_id, place, width_mm, taken_at) VALUES (?, ?, ?, ?)"
            " ON CONFLICT DO UPDATE SET width_mm = excluded.width_mm, taken_at = excluded.taken_at",
            (visit_id, place, width_mm, now()),
        )


def state_kinds(connection: sqlite3.Connection, visit_id: int, edit: int, stated: dict[str, str | None]) -> None:
    """Say of which kind the machine's clutches are: `primary_kind`, `secondary_kind` or both; None for not stated.

    Raises NotFound, Conflict, and InvalidValue for a kind that is none or does not fit the machine's set-up.
    """
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        if "primary_kind" in stated:
            if stated["primary_kind"] is not None:
                check_kind("primary_kind", stated["primary_kind"], "primary", visit.found)
            connection.execute(
                "UPDATE machine SET primary_kind = ? WHERE id = ?", (stated["primary_kind"], visit.machine_id)
            )
        if "secondary_kind" in stated:
            if stated["secondary_kind"] is not None:
                check_kind("secondary_kind", stated["secondary_kind"], "secondary", visit.found)
            connection.execute(
                "UPDATE machine SET secondary_kind = ? WHERE id = ?", (stated["secondary_kind"], visit.machine_id)
            )


def _check_grippable(field: str, document: SetupDocument, width_mm: float) -> None:
    check_width(field, width_mm, document.belt.top_width_new_mm)
    try:
        document.with_belt_width(width_mm).core()
    except InvalidValue as error:
        raise InvalidValue(field, error.reason) from None


def _update(connection: sqlite3.Connection, visit_id: int, values: dict[str, Any]) -> None:
    if values:
        columns = ", ".join(f"{name} = :{name}" for name in values)
        connection.execute(f"UPDATE visit SET {columns} WHERE id = :id", values | {"id": visit_id})
