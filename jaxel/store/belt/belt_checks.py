"""Belt: what was measured and seen of it, a belt without a width, the decision, and the belt that goes on."""

import sqlite3
from typing import TYPE_CHECKING

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument, check_width
from jaxel.core.trade.belt.look import FAILURES, Mark, check_mark
from jaxel.core.trade.belt.plausible import belt_width, going_on
from jaxel.core.trade.belt.wear import width_from_gap, with_belt

from ..db import NotFound, now
from ..edits import DEFAULT_HAND, Edit, Edits, changing, check_fields
from ..machine import machines
from ..record.whole import whole_visit

if TYPE_CHECKING:
    from ..visit.visits import Visit

PLACES = 12
"""Most places round a belt at which its width is kept."""


def change(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write some of the belt's fields; a spare chosen brings its width with it.

    A belt with no width can be discarded only, and one that was measured has a width. Raises NotFound, Conflict,
    InvalidValue for a width or a gap that cannot be or a spare that is none, and Implausible.
    """
    check_fields("belt_check", edits)
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        _check_belt(visit, edits)
        next_width, chosen = edits.get("next_width_mm"), edits.get("next_belt_id")
        if next_width and next_width.now is not None:
            used = visit.belt.next_is == "used" or visit.belt.next_belt_id is not None
            _check_going_on("next_width_mm", visit.left, next_width, used=used)
        spare = None
        if chosen and chosen.now is not None:
            spare = _spare(connection, visit.machine_id, chosen.now)
            document = with_belt(visit.left, None, spare.length_mm, spare.new_width_mm)
            _check_going_on("next_belt_id", document, Edit(None, spare.width_mm, chosen.sure), used=True)
        desk.write("belt_check", visit_id, edits)
        if chosen and "next_width_mm" not in edits:
            desk.set("belt_check", visit_id, "next_width_mm", spare.width_mm if spare else None)


def measure(connection: sqlite3.Connection, visit_id: int, place: int, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Write the belt's width [mm] at one place, or take the reading back with None.

    Raises NotFound, Conflict, and, field `place_N`, InvalidValue for a width this belt cannot have or the sheaves
    cannot grip and Implausible for one to be asked about.
    """
    if not 1 <= place <= PLACES:
        raise InvalidValue("place", f"must be from 1 to {PLACES}")
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        desk.check(f"place_{place}", visit.widths_mm.get(place), edit)
        if edit.now is not None:
            if visit.belt.no_width:
                raise InvalidValue(f"place_{place}", f"the belt has no width: {visit.belt.no_width}")
            _check_width(f"place_{place}", visit.found, edit)
        row = connection.execute(
            "SELECT id FROM belt_reading WHERE visit_id = ? AND place = ?", (visit_id, place)
        ).fetchone()
        if row is None and edit.now is not None:
            desk.insert("belt_reading", {"visit_id": visit_id, "place": place, "width_mm": edit.now, "taken_at": now()})
        elif row is not None and edit.now is None:
            desk.delete("belt_reading", row["id"])
        elif row is not None:
            desk.set("belt_reading", row["id"], "width_mm", edit.now)
            desk.set("belt_reading", row["id"], "taken_at", now())


def found_mark(connection: sqlite3.Connection, visit_id: int, mark: Mark, by: str = DEFAULT_HAND) -> int:
    """Record a mark seen on the belt; returns its id. Raises NotFound, Conflict, InvalidValue."""
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        check_mark(mark, visit.found.belt.outer_circumference_mm)
        values = {"kind": mark.kind, "place": mark.place, "flank": mark.flank, "length_mm": mark.length_mm}
        return desk.insert("belt_mark", {"visit_id": visit_id, **values, "found_at": now()})


def take_back_mark(connection: sqlite3.Connection, visit_id: int, mark_id: int, by: str = DEFAULT_HAND) -> None:
    """Take back a mark that was none; raises NotFound, Conflict."""
    with changing(connection, visit_id, by) as desk:
        if mark_id not in {each.id for each in whole_visit(connection, visit_id).marks}:
            raise NotFound("mark")
        desk.delete("belt_mark", mark_id)


def _check_belt(visit: "Visit", edits: Edits) -> None:
    after = {name: edit.now for name, edit in edits.items()}
    no_width = after.get("no_width", visit.belt.no_width)
    if after.get("no_width") and visit.widths_mm:
        raise InvalidValue("no_width", "it was measured: take its widths back first")
    if no_width and after.get("decision") not in (None, "discard"):
        raise InvalidValue("decision", f"a belt that has no width ({no_width}) is discarded")
    if after.get("no_width") and visit.belt.decision not in (None, "discard") and "decision" not in after:
        raise InvalidValue("no_width", "it was decided to go on with it: clear that decision first")
    if after.get("failure") and after["failure"] not in FAILURES:
        raise InvalidValue("failure", f"must be one of: {', '.join(FAILURES)}")
    if after.get("side_gap_mm") is not None:
        belt, clearance = visit.found.belt, visit.found.geometry.primary.idle_clearance_mm
        width_from_gap(after["side_gap_mm"], clearance, belt.top_width_new_mm)


def _check_going_on(field: str, document: SetupDocument, edit: Edit, *, used: bool) -> None:
    """Ask about a belt that hardly goes on like that, and refuse one that cannot."""
    if not edit.sure:
        going_on(field, edit.now, document.belt.top_width_new_mm, document.belt.top_width_min_mm, used=used)
    _check_grippable(field, document, edit.now)


def _spare(connection: sqlite3.Connection, machine_id: int, spare: int) -> machines.Belt:
    belts = machines.belts(connection, machine_id)
    chosen = next((belt for belt in belts if belt.id == spare and belt.state == "spare"), None)
    if chosen is None:
        raise InvalidValue("next_belt_id", "is not a spare belt of this machine")
    return chosen


def _check_width(field: str, document: SetupDocument, edit: Edit) -> None:
    """Ask about a width that hardly is, and refuse one that cannot be: a hand that is sure learns why."""
    if not edit.sure:
        belt_width(field, edit.now, document.belt.top_width_new_mm, document.belt.top_width_min_mm)
    _check_grippable(field, document, edit.now)


def _check_grippable(field: str, document: SetupDocument, width_mm: float) -> None:
    check_width(field, width_mm, document.belt.top_width_new_mm)
    try:
        document.with_belt_width(width_mm).core()
    except InvalidValue as error:
        raise InvalidValue(field, error.reason) from None
