"""Intake: what came in and what is said of it, of which kind its clutches are, and what is fitted."""

import sqlite3
from collections.abc import Mapping
from dataclasses import fields

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds import Side, check_kind
from jaxel.core.trade.plausible import intake_value
from jaxel.core.trade.stations import Intake

from . import revisions, visits
from .edits import DEFAULT_HAND, Edit, Edits, changing

EDITABLE = frozenset(each.name for each in fields(Intake)) - {"fitted_confirmed"}
KINDS: Mapping[str, Side] = {"primary_kind": "primary", "secondary_kind": "secondary"}


def change(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write some of the intake's fields.

    Raises NotFound, Conflict, InvalidValue for a field that is none, and Implausible for a value to be asked about.
    """
    if unknown := set(edits) - EDITABLE:
        raise InvalidValue(min(unknown), "is not a field of the intake")
    with changing(connection, visit_id, by) as desk:
        visit = visits.get(connection, visit_id)
        for field, edit in edits.items():
            if not edit.sure:
                intake_value(field, edit.now, visit.intake, _last_odometer(connection, visit))
        desk.write("intake", visit_id, edits)


def _last_odometer(connection: sqlite3.Connection, visit: visits.Visit) -> float | None:
    """Odometer [km] at the machine's visit before this one, None where none was read."""
    row = connection.execute(
        "SELECT odometer_km FROM intake JOIN visit ON visit.id = visit_id"
        " WHERE machine_id = ? AND visit.id < ? AND odometer_km IS NOT NULL ORDER BY visit.id DESC LIMIT 1",
        (visit.machine_id, visit.id),
    ).fetchone()
    return row["odometer_km"] if row else None


def state_kinds(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Say of which kind the machine's clutches are, `primary_kind`, `secondary_kind` or both; None for not stated.

    Raises NotFound, Conflict, and InvalidValue for a kind that is none or does not fit the machine's set-up.
    """
    with changing(connection, visit_id, by) as desk:
        visit = visits.get(connection, visit_id)
        for field, edit in edits.items():
            if field not in KINDS:
                raise InvalidValue(field, "is not a field of the intake")
            if edit.now is not None:
                check_kind(field, edit.now, KINDS[field], visit.found)
        desk.write("machine", visit.machine_id, edits)


def confirm_fitted(
    connection: sqlite3.Connection, visit_id: int, draft: Mapping[str, float], by: str = DEFAULT_HAND
) -> None:
    """Say that the set-up shown is the one found on the machine; differences become a revision of their own.

    Parameters: `draft`, the differences that were shown. Raises NotFound, and Conflict where there are others now.
    """
    with changing(connection, visit_id, by) as desk:
        visit = visits.get(connection, visit_id)
        desk.check("fitted", dict(visit.set_up.found_draft), Edit(dict(draft), dict(draft)))
        found = before = visit.set_up.found_revision_id
        if visit.set_up.found_draft:
            found = revisions.add(
                connection,
                visit.machine_id,
                visit.as_found(),
                parent_id=before,
                visit_id=visit_id,
                reason="found fitted at intake, not what was recorded",
                by=by,
            )
        if visit.set_up.left_revision_id == before:
            desk.set("set_up", visit_id, "left_revision_id", found)
        desk.set("set_up", visit_id, "found_revision_id", found)
        desk.set("set_up", visit_id, "found_draft", {})
        desk.set("intake", visit_id, "fitted_confirmed", 1)
