"""Road tests: runs measured on the set-up and belt that were on the machine at the time."""

import sqlite3
from dataclasses import asdict
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.prediction import prediction_document
from jaxel.core.mechanism.shift import predict
from jaxel.core.mechanism.uncertainty import prior_band
from jaxel.core.trade.scores import predicted_figures

from .db import NotFound, inserted, now, writing
from .visits import Visit, begin_edit

_FIELDS = frozenset({"engagement_rpm", "shift_rpm", "note"})


def write(connection: sqlite3.Connection, visit_id: int, edit: int, run_id: int | None, values: dict[str, Any]) -> None:
    """Write fields of a run; `run_id` None begins a new one on the set-up last recorded.

    Raises NotFound, Conflict, and InvalidValue for an unknown field or while a change is only tried.
    """
    if unknown := set(values) - _FIELDS:
        raise InvalidValue(min(unknown), "is not a field of a road test")
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        if run_id is None:
            if visit.left_draft:
                raise InvalidValue("run", "record the set-up change as fitted first: a run belongs to a set-up")
            run_id = _begin(connection, visit)
        elif run_id not in {run.id for run in visit.runs}:
            raise NotFound("road test")
        if values:
            columns = ", ".join(f"{name} = :{name}" for name in values)
            connection.execute(f"UPDATE road_test SET {columns} WHERE id = :id", values | {"id": run_id})


def _begin(connection: sqlite3.Connection, visit: Visit) -> int:
    """A new run on the set-up as left, in the visit's air, with what is predicted for it today."""
    row: dict[str, Any] = {
        "visit_id": visit.id,
        "revision_id": visit.left_revision_id,
        "belt_width_mm": visit.left_width_mm,
        "taken_at": now(),
        "elevation_m": visit.elevation_m,
        "temperature_c": visit.temperature_c,
        "humidity_pct": visit.humidity_pct,
    }
    try:
        drivetrain = visit.as_left().core()
        with in_document_terms():
            document = prediction_document(predict(drivetrain), prior_band(drivetrain))
    except InvalidValue:
        pass  # a set-up that cannot be predicted is ridden all the same
    else:
        figures = asdict(predicted_figures(document))
        row["model_version"] = figures.pop("model_version")
        row |= {f"predicted_{name}": value for name, value in figures.items()}
    names = ", ".join(row)
    marks = ", ".join(f":{name}" for name in row)
    return inserted(connection.execute(f"INSERT INTO road_test ({names}) VALUES ({marks})", row))


def remove(connection: sqlite3.Connection, visit_id: int, edit: int, run_id: int) -> None:
    """Take back a run that was entered by mistake; raises NotFound, Conflict."""
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        if run_id not in {run.id for run in visit.runs}:
            raise NotFound("road test")
        connection.execute("DELETE FROM road_test WHERE id = ?", (run_id,))
