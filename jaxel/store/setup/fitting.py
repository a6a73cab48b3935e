"""Set-up changes in a visit: parts and numbers tried as a draft, then recorded as a new revision with its reason."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any, Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.belt.wear import with_belt
from jaxel.core.trade.run.foretold import foretold
from jaxel.core.trade.setup.plausible import helix_stamp, slot_number
from jaxel.core.trade.setup.slot import Number
from jaxel.core.trade.setup.slots import changes, every_slot, numbers, parts_of, slots, with_numbers
from jaxel.core.trade.shelf.shelf import StockPart, begins_with, check_whole, filled, options_of, slots_of
from jaxel.core.units import SMALLEST

from ..db import Conflict
from ..edits import DEFAULT_HAND, Desk, Edit, Edits, changing, device_in_hand
from ..record.whole import whole_visit
from ..shelf import shelf
from ..shelf.shelf import PART, numbers_in, parts_in
from . import revisions

Which = Literal["found", "left"]


if TYPE_CHECKING:
    from ..visit.visits import Visit


@dataclass(frozen=True)
class Fill:
    """What a hand puts in a slot: a part of the shelf, by its id, or numbers, by key; neither, what was recorded."""

    slot: str
    part: int | None = None
    numbers: Mapping[str, float] = field(default_factory=dict)


def try_numbers(
    connection: sqlite3.Connection, visit_id: int, which: Which, edits: Edits, by: str = DEFAULT_HAND
) -> None:
    """Put numbers of slots on the bench without recording them; a part set back to what is recorded leaves the draft.

    Parameters: `edits` by the number's key, `now` as a number or as typed. The draft holds whole parts: both ends of
    a spring stay together. Raises NotFound, Conflict and, field: the key, InvalidValue for a set-up that cannot be and
    Implausible.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        base, draft = (
            (visit.found, visit.set_up.found_draft)
            if which == "found"
            else (visit.left_with_parts(), visit.set_up.left_draft)
        )
        on_bench = with_numbers(base, numbers_in(draft))
        known = numbers(on_bench, visit.kinds)
        values: dict[str, float] = {}
        for key, edit in edits.items():
            values[key] = read_number(known, key, edit)
            desk.check(key, known[key].value, Edit(edit.was, values[key]))
        tried = parts_of(base, with_numbers(on_bench, values), visit.kinds)
        parts = {key: value for key, value in draft.items() if key.startswith(PART)}
        desk.set("set_up", visit_id, f"{which}_draft", parts | tried)
        if which == "found" and device_in_hand():
            # What a device read is measured: nobody need say so.
            read = {each.key: "measured" for each in slots(on_bench, visit.kinds)
                    if any(number.key in values for number in each.numbers)}  # fmt: skip
            desk.set("set_up", visit_id, "found_origins", dict(visit.set_up.found_origins) | read)


def with_typed(visit: "Visit", typed: Mapping[str, float | str]) -> SetupDocument:
    """The set-up as left with numbers that are still being typed; nothing is written.

    Raises InvalidValue (field: the key) for a set-up that cannot be, and Implausible.
    """
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
    if abs(value) < SMALLEST and value != 0:
        raise InvalidValue(key, "is smaller than anything that is read")
    if not edit.sure:
        slot_number(number, value)
    return value


def fill(
    connection: sqlite3.Connection, visit_id: int, fills: Sequence[Fill], draft: Mapping[str, float], *,
    whole: bool = False, offered: Mapping[str, Any] | None = None, by: str = DEFAULT_HAND,
) -> None:  # fmt: skip
    """Put parts of the shelf, or what an answer of the planner names, on the tray.

    Parameters: `draft`, what was shown as tried; `whole`, whether the rest goes back to what was recorded; `offered`,
    the answer as it was shown. A kit fills every slot it has a part for. Raises NotFound; Conflict where something else
    is tried now; InvalidValue, field
    `part`, for one that is gone, does not go there or is for another clutch.
    """
    with changing(connection, visit_id, by) as desk:
        put_on(connection, desk, fills, draft, whole=whole, offered=offered)


def put_on(
    connection: sqlite3.Connection, desk: Desk, fills: Sequence[Fill], draft: Mapping[str, float], *,
    whole: bool = False, offered: Mapping[str, Any] | None = None,
) -> None:  # fmt: skip
    """Put parts on the tray as one of the changes at a desk; raises as `fill`."""
    visit = whole_visit(connection, desk.visit_id)
    held = dict(visit.set_up.left_draft)
    desk.check("slots", held, Edit(dict(draft), dict(draft)))
    tried = drafted(connection, visit, fills, {} if whole else held)
    desk.set("set_up", desk.visit_id, "left_draft", tried)
    taken = {"answer": dict(offered), "draft": tried} if offered is not None else {}
    desk.set("set_up", desk.visit_id, "offered", taken)


