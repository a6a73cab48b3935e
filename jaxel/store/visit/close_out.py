"""Close: what a hand counted out and in."""

import re
import sqlite3
from dataclasses import replace
from typing import get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.visit.close_out import Count, Sort

from ..db import NotFound
from ..edits import DEFAULT_HAND, Edit, Edits, changing, record_of
from . import visits

FIELDS = frozenset({"out", "back", "note", "goes_in", "by_sheet"})
MOST = 999


def count(connection: sqlite3.Connection, visit_id: int, key: str, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write how many of something went out, how many are back, or a refitted part's own torque or adjustment.

    Raises NotFound for what is not counted here, Conflict, and InvalidValue (field `count_KEY`) for a number it cannot
    have.
    """
    if unknown := set(edits) - FIELDS:
        raise InvalidValue(min(unknown), "is not said of a count")
    for name, least in (("out", 0), ("back", 0), ("goes_in", 0)):
        value = edits[name].now if name in edits else None
        if name in edits and value is None and name == "out":
            raise InvalidValue(f"count_{key}", "needs how many went out")
        if value is not None and not (value == int(value) and least <= value <= MOST):
            raise InvalidValue(f"count_{key}", f"must be a whole number from {least} to {MOST}")
    with changing(connection, visit_id, by) as desk:
        found = next((each for each in visits.get(connection, visit_id).record().to_count if each.key == key), None)
        if found is None:
            raise NotFound("count")
        row = found.id
        if row is None:
            values = {"key": key, "name": found.name, "sort": found.sort, "out": found.out}
            row = desk.insert("counted", {"visit_id": visit_id, **values})
        if desk.value("counted", row, "back") is None and found.back is not None:
            desk.set("counted", row, "back", found.back)  # it went back in sight: that is what the hand corrects
        desk.write("counted", row, {name: _whole(edit) for name, edit in edits.items()})


def add(
    connection: sqlite3.Connection, visit_id: int, name: str, sort: str, out: int, note: str = "",
    by: str = DEFAULT_HAND,
) -> int:  # fmt: skip
    """Add something to count, or a part moved only for access; returns its id.

    Raises NotFound, Conflict, and InvalidValue for a name that is none or is counted already.
    """
    if not name.strip() or len(name.strip()) > 80:
        raise InvalidValue("name", "needs a name of at most 80 characters")
    if sort not in get_args(Sort):
        raise InvalidValue("sort", f"is one of: {', '.join(get_args(Sort))}")
    if not 1 <= out <= MOST:
        raise InvalidValue("out", f"must be from 1 to {MOST}")
    key = "own." + re.sub(r"\W+", "_", name.strip().casefold())[:60]
    with changing(connection, visit_id, by) as desk:
        known = visits.get(connection, visit_id).record().to_count
        if any(each.key == key or each.name.casefold() == name.strip().casefold() for each in known):
            raise InvalidValue("name", "is on the list already")
        values = {"key": key, "name": name.strip(), "sort": sort, "out": out, "note": note}
        return desk.insert("counted", {"visit_id": visit_id, **values})


def told_before(connection: sqlite3.Connection, visit: visits.Visit) -> list[Count]:
    """What a hand had added at earlier visits of the machine and has not at this one: housing, parts in the way.

    The latest saying of each holds, with its own torque or adjustment.
    """
    rows = connection.execute(
        "SELECT counted.* FROM visit JOIN counted ON visit_id = visit.id"
        " WHERE machine_id = ? AND visit.id < ? AND key GLOB 'own.*' ORDER BY visit.id",
        (visit.machine_id, visit.id),
    )
    found = {row["key"]: record_of("counted", row) for row in rows}
    here = {each.key for each in visit.back_together.counts}
    return [replace(each, back=None, id=None) for key, each in found.items() if key not in here]


def remove(connection: sqlite3.Connection, visit_id: int, key: str, by: str = DEFAULT_HAND) -> None:
    """Take something off the list that a hand had added; raises NotFound."""
    with changing(connection, visit_id, by) as desk:
        held = visits.get(connection, visit_id).back_together.counts
        found: Count | None = next((each for each in held if each.key == key and key.startswith("own.")), None)
        if found is None or found.id is None:
            raise NotFound("count")
        desk.delete("counted", found.id)


def _whole(edit: Edit) -> Edit:
    """A count as a whole number, as the table keeps it."""
    return replace(edit, now=int(edit.now)) if isinstance(edit.now, float) else edit
