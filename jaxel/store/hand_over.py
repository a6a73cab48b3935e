"""Hand-over: what the rider is told, and the sign-off, after which nothing may be open and nothing changes."""

import sqlite3
from dataclasses import fields

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.plausible import next_service
from jaxel.core.trade.stations import HandOver, Intake, OpenItem, open_items

from . import visits
from .db import Conflict, now
from .edits import DEFAULT_HAND, Edits, changing, check_hand
from .visits import Visit

EDITABLE = frozenset(each.name for each in fields(HandOver))


class NotReady(Exception):
    """The visit still lacks something; `items` names each."""

    def __init__(self, items: list[OpenItem]):
        super().__init__("still open: " + "; ".join(item.what for item in items))
        self.items = items


def change(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write what the rider is told.

    Raises NotFound, Conflict, InvalidValue for an unknown field, and Implausible for a service that lies behind.
    """
    if unknown := set(edits) - EDITABLE:
        raise InvalidValue(min(unknown), "is not a field of the hand-over")
    with changing(connection, visit_id, by) as desk:
        intake = visits.station(connection, visit_id, Intake)
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


def _settle_belts(connection: sqlite3.Connection, visit: Visit) -> None:
    state = {"run on": "fitted", "spare": "spare", "discard": "discarded"}[visit.belt.decision or "run on"]
    connection.execute(
        "UPDATE belt SET width_mm = ?, state = ? WHERE id = ?", (visit.mean_width_mm, state, visit.belt.belt_id)
    )
    if state == "fitted":
        return
    if visit.belt.next_belt_id is not None:
        connection.execute(
            "UPDATE belt SET state = 'fitted', width_mm = ?, fitted_at_km = ?, fitted_at_h = ? WHERE id = ?",
            (visit.left_width_mm, visit.intake.odometer_km, visit.intake.odometer_h, visit.belt.next_belt_id),
        )
        return
    connection.execute(
        "INSERT INTO belt (machine_id, number, state, width_mm, fitted_at_km, fitted_at_h)"
        " SELECT ?, max(number) + 1, 'fitted', ?, ?, ? FROM belt WHERE machine_id = ?",
        (
            visit.machine_id,
            visit.left_width_mm,
            visit.intake.odometer_km,
            visit.intake.odometer_h,
            visit.machine_id,
        ),
    )
