"""The traces of a run's log: its even clock, and for each channel the pyramid it is drawn from."""

import json
import sqlite3
import zlib
from collections import Counter, defaultdict
from collections.abc import Iterator

import numpy as np

from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.run.grid import Grid
from jaxel.core.mechanism.run.pyramid import FACTOR, level_for, pyramid
from jaxel.core.mechanism.run.spans import spans

CHUNK = 16_384
"""Points of a level in one row."""

STAMPS = "stamped"
"""The log's own stamps, kept as a channel in full precision: an hour of the day has many digits."""


def keep(connection: sqlite3.Connection, run_id: int, grid: Grid) -> str:
    """Keep a grid, within a transaction of the caller's; returns what it needs beside its traces, as text."""
    connection.execute("DELETE FROM run_trace WHERE road_test_id = ?", (run_id,))
    connection.executemany("INSERT INTO run_trace VALUES (?, ?, ?, ?, ?)", _rows(run_id, grid))
    return json.dumps({
        "step": grid.step, "points": len(grid.time), "noise": grid.noise, "every": grid.every, "rows": grid.rows,
        "dropped": grid.dropped, "bridged": spans(grid.bridged),
    })  # fmt: skip


def _rows(run_id: int, grid: Grid) -> Iterator[tuple[int, str, int, int, bytes]]:
    for number in range(len(pyramid(grid.stamped))):
        begins = grid.stamped[:: FACTOR**number]
        for chunk, start in enumerate(range(0, len(begins), CHUNK)):
            yield run_id, STAMPS, number, chunk, _packed(begins[start : start + CHUNK], np.float64)
    for channel, values in grid.channels.items():
        for number, level in enumerate(pyramid(values)):
            for chunk, start in enumerate(range(0, len(level.least), CHUNK)):
                here = slice(start, start + CHUNK)
                both = level.least[here] if number == 0 else np.concatenate([level.least[here], level.most[here]])
                yield run_id, channel, number, chunk, _packed(both, np.float32)


def _packed(values: Array, kind: type) -> bytes:
    return zlib.compress(np.ascontiguousarray(values, kind).tobytes(), 1)


def grid_of(connection: sqlite3.Connection, run_id: int, text: str) -> Grid:
    """A grid as it was kept; `text`, what it needs beside its traces."""
    said = json.loads(text)
    stamped = _series(connection, run_id, STAMPS, np.float64)
    names = connection.execute("SELECT DISTINCT channel FROM run_trace WHERE road_test_id = ? AND level = 0", (run_id,))
    channels = {row[0]: _series(connection, run_id, row[0], np.float32) for row in names if row[0] != STAMPS}
    time = np.arange(said["points"], dtype=float) * said["step"]
    bridged = np.zeros(len(time), bool)
    for start, stop in said["bridged"]:
        bridged[start:stop] = True
    return Grid(
        said["step"], time, stamped, channels, said["noise"], said["every"], said["rows"], said["dropped"], bridged
    )


def _series(connection: sqlite3.Connection, run_id: int, channel: str, kind: type) -> Array:
    rows = connection.execute(
        "SELECT data FROM run_trace WHERE road_test_id = ? AND channel = ? AND level = 0 ORDER BY chunk",
        (run_id, channel),
    )
    return np.concatenate([np.frombuffer(zlib.decompress(row["data"]), kind) for row in rows]).astype(float)


MOST_BYTES = 2 * CHUNK * 8
"""What a row of a level can come to, unpacked: both halves of a chunk in the wider of the two forms."""


def check(connection: sqlite3.Connection, run_id: int, text: str) -> None:
    """Refuse traces that were written elsewhere and cannot be: raises ValueError.

    Every row is unpacked within bounds; each level has the points it stands for. `text`, what the grid needs beside
    its traces.
    """
    said = json.loads(text)
    points, counted = said["points"], Counter[tuple[str, int]]()
    rows = connection.execute("SELECT channel, level, data FROM run_trace WHERE road_test_id = ?", (run_id,))
    for row in rows:
        data = zlib.decompressobj().decompress(row["data"], MOST_BYTES + 1)
        size = 8 if row["channel"] == STAMPS else 4 if row["level"] == 0 else 8
        if len(data) > MOST_BYTES or len(data) % size:
            raise ValueError(f"a trace of {row['channel']} is no chunk of one")
        counted[row["channel"], row["level"]] += len(data) // size
    wrong = [channel for (channel, level), count in counted.items() if count != -(-points // FACTOR**level)]
    levels: dict[str, set[int]] = defaultdict(set)
    for channel, level in counted:
        levels[channel].add(level)
    whole = set(range(len(levels[STAMPS])))  # every channel is drawn from the same levels, none left out
    if wrong or not whole or any(each != whole for each in levels.values()) or not 0 < said["step"] < np.inf:
        raise ValueError(f"the traces are not of {points} points")
    if any(not 0 <= start <= stop <= points for start, stop in said["bridged"]):
        raise ValueError("a stretch that was bridged lies outside the log")


def window(
    connection: sqlite3.Connection, run_id: int, text: str, first: int, last: int, wanted: int
) -> tuple[int, int, Array, dict[str, tuple[Array, Array]]]:
    """Traces from one point of the grid up to another, by at most about `wanted` stretches.

    Returns the first point, the points in a stretch, the stamp at which each begins [s], and least and most of each
    channel [SI].
    """
    points = json.loads(text)["points"]
    first, last = max(0, min(first, points - 1)), max(1, min(last, points))
    deepest = connection.execute(
        "SELECT max(level) FROM run_trace WHERE road_test_id = ? AND channel = ?", (run_id, STAMPS)
    ).fetchone()[0]
    level = min(level_for(last - first, wanted), deepest)
    size = FACTOR**level
    begin, end = first // size, -(-last // size)
    rows = connection.execute(
        "SELECT channel, data FROM run_trace WHERE road_test_id = ? AND level = ? AND chunk BETWEEN ? AND ?"
        " ORDER BY channel, chunk",
        (run_id, level, begin // CHUNK, (end - 1) // CHUNK),
    )
    here = slice(begin - begin // CHUNK * CHUNK, end - begin // CHUNK * CHUNK)
    stamps: list[Array] = []
    found: dict[str, list[tuple[Array, Array]]] = {}
    for row in rows:
        data = zlib.decompress(row["data"])
        if row["channel"] == STAMPS:
            stamps.append(np.frombuffer(data, np.float64))
            continue
        values = np.frombuffer(data, np.float32).astype(float)
        least, most = (values, values) if level == 0 else np.split(values, 2)
        found.setdefault(row["channel"], []).append((least, most))
    channels = {
        channel: (np.concatenate([each[0] for each in pair])[here], np.concatenate([each[1] for each in pair])[here])
        for channel, pair in found.items()
    }
    return begin * size, size, np.concatenate(stamps)[here], channels
