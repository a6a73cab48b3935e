"""What runs tell of a machine: the verdict of a log, and what the network of causes learns of it and of its rider."""

import sqlite3
from collections import OrderedDict
from threading import Lock
from typing import TYPE_CHECKING

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.run.reading import Reading
from jaxel.core.trade.run.fault.signs import read_pull
from jaxel.core.trade.run.fault.verdict import TOLD, Verdict, verdict
from jaxel.core.trade.run.fault.weighing import Context
from jaxel.core.trade.run.rider_word import word_evidence

from . import run_logs

if TYPE_CHECKING:
    from ..visit.entries import TestRun
    from ..visit.visits import Visit


class _Kept:
    """The last few verdicts: a page asks for them again and again."""

    MOST = 64

    def __init__(self) -> None:
        self._found: OrderedDict[tuple[object, ...], Verdict | None] = OrderedDict()
        self._lock = Lock()

    def get(self, key: tuple[object, ...]) -> tuple[bool, Verdict | None]:
        with self._lock:
            return key in self._found, self._found.get(key)

    def put(self, key: tuple[object, ...], found: Verdict | None) -> None:
        with self._lock:
            self._found[key] = found
            while len(self._found) > self.MOST:
                self._found.popitem(last=False)


_KEPT = _Kept()


def verdict_of(connection: sqlite3.Connection, visit: "Visit", run: "TestRun") -> Verdict | None:
    """What the log of a run says is at fault; None without one, or where its pull could not be simulated."""
    if run.log_name is None:
        return None
    path = connection.execute("PRAGMA database_list").fetchone()["file"]
    predicted = None
    if run.predicted is not None and not run.set_aside and visit.now(run.revision_id) == run.revision_id:
        predicted = (run.predicted.shift_rpm, run.predicted.shift_sd_rpm)
    measured, stated = bool(visit.widths_mm) or visit.belt.new_one, visit.intake.stated_windows
    aim = stated[1] if stated else None
    log = run_logs.get(connection, run.id)
    twins = run_logs.twins(connection, log)
    key = (path, run.id, run.log_state, run.revision_id, predicted, aim, measured, twins)
    known, found = _KEPT.get(key)
    if known or twins is None:
        return found
    reader = run_logs.reader(connection, log)
    pull = read_pull(reader, log.marks)
    if pull is not None:
        likes, _ = run_logs.counts_as(connection, log)
        mean = next((each for each in likes if each.figure == "shift_mean_rpm"), None)
        context = Context(mean, predicted, aim, measured, reader.grid["secondary"] is not None)
        try:
            found = verdict(run_logs.setup_of(connection, run.id), pull, twins, context)
        except InvalidValue:  # a set-up that cannot work is ridden all the same
            found = None
    _KEPT.put(key, found)
    return found


def last_log(visit: "Visit") -> "TestRun | None":
    """The last run of a visit whose log counts, None where none has one."""
    return next((run for run in reversed(visit.runs) if run.log_name is not None and run.log_counts), None)


def evidence_of(connection: sqlite3.Connection, visit: "Visit") -> dict[str, bool]:
    """What the network of causes learns of a visit's road test: by its last log that counts, and by its rider."""
    known = word_evidence([each.word for each in visit.words])
    last = last_log(visit)
    told = verdict_of(connection, visit, last) if last else None
    if told is None or told.probability < TOLD:
        return known
    if told.kind == "nothing amiss":
        return known | {"run:clutch": False, "run:slip": False}
    return known | {f"run:{told.kind}": True}


def gearing_reached(connection: sqlite3.Connection, visit: "Visit") -> tuple[float, float] | None:
    """The overall gearing that a visit's last log that counts reached, with its deviation; None where none tells."""
    last = last_log(visit)
    if last is None:
        return None
    reader = run_logs.reader(connection, run_logs.get(connection, last.id))
    if reader.of_shift is None or not isinstance(reader.of_shift.gearing, Reading):
        return None
    return reader.of_shift.gearing.value, reader.of_shift.gearing.sd
