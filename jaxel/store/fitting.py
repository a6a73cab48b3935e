"""Set-up changes in a visit: tried as a draft, then recorded as a new revision with its reason."""

import sqlite3
from collections.abc import Mapping
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup import SetupDocument
from jaxel.core.trade.plausible import helix_stamp, slot_number
from jaxel.core.trade.slots import Number, numbers, parts_of, with_numbers

from . import revisions, visits
from .edits import DEFAULT_HAND, Edit, Edits, changing

Which = Literal["found", "left"]


def try_numbers(
    connection: sqlite3.Connection, visit_id: int, which: Which, edits: Edits, by: str = DEFAULT_HAND
) -> None:
    """Put numbers of slots on the bench without recording them; a part set back to what is recorded leaves the draft.

    Parameters: `edits` by the number's key, `now` as a number or as typed. The draft holds whole parts: both ends of
    a spring stay together. Raises NotFound, Conflict and, field: the key, InvalidValue for a set-up that cannot be and
    Implausible.
    """
    with changing(connection, visit_id, by) as desk:
        visit = visits.get(connection, visit_id)
        base, draft = (
            (visit.found, visit.set_up.found_draft) if which == "found" else (visit.left, visit.set_up.left_draft)
        )
        on_bench = with_numbers(base, draft)
        known = numbers(on_bench, visit.kinds)
        values: dict[str, float] = {}
        for key, edit in edits.items():
            values[key] = read_number(known, key, edit)
            desk.check(key, known[key].value, Edit(edit.was, values[key]))
        desk.set("set_up", visit_id, f"{which}_draft", parts_of(base, with_numbers(on_bench, values)))


def with_typed(connection: sqlite3.Connection, visit_id: int, typed: Mapping[str, float | str]) -> SetupDocument:
    """The set-up as left with numbers that are still being typed; nothing is written.

    Raises NotFound, InvalidValue (field: the key) for a set-up that cannot be, and Implausible.
    """
    visit = visits.get(connection, visit_id)
    bench = visit.as_left()
    known = numbers(bench, visit.kinds)
    return with_numbers(bench, {key: read_number(known, key, Edit(None, value)) for key, value in typed.items()})


def read_number(known: Mapping[str, Number], key: str, edit: Edit) -> float:
    """What a number of a slot becomes; raises InvalidValue and Implausible, field: the key."""
    number = known.get(key)
    if number is None:
        raise InvalidValue(key, "is not a slot of this clutch")
    if not edit.sure:
        angles = [each for each in known.values() if each.key.startswith("helix_deg")]
        helix_stamp(number, edit.now, angles[-1] if len(angles) > 1 else None)
    value = number.parse(edit.now) if isinstance(edit.now, str) else edit.now
    if not edit.sure:
        slot_number(number, value)
    return value


def note_reason(connection: sqlite3.Connection, visit_id: int, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Write the reason as it is typed, before the change is recorded; raises NotFound, Conflict."""
    with changing(connection, visit_id, by) as desk:
        desk.write("set_up", visit_id, {"reason": edit})


def drop(connection: sqlite3.Connection, visit_id: int, draft: Mapping[str, float], by: str = DEFAULT_HAND) -> None:
    """Put the bench back to the set-up last recorded.

    Parameters: `draft`, what was shown as tried. Raises NotFound, and Conflict where something else is now.
    """
    with changing(connection, visit_id, by) as desk:
        desk.check("slots", desk.value("set_up", visit_id, "left_draft"), Edit(dict(draft), {}))
        desk.set("set_up", visit_id, "left_draft", {})
        desk.set("set_up", visit_id, "reason", "")


def record(
    connection: sqlite3.Connection, visit_id: int, reason: str, draft: Mapping[str, float], by: str = DEFAULT_HAND
) -> None:
    """Record the draft as fitted: a new revision whose parent is the set-up it changes.

    Parameters: `draft`, what was shown as tried. Raises NotFound, Conflict where something else is tried now, and
    InvalidValue when nothing was changed or no reason is given.
    """
    with changing(connection, visit_id, by) as desk:
        visit = visits.get(connection, visit_id)
        if not visit.set_up.left_draft:
            raise InvalidValue("slots", "nothing differs from the set-up last recorded")
        desk.check("slots", dict(visit.set_up.left_draft), Edit(dict(draft), dict(draft)))
        if not reason.strip():
            raise InvalidValue("reason", "a change is recorded with its reason")
        revision = revisions.add(
            connection,
            visit.machine_id,
            visit.as_left(),
            parent_id=visit.set_up.left_revision_id,
            visit_id=visit_id,
            reason=reason,
            by=by,
        )
        desk.set("set_up", visit_id, "left_revision_id", revision)
        desk.set("set_up", visit_id, "left_draft", {})
        desk.set("set_up", visit_id, "reason", "")
