"""Visits and runs of a machine as lists show them: a line each, the newest first."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from jaxel.core.trade.record.scope import Scope
from jaxel.core.trade.visit.intake import Intake

from ..record.rows import station
from .entries import TestRun, run_of


@dataclass(frozen=True)
class VisitLine:
    """A visit as a list shows it; `mean_width_mm` of its belt, None where it was not measured; `done`, what its page
    says was done, nothing of one that is open or was signed before pages said it."""

    id: int
    opened_at: str
    signed_off_at: str | None
    scope: Scope
    unrepaired: str
    odometer_km: float | None
    odometer_h: float | None
    complaint: str
    mean_width_mm: float | None
    belt_number: int
    done: tuple[str, ...]


def lines_of(
    connection: sqlite3.Connection, machine_id: int, *, before: int | None = None, limit: int = -1
) -> list[VisitLine]:
    """Visits of a machine, newest first by when they were opened: all, or `limit` of those before the one `before`.

    What came in from another workshop stands where it happened, not when it came.
    """
    rows = connection.execute(
        "SELECT visit.id, opened_at, signed_off_at, scope, unrepaired, odometer_km, odometer_h, complaint,"
        " belt.number AS belt_number,"
        " (SELECT avg(width_mm) FROM belt_reading WHERE visit_id = visit.id) AS mean_width_mm,"
        " (SELECT json_extract(document, '$.rider.done') FROM hand_over_page WHERE visit_id = visit.id) AS done"
        " FROM visit JOIN intake ON intake.visit_id = visit.id JOIN belt_check ON belt_check.visit_id = visit.id"
        " JOIN belt ON belt.id = belt_check.belt_id"
        " WHERE visit.machine_id = ? AND (? IS NULL"
        "  OR (opened_at, visit.id) < (SELECT opened_at, id FROM visit AS last WHERE last.id = ?))"
        " ORDER BY opened_at DESC, visit.id DESC LIMIT ?",
        (machine_id, before, before, limit),
    )
    return [VisitLine(**{**row, "done": _done(row["done"])}) for row in rows]


def _done(kept: str | None) -> tuple[str, ...]:
    """What was done, in the words of the page that was kept."""
    told = json.loads(kept) if kept else []
    return tuple(": ".join(filter(None, (each["what"], each["part"]))) for each in told)


def last_runs(connection: sqlite3.Connection, revision_ids: Sequence[int]) -> dict[int, tuple[TestRun, Intake]]:
    """The last run on each of some set-ups that has one, with the intake of its visit."""
    marks = ", ".join("?" * len(revision_ids))
    rows = connection.execute(
        f"SELECT * FROM ridden WHERE id IN"
        f" (SELECT max(id) FROM road_test WHERE revision_id IN ({marks}) GROUP BY revision_id)",
        list(revision_ids),
    ).fetchall()
    return {row["revision_id"]: (run_of(row), station(connection, row["visit_id"], Intake)) for row in rows}
