"""Road tests: runs measured on the set-up and belt that were on the machine at the time."""

import sqlite3
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import TYPE_CHECKING, Any

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.line_up.break_in import counted
from jaxel.core.trade.record.said import written
from jaxel.core.trade.run.plausible import broken_in, run_value
from jaxel.core.trade.run.road_test import Figures, Measured
from jaxel.core.trade.run.scores import PredictedFigures, predicted_figures
from jaxel.core.trade.visit.intake import Intake

from ..db import NotFound, now
from ..edits import DEFAULT_HAND, Edit, Edits, changing, check_fields
from ..record.rows import station
from ..record.whole import whole_visit
from ..setup import predictions
from .calibrations import figures_of, repeat_of

if TYPE_CHECKING:
    from ..visit.entries import TestRun
    from ..visit.visits import Visit

EDITABLE = written(Measured)


def begin(connection: sqlite3.Connection, visit_id: int, revision_id: int, by: str = DEFAULT_HAND) -> int:
    """Begin a run on the set-up as left, in the visit's air, with what is predicted for it today; returns its id.

    Parameters: `revision_id`, the set-up that was shown as left. Raises NotFound, Conflict where another is now, and
    InvalidValue while a change is only tried.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        if visit.set_up.left_draft:
            raise InvalidValue("run", "record the set-up change as fitted first: a run belongs to a set-up")
        desk.check("run", visit.set_up.left_revision_id, Edit(revision_id, revision_id))
        return desk.insert("road_test", _row(connection, visit))


def change(connection: sqlite3.Connection, visit_id: int, run_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write fields of a run.

    Raises NotFound, Conflict, InvalidValue for an unknown field, and Implausible for an rpm to be asked about.
    """
    check_fields("road_test", edits)
    with changing(connection, visit_id, by) as desk:
        run, intake = _of_visit(connection, visit_id, run_id), station(connection, visit_id, Intake)
        target = intake.target_engagement_rpm, intake.target_shift_rpm
        visit = whole_visit(connection, visit_id)
        held = visit.back_together
        fresh = visit.belt.new_one and held.break_in.released != "released"
        cycles = counted(held.cycles, intake.temperature_c) if fresh else 1
        for field, edit in edits.items():
            if not edit.sure and field == "shift_rpm" and edit.now is not None:
                broken_in(field, edit.now, cycles)
            if not edit.sure:
                run_value(field, edit.now, run.engagement_rpm, run.shift_rpm, target)
        desk.write("road_test", run_id, edits)


def remove(
    connection: sqlite3.Connection, visit_id: int, run_id: int, was: Mapping[str, Any], by: str = DEFAULT_HAND
) -> None:
    """Take back a run that was entered by mistake.

    Parameters: `was`, its EDITABLE fields as they were shown. Raises NotFound, and Conflict where one is another now.
    """
    with changing(connection, visit_id, by) as desk:
        run = _of_visit(connection, visit_id, run_id)
        blank = Measured()
        for field in sorted(EDITABLE):
            shown = was.get(field, getattr(blank, field))
            desk.check(field, getattr(run, field), Edit(shown, shown))
        desk.delete("road_test", run_id)


def _of_visit(connection: sqlite3.Connection, visit_id: int, run_id: int) -> "TestRun":
    run = next((run for run in whole_visit(connection, visit_id).runs if run.id == run_id), None)
    if run is None:
        raise NotFound("road test")
    return run


def _row(connection: sqlite3.Connection, visit: "Visit") -> dict[str, Any]:
    """A new run on the set-up as left."""
    row: dict[str, Any] = {
        "visit_id": visit.id,
        "revision_id": visit.set_up.left_revision_id,
        "belt_width_mm": visit.left_width_mm,
        "belt_length_mm": visit.left.belt.outer_circumference_mm,
        "taken_at": now(),
        "elevation_m": visit.intake.elevation_m,
        "temperature_c": visit.intake.temperature_c,
        "humidity_pct": visit.intake.humidity_pct,
    }
    try:
        figures = asdict(predicted_figures(predictions.kept(connection, visit.as_left(), visit.ground)))
    except InvalidValue:
        return row  # a set-up that cannot be predicted is ridden all the same
    row["model_version"] = figures.pop("model_version")
    return row | {f"predicted_{name}": value for name, value in figures.items()}


@dataclass(frozen=True)
class Scored:
    """A run with what was predicted for it on its day: `row`, predicted and measured."""

    machine_id: int
    machine: str
    row: tuple[PredictedFigures, Figures]


def scored(connection: sqlite3.Connection) -> list[Scored]:
    """Every run that a prediction was kept for, by machine; not one whose set-up was put right since."""
    rows = connection.execute(
        "SELECT machine.id AS machine_id, machine.name AS machine, ridden.* FROM ridden"
        " JOIN visit ON visit.id = visit_id JOIN machine ON machine.id = visit.machine_id"
        " WHERE model_version IS NOT NULL AND set_aside = '' AND revision_id NOT IN"
        " (SELECT corrects FROM setup_revision WHERE corrects IS NOT NULL)"
        " AND (coalesce(engagement_rpm, second_roll_on_rpm, third_roll_on_rpm, shift_rpm) IS NOT NULL"
        " OR counted <> '[]') ORDER BY machine.name, ridden.id"
    ).fetchall()
    by_machine: dict[int, list[sqlite3.Row]] = defaultdict(list)
    for row in rows:
        by_machine[row["machine_id"]].append(row)
    own = {machine: repeat_of(of_machine) for machine, of_machine in by_machine.items()}
    return [
        Scored(row["machine_id"], row["machine"], (_predicted(row), figures_of(row, own[row["machine_id"]])))
        for row in rows
    ]


def _predicted(row: sqlite3.Row) -> PredictedFigures:
    return PredictedFigures(
        row["model_version"],
        row["predicted_engagement_rpm"],
        row["predicted_engagement_sd_rpm"],
        row["predicted_shift_rpm"],
        row["predicted_shift_sd_rpm"],
    )
