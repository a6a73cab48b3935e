"""Print how long a log of a million rows takes, beside a bare parse of it: `python -m bench.logs`."""

import io
import resource
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path
from sqlite3 import Connection

import numpy as np
import pandas as pd

from jaxel.core.formats.run.layout import NOTHING
from jaxel.core.formats.run.log import log_columns
from jaxel.core.formats.run.log_file import read_log
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.core.trade.run.reader import Mark, RunReader
from jaxel.core.trade.run.summary import summary
from jaxel.demo.workshop import build
from jaxel.instruments.logger import Logger
from jaxel.store.db import connect, migrate
from jaxel.store.run import log_uploads, road_tests, run_logs, traces
from tests.examples import drivetrain

THROTTLE = ((0.0, 0.0), (1.0, 0.0), (1.1, 1.0), (28.0, 1.0), (28.1, 0.0), (45.0, 0.0), (45.1, 1.0), (54.0, 1.0),
            (54.1, 0.0), (56.0, 0.0), (56.1, 1.0), (75.0, 1.0), (75.1, 0.0))  # fmt: skip
SLED = 2
"""The demo's visit that is on its bench."""


def million() -> bytes:
    """Ten times the same hundred seconds at a thousand rows a second, with spikes and blanks."""
    trace = log_columns(simulate(drivetrain("sled"), Strip(duration=100, throttle=THROTTLE), 100))
    time_s = np.concatenate([trace["time_s"] + 100.01 * k for k in range(10)])
    run = {name: time_s if name == "time_s" else np.tile(values, 10) for name, values in trace.items()}
    return Logger(hz=1000, spikes=0.0005, lost=0.002).written(run, 1)


def best(work: Callable[[], object], rounds: int = 3) -> float:
    """Seconds of one call, the best of several."""
    taken = []
    for _ in range(rounds):
        begun = time.perf_counter()
        work()
        taken.append(time.perf_counter() - begun)
    return min(taken)


def main() -> None:
    """Time a million rows read and summarised, then kept, drawn and marked."""
    # Made in a process of its own: what that takes of memory is not the reader's.
    with ProcessPoolExecutor(1, get_context("spawn")) as elsewhere:
        data = elsewhere.submit(million).result()
    machine = drivetrain("sled")

    def parsed() -> None:
        pd.read_csv(io.BytesIO(data), dtype=float, na_values=list(NOTHING), low_memory=False)

    bare = best(parsed)
    whole = best(lambda: summary(RunReader.of(read_log(data), machine)))
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{len(data) / 1e6:.0f} MB, 1,000,000 rows read and summarised in {whole:.2f} s,"
          f" {whole / bare:.1f} times a bare parse ({bare:.2f} s); at most {peak:.0f} MB")  # fmt: skip

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "workshop.db"
        migrate(path)
        connection = connect(path)
        build(connection)
        left = connection.execute("SELECT left_revision_id FROM set_up WHERE visit_id = ?", (SLED,)).fetchone()[0]
        for name, text in (("10,000", Logger(lost=0.01).written(small(), 1)), ("1,000,000", data)):
            kept(connection, left, name, text)


def kept(connection: Connection, left: int, name: str, text: bytes) -> None:
    """Time a log from its last part to its traces, a window of them and a mark that is dragged."""
    run = road_tests.begin(connection, SLED, left)
    upload = log_uploads.begin(connection, run, "strip.csv", len(text))
    for number, start in enumerate(range(0, len(text), log_uploads.PART)):
        log_uploads.put(connection, upload, number, text[start : start + log_uploads.PART])
    begun, seen = time.perf_counter(), []

    def told(part: float, _: str) -> None:
        seen.append((part, time.perf_counter() - begun))

    run_logs.read(connection, upload, None, "bench", told)
    drawn = next(taken for part, taken in seen if part >= run_logs.DRAWN)
    log = run_logs.get(connection, run)
    window = best(lambda: traces.window(connection, run, log.grid, 0, 10**9, 1500))
    close = best(lambda: traces.window(connection, run, log.grid, 4000, 9000, 1500))
    reader = run_logs.reader(connection, log)
    mark: dict[Mark, float] = {"shift_start": reader.readings[0].marks["shift_start"] + 1}
    tried = best(lambda: summary(reader, 0, mark))
    print(f"{name} rows can be drawn after {drawn:.2f} s, all is worked out after {seen[-1][1]:.2f} s;"
          f" a window {1e3 * max(window, close):.0f} ms, a dragged mark's figures {1e3 * tried:.0f} ms")  # fmt: skip


def small() -> dict[str, np.ndarray]:
    """A hundred seconds at a hundred rows a second."""
    return log_columns(simulate(drivetrain("sled"), Strip(duration=100, throttle=THROTTLE), 100))


if __name__ == "__main__":
    main()
