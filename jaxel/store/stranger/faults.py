"""Faults as found: recorded at a visit, put right, or taken back where they were none."""

import json
import sqlite3
from collections.abc import Mapping

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.stranger.as_found import Fault, FoundFault, fault_kinds, read_fault

from ..db import NotFound, now
from ..edits import DEFAULT_HAND, Edit, changing
from ..record.whole import whole_visit


def record(
    connection: sqlite3.Connection, visit_id: int, kind: str, figures: str, note: str, by: str = DEFAULT_HAND
) -> int:
    """Record a fault found; returns its id.

    Parameters: `figures` as typed, 48.1/48.0/46.9. Raises NotFound, Conflict, and InvalidValue (field `kind`,
    `values`, `note`) for what is no fault of this machine.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        if kind not in {each.key for each in fault_kinds(visit.found, visit.kinds)}:
            raise InvalidValue("kind", "is no kind of fault these clutches can have")
        fault = read_fault(visit.found, kind, figures, note)
        values = {"kind": fault.kind, "figures": json.dumps(fault.values), "note": fault.note}
        return desk.insert("fault", {"visit_id": visit_id, **values, "found_at": now()})


def put_right(connection: sqlite3.Connection, visit_id: int, fault_id: int, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say what was done about a fault, empty for nothing yet; raises NotFound, Conflict."""
    with changing(connection, visit_id, by) as desk:
        _of_visit(connection, visit_id, fault_id)
        desk.write("fault", fault_id, {"put_right": Edit(edit.was, (edit.now or "").strip(), edit.sure)})


def remove(
    connection: sqlite3.Connection, visit_id: int, fault_id: int, was: Mapping[str, str], by: str = DEFAULT_HAND
) -> None:
    """Take back a fault that was entered by mistake.

    Parameters: `was`, what was said of it as it was shown. Raises NotFound, and Conflict where something else is now.
    """
    with changing(connection, visit_id, by) as desk:
        _of_visit(connection, visit_id, fault_id)
        for field in ("note", "put_right"):
            desk.check(field, desk.value("fault", fault_id, field), Edit(was.get(field, ""), was.get(field, "")))
        desk.delete("fault", fault_id)


def _of_visit(connection: sqlite3.Connection, visit_id: int, fault_id: int) -> FoundFault:
    found = next((each for each in faults_of(connection, visit_id) if each.id == fault_id), None)
    if found is None:
        raise NotFound("fault")
    return found


def faults_of(connection: sqlite3.Connection, visit_id: int) -> tuple[FoundFault, ...]:
    """The faults found at a visit, in their order."""
    rows = connection.execute("SELECT * FROM fault WHERE visit_id = ? ORDER BY id", (visit_id,))
    return tuple(fault_of(row) for row in rows)


def fault_of(row: sqlite3.Row) -> FoundFault:
    """A fault from its row."""
    figures = tuple(json.loads(row["figures"]))
    return FoundFault(row["id"], Fault(row["kind"], figures, row["note"], row["put_right"]))
