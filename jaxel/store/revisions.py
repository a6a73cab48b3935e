"""Set-up revisions: every set-up a machine ever had, each with its parent, its visit and its reason."""

import sqlite3
from dataclasses import dataclass

from jaxel.core.formats.setup import SetupDocument, write_setup

from .db import NotFound, inserted, now
from .edits import DEFAULT_HAND


@dataclass(frozen=True)
class Revision:
    """One set-up as it was fitted; its document holds the belt, air and target of that day too."""

    id: int
    machine_id: int
    parent_id: int | None
    visit_id: int | None
    reason: str
    document: SetupDocument
    created_at: str
    made_by: str


def add(
    connection: sqlite3.Connection,
    machine_id: int,
    document: SetupDocument,
    *,
    reason: str,
    parent_id: int | None = None,
    visit_id: int | None = None,
    by: str = DEFAULT_HAND,
) -> int:
    """Write a new revision inside the caller's transaction; returns its id."""
    return inserted(
        connection.execute(
            "INSERT INTO setup_revision (machine_id, parent_id, visit_id, reason, document, created_at, made_by)"
            " VALUES (?, ?, ?, ?, ?, ?, ?)",
            (machine_id, parent_id, visit_id, reason.strip(), write_setup(document), now(), by),
        )
    )


def get(connection: sqlite3.Connection, revision_id: int) -> Revision:
    """One revision; raises NotFound."""
    row = connection.execute("SELECT * FROM setup_revision WHERE id = ?", (revision_id,)).fetchone()
    if row is None:
        raise NotFound("set-up revision")
    return _revision(row)


def newest(connection: sqlite3.Connection, machine_id: int) -> Revision:
    """The newest revision of a machine; raises NotFound."""
    row = connection.execute(
        "SELECT * FROM setup_revision WHERE machine_id = ? ORDER BY id DESC LIMIT 1", (machine_id,)
    ).fetchone()
    if row is None:
        raise NotFound("set-up revision")
    return _revision(row)


def history(connection: sqlite3.Connection, machine_id: int) -> list[Revision]:
    """Every revision of a machine, newest first."""
    rows = connection.execute("SELECT * FROM setup_revision WHERE machine_id = ? ORDER BY id DESC", (machine_id,))
    return [_revision(row) for row in rows]


def _revision(row: sqlite3.Row) -> Revision:
    values = dict(row)
    return Revision(**values | {"document": SetupDocument.model_validate_json(values["document"])})