def drafted(
    connection: sqlite3.Connection, visit: "Visit", fills: Sequence[Fill], held: Mapping[str, float]
) -> dict[str, float]:
    """A draft with slots filled anew, as `fill` writes it; raises InvalidValue."""
    known = shelf.stocked(connection)
    chosen, typed = parts_in(held), numbers_in(held)
    for each in fills:
        part = None if each.part is None else _part(known, each.part)
        kit = part is not None and part.group == "kits"
        if kit and part is not None:
            check_whole(visit.left, part, visit.kinds)
        slots = slots_of(visit.left, part) if kit and part else [each.slot]
        if not slots:
            raise InvalidValue("part", f"{part.number if part else ''} brings nothing that is known here")
        here = filled(visit.left, {slot: known[key] for slot, key in chosen.items() if key in known})
        own = {number.key for slot in every_slot(here, slots) if slot.key in slots for number in slot.numbers}
        typed = {key: value for key, value in typed.items() if key not in own}
        for slot in slots:
            chosen.pop(slot, None)
            if part is not None:
                options_of(here, slot, part, visit.kinds)
                chosen[slot] = part.id
        typed |= each.numbers
        if kit and part is not None:
            begun = filled(visit.left, {slot: known[key] for slot, key in chosen.items() if key in known}, visit.kinds)
            typed |= begins_with(begun, part, visit.kinds)
    try:
        base = filled(visit.left, {slot: _part(known, key) for slot, key in chosen.items()}, visit.kinds)
        base.core()
        on_bench = with_numbers(base, typed)
    except InvalidValue as error:
        raise InvalidValue("part", error.reason) from None
    parts = {f"{PART}{slot}": float(key) for slot, key in chosen.items()}
    return parts | parts_of(base, on_bench, visit.kinds)


def with_fills(
    connection: sqlite3.Connection, visit: "Visit", fills: Sequence[Fill], *, whole: bool = False
) -> SetupDocument:
    """The set-up as it would be left with slots filled anew; nothing is written. Raises InvalidValue as `fill`."""
    draft = drafted(connection, visit, fills, {} if whole else visit.set_up.left_draft)
    known = shelf.stocked(connection)
    tray = {slot: known[part] for slot, part in parts_in(draft).items()}
    return replace(visit, set_up=replace(visit.set_up, left_draft=draft), tray=tray).as_left()


def _part(known: Mapping[int, StockPart], part_id: int) -> StockPart:
    part = known.get(part_id)
    if part is None:
        raise InvalidValue("part", "is no longer on the shelf")
    return part


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
        desk.set("set_up", visit_id, "offered", {})
        desk.set("set_up", visit_id, "reason", "")


def record(
    connection: sqlite3.Connection, visit_id: int, reason: str, draft: Mapping[str, float], by: str = DEFAULT_HAND
) -> None:
    """Record the draft as fitted: a new revision whose parent is the set-up it changes.

    Its parts leave the shelf, those they replace go back to it.

    Parameters: `draft`, what was shown as tried. Raises NotFound, Conflict where something else is tried now, and
    InvalidValue when nothing was changed, no reason is given, or a part is no longer on the shelf.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        if not visit.set_up.left_draft:
            raise InvalidValue("slots", "nothing differs from the set-up last recorded")
        desk.check("slots", dict(visit.set_up.left_draft), Edit(dict(draft), dict(draft)))
        if not reason.strip():
            raise InvalidValue("reason", "a change is recorded with its reason")
        if set(parts_in(visit.set_up.left_draft)) != set(visit.tray):
            raise Conflict("a part on the tray is gone or fits no more: put it back", field="slots")
        before = visit.set_up.left_revision_id
        # A belt's own length is the belt's: what is recorded is the machine's set-up.
        own = revisions.get(connection, before).document.belt
        tried = visit.as_left()
        tried.core()  # what came to be known since it was tried may leave it unable to work
        document = with_belt(tried, None, own.outer_circumference_mm, own.top_width_new_mm)
        revision = revisions.add(
            connection,
            visit.machine_id,
            document,
            parent_id=before,
            visit_id=visit_id,
            reason=reason,
            by=by,
            on=visit.ground,
        )
        changed = [each.slot for each in changes(visit.left, document, visit.kinds)]
        # A part whose numbers nobody knows changes none; it was fitted all the same.
        slots = frozenset((*(each.key for each in changed), *visit.tray))
        desk.set("set_up", visit_id, "changed", sorted({*visit.set_up.changed, *slots}))
        shelf.take(connection, desk, before, revision, visit.tray, slots, document, by)
        _keep_answer(connection, revision, visit, document)
        desk.set("set_up", visit_id, "left_revision_id", revision)
        desk.set("set_up", visit_id, "left_draft", {})
        desk.set("set_up", visit_id, "offered", {})
        desk.set("set_up", visit_id, "reason", "")


def _keep_answer(connection: sqlite3.Connection, revision: int, visit: "Visit", document: SetupDocument) -> None:
    """Keep an answer's odds, and what was predicted of its change, with the set-up recorded as it; one that was changed
    on the bench is no answer any more."""
    offered = visit.set_up.offered
    if offered and offered["draft"] == dict(visit.set_up.left_draft):
        known = visit.calibration.core if visit.calibration else None
        before, after = (each.in_use(visit.left_width_mm, visit.conditions, None) for each in (visit.left, document))
        told = foretold(before, after, known)
        connection.execute(
            "INSERT INTO accepted_answer (revision_id, document, foretold) VALUES (?, ?, ?)",
            (revision, json.dumps(offered["answer"]), told.model_dump_json()),
        )
