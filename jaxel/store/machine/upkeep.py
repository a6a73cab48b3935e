"""Upkeep of a machine: what is said of it, archiving it, and merging it with a second record of the same."""

import sqlite3
from collections.abc import Mapping

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kinds import Side, check_kind

from ..db import Conflict
from ..edits import DEFAULT_HAND, Edit, Edits, check_hand
from ..record.rows import open_visit_of
from ..setup import revisions
from ..workshop_log import noting
from . import machines

EDITABLE = frozenset(
    {"name", "model", "rider", "kind", "tyre", "primary_kind", "secondary_kind", "taper", "offset_mm", "stamp"}
)
SIDES: Mapping[str, Side] = {"primary_kind": "primary", "secondary_kind": "secondary"}


def change(connection: sqlite3.Connection, machine_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write what is said of a machine.

    Raises NotFound, Conflict where a field holds something else, InvalidValue for one that cannot be.
    """
    check_hand(by)
    if unknown := set(edits) - EDITABLE:
        raise InvalidValue(min(unknown), "is not said of a machine")
    with noting(connection, by, "machine", machine_id):
        machine = machines.get(connection, machine_id)
        for field, edit in edits.items():
            held = getattr(machine, field)
            if held not in (edit.was, edit.now):
                raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=held)
            value = edit.now.strip() if isinstance(edit.now, str) else edit.now
            if field == "name" and not value:
                raise InvalidValue("name", "needs a name")
            if field == "kind" and (value == "bare clutch") != machine.bare:
                raise InvalidValue("kind", "a clutch without its machine stays one: bring the machine in beside it")
            if field in SIDES and value is not None:
                check_kind(field, value, SIDES[field], revisions.newest(connection, machine_id).document)
            connection.execute(f"UPDATE machine SET {field} = ? WHERE id = ?", (value, machine_id))


def archive(connection: sqlite3.Connection, machine_id: int, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Archive a machine, or restore it; raises NotFound, Conflict with a visit open or where it is merged."""
    check_hand(by)
    with noting(connection, by, "machine", machine_id):
        machine = machines.get(connection, machine_id)
        if machine.archived not in (edit.was, edit.now):
            raise Conflict("this was changed elsewhere meanwhile", field="archived", theirs=machine.archived)
        if machine.merged_into is not None:
            raise Conflict("this record was merged into another: it is that machine", field="archived")
        if edit.now and open_visit_of(connection, machine_id) is not None:
            raise Conflict("a visit is open: close it before the machine is archived", field="archived")
        connection.execute("UPDATE machine SET archived = ? WHERE id = ?", (bool(edit.now), machine_id))


def merge(connection: sqlite3.Connection, kept_id: int, double_id: int, by: str = DEFAULT_HAND) -> None:
    """Merge a second record of one machine into the first: visits, set-ups, belts, limits and photos move over.

    The first record's set-up stays in force, and the belt it says is fitted. Raises NotFound, Conflict with a visit
    open on both, InvalidValue (field `double`) for the same record, one merged before, or clutches of another form.
    """
    check_hand(by)
    if kept_id == double_id:
        raise InvalidValue("double", "is this very record")
    with noting(connection, by, "machine", double_id):
        kept, double = machines.get(connection, kept_id), machines.get(connection, double_id)
        if kept.merged_into is not None or double.merged_into is not None:
            raise InvalidValue("double", "was merged before")
        mine, theirs = (revisions.newest(connection, each).document for each in (kept_id, double_id))
        if kept.bare != double.bare or mine.primary.profile.kind != theirs.primary.profile.kind:
            raise InvalidValue("double", "has clutches of another form: it is another machine")
        if open_visit_of(connection, kept_id) and open_visit_of(connection, double_id):
            raise Conflict("both have a visit open: close one first", field="double")
        holding = revisions.newest(connection, kept_id)
        most = max(each.number for each in machines.belts(connection, kept_id))
        connection.execute("UPDATE belt SET state = 'doubled' WHERE machine_id = ? AND state = 'fitted'", (double_id,))
        connection.execute(
            "UPDATE belt SET machine_id = ?, number = number + ? WHERE machine_id = ?", (kept_id, most, double_id)
        )
        connection.execute("DELETE FROM due WHERE machine_id = ?", (double_id,))
        for table in ("visit", "setup_revision", "stated", "photo", "part_event", "calibration"):
            connection.execute(f"UPDATE {table} SET machine_id = ? WHERE machine_id = ?", (kept_id, double_id))
        connection.execute("UPDATE mounting SET clutch_id = ? WHERE clutch_id = ?", (kept_id, double_id))
        connection.execute("UPDATE OR IGNORE mounting SET machine_id = ? WHERE machine_id = ?", (kept_id, double_id))
        # Where the workshop chose a source on both, the first record's choice stays.
        connection.execute(
            "UPDATE OR IGNORE stated_choice SET machine_id = ? WHERE machine_id = ?", (kept_id, double_id)
        )
        connection.execute("DELETE FROM stated_choice WHERE machine_id = ?", (double_id,))
        connection.execute("UPDATE machine SET merged_into = ?, archived = 1 WHERE id = ?", (kept_id, double_id))
        revisions.add(
            connection,
            kept_id,
            holding.document,
            reason=f"as it was, when the record “{double.name}” was merged into this one",
            parent_id=holding.id,
            nature="found",
            by=by,
        )
