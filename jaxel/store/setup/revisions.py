"""Set-up revisions: every set-up a machine ever had, each with its parent, its visit and its reason."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import astuple, dataclass, fields
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import MODEL_VERSION, PredictionFigures
from jaxel.core.formats.setup.setup import SetupDocument, write_setup, written_setup

from ..db import NotFound, inserted, now, read_once, writing
from ..edits import DEFAULT_HAND
from . import predictions
from .calibrated import Ground

Nature = Literal["brought in", "found", "change", "correction"]


@dataclass(frozen=True)
class Revision:
    """One set-up as it was fitted; its document holds the belt, air and target of that day too.

    `nature`, how it came to be; a correction names the revision it `corrects`: the same parts, recorded wrong before.
    """

    id: int
    machine_id: int
    parent_id: int | None
    visit_id: int | None
    reason: str
    document: SetupDocument
    created_at: str
    made_by: str
    nature: Nature
    corrects: int | None
    identity: str = ""


def add(
    connection: sqlite3.Connection,
    machine_id: int,
    document: SetupDocument,
    *,
    reason: str,
    parent_id: int | None = None,
    visit_id: int | None = None,
    nature: Nature = "change",
    corrects: int | None = None,
    by: str = DEFAULT_HAND,
    on: Ground | None = None,
) -> int:
    """Write a new revision with its figures, on what is known of its machine, inside the caller's transaction; returns
    its id."""
    revision = inserted(
        connection.execute(
            "INSERT INTO setup_revision (machine_id, parent_id, visit_id, reason, document, created_at, made_by,"
            " nature, corrects) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
            (machine_id, parent_id, visit_id, reason.strip(), write_setup(document), now(), by, nature, corrects),
        )
    )
    try:
        figures = figures_of(predictions.kept(connection, document, on))
    except InvalidValue as error:
        figures = Figures(None, None, None, None, error.reason)
    keep_figures(connection, {revision: figures})
    return revision


@dataclass(frozen=True)
class Figures:
    """What a set-up was predicted to do: engagement (bite) with its snap, shift mean, or the fault that forbids it."""

    engagement_rpm: float | None
    snap_n: float | None
    hit_n: float | None
    shift_rpm: float | None
    fault: str = ""


def figures_of(prediction: PredictionFigures) -> Figures:
    """What a list shows of a prediction."""
    engagement = prediction.engagement
    return Figures(engagement.bite_rpm, engagement.snap_n, engagement.hit_n, prediction.shift.mean_rpm)


def keep_figures(connection: sqlite3.Connection, figures: Mapping[int, Figures]) -> None:
    """Keep figures by revision id; those kept before stay as they are."""
    with writing(connection):
        connection.executemany(
            "INSERT OR IGNORE INTO revision_figures"
            " (revision_id, model_version, engagement_rpm, snap_n, hit_n, shift_rpm, fault)"
            " VALUES (?, ?, ?, ?, ?, ?, ?)",
            [(key, MODEL_VERSION, *astuple(each)) for key, each in figures.items()],
        )


def figures(connection: sqlite3.Connection, revisions: Sequence[Revision]) -> dict[int, Figures]:
    """Figures kept of some revisions by today's model, by id; one without has none kept."""
    marks = ", ".join("?" * len(revisions))
    rows = connection.execute(
        "SELECT revision_id, engagement_rpm, snap_n, hit_n, shift_rpm, fault FROM revision_figures"
        f" WHERE model_version = ? AND revision_id IN ({marks})",
        [MODEL_VERSION, *(each.id for each in revisions)],
    )
    names = [each.name for each in fields(Figures)]
    return {row["revision_id"]: Figures(**{name: row[name] for name in names}) for row in rows}


@read_once
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


def history(
    connection: sqlite3.Connection, machine_id: int, *, before: int | None = None, limit: int = -1
) -> list[Revision]:
    """Revisions of a machine, newest first: all, or `limit` of those with an id below `before`."""
    rows = connection.execute(
        "SELECT * FROM setup_revision WHERE machine_id = ? AND (? IS NULL OR id < ?) ORDER BY id DESC LIMIT ?",
        (machine_id, before, before, limit),
    )
    return [_revision(row) for row in rows]


@read_once
def of_visit(connection: sqlite3.Connection, visit_id: int) -> list[Revision]:
    """The revisions a visit recorded, in their order."""
    rows = connection.execute("SELECT * FROM setup_revision WHERE visit_id = ? ORDER BY id", (visit_id,))
    return [_revision(row) for row in rows]


@read_once
def corrected(connection: sqlite3.Connection, machine_id: int) -> dict[int, int]:
    """For every revision that was corrected, the one that holds in its place: the same parts, recorded right."""
    rows = connection.execute(
        "SELECT id, corrects FROM setup_revision WHERE machine_id = ? AND corrects IS NOT NULL ORDER BY id DESC",
        (machine_id,),
    )
    found: dict[int, int] = {}
    for row in rows:
        found[row["corrects"]] = found.get(row["id"], row["id"])
    return found


def _revision(row: sqlite3.Row) -> Revision:
    values = dict(row)
    return Revision(**values | {"document": written_setup(values["document"])})
