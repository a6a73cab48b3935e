"""The log of a run: read and kept, its marks moved, and what it says in the model's own terms."""

import json
import sqlite3
from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from threading import Lock
from typing import get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.header import LoggerDocument
from jaxel.core.formats.run.log_file import read_log
from jaxel.core.formats.setup.setup import ConditionsPart, SetupDocument
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.core.trade.belt.wear import with_belt
from jaxel.core.trade.run.fault.signs import Twins, read_twins, twins_of, twins_text
from jaxel.core.trade.run.like import Like, compared
from jaxel.core.trade.run.reader import Mark, Marks, RunReader
from jaxel.core.trade.run.road_test import LogOfRun, counted_text, read_counted

from ..db import NotFound, now, writing
from ..edits import DEFAULT_HAND, Edit, changing, record_of
from ..setup import revisions
from . import log_files, log_uploads, loggers, traces

MARKS: tuple[Mark, ...] = get_args(Mark)


@dataclass(frozen=True)
class RunLog:
    """A run's log as it is kept: its file and name, what its `grid` needs beside its traces, and what a hand `said`."""

    run_id: int
    visit_id: int
    digest: str
    name: str
    grid: str
    kept_at: str
    kept_by: str
    said: LogOfRun

    @property
    def marks(self) -> dict[int, Marks]:
        """Where marks were put, by pull counted from 0."""
        found: dict[int, dict[Mark, float]] = {}
        for key, (_, moved) in self.said.marks.items():
            pull, mark = key.split(".")
            found.setdefault(int(pull), {})[mark] = moved  # type: ignore[index]
        return dict(found)


def find(connection: sqlite3.Connection, run_id: int) -> RunLog | None:
    """The log of a run, None where it has none."""
    row = connection.execute(
        "SELECT run_log.*, visit_id FROM run_log JOIN road_test ON road_test.id = road_test_id WHERE road_test_id = ?",
        (run_id,),
    ).fetchone()
    if row is None:
        return None
    said = record_of("run_log", row)
    return RunLog(
        run_id, row["visit_id"], row["digest"], row["name"], row["grid"], row["kept_at"], row["kept_by"], said
    )


def get(connection: sqlite3.Connection, run_id: int) -> RunLog:
    """The log of a run; raises NotFound."""
    found = find(connection, run_id)
    if found is None:
        raise NotFound("log")
    return found


def setup_of(connection: sqlite3.Connection, run_id: int, revision_id: int | None = None) -> SetupDocument:
    """The set-up a run was made on, as it is recorded with it or in `revision_id`, with the belt and the air of the
    run."""
    row = connection.execute("SELECT * FROM road_test WHERE id = ?", (run_id,)).fetchone()
    if row is None:
        raise NotFound("road test")
    document = revisions.get(connection, revision_id or row["revision_id"]).document
    air = document.conditions
    if row["elevation_m"] is not None:
        air = ConditionsPart(
            elevation_m=row["elevation_m"],
            temperature_c=row["temperature_c"],
            relative_humidity=row["humidity_pct"] / 100,
        )
    return with_belt(document.in_use(row["belt_width_mm"], air, document.target), None, row["belt_length_mm"])


Told = Callable[[float, str], None]
"""Is told how far a reading has come [0–1] and with what; may raise to give it up."""


def read(connection: sqlite3.Connection, upload_id: int, logger: LoggerDocument | None, by: str, told: Told) -> None:
    """Read a file that came in and keep it as the log of its run; then set it beside a simulated run.

    It is kept, and can be drawn, before the rest is worked out. Raises InvalidValue naming the field, the line and the
    reason, NotFound where the file was given up, Conflict where the visit was closed or the run has a log.
    """
    upload = log_uploads.get(connection, upload_id)
    run_id = upload.road_test_id
    told(0.05, "taking the file together")
    data = log_uploads.whole(connection, upload_id)
    told(0.1, "reading rows")
    log = read_log(data, logger or loggers.known(connection, data))
    told(0.5, "cleaning")
    reader = RunReader.of(log, _machine(connection, run_id))
    told(0.7, "keeping it")
    with writing(connection):
        log_uploads.get(connection, upload_id)
        log_uploads.check_open(connection, run_id)  # it may have been signed meanwhile
        digest = log_files.keep(connection, upload_id, data)
        grid = traces.keep(connection, run_id, reader.grid)
        connection.execute(
            "INSERT INTO run_log (road_test_id, digest, name, grid, kept_at, kept_by) VALUES (?, ?, ?, ?, ?, ?)",
            (run_id, digest, upload.name, grid, now(), by),
        )
        connection.execute("DELETE FROM run_counted WHERE road_test_id = ?", (run_id,))
        connection.execute("DELETE FROM log_upload WHERE id = ?", (upload_id,))
        if logger is not None:
            loggers.keep(connection, data, logger, by)
    _READERS.put(run_id, _key(connection, get(connection, run_id)), reader)
    told(DRAWN, "simulating the same pull")
    counted = _counted(connection, run_id, reader, {})
    with writing(connection):
        log_uploads.check_unsigned(connection, run_id)
        _keep_counted(connection, run_id, "{}", counted)
    told(0.9, "simulating what may be at fault")
    simulate_twins(connection, run_id, reader)
    told(0.95, "packing the file")
    log_files.pack(connection, digest)
    told(1.0, "read")


