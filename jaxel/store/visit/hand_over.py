"""Hand-over: what the rider is told, and the sign-off, after which nothing may be open and nothing changes."""

import sqlite3
from collections.abc import Iterator

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.rebuild.done import WHY_DUE, check_after, rightings
from jaxel.core.trade.strip.inspection import Check
from jaxel.core.trade.visit.due import Due
from jaxel.core.trade.visit.intake import Intake
from jaxel.core.trade.visit.plausible import next_service
from jaxel.core.trade.visit.stations import OpenItem, open_items

from ..belt import belts
from ..db import Conflict, now
from ..edits import DEFAULT_HAND, Edits, changing, check_fields, check_hand
from ..rebuild import done
from ..record.rows import station
from ..run import calibrations
from ..shelf import parts
from . import dues, pages, visits
from .visits import Visit


class NotReady(Exception):
    """The visit still lacks something; `items` names each."""

    def __init__(self, items: list[OpenItem]):
        super().__init__("still open: " + "; ".join(item.what for item in items))
        self.items = items


def change(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write what the rider is told.

    Raises NotFound, Conflict, InvalidValue for an unknown field, and Implausible for a service that lies behind.
    """
    check_fields("hand_over", edits)
    with changing(connection, visit_id, by) as desk:
        intake = station(connection, visit_id, Intake)
        for field, stands in (("next_service_km", intake.odometer_km), ("next_service_h", intake.odometer_h)):
            service = edits.get(field)
            if service and service.now is not None and not service.sure:
                next_service(field, service.now, stands)
        desk.write("hand_over", visit_id, edits)


def sign_off(connection: sqlite3.Connection, visit_id: int, edit: int, by: str) -> None:
    """Close a visit for good, as it stood at `edit`: a sign-off is of everything that was shown.

    Raises NotReady naming what is open, InvalidValue without a name, NotFound, Conflict.
    """
    check_hand(by)
    with changing(connection, visit_id, by.strip()) as desk:
        visit = visits.get(connection, visit_id)
        if visit.edit != edit + 1:  # this change counts as one
            raise Conflict("the visit was changed elsewhere: look at it again before it is signed off")
        if items := open_items(visit.record()):
            raise NotReady(items)
        connection.execute(
            "UPDATE visit SET signed_off_at = ?, signed_off_by = ? WHERE id = ?", (now(), by.strip(), visit_id)
        )
        desk.note("visit", visit_id, "signed_off_by", "", by.strip())
        _settle_belts(connection, visit)
        done.keep(connection, visit, by.strip())
        dues.settle(connection, visit_id, visit.machine_id, _spoken_of(visit), _dues(connection, visit))
        pages.write(connection, visits.get(connection, visit_id))
        # The next visit stands on what this one measured.
        calibrations.make(connection, visit.machine_id, visit.as_left(), visit_id, by.strip())


def _key(side: str, item: str) -> str:
    return f"{side}.{item}"


def _spoken_of(visit: Visit) -> list[str]:
    """What a visit had something to say of: an item it did not reach, or a service it was not, stays due."""
    inspection = visit.inspection
    decided = [_key(side, item.key) for side, item in inspection.items() if inspection.verdict(side, item).decision]
    return [*decided, "belt", *(["service"] if visit.scope in ("service", "rebuild") else [])]


def _dues(connection: sqlite3.Connection, visit: Visit) -> Iterator[Due]:
    """What the visit says is due: each item looked at, the belt it leaves on, the next service."""
    inspection, bench = visit.inspection, visit.bench
    for side, item in inspection.items():
        verdict = inspection.verdict(side, item)
        if verdict.check and verdict.decision in ("keep", "watch"):
            why = "usual check" if verdict.decision == "keep" else "watched"
            words = f"{why}: {verdict.sentences[0]}" if verdict.sentences else why
            yield Due(_key(side, item.key), "item", f"{item.name}, {side}", words, verdict.check, None, "undated")
    for each in rightings(inspection, bench.done):
        was = bench.done_of(each)
        for item in each.items:
            check = check_after(item, was, inspection.odometer)
            sentences = inspection.verdict(each.side, item).sentences
            words = f"{WHY_DUE[was.how]}: {sentences[0]}" if sentences else WHY_DUE[was.how]
            yield Due(_key(each.side, item.key), "item", f"{item.name}, {each.side}", words, check, None, "undated")
    ends = belt_end(connection, visit)
    if ends is not None:
        why = "its width, before the soonest it may reach the limit"
        yield Due("belt", "belt", f"Belt {visit.fitted_belt.number}", why, ends, None, "undated")
    told = visit.hand_over
    if told.next_service_km is not None or told.next_service_h is not None:
        check = Check(told.next_service_km, told.next_service_h)
        yield Due("service", "service", "Service", told.watch or "next service", check, None, "undated")


def belt_end(connection: sqlite3.Connection, visit: Visit) -> Check | None:
    """When the belt that runs on reaches its limit at the soonest, by distance or hours; None where no trend tells."""
    if visit.belt.replaced:
        return None
    life = belts.life(connection, visit.belt.belt_id)
    now = visit.intake.odometer_km if life.unit == "km" else visit.intake.odometer_h
    limit = visit.found.belt.top_width_min_mm
    try:
        trend = belts.trend(connection, life, limit)
    except InvalidValue:  # widths that no belt has say nothing of its end
        return None
    if now is None or trend is None:
        return None
    end = round(now + trend.left_from, 1)
    return Check(km=end) if life.unit == "km" else Check(h=end)


def close_unrepaired(connection: sqlite3.Connection, visit_id: int, edit: int, reason: str, by: str) -> None:
    """Close a visit without the repair, whatever it lacks, as it stood at `edit`: with the reason why.

    The belt found stays on the machine as it was measured. Raises InvalidValue without a name or a reason, NotFound,
    Conflict.
    """
    check_hand(by)
    if not reason.strip():
        raise InvalidValue("unrepaired", "needs the reason why it leaves unrepaired")
    with changing(connection, visit_id, by.strip()) as desk:
        visit = visits.get(connection, visit_id)
        if visit.edit != edit + 1:
            raise Conflict("the visit was changed elsewhere: look at it again before it is closed")
        desk.set("visit", visit_id, "unrepaired", reason.strip())
        connection.execute(
            "UPDATE visit SET signed_off_at = ?, signed_off_by = ? WHERE id = ?", (now(), by.strip(), visit_id)
        )
        desk.note("visit", visit_id, "signed_off_by", "", by.strip())
        connection.execute("UPDATE belt SET width_mm = ? WHERE id = ?", (visit.mean_width_mm, visit.belt.belt_id))
        done.keep(connection, visit, by.strip())
        pages.write(connection, visits.get(connection, visit_id))


def _settle_belts(connection: sqlite3.Connection, visit: Visit) -> None:
    """Keep what became of the belt that came in and of the one that goes on, with the odometer of the day."""
    km, h = visit.intake.odometer_km, visit.intake.odometer_h
    fitted = visit.fitted_belt
    use = {"use_km": fitted.use_km(km), "use_h": fitted.use_h(h)}
    connection.execute(
        "UPDATE belt_check SET use_km = :use_km, use_h = :use_h WHERE visit_id = :visit", use | {"visit": visit.id}
    )
    state = {"run on": "fitted", "spare": "spare", "discard": "discarded"}[visit.belt.decision or "run on"]
    width = fitted.width_mm if visit.belt.no_width else visit.mean_width_mm
    connection.execute(
        "UPDATE belt SET width_mm = ?, state = ?, direction = coalesce(nullif(?, ''), direction) WHERE id = ?",
        (width, state, visit.belt.direction, fitted.id),
    )
    if state == "fitted":
        # One that ran before anybody here knew it is counted from where it was first seen.
        connection.execute(
            "UPDATE belt SET fitted_at_km = ?, fitted_at_h = ? WHERE id = ? AND unknown_before = 1"
            " AND fitted_at_km IS NULL AND fitted_at_h IS NULL",
            (km, h, fitted.id),
        )
        return
    connection.execute(
        "UPDATE belt SET used_km = coalesce(?, used_km), used_h = coalesce(?, used_h), removed_at_km = ?,"
        " removed_at_h = ?, removed_on = ?, fitted_at_km = NULL, fitted_at_h = NULL WHERE id = ?",
        (use["use_km"], use["use_h"], km, h, now()[:10], fitted.id),
    )
    said = visit.belt
    going_on = {
        "width": visit.left_width_mm, "km": km, "h": h, "machine": visit.machine_id,
        "measured": said.next_width_mm, "number": said.next_number.strip(), "length": said.next_length_mm,
        "unknown": said.next_is == "used",
    }  # fmt: skip
    if visit.belt.next_belt_id is not None:
        connection.execute(
            "UPDATE belt SET state = 'fitted', width_mm = :width, fitted_width_mm = :width, fitted_at_km = :km,"
            " fitted_at_h = :h, removed_at_km = NULL, removed_at_h = NULL, removed_on = '' WHERE id = :belt",
            going_on | {"belt": visit.belt.next_belt_id},
        )
    else:
        connection.execute(
            "INSERT INTO belt (machine_id, number, state, width_mm, fitted_width_mm, fitted_at_km, fitted_at_h,"
            " make_number, length_mm, unknown_before)"
            " SELECT :machine, max(number) + 1, 'fitted', :width, :measured, :km, :h, :number, :length, :unknown"
            " FROM belt WHERE machine_id = :machine",
            going_on,
        )
    for way in ("out", "in"):
        parts.event(connection, visit.id, visit.machine_id, "belt", "belt", 1, way, km, h)
