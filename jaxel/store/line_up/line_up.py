"""Line-up: the bar's readings, the belt's lie, the shims behind the secondary; and the break-in of a new belt."""

import sqlite3
from typing import Any

from jaxel.core.trade.line_up import plausible
from jaxel.core.trade.line_up.break_in import HeatCycle
from jaxel.core.trade.line_up.line_up import alignment_of
from jaxel.core.words import t

from ..db import Conflict, NotFound, now
from ..edits import DEFAULT_HAND, Edits, changing, check_fields, record_of
from ..kinds.choices import cycles_asked
from ..record.whole import whole_visit


def change(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write readings of the line-up.

    Raises NotFound, Conflict, InvalidValue naming the field: a base of zero, a negative gap, points that are one; and
    Implausible for clutches that would stand far out of line.
    """
    check_fields("line_up", edits)
    with changing(connection, visit_id, by) as desk:
        desk.write("line_up", visit_id, edits)
        row = connection.execute("SELECT * FROM line_up WHERE visit_id = ?", (visit_id,)).fetchone()
        centres = whole_visit(connection, visit_id).found.geometry.centre_distance_mm
        read = record_of("line_up", row)
        alignment_of(read, centres)
        for field, edit in edits.items():
            if field in (*plausible.GAPS, "nominal_mm") and not edit.sure:
                plausible.gap(field, read)


def begin_heat(connection: sqlite3.Connection, visit_id: int, by: str = DEFAULT_HAND) -> None:
    """Begin a heat cycle on the server's clock; raises NotFound, and Conflict where one runs already."""
    with changing(connection, visit_id, by) as desk:
        last = _last(connection, visit_id)
        if last is not None and not last.cool_at:
            raise Conflict(f"a heat cycle runs since {t(last.began_at)} already", field="break_in")
        desk.insert("heat_cycle", {"visit_id": visit_id, "began_at": now()})


def end_heat(
    connection: sqlite3.Connection, visit_id: int, cycle_id: int, temperature_c: float | None, by: str = DEFAULT_HAND
) -> None:
    """Note that the belt is warmed through, or has cooled right down after that, with its temperature [°C] if taken.

    Raises NotFound, and Conflict where the cycle is done.
    """
    with changing(connection, visit_id, by) as desk:
        last = _last(connection, visit_id)
        if last is None or last.id != cycle_id:
            raise NotFound("heat cycle")
        if last.cool_at:
            raise Conflict("this heat cycle is done", field="break_in")
        step = "cool" if last.warm_at else "warm"
        values: dict[str, Any] = {f"{step}_at": now(), f"{step}_c": temperature_c}
        for field, value in values.items():
            desk.set("heat_cycle", cycle_id, field, value)


def take_back_heat(connection: sqlite3.Connection, visit_id: int, cycle_id: int, by: str = DEFAULT_HAND) -> None:
    """Take back the last heat cycle; raises NotFound."""
    with changing(connection, visit_id, by) as desk:
        last = _last(connection, visit_id)
        if last is None or last.id != cycle_id:
            raise NotFound("heat cycle")
        desk.delete("heat_cycle", cycle_id)


def release(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Release a new belt to the road, or overrule its break-in, and why; raises NotFound, Conflict, InvalidValue."""
    check_fields("break_in", edits)
    with changing(connection, visit_id, by) as desk:
        desk.write("break_in", visit_id, edits)
        if "released" in edits:  # what was asked that day stays with the visit, whatever school is followed later
            asked = cycles_asked(connection) if edits["released"].now else None
            desk.set("break_in", visit_id, "asked", asked)


def _last(connection: sqlite3.Connection, visit_id: int) -> HeatCycle | None:
    row = connection.execute("SELECT * FROM heat_cycle WHERE visit_id = ? ORDER BY id DESC", (visit_id,)).fetchone()
    return None if row is None else record_of("heat_cycle", row)
