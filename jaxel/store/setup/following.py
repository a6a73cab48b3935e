"""What follows when the set-up as found is put right after a change was recorded: slots nobody changed are as found."""

import sqlite3
from typing import TYPE_CHECKING

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.setup.slots import changes, parts_of, with_numbers
from jaxel.core.trade.shelf.shelf import StockPart, filled

from ..edits import Desk
from ..shelf import shelf
from . import revisions

if TYPE_CHECKING:
    from ..visit.visits import Visit

CORRECTED_SINCE = "set-up corrected since"
"""Why a run is not scored: what was predicted that day was of a set-up that was not fitted."""


def on_found(
    found: SetupDocument, before: SetupDocument, changed: SetupDocument, parts: dict[str, StockPart], kinds: Kinds
) -> SetupDocument:
    """What was changed from `before`, made to what was `found` instead: its parts of the shelf, then its numbers.

    Raises InvalidValue where the two cannot be one set-up.
    """
    numbers = parts_of(filled(before, parts, kinds), changed, kinds)
    return with_numbers(filled(found, parts, kinds), numbers)


def follow(connection: sqlite3.Connection, desk: Desk, visit: "Visit", found: int, by: str) -> int:
    """Let the set-up as left follow a set-up as found that was put right, inside the caller's change; returns its id.

    Every set-up recorded in the visit is made anew on what was found, with its parts of the shelf; runs go with them,
    what was predicted that day stays with the run and is scored no more. Raises InvalidValue, field `fitted`, where a
    recorded change does not go with what was found.
    """
    before = visit.set_up.found_revision_id
    now = {before: found}
    was, put_right = visit.found, revisions.get(connection, found).document
    known = shelf.stocked(connection)
    _carry(connection, visit, was, put_right, before, found)
    for each in revisions.of_visit(connection, visit.id):
        if each.nature != "change" or each.parent_id not in now:
            continue
        slots = {change.slot.key for change in changes(was, each.document, visit.kinds)}
        held = shelf.held_by(connection, each.id)
        parts = {slot: known[part] for slot, (part, _) in held.items() if slot in slots and part in known}
        try:
            document = on_found(put_right, was, each.document, parts, visit.kinds)
        except InvalidValue as error:
            reason = f"does not go with the change recorded, “{each.reason}”: {error.reason}"
            raise InvalidValue("fitted", reason) from None
        now[each.id] = revisions.add(
            connection, visit.machine_id, document, parent_id=now[each.parent_id], visit_id=visit.id,
            reason=each.reason, nature="change", by=by, on=visit.ground,
        )  # fmt: skip
        shelf.carry(connection, each.id, now[each.id], {*held} - _other(visit, was, put_right, slots))
    for run in visit.runs:
        if run.revision_id in now:
            desk.set("road_test", run.id, "revision_id", now[run.revision_id])
            desk.set("road_test", run.id, "set_aside", CORRECTED_SINCE)
    return now.get(visit.set_up.left_revision_id, visit.set_up.left_revision_id)


def _other(visit: "Visit", was: SetupDocument, put_right: SetupDocument, changed: set[str]) -> set[str]:
    """Slots in which another part was found than was on record, and that nobody changed."""
    return {each.slot.key for each in changes(was, put_right, visit.kinds)} - changed


def _carry(
    connection: sqlite3.Connection,
    visit: "Visit",
    was: SetupDocument,
    put_right: SetupDocument,
    before: int,
    found: int,
) -> None:
    held = shelf.held_by(connection, before)
    shelf.carry(connection, before, found, {*held} - _other(visit, was, put_right, set()))
