"""Set-up changes in a visit: tried as a draft, then recorded as a new revision with its reason."""

import json
import sqlite3
from collections.abc import Mapping
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.slots import Number, numbers, parts_of, with_numbers

from . import revisions
from .db import writing
from .visits import begin_edit

Which = Literal["found", "left"]


def try_slots(
    connection: sqlite3.Connection,
    visit_id: int,
    edit: int,
    which: Which,
    values: Mapping[str, float | str],
) -> None:
    """Put numbers of slots on the bench without recording them; a part set back to what is recorded leaves the draft.

    Parameters: `values` by the number's key, as numbers or as typed. The draft holds whole parts: both ends of a
    spring stay together. Raises NotFound, Conflict, and InvalidValue (field: the key) for a set-up that cannot be.
    """
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        base, draft = (visit.found, visit.found_draft) if which == "found" else (visit.left, visit.left_draft)
        on_bench = with_numbers(base, draft)
        known = numbers(on_bench, visit.kinds)
        tried = with_numbers(on_bench, {key: _read(known.get(key), key, value) for key, value in values.items()})
        kept = parts_of(base, tried)
        connection.execute(
            f"UPDATE visit SET {which}_draft = ? WHERE id = ?", (json.dumps(kept) if kept else None, visit_id)
        )


def _read(number: Number | None, key: str, value: float | str) -> float:
    if number is None:
        raise InvalidValue(key, "is not a slot of this clutch")
    return number.parse(value) if isinstance(value, str) else value


def drop_draft(connection: sqlite3.Connection, visit_id: int, edit: int) -> None:
    """Put the bench back to the set-up last recorded."""
    with writing(connection):
        begin_edit(connection, visit_id, edit)
        connection.execute("UPDATE visit SET left_draft = NULL, change_reason = '' WHERE id = ?", (visit_id,))


def confirm_found(connection: sqlite3.Connection, visit_id: int, edit: int) -> None:
    """Say that the set-up shown is the one found on the machine; differences become a revision of their own."""
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        found = visit.found_revision_id
        if visit.found_draft:
            found = revisions.add(
                connection,
                visit.machine_id,
                visit.as_found(),
                parent_id=found,
                visit_id=visit_id,
                reason="found fitted at intake, not what was recorded",
            )
        left = found if visit.left_revision_id == visit.found_revision_id else visit.left_revision_id
        connection.execute(
            "UPDATE visit SET fitted_confirmed = 1, found_draft = NULL, found_revision_id = ?, left_revision_id = ?"
            " WHERE id = ?",
            (found, left, visit_id),
        )


def record(connection: sqlite3.Connection, visit_id: int, edit: int, reason: str) -> None:
    """Record the draft as fitted: a new revision whose parent is the set-up it changes.

    Raises InvalidValue when nothing was changed or no reason is given.
    """
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        if not visit.left_draft:
            raise InvalidValue("slots", "nothing differs from the set-up last recorded")
        if not reason.strip():
            raise InvalidValue("reason", "a change is recorded with its reason")
        revision = revisions.add(
            connection,
            visit.machine_id,
            visit.as_left(),
            parent_id=visit.left_revision_id,
            visit_id=visit_id,
            reason=reason,
        )
        connection.execute(
            "UPDATE visit SET left_revision_id = ?, left_draft = NULL, change_reason = '' WHERE id = ?",
            (revision, visit_id),
        )
