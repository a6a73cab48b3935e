"""The shop floor as lists need it: every machine with its newest set-up's figures and its open visit, a query each."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from jaxel.core.formats.prediction import MODEL_VERSION

from ..machine.machines import Machine, machine_of
from .open_visits import OpenVisit, open_visits


@dataclass(frozen=True)
class FloorMachine:
    """A machine on the floor; figures of its newest set-up [rpm, N], None where they are not kept or there are none.

    `figures_kept` says whether they have been worked out.
    """

    machine: Machine
    revision_id: int
    figures_kept: bool
    engagement_rpm: float | None
    hit_n: float | None
    shift_rpm: float | None
    visit: OpenVisit | None


@dataclass(frozen=True)
class FloorLine:
    """A machine on the floor as lists sort and search it; those merged into another are that one."""

    id: int
    name: str
    rider: str
    kind: str
    archived: bool


def lines(connection: sqlite3.Connection) -> list[FloorLine]:
    """Every machine in a line, by name."""
    rows = connection.execute(
        "SELECT id, name, rider, kind, archived FROM machine WHERE merged_into IS NULL ORDER BY name, id"
    )
    return [FloorLine(row[0], row[1], row[2], row[3], bool(row[4])) for row in rows]


def machines_on_floor(connection: sqlite3.Connection, wanted: Sequence[int] | None = None) -> list[FloorMachine]:
    """Machines by name, every one or those `wanted` by their ids, with the figures of their newest set-ups."""
    visits = open_visits(connection)
    rows = connection.execute(
        "SELECT machine.*, newest.id AS revision_id, revision_figures.revision_id IS NOT NULL AS figures_kept,"
        " engagement_rpm, hit_n, shift_rpm FROM machine"
        " JOIN setup_revision AS newest"
        " ON newest.id = (SELECT max(id) FROM setup_revision WHERE machine_id = machine.id)"
        " LEFT JOIN revision_figures ON revision_figures.revision_id = newest.id AND model_version = :model"
        " WHERE merged_into IS NULL AND (:wanted IS NULL OR machine.id IN (SELECT value FROM json_each(:wanted)))"
        " ORDER BY machine.name, machine.id",
        {"model": MODEL_VERSION, "wanted": None if wanted is None else json.dumps(list(wanted))},
    )
    return [
        FloorMachine(
            machine_of(row),
            row["revision_id"],
            bool(row["figures_kept"]),
            row["engagement_rpm"],
            row["hit_n"],
            row["shift_rpm"],
            visits.get(row["id"]),
        )
        for row in rows
    ]


def machines_visited(connection: sqlite3.Connection, word: str) -> set[int]:
    """Ids of the machines of which any visit's complaint or odometer holds a word, in any case.

    Words are kept in threes of letters: what is shorter than LEAST_LETTERS is in nearly every complaint, and found in
    none.
    """
    if len(word) < LEAST_LETTERS:
        return set()
    rows = connection.execute(
        "SELECT DISTINCT machine_id FROM complaint_words JOIN visit ON visit.id = complaint_words.rowid"
        " WHERE complaint_words MATCH ?",
        (" OR ".join('"' + each.replace('"', '""') + '"' for each in {word, word.casefold()}),),
    )
    return {row["machine_id"] for row in rows}


LEAST_LETTERS = 3
