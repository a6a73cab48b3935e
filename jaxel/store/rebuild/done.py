"""What was done about what was decided to be replaced: said at the bench, and at the sign-off kept for the machine."""

import sqlite3
from typing import TYPE_CHECKING

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kinds import Side
from jaxel.core.trade.rebuild.done import FITTED, NOTHING_DONE, Righting, rightings

from ..db import now
from ..edits import DEFAULT_HAND, Edits, changing, check_fields
from ..record.whole import whole_visit
from ..shelf import parts

if TYPE_CHECKING:
    from ..visit.visits import Visit


def say(
    connection: sqlite3.Connection, visit_id: int, side: Side, item: str, edits: Edits, by: str = DEFAULT_HAND
) -> None:
    """Write what was done about an item decided to be replaced; who did it and when is kept with it.

    Raises NotFound, Conflict, and InvalidValue for what was not decided so, or for what cannot be done about it.
    """
    check_fields("item_done", edits)
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        righting = _of(visit, side, item)
        how = edits.get("how")
        if how and how.now and how.now not in righting.ways:
            raise InvalidValue("how", f"is one of: {', '.join(righting.ways)}")
        row = connection.execute(
            "SELECT id FROM item_done WHERE visit_id = ? AND side = ? AND item = ?", (visit_id, side, item)
        ).fetchone()
        key = row["id"] if row else desk.insert("item_done", {"visit_id": visit_id, "side": side, "item": item})
        held = visit.back_together.done.get((side, item), NOTHING_DONE)
        desk.write("item_done", key, edits)
        if how and how.now != held.how:
            desk.set("item_done", key, "by", by if how.now else "")
            desk.set("item_done", key, "at", now() if how.now else "")


def _of(visit: "Visit", side: Side, item: str) -> Righting:
    found = next(
        (each for each in rightings(visit.inspection, visit.back_together.done) if each.place == (side, item)), None
    )
    if found is None:
        raise InvalidValue("item", f"was not decided to be replaced: {item.replace('_', ' ')}, {side}")
    return found


def keep(connection: sqlite3.Connection, visit: "Visit", by: str) -> None:
    """Keep the parts that went in at a visit for its machine and the shelf, inside the caller's transaction."""
    for each in rightings(visit.inspection, visit.back_together.done):
        done = visit.bench.done_of(each)
        if done.how in FITTED:
            parts.fitted(
                connection, visit.id, visit.machine_id, each.side, each.needs, done.number,
                visit.intake.odometer_km, visit.intake.odometer_h, new=done.how == "new", by=by,
            )  # fmt: skip
