"""How a machine's clutches are made, as hands saw it at its visits: the answers to the questions of their kinds."""

import json
import sqlite3
from collections import defaultdict

Answers = tuple[tuple[str, str], ...]
"""Answers by `side.question`, sorted."""


def seen(connection: sqlite3.Connection, machine_id: int, visit_id: int | None = None) -> Answers:
    """What is known of a machine, up to a visit of it or to this day: what was answered last holds.

    Of a clutch mounted on it since, what was seen of that clutch.
    """
    rows = connection.execute(
        "SELECT visit.id, variants FROM visit JOIN strip ON strip.visit_id = visit.id"
        " WHERE machine_id = ? AND visit.id <= coalesce(?, visit.id) AND variants <> '{}' ORDER BY visit.id",
        (machine_id, visit_id),
    )
    told = [(row["id"], "", json.loads(row["variants"])) for row in rows]
    told += [
        (row["after_visit"], row["side"], dict(seen(connection, row["clutch_id"])))
        for row in connection.execute(
            "SELECT after_visit, side, clutch_id FROM mounting WHERE machine_id = ? AND after_visit < ifnull(?, 1e9)"
            " ORDER BY id",
            (machine_id, visit_id),
        )
    ]
    found: dict[str, str] = {}
    for _, side, answers in sorted(told, key=lambda each: (each[0], each[1])):
        if side:  # another clutch came on: what was seen of the one before is no more true of it
            found = {key: each for key, each in found.items() if not key.startswith(f"{side}.")}
        found |= answers
    return tuple(sorted(found.items()))


def of_machines(connection: sqlite3.Connection) -> dict[int, Answers]:
    """What is known of every machine of which anything is."""
    found: dict[int, dict[str, str]] = defaultdict(dict)
    for row in connection.execute(
        "SELECT machine_id, variants FROM strip INDEXED BY strip_with_variants CROSS JOIN visit ON visit.id = visit_id"
        " WHERE variants <> '{}' ORDER BY visit.id"
    ):
        found[row["machine_id"]] |= json.loads(row["variants"])
    changed = {row["machine_id"] for row in connection.execute("SELECT DISTINCT machine_id FROM mounting")}
    known = {machine: tuple(sorted(each.items())) for machine, each in found.items()}
    return known | {machine: seen(connection, machine) for machine in changed}
