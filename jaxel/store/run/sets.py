"""Sets of a machine's runs as they are compared: which runs there are, and what of each is compared."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.run.compare.sets import SetRun
from jaxel.core.trade.run.reader import RunReader
from jaxel.core.trade.run.road_test import Measured
from jaxel.core.trade.setup.figures import core_or_none
from jaxel.core.words import day

from ..setup import revisions
from . import run_logs, traces

MOST_OTHERS = 3
"""Runs of another set-up that its repeats are known from: each is read, and few tell nearly as much as many."""

MOST_RUNS = 8
"""Runs a set takes: more tell little more, and each is read."""


@dataclass(frozen=True)
class RunToChoose:
    """A run of a machine that may be compared: at which visit, its number there, its day, its set-up as it is recorded
    now with the reason it was recorded for, who rode where, and what of it there is."""

    run_id: int
    visit_id: int
    number: int
    day: str
    revision_id: int
    reason: str
    rider: str
    strip: str
    log_name: str | None
    typed: bool
    corrected: bool


def to_choose(connection: sqlite3.Connection, machine_id: int) -> list[RunToChoose]:
    """Every run of a machine that measured something, the newest first."""
    right = revisions.corrected(connection, machine_id)
    rows = connection.execute(
        "SELECT ridden.*, row_number() OVER (PARTITION BY visit_id ORDER BY ridden.id) AS number FROM ridden"
        " JOIN visit ON visit.id = visit_id WHERE machine_id = ? ORDER BY ridden.id DESC",
        (machine_id,),
    ).fetchall()
    found = []
    for row in rows:
        typed = any(row[each] is not None for each in ("engagement_rpm", "second_roll_on_rpm", "third_roll_on_rpm",
                                                       "shift_rpm"))  # fmt: skip
        log = row["log_name"] if row["log_counts"] else None
        if typed or log is not None:
            now = right.get(row["revision_id"], row["revision_id"])
            found.append(
                RunToChoose(
                    row["id"], row["visit_id"], row["number"], row["taken_at"][:10], now,
                    revisions.get(connection, now).reason, row["rider"], row["strip"], log, typed,
                    bool(row["set_aside"]) or now != row["revision_id"],
                )
            )  # fmt: skip
    return found


def set_of(connection: sqlite3.Connection, machine_id: int, field: str, run_ids: Sequence[int]) -> list[SetRun]:
    """Runs as a set; raises InvalidValue (`field`) for none, too many, a run twice, or one of another machine."""
    if not run_ids:
        raise InvalidValue(field, "holds no run")
    if len(run_ids) > MOST_RUNS:
        raise InvalidValue(field, f"holds {len(run_ids)} runs: at most {MOST_RUNS} are compared")
    if len(set(run_ids)) < len(run_ids):
        raise InvalidValue(field, "holds a run twice")
    known = {each.run_id: each for each in to_choose(connection, machine_id)}
    for each in run_ids:
        if each not in known:
            row = connection.execute(
                "SELECT machine.id, machine.name FROM road_test JOIN visit ON visit.id = visit_id"
                " JOIN machine ON machine.id = machine_id WHERE road_test.id = ?",
                (each,),
            ).fetchone()
            if row is not None and row["id"] != machine_id:
                raise InvalidValue(field, f"holds a run of another machine, {row['name']}")
            raise InvalidValue(field, "holds a run that measured nothing, or is there no more")
    return [_set_run(connection, known[each]) for each in run_ids]


def others_of(connection: sqlite3.Connection, machine_id: int, but: Sequence[int]) -> list[list[SetRun]]:
    """What else of a machine was repeated on one set-up, the newest two: what its repeats are known from."""
    by_set_up: dict[int, list[RunToChoose]] = {}
    for each in to_choose(connection, machine_id):
        if each.run_id not in but:
            by_set_up.setdefault(each.revision_id, []).append(each)
    groups = [some[:MOST_OTHERS] for some in by_set_up.values() if len(some) > 1 or some[0].log_name is not None]
    return [[_set_run(connection, each) for each in group] for group in groups[:2]]


def _set_run(connection: sqlite3.Connection, each: RunToChoose) -> SetRun:
    row = connection.execute("SELECT * FROM road_test WHERE id = ?", (each.run_id,)).fetchone()
    setup = run_logs.setup_of(connection, each.run_id, each.revision_id)
    typed = Measured(row["engagement_rpm"], row["second_roll_on_rpm"], row["third_roll_on_rpm"], row["shift_rpm"])
    log = run_logs.find(connection, each.run_id) if each.log_name is not None else None
    read = None
    if log is not None and each.revision_id == row["revision_id"]:
        read = run_logs.reader(connection, log)
    elif log is not None:  # put right since: read as it is recorded now
        read = RunReader(traces.grid_of(connection, log.run_id, log.grid), core_or_none(setup))
    return SetRun(
        each.run_id, each.revision_id, f"run {each.number} of {day(each.day)}", each.day, setup, each.rider, each.strip,
        read, typed, each.corrected,
    )  # fmt: skip
