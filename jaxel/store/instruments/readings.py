"""Readings that devices sent: each waits at its bench until a page there takes it, two minutes at most."""

import sqlite3
from dataclasses import dataclass

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.device_reading import DeviceReading

from ..db import NotFound, inserted, now, writing

HELD_SECONDS = 120
"""How long a reading waits: after that nobody knows any more what it was of."""

MOST = 50
"""Readings that wait at one bench at most."""

_FRESH = "sent_at > strftime('%Y-%m-%dT%H:%M:%SZ', ?, '-' || ? || ' seconds')"


@dataclass(frozen=True)
class Held:
    """A reading that waits at a bench: of which device, when it was sent, and for how many seconds more it waits."""

    id: int
    instrument: str
    value: float
    unit: str
    sent_at: str
    seconds_left: int


def take_in(connection: sqlite3.Connection, reading: DeviceReading) -> int:
    """Hold a reading at its bench; returns its id. Raises InvalidValue where too many wait there."""
    with writing(connection):
        connection.execute(f"DELETE FROM device_reading WHERE NOT {_FRESH}", (now(), HELD_SECONDS))
        waiting = connection.execute("SELECT count(*) FROM device_reading WHERE bench_id = ?", (reading.bench,))
        if waiting.fetchone()[0] >= MOST:
            raise InvalidValue("bench", f"holds {MOST} readings that nobody takes")
        return inserted(
            connection.execute(
                "INSERT INTO device_reading (bench_id, instrument, value, unit, sent_at) VALUES (?, ?, ?, ?, ?)",
                (reading.bench, reading.instrument, reading.value, reading.unit, now()),
            )
        )


def held(connection: sqlite3.Connection, bench_id: int) -> list[Held]:
    """What waits at a bench, oldest first; raises NotFound for no such bench."""
    if connection.execute("SELECT 1 FROM bench WHERE id = ?", (bench_id,)).fetchone() is None:
        raise NotFound("bench")
    rows = connection.execute(
        "SELECT id, instrument, value, unit, sent_at,"
        f" {HELD_SECONDS} - (strftime('%s', ?) - strftime('%s', sent_at)) AS seconds_left"
        f" FROM device_reading WHERE bench_id = ? AND {_FRESH} ORDER BY id",
        (now(), bench_id, now(), HELD_SECONDS),
    )
    return [Held(**dict(row)) for row in rows]


def take(connection: sqlite3.Connection, bench_id: int, reading_id: int) -> Held:
    """Take a reading away: it goes to one page alone. Raises NotFound where it was taken, or waited too long."""
    with writing(connection):
        found = next((each for each in held(connection, bench_id) if each.id == reading_id), None)
        if found is None:
            raise NotFound("reading")
        connection.execute("DELETE FROM device_reading WHERE id = ?", (reading_id,))
    return found
