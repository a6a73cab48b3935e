"""The hand-over page of every visit signed before pages were kept: by the rules of that day, and it says so."""

import sqlite3


def write_missing(connection: sqlite3.Connection) -> None:
    """Write them from the visits' records, which only a schema brought up to date can be read by."""
    from jaxel.core.words import day
    from jaxel.store.db import now
    from jaxel.store.visit import pages, visits

    if not connection.execute("SELECT 1 FROM sqlite_schema WHERE name = 'hand_over_page'").fetchone():
        return  # a schema of before pages were kept
    note = f"Written on {day(now())} from the record of the visit, which was signed before pages were kept."
    signed = connection.execute(
        "SELECT id FROM visit WHERE signed_off_at IS NOT NULL AND id NOT IN (SELECT visit_id FROM hand_over_page)"
    ).fetchall()
    for row in signed:
        pages.write(connection, visits.get(connection, row["id"]), note)
