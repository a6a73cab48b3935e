"""Signing a visit off: nothing may be open, and the belts end up where the decision put them."""

import sqlite3

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.visit import OpenItem, open_items

from .db import now, writing
from .visits import Visit, begin_edit


class NotReady(Exception):
    """The visit still lacks something; `items` names each."""

    def __init__(self, items: list[OpenItem]):
        super().__init__("still open: " + "; ".join(item.what for item in items))
        self.items = items


def sign_off(connection: sqlite3.Connection, visit_id: int, edit: int, by: str) -> None:
    """Close a visit for good.

    Raises NotReady naming what is open, InvalidValue without a name, NotFound, Conflict.
    """
    if not by.strip():
        raise InvalidValue("by", "sign-off needs the technician's name")
    with writing(connection):
        visit = begin_edit(connection, visit_id, edit)
        if items := open_items(visit.record()):
            raise NotReady(items)
        connection.execute(
            "UPDATE visit SET signed_off_at = ?, signed_off_by = ? WHERE id = ?", (now(), by.strip(), visit_id)
        )
        _settle_belts(connection, visit)


def _settle_belts(connection: sqlite3.Connection, visit: Visit) -> None:
    state = {"run on": "fitted", "spare": "spare", "discard": "discarded"}[visit.belt_decision or "run on"]
    connection.execute(
        "UPDATE belt SET width_mm = ?, state = ? WHERE id = ?", (visit.mean_width_mm, state, visit.belt_id)
    )
    if state == "fitted":
        return
    if visit.next_belt_id is not None:
        connection.execute(
            "UPDATE belt SET state = 'fitted', width_mm = ?, fitted_at_km = ? WHERE id = ?",
            (visit.left_width_mm, visit.odometer_km, visit.next_belt_id),
        )
        return
    connection.execute(
        "INSERT INTO belt (machine_id, number, state, width_mm, fitted_at_km)"
        " SELECT ?, max(number) + 1, 'fitted', ?, ? FROM belt WHERE machine_id = ?",
        (visit.machine_id, visit.left_width_mm, visit.odometer_km, visit.machine_id),
    )