def warm() -> None:
    """Import what reading needs, which takes a second: a file may be on its way."""
    import pandas  # noqa: F401
    import scipy.ndimage  # noqa: F401


DRAWN = 0.8
"""How far a reading has come when the log is kept and can be drawn [0–1]."""


def _machine(connection: sqlite3.Connection, run_id: int) -> Drivetrain | None:
    try:
        return setup_of(connection, run_id).core()
    except ValueError:  # a set-up that cannot work is ridden all the same: the log is read without it
        return None


def _counted(connection: sqlite3.Connection, run_id: int, reader: RunReader, marks: Mapping[int, Marks]) -> list[Like]:
    if reader.drivetrain is None:
        return []
    try:
        return compared(reader, setup_of(connection, run_id), marks)
    except InvalidValue:
        return []


def _keep_counted(connection: sqlite3.Connection, run_id: int, marks: str, counted: list[Like]) -> None:
    connection.execute(
        "INSERT OR REPLACE INTO run_counted (road_test_id, revision_id, marks, document)"
        " SELECT id, revision_id, ?, ? FROM road_test WHERE id = ?",
        (marks, counted_text(counted), run_id),
    )


class _Readers:
    """The readers of the last few logs: a mark that is dragged asks again and again."""

    MOST = 4

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[int, str], RunReader] = OrderedDict()
        self._lock = Lock()

    def put(self, run_id: int, key: str, reader: RunReader) -> None:
        with self._lock:
            self._kept[run_id, key] = reader
            self._kept.move_to_end((run_id, key))
            while len(self._kept) > self.MOST:
                self._kept.popitem(last=False)

    def get(self, run_id: int, key: str) -> RunReader | None:
        with self._lock:
            return self._kept.get((run_id, key))


_READERS = _Readers()


def reader(connection: sqlite3.Connection, log: RunLog) -> RunReader:
    """A log's reader, on the set-up as it is recorded now."""
    key = _key(connection, log)
    found = _READERS.get(log.run_id, key)
    if found is None:
        found = RunReader(traces.grid_of(connection, log.run_id, log.grid), _machine(connection, log.run_id))
        _READERS.put(log.run_id, key, found)
    return found


def _key(connection: sqlite3.Connection, log: RunLog) -> str:
    """What a reader depends on: the database, the file, and the set-up as it is recorded."""
    path = connection.execute("PRAGMA database_list").fetchone()["file"]
    revision = connection.execute("SELECT revision_id FROM road_test WHERE id = ?", (log.run_id,)).fetchone()[0]
    return f"{path} {log.digest} {log.kept_at} {revision}"


