"""What diagnoses came to: kept with their visit, and counted over the workshop."""

import sqlite3
from collections import defaultdict

from jaxel.core.trade.strip.outcome import CauseOutcome, FirstRanked, Outcome, first_ranked

from ..db import now
from ..edits import DEFAULT_HAND, changing, record_of


def say(
    connection: sqlite3.Connection, visit_id: int, cause: str, rank: int, outcome: Outcome | None,
    by: str = DEFAULT_HAND,
) -> None:  # fmt: skip
    """Keep whether a ranked cause was the cause, None to take that back; raises NotFound, Conflict."""
    with changing(connection, visit_id, by) as desk:
        held = connection.execute(
            "SELECT id, outcome FROM cause_outcome WHERE visit_id = ? AND cause = ?", (visit_id, cause)
        ).fetchone()
        if held is not None and held["outcome"] == outcome:
            return
        if held is not None:
            desk.delete("cause_outcome", held["id"])
        if outcome is not None:
            row = {"visit_id": visit_id, "cause": cause, "rank": rank, "outcome": outcome, "said_at": now()}
            desk.insert("cause_outcome", row)


def of_visit(connection: sqlite3.Connection, visit_id: int) -> dict[str, CauseOutcome]:
    """What was said of a visit's causes, by cause."""
    rows = connection.execute("SELECT * FROM cause_outcome WHERE visit_id = ?", (visit_id,))
    return {row["cause"]: record_of("cause_outcome", row) for row in rows}


def counted(connection: sqlite3.Connection) -> FirstRanked:
    """How often the first-ranked cause was the cause in this workshop."""
    by_visit: dict[int, list[CauseOutcome]] = defaultdict(list)
    for row in connection.execute("SELECT * FROM cause_outcome"):
        by_visit[row["visit_id"]].append(record_of("cause_outcome", row))
    return first_ranked(list(by_visit.values()))
