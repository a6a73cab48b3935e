"""How a machine's clutches are made, as hands saw it at its visits: the answers to the questions of their kinds."""

import json
import sqlite3
from collections import defaultdict

Answers = tuple[tuple[str, str], ...]
"""Answers by `side.question`, sorted."""


def seen(connection: sqlite3.Connection, machine_id: int, visit_id: int | None = None) -> Answers:
    """What is known of a machine, up to a visit of it or to this day: what was answered last holds."""
    rows = connection.execute(
        "SELECT variants FROM visit JOIN strip ON strip.visit_id = visit.id"
        " WHERE machine_id = ? AND visit.id <= coalesce(?, visit.id) AND variants <> '{}' ORDER BY visit.id",
        (machine_id, visit_id),
    )
    found: dict[str, str] = {}
    for row in rows:
        found |= json.loads(row["variants"])
    return tuple(sorted(found.items()))


def of_machines(connection: sqlite3.Connection) -> dict[int, Answers]:
    """What is known of every machine of which anything is."""
    found: dict[int, dict[str, str]] = defaultdict(dict)
    for row in connection.execute(
        "SELECT machine_id, variants FROM strip JOIN visit ON visit.id = visit_id"
        " WHERE variants <> '{}' ORDER BY visit.id"
    ):
        found[row["machine_id"]] |= json.loads(row["variants"])
    return {machine: tuple(sorted(each.items())) for machine, each in found.items()}
