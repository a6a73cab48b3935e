"""Belts as things with an identity and a life: what is read off them, put on a shelf, discarded, and their widths."""

import sqlite3
from contextlib import suppress
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import check_width
from jaxel.core.trade.belt.trend import Trend, Typical, trend_of, typical_of

from ..db import Conflict, NotFound, inserted, now, writing
from ..edits import DEFAULT_HAND, Edits, check_hand
from ..machine import machines
from ..machine.machines import Belt
from ..setup import revisions
from ..workshop_log import added, noting

SAID = frozenset({"make_number", "batch", "bought_on", "direction", "place", "new_width_mm", "length_mm"})


Meter = Literal["km", "h"]


@dataclass(frozen=True)
class LifePoint:
    """A belt's width at one visit: distance [km] or hours on it, mean width [mm], the meter then, how it was used.

    `on`, the day; `visit_id` None for the day it was fitted.
    """

    visit_id: int | None
    on: str
    use: float
    width_mm: float
    meter: float
    riding: str = ""
    walking_range: str = ""


@dataclass(frozen=True)
class WornBelt:
    """A belt with its life, of whichever machine; its use is counted in `unit`, km, or h where no distance was read."""

    belt: Belt
    machine_id: int
    machine_name: str
    tyre: str
    new_width_mm: float
    unit: Meter
    points: tuple[LifePoint, ...]


def machine_of(connection: sqlite3.Connection, belt_id: int) -> int:
    """The machine a belt belongs to; raises NotFound."""
    row = connection.execute("SELECT machine_id FROM belt WHERE id = ?", (belt_id,)).fetchone()
    if row is None:
        raise NotFound("belt")
    machine_id: int = row["machine_id"]
    return machine_id


