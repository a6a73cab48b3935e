"""Road tests: runs measured on the set-up and belt that were on the machine at the time."""

import sqlite3
from typing import Any

from jaxel.core.errors import InvalidValue

from .db import NotFound, now, writing
from .visits import begin_edit

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
            run_id = connection.execute(
                "INSERT INTO road_test (visit_id, revision_id, belt_width_mm, taken_at) VALUES (?, ?, ?, ?)",
                (visit_id, visit.left_revision_id, visit.left_width_mm, now()),
            ).lastrowid
        elif run_id not in {run.id for run in visit.runs}:
            raise NotFound("road test")
        if values:
            columns = ", ".join(f"{name} = :{name}" for name in values)
            connection.execute(f"UPDATE road_test SET {columns} WHERE id = :id", values | {"id": run_id})


def remove(connection: sqlite3.Connection, visit_id: int, edit: int, run_id: int) -> None:
    """Take back a run that was entered by mistake; raises NotFound, Conflict."""
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        if run_id not in {run.id for run in visit.runs}:
            raise NotFound("road test")
        connection.execute("DELETE FROM road_test WHERE id = ?", (run_id,))
