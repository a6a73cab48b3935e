"""Strip & inspect: how far a clutch is opened, what was marked, and what was found of each item."""

import sqlite3
from collections.abc import Sequence
from dataclasses import replace
from typing import Any, Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kind_file import WearItem
from jaxel.core.trade.kinds.kinds import Kinds, Side, clutches
from jaxel.core.trade.strip.inspection import NOT_LOOKED_AT, RINGS, ItemLook, check_look
from jaxel.core.trade.strip.plausible import item_reading
from jaxel.core.trade.strip.procedure import jobs

from ..db import writing
from ..edits import DEFAULT_HAND, Desk, Edit, Edits, changing, check_fields
from ..machine import numbers
from ..record.whole import whole_visit


def take_reading(connection: sqlite3.Connection, visit_id: int, side: Side, item: str, by: str = DEFAULT_HAND) -> None:
    """Let what was read of an item be the number of the set-up it is rated by; raises NotFound, InvalidValue."""
    with writing(connection):
        inspection = whole_visit(connection, visit_id).inspection
        wear_item = _item(inspection.kinds, side, item)
        readings = [each for each in inspection.look(side, wear_item).readings if each is not None]
        if wear_item.measure is None or not wear_item.measure.rated or not readings:
            raise InvalidValue("item", "holds no reading that the set-up has a number for")
        if inspection.verdict(side, wear_item).decision == "replace":
            raise InvalidValue("item", "is to be replaced: what goes in is measured as it goes in")
        mean = round(sum(readings) / len(readings), 2)
        numbers.take_measured(connection, visit_id, f"{side}_spring", wear_item.measure.rated, mean, by)


Rest = Literal["not reached", "looked over"]


