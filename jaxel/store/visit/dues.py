"""What is due of machines: said by each signed visit, kept by what it is of, dated when it is read."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from jaxel.core.trade.strip.inspection import Check, Odometer
from jaxel.core.trade.visit.due import Due, Use, due_on, in_order, urgency, use_of

from ..db import now


@dataclass(frozen=True)
class MachineDue:
    """Something due of a machine, which it is, and when it was said."""

    machine_id: int
    machine_name: str
    due: Due
    said_on: str


def settle(
    connection: sqlite3.Connection, visit_id: int, machine_id: int, looked_at: Iterable[str], dues: Iterable[Due]
) -> None:
    """Keep what a visit says is due, inside the caller's transaction.

    Parameters: `looked_at`, keys it had something to say of: what was said of them before no longer holds.
    """
    connection.executemany("DELETE FROM due WHERE machine_id = ? AND key = ?", [(machine_id, key) for key in looked_at])
    connection.executemany(
        "INSERT OR REPLACE INTO due (machine_id, key, visit_id, what, name, why, km, h, season, said_on)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        [
            (
                machine_id, each.key, visit_id, each.what, each.name, each.why, each.check.km, each.check.h,
                each.check.season, now()[:10],
            )
            for each in dues
        ],
    )  # fmt: skip


def of_workshop(connection: sqlite3.Connection, machine_id: int | None = None) -> list[MachineDue]:
    """What is due, the most pressing first: of one machine, or of all that are not archived."""
    rows = connection.execute(
        "SELECT due.*, machine.name AS machine_name, machine.kind FROM due JOIN machine ON machine.id = machine_id"
        " WHERE (:machine IS NULL AND archived = 0) OR machine_id = :machine",
        {"machine": machine_id},
    ).fetchall()
    read = _readings(connection, machine_id)
    today = date.fromisoformat(now()[:10])
    found: dict[int, MachineDue] = {}
    for row in rows:
        due = _due(row, read.get(row["machine_id"], []), today)
        found[id(due)] = MachineDue(row["machine_id"], row["machine_name"], due, row["said_on"])
    return [found[id(due)] for due in in_order(each.due for each in found.values())]


def _due(row: sqlite3.Row, readings: list[tuple[date, Odometer]], today: date) -> Due:
    check = Check(row["km"], row["h"], bool(row["season"]))
    last, at = readings[-1] if readings else (date.fromisoformat(row["said_on"]), Odometer())
    use = use_of(readings) if readings else Use()
    on = due_on(check, at, last, use, row["kind"], date.fromisoformat(row["said_on"]))
    return Due(row["key"], row["what"], row["name"], row["why"], check, on, urgency(on, today))


def _readings(connection: sqlite3.Connection, machine_id: int | None) -> dict[int, list[tuple[date, Odometer]]]:
    """Meter readings by machine, oldest first, of those of which something is due."""
    found: dict[int, list[tuple[date, Odometer]]] = {}
    rows = connection.execute(
        "SELECT machine_id, opened_at, odometer_km, odometer_h FROM visit JOIN intake ON intake.visit_id = visit.id"
        " WHERE machine_id IN (SELECT machine_id FROM due WHERE :machine IS NULL OR machine_id = :machine)"
        " AND (odometer_km IS NOT NULL OR odometer_h IS NOT NULL) ORDER BY visit.id",
        {"machine": machine_id},
    )
    for row in rows:
        day = date.fromisoformat(row["opened_at"][:10])
        found.setdefault(row["machine_id"], []).append((day, Odometer(row["odometer_km"], row["odometer_h"])))
    return found