def change(connection: sqlite3.Connection, belt_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write what is read off a belt or said of it; raises NotFound, Conflict, InvalidValue."""
    check_hand(by)
    if unknown := set(edits) - SAID:
        raise InvalidValue(min(unknown), "is not said of a belt")
    with noting(connection, by, "belt", belt_id):
        belt = machines.belt(connection, belt_id)
        for field, edit in edits.items():
            held = getattr(belt, field)
            value: Any = edit.now.strip() if isinstance(edit.now, str) else edit.now
            if field == "bought_on":
                _check_day(value)
            if field == "new_width_mm" and value is not None:
                check_width("new_width_mm", belt.width_mm, value)
            if held not in (edit.was, value):
                raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=held)
            connection.execute(f"UPDATE belt SET {field} = ? WHERE id = ?", (value, belt_id))


def put_on_shelf(
    connection: sqlite3.Connection,
    machine_id: int,
    width_mm: float,
    by: str = DEFAULT_HAND,
    *,
    make_number: str = "",
    bought_on: str = "",
    place: str = "",
) -> int:
    """Enter a spare belt of a machine, new or used; returns its id. Raises NotFound, InvalidValue."""
    check_hand(by)
    _check_day(bought_on)
    with writing(connection):
        machines.get(connection, machine_id)
        check_width("width_mm", width_mm, revisions.newest(connection, machine_id).document.belt.top_width_new_mm)
        belt = inserted(
            connection.execute(
                "INSERT INTO belt (machine_id, number, state, width_mm, make_number, bought_on, place)"
                " SELECT ?, coalesce(max(number), 0) + 1, 'spare', ?, ?, ?, ? FROM belt WHERE machine_id = ?",
                (machine_id, width_mm, make_number.strip(), bought_on, place.strip(), machine_id),
            )
        )
        added(connection, by, "belt", belt)
    return belt


def discard(connection: sqlite3.Connection, belt_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a spare off the shelf for good; raises NotFound, Conflict for one that is no spare or is to go on."""
    check_hand(by)
    with noting(connection, by, "belt", belt_id):
        if machines.belt(connection, belt_id).state != "spare":
            raise Conflict("only a spare is taken off the shelf", field="state")
        wanted = connection.execute(
            "SELECT 1 FROM belt_check JOIN visit ON visit.id = visit_id"
            " WHERE next_belt_id = ? AND signed_off_at IS NULL",
            (belt_id,),
        ).fetchone()
        if wanted:
            raise Conflict("it is to go on at an open visit", field="state")
        connection.execute("UPDATE belt SET state = 'discarded', removed_on = ? WHERE id = ?", (now()[:10], belt_id))


def _check_day(text: str) -> None:
    if not text:
        return
    try:
        bought = date.fromisoformat(text)
    except ValueError:
        raise InvalidValue("bought_on", "must be a date, like 2026-11-25") from None
    if bought.isoformat() > now()[:10]:
        raise InvalidValue("bought_on", "lies in the future")


def measured_before(connection: sqlite3.Connection, belt_id: int, visit_id: int) -> bool:
    """Whether a belt's width was measured at a visit before one."""
    found = connection.execute(
        "SELECT 1 FROM belt_check JOIN belt_reading USING (visit_id) WHERE belt_id = ? AND visit_id < ? LIMIT 1",
        (belt_id, visit_id),
    ).fetchone()
    return found is not None


def life(connection: sqlite3.Connection, belt_id: int) -> WornBelt:
    """A belt with its widths through its life; raises NotFound."""
    found = _lives(connection, "belt.id = ?", (belt_id,))
    if not found:
        raise NotFound("belt")
    return found[0]


def others(connection: sqlite3.Connection, belt_id: int, limit: int = 12) -> list[WornBelt]:
    """Other belts whose wear is known: this machine's first, then the workshop's, those last measured first."""
    machine_id = machine_of(connection, belt_id)
    chosen = connection.execute(
        "SELECT belt_id FROM belt_check JOIN belt_reading USING (visit_id) JOIN belt ON belt.id = belt_id"
        " WHERE belt_id <> ? GROUP BY belt_id ORDER BY belt.machine_id <> ?, max(visit_id) DESC LIMIT ?",
        (belt_id, machine_id, limit),
    ).fetchall()
    if not chosen:
        return []
    ids = [row["belt_id"] for row in chosen]
    found = _lives(connection, f"belt.id IN ({', '.join('?' * len(ids))})", tuple(ids))
    return sorted(found, key=lambda each: ids.index(each.belt.id))


def others_trends(connection: sqlite3.Connection, worn: WornBelt) -> list[tuple[WornBelt, Trend]]:
    """Other belts with their trends, each told by itself; those whose widths tell none are left out."""
    found = []
    for other in others(connection, worn.belt.id):
        limit = other.new_width_mm - USUAL_ROOM * other.new_width_mm
        with suppress(InvalidValue):
            trend = _trend(other, limit, None)
            if trend:
                found.append((other, trend))
    return found


def trend(connection: sqlite3.Connection, worn: WornBelt, limit_mm: float) -> Trend | None:
    """How a belt wears, by its widths and by the workshop's other belts of its kind: of the same number, or on the same
    machine; None with fewer than two distances.

    Raises InvalidValue (field `widths`) for widths that no belt has.
    """
    like = [
        trend for other, trend in others_trends(connection, worn)
        if other.unit == worn.unit
        and (other.machine_id == worn.machine_id
             or (other.belt.make_number and other.belt.make_number == worn.belt.make_number))
    ]  # fmt: skip
    return _trend(worn, limit_mm, typical_of(like, worn.unit))


USUAL_ROOM = 0.04
"""Share of its width that a belt may lose, where only its rate is asked; from memory."""


def _trend(worn: WornBelt, limit_mm: float, typical: Typical | None) -> Trend | None:
    if limit_mm >= worn.new_width_mm:
        return None
    use, widths = [each.use for each in worn.points], [each.width_mm for each in worn.points]
    known = not worn.belt.unknown_before
    return trend_of(use, widths, worn.new_width_mm, limit_mm, worn.unit, typical, from_new=known)


def _lives(connection: sqlite3.Connection, where: str, values: tuple[int, ...]) -> list[WornBelt]:
    names = machines.BELT_FIELDS
    columns = ", ".join(f"belt.{name} AS belt_{name}" for name in names)
    heads = connection.execute(
        f"SELECT {columns}, machine_id, machine.name AS machine_name, tyre,"
        " (SELECT json_extract(document, '$.belt.top_width_new_mm') FROM setup_revision"
        "  WHERE setup_revision.machine_id = belt.machine_id ORDER BY id DESC LIMIT 1) AS new_mm"
        f" FROM belt JOIN machine ON machine.id = machine_id WHERE {where}",
        values,
    ).fetchall()
    found = []
    for head in heads:
        said = {name: head[f"belt_{name}"] for name in names}
        belt = Belt(**said | {"unknown_before": bool(said["unknown_before"])})
        found.append(
            WornBelt(
                belt,
                head["machine_id"],
                head["machine_name"],
                head["tyre"],
                belt.new_width_mm or head["new_mm"],
                *_life(connection, belt),
            )
        )
    return found


def _life(connection: sqlite3.Connection, belt: Belt) -> tuple[Meter, tuple[LifePoint, ...]]:
    """The meter a belt's life is counted by, and its points: by distance, or by hours where more is known by them."""
    distance, hours = _points(connection, belt, "km"), _points(connection, belt, "h")
    return ("h", hours) if len(hours) > len(distance) else ("km", distance)


def _points(connection: sqlite3.Connection, belt: Belt, unit: Meter) -> tuple[LifePoint, ...]:
    rows = connection.execute(
        f"SELECT visit.id, opened_at, odometer_{unit} AS meter, riding, walking_range, use_{unit} AS used,"
        " avg(width_mm) AS width_mm"
        " FROM belt_check JOIN visit ON visit.id = belt_check.visit_id JOIN intake ON intake.visit_id = visit.id"
        " JOIN belt_reading ON belt_reading.visit_id = visit.id"
        f" WHERE belt_id = ? AND odometer_{unit} IS NOT NULL GROUP BY visit.id ORDER BY visit.id",
        (belt.id,),
    )
    on_it = belt.use_km if unit == "km" else belt.use_h
    points = []
    for row in rows:
        # While the visit is open what is on the belt follows its meter; a signed one says what it was that day. Of one
        # whose life began elsewhere the meter itself tells how far its widths are apart.
        known = row["used"] if row["used"] is not None else on_it(row["meter"])
        use = row["meter"] if known is None else known
        points.append(
            LifePoint(
                row["id"], row["opened_at"][:10], use, row["width_mm"], row["meter"], row["riding"],
                row["walking_range"],
            )
        )  # fmt: skip
    fitted, used = (getattr(belt, f"{name}_{unit}") for name in ("fitted_at", "used"))
    if fitted is not None and belt.fitted_width_mm is not None:
        points.append(LifePoint(None, "", used, belt.fitted_width_mm, fitted))
    return tuple(sorted(points, key=lambda each: (each.use, each.visit_id or 0)))


@dataclass(frozen=True)
class SpareBelt:
    """A belt on the shelf: its machine, its width [mm], the narrowest it may be, and where it hangs."""

    id: int
    machine_id: int
    machine: str
    number: int
    width_mm: float
    limit_mm: float
    place: str


def spares(connection: sqlite3.Connection) -> list[SpareBelt]:
    """Every belt on the shelf, the widest first."""
    rows = connection.execute(
        "SELECT belt.id, belt.machine_id, machine.name AS machine, belt.number, belt.width_mm, belt.place,"
        " (SELECT json_extract(document, '$.belt.top_width_min_mm') FROM setup_revision"
        "  WHERE setup_revision.machine_id = belt.machine_id ORDER BY id DESC LIMIT 1) AS limit_mm"
        " FROM belt JOIN machine ON machine.id = belt.machine_id WHERE belt.state = 'spare'"
        " ORDER BY belt.width_mm DESC, belt.id"
    )
    return [SpareBelt(**row) for row in rows]