def change(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write how far the clutches are opened, or where springs' ends were; raises NotFound, Conflict, InvalidValue."""
    check_fields("strip", edits)
    with changing(connection, visit_id, by) as desk:
        desk.write("strip", visit_id, edits)


def mark(connection: sqlite3.Connection, visit_id: int, part: str, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say that a part, `side.part`, was marked against its neighbour before it was separated, or take that back.

    Raises NotFound, Conflict, and InvalidValue (field `marked`) for no part of these clutches.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        known = {f"{side}.{each.key}" for side, kind in clutches(visit.kinds) for each in kind.guide.part if each.mark}
        if part not in known:
            raise InvalidValue("marked", "is no part of these clutches that is marked")
        _member(desk, visit_id, "marked", visit.inspection.strip.marked, part, edit)


def choose(connection: sqlite3.Connection, visit_id: int, job: str, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Choose a job, `side.procedure`, or leave it: what it opens and asks follows; what was said of it stays.

    Raises NotFound, Conflict, and InvalidValue (field `job`) for none of these clutches.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        held = visit.inspection.strip.jobs
        if job not in {each.key for each in jobs(visit.kinds)} and job not in held:
            raise InvalidValue("job", "is no job on these clutches")
        _member(desk, visit_id, "jobs", held, job, edit)


def take_off(connection: sqlite3.Connection, visit_id: int, part: str, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say that a part, `side.part`, is off, or take that back: an order that is left is taken up again after it.

    Raises NotFound, Conflict, and InvalidValue (field `off`) for no part of these clutches.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        held = visit.inspection.strip.off
        if part not in {f"{side}.{each.key}" for side, kind in clutches(visit.kinds) for each in kind.guide.part}:
            raise InvalidValue("off", "is no part of these clutches")
        _member(desk, visit_id, "off", held, part, edit)


def _member(desk: Desk, visit_id: int, field: str, held: Sequence[str], each: str, edit: Edit) -> None:
    desk.check(field, each in held, edit)
    others = [other for other in held if other != each]
    desk.set("strip", visit_id, field, [*others, each] if edit.now else others)


def answer(
    connection: sqlite3.Connection, visit_id: int, side: Side, variant: str, edit: Edit, by: str = DEFAULT_HAND
) -> None:
    """Say how a clutch is made, by a question of its kind; empty for not looked at. It stays said of the machine.

    Raises NotFound, Conflict, and InvalidValue for no question of this clutch (field `variant`) or no answer to it.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        kind = next((kind for of, kind in clutches(visit.kinds) if of == side), None)
        asked = next((each for each in kind.guide.variant if each.key == variant), None) if kind else None
        if asked is None:
            raise InvalidValue("variant", f"is no question of this machine's {side} clutch")
        if edit.now and edit.now not in asked.answers:
            raise InvalidValue(variant, f"is one of: {', '.join(asked.answers)}")
        desk.check(variant, visit.kinds.answers(side).get(variant, ""), edit)
        held = dict(visit.inspection.strip.variants)
        desk.set("strip", visit_id, "variants", held | {f"{side}.{variant}": edit.now})


def look(
    connection: sqlite3.Connection, visit_id: int, side: Side, item: str, edits: Edits, by: str = DEFAULT_HAND
) -> None:
    """Write what was found of an item.

    Raises NotFound, Conflict, and InvalidValue for an item these clutches lack or a finding it cannot have.
    """
    check_fields("item_look", edits)
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        wear_item = _item(visit.kinds, side, item)
        check_look(wear_item, ItemLook(**{name: edit.now for name, edit in edits.items()}))
        desk.write("item_look", _row(connection, desk, side, item), edits)


def read(
    connection: sqlite3.Connection,
    visit_id: int,
    side: Side,
    item: str,
    field: Literal["readings", "rings"],
    place: int,
    edit: Edit,
    by: str = DEFAULT_HAND,
) -> None:
    """Write one reading of an item, or the score of one ring of a face; None takes it back.

    Parameters: `field`, `readings` or `rings`; `place` from 0. Raises NotFound, Conflict, and InvalidValue, field
    `SIDE_ITEM_PLACE`, for a place or a value the item cannot have, and Implausible for one to be asked about.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        wear_item = _item(visit.kinds, side, item)
        row = _row(connection, desk, side, item)
        held: list[float | None] = desk.value("item_look", row, field)
        most = wear_item.count if field == "readings" else len(RINGS)
        if not 0 <= place < most:
            raise InvalidValue("place", f"must be from 0 to {most - 1}")
        values = held + [None] * (place + 1 - len(held))
        desk.check(f"{side}_{item}_{place}", values[place], edit)
        values[place] = edit.now
        while values and values[-1] is None:
            values.pop()
        try:
            changed: dict[str, Any] = {field: tuple(values)}
            check_look(wear_item, replace(NOT_LOOKED_AT, **changed))
        except InvalidValue as error:
            raise InvalidValue(f"{side}_{item}_{place}", error.reason) from None
        if field == "readings" and edit.now is not None and not edit.sure:
            inspection = visit.inspection
            limit, rated = inspection.limit(side, wear_item), inspection.rated.get((side, item))
            item_reading(f"{side}_{item}_{place}", wear_item, edit.now, limit.value if limit else None, rated)
        desk.set("item_look", row, field, values)


def rest(
    connection: sqlite3.Connection, visit_id: int, side: Side, looked: Rest = "not reached", by: str = DEFAULT_HAND
) -> None:
    """Say of every item of a clutch that nothing was said of yet that it was not reached, or was looked over.

    Only what the depth reaches, or lies open, can have been looked over. Raises NotFound, Conflict.
    """
    with changing(connection, visit_id, by) as desk:
        inspection = whole_visit(connection, visit_id).inspection
        for of, item in inspection.items():
            if of == side and not inspection.look(of, item).begun:
                desk.set("item_look", _row(connection, desk, side, item.key), "looked", looked)


def _item(machine: Kinds, side: Side, key: str) -> WearItem:
    for of, kind in clutches(machine):
        if of == side:
            for item in kind.guide.item:
                if item.key == key:
                    return item
    raise InvalidValue("item", f"is no item of this machine's {side} clutch")


def _row(connection: sqlite3.Connection, desk: Desk, side: Side, item: str) -> int:
    found = connection.execute(
        "SELECT id FROM item_look WHERE visit_id = ? AND side = ? AND item = ?", (desk.visit_id, side, item)
    ).fetchone()
    return found["id"] if found else desk.insert("item_look", {"visit_id": desk.visit_id, "side": side, "item": item})