def move_mark(
    connection: sqlite3.Connection, visit_id: int, run_id: int, pull: int, mark: Mark, to: float | None,
    was: float | None, by: str = DEFAULT_HAND,
) -> None:  # fmt: skip
    """Put a mark of a pull at a stamp of the log [s], None where it was found; what the log counts as follows.

    Parameters: `was`, where it was put before. Raises NotFound, Conflict where another hand moved it, InvalidValue for
    a mark outside its pull.
    """
    log = _of_visit(connection, visit_id, run_id)
    read = reader(connection, log)
    key = f"{pull}.{mark}"
    if not 0 <= pull < len(read.pulls):
        raise InvalidValue("pull", f"is not in this log: it holds {len(read.pulls)}")
    one = read.readings[pull]
    stamped = one.grid.stamped
    if to is not None and not stamped[0] <= to <= stamped[-1]:
        raise InvalidValue("to", "lies outside its pull")
    found = one.marks.get(mark)
    held = log.said.marks.get(key)
    marks = {name: list(each) for name, each in log.said.marks.items() if name != key}
    if to is not None:
        marks[key] = [round(found if found is not None else to, 4), round(to, 4)]
    text = json.dumps(marks)
    moved = RunLog(**{**vars(log), "said": LogOfRun(marks, log.said.counts)})
    counted = _counted(connection, run_id, read, moved.marks)
    with changing(connection, visit_id, by) as desk:
        desk.check("mark", held[1] if held else None, Edit(was, to))
        _keep_counted(connection, run_id, text, counted)
        desk.set("run_log", run_id, "marks", marks)


def let_count(connection: sqlite3.Connection, visit_id: int, run_id: int, counts: bool, by: str = DEFAULT_HAND) -> None:
    """Set a run's log aside, so that only what was typed counts, or let it count again. Raises NotFound, Conflict."""
    _of_visit(connection, visit_id, run_id)
    with changing(connection, visit_id, by) as desk:
        desk.set("run_log", run_id, "counts", counts)


def again(connection: sqlite3.Connection, run_id: int) -> None:
    """Work out anew what a run's log counts as: its set-up was put right since."""
    log = get(connection, run_id)
    counted = _counted(connection, run_id, reader(connection, log), log.marks)
    with writing(connection):
        log_uploads.check_unsigned(connection, run_id)
        _keep_counted(connection, run_id, json.dumps(dict(log.said.marks)), counted)
    simulate_twins(connection, run_id, reader(connection, log))


def counts_as(connection: sqlite3.Connection, log: RunLog) -> tuple[tuple[Like, ...], bool]:
    """What a log says in the model's terms, and whether its set-up was put right since that was worked out."""
    row = connection.execute(
        "SELECT run_counted.document FROM run_log JOIN road_test ON road_test.id = run_log.road_test_id"
        " LEFT JOIN run_counted ON run_counted.road_test_id = road_test.id AND run_counted.marks = run_log.marks"
        " AND run_counted.revision_id = road_test.revision_id WHERE run_log.road_test_id = ?",
        (log.run_id,),
    ).fetchone()
    return read_counted(row["document"]), row["document"] is None


def simulate_twins(connection: sqlite3.Connection, run_id: int, reader: RunReader) -> None:
    """Simulate the pull of a run's log, sound and with slip, on its set-up as it is recorded, and keep that."""
    try:
        found = twins_of(reader, setup_of(connection, run_id))
    except ValueError:  # a set-up that cannot work
        found = None
    if found is None:
        return
    with writing(connection):
        log_uploads.check_unsigned(connection, run_id)
        connection.execute(
            "INSERT OR REPLACE INTO run_twins (road_test_id, revision_id, document)"
            " SELECT id, revision_id, ? FROM road_test WHERE id = ?",
            (twins_text(found), run_id),
        )


def twins(connection: sqlite3.Connection, log: RunLog) -> Twins | None:
    """The pull of a log as it was simulated on its set-up; None where it was not, or not as the set-up is recorded."""
    row = connection.execute(
        "SELECT document FROM run_twins JOIN road_test ON road_test.id = road_test_id"
        " AND road_test.revision_id = run_twins.revision_id WHERE road_test_id = ?",
        (log.run_id,),
    ).fetchone()
    return read_twins(row["document"]) if row else None


def size(connection: sqlite3.Connection, log: RunLog) -> int:
    """The size of a log's file [bytes]."""
    found: int = connection.execute("SELECT size FROM log_file WHERE digest = ?", (log.digest,)).fetchone()[0]
    return found


def check_of_visit(connection: sqlite3.Connection, visit_id: int, run_id: int) -> None:
    """Refuse a run that is of another visit; raises NotFound."""
    row = connection.execute("SELECT visit_id FROM road_test WHERE id = ?", (run_id,)).fetchone()
    if row is None or row["visit_id"] != visit_id:
        raise NotFound("road test")


def _of_visit(connection: sqlite3.Connection, visit_id: int, run_id: int) -> RunLog:
    log = get(connection, run_id)
    if log.visit_id != visit_id:
        raise NotFound("log")
    return log
