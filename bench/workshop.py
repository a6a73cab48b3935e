"""How long lists take in a workshop of 1,000 machines, 100,000 visits and 300,000 belt readings.

python -m bench.workshop
"""

import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.request
from contextlib import closing
from pathlib import Path
from statistics import median

from flask.testing import FlaskClient

from jaxel.core.formats.prediction import MODEL_VERSION
from jaxel.core.formats.setup.setup import SetupDocument, read_setup, write_setup
from jaxel.core.trade.visit.records import TABLES
from jaxel.store.db import connect, migrate, writing
from jaxel.web import create_app

MACHINES, VISITS_EACH = 1000, 100
EXAMPLE = Path(__file__).parents[1] / "docs" / "formats" / "setups" / "sled.json"
COMPLAINTS = ("Bogs at take-off", "Top speed is down", "Rattles at idle", "Belt smells on a climb", "Season service")


def fill(path: Path) -> None:
    """Write the workshop straight into its tables; every twentieth machine has a visit open."""
    migrate(path)
    document = read_setup(EXAMPLE.read_bytes())
    with closing(connect(path)) as db, writing(db):
        for machine in range(1, MACHINES + 1):
            _machine(db, machine, document)
        for name, table in TABLES.items():
            if table.key == "visit_id":
                db.execute(f"INSERT OR IGNORE INTO {name} (visit_id) SELECT id FROM visit")


def _machine(db: sqlite3.Connection, machine: int, document: SetupDocument) -> None:
    db.execute(
        "INSERT INTO machine (id, name, kind, rider, primary_kind, secondary_kind, created_at, brought_in_by)"
        " VALUES (?, ?, 'sled', ?, 'tower-and-button-primary', 'bolt-in-helix-secondary', '2020-01-01T00:00:00Z',"
        " 'bench')",
        (machine, f"Machine {machine:04}", f"Rider {machine % 397}"),
    )
    db.execute(
        "INSERT INTO belt (id, machine_id, number, state, width_mm) VALUES (?, ?, 1, 'fitted', 36)", (machine, machine)
    )
    text, revisions = write_setup(document), range((machine - 1) * 10 + 1, machine * 10 + 1)
    db.executemany(
        "INSERT INTO setup_revision (id, machine_id, parent_id, reason, document, created_at)"
        " VALUES (?, ?, ?, 'a change', ?, '2020-01-01T00:00:00Z')",
        [(each, machine, each - 1 if each > revisions[0] else None, text) for each in revisions],
    )
    db.executemany(
        "INSERT INTO revision_figures (revision_id, model_version, engagement_rpm, shift_rpm)"
        " VALUES (?, ?, 3900, 7900)",
        [(each, MODEL_VERSION) for each in revisions],
    )
    visits = range((machine - 1) * VISITS_EACH + 1, machine * VISITS_EACH + 1)
    still_open = visits[-1] if machine % 20 == 0 else None
    db.executemany(
        "INSERT INTO visit (id, machine_id, opened_at, signed_off_at, signed_off_by)"
        " VALUES (?, ?, '2021-01-01T00:00:00Z', ?, 'Jo')",
        [(each, machine, None if each == still_open else "2021-01-02T00:00:00Z") for each in visits],
    )
    db.executemany(
        "INSERT INTO intake (visit_id, odometer_km, complaint, elevation_m, temperature_c, humidity_pct,"
        " target_engagement_rpm, target_engagement_tolerance_rpm, target_shift_rpm, target_shift_tolerance_rpm)"
        " VALUES (?, ?, ?, 600, -8, 60, 3950, 100, 7900, 100)",
        [(each, 100.0 * (each % 97), COMPLAINTS[each % len(COMPLAINTS)]) for each in visits],
    )
    db.executemany("INSERT INTO belt_check (visit_id, belt_id) VALUES (?, ?)", [(each, machine) for each in visits])
    db.executemany(
        "INSERT INTO set_up (visit_id, found_revision_id, left_revision_id) VALUES (?, ?, ?)",
        [(each, revisions[-1], revisions[-1]) for each in visits],
    )
    db.executemany("INSERT INTO hand_over (visit_id) VALUES (?)", [(each,) for each in visits])
    db.executemany(
        "INSERT INTO belt_reading (visit_id, place, width_mm, taken_at) VALUES (?, ?, 35.9, '2021-01-01T00:00:00Z')",
        [(each, place) for each in visits for place in (1, 2, 3)],
    )
    db.executemany(
        "INSERT INTO road_test (visit_id, revision_id, belt_width_mm, engagement_rpm, shift_rpm, taken_at)"
        " VALUES (?, ?, 35.9, 3900, 7890, '2021-01-01T00:00:00Z')",
        [(each, revisions[each % 10]) for each in visits],
    )


def first_answer(path: Path) -> float:
    """Seconds from starting `serve` to the shop floor's first answer."""
    start = time.perf_counter()
    process = subprocess.Popen(
        [sys.executable, "-m", "jaxel", "serve", "--database", str(path), "--port", "0"],
        stdout=subprocess.PIPE,
        text=True,
    )
    try:
        address = process.stdout.readline().split()[-1] if process.stdout else ""
        with urllib.request.urlopen(f"{address}/api/floor") as answer:
            answer.read()
        return time.perf_counter() - start
    finally:
        process.kill()
        process.communicate()


def main() -> None:
    """Fill the workshop and print the median time of each list over nine requests, the first one beside it."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "workshop.db"
        start = time.perf_counter()
        fill(path)
        took, size = time.perf_counter() - start, path.stat().st_size / 1e6
        print(f"{MACHINES:,} machines, {MACHINES * VISITS_EACH:,} visits: {took:.0f} s, {size:.0f} MB")
        print(f"{'first answer of serve, s':34}{first_answer(path):9.2f}")
        client = create_app(path).test_client()
        print(f"{'':34}{'first ms':>9}{'median ms':>11}{'kB':>8}")
        for name, address in (
            ("shop floor", "/api/floor"), ("machine", "/api/machines/500"), ("visit", "/api/visits/49999"),
            ("visit, open", "/api/visits/50000"), ("older visits", "/api/machines/500/visits?before=49980"),
            ("search, three words", "/api/floor?find=rider climb 0500"),
            ("search, by odometer", "/api/floor?find=4300"), ("search, nothing found", "/api/floor?find=nowhere"),
        ):  # fmt: skip
            times, kilobytes = [], 0.0
            for _ in range(9):
                begun = time.perf_counter()
                answer = client.get(address, headers={"Accept-Encoding": "gzip"})
                times.append((time.perf_counter() - begun) * 1e3)
                kilobytes = len(answer.data) / 1e3
                if answer.status_code != 200:
                    raise SystemExit(f"{address}: {answer.text}")
            print(f"{name:34}{times[0]:9.1f}{median(times):11.1f}{kilobytes:8.1f}")
        times = [_written(client, number) for number in range(9)]
        print(f"{'a write':34}{times[0]:9.1f}{median(times):11.1f}")


def _written(client: FlaskClient, number: int) -> float:
    """Milliseconds of one change of an open visit's complaint, which is searched too."""
    held = client.get("/api/visits/50000").json["intake"]["complaint"]  # type: ignore[index]
    body = {"complaint": {"was": held, "now": f"Bogs at take-off, said {number} times"}}
    begun = time.perf_counter()
    answer = client.patch("/api/visits/50000/intake", json=body)
    took = (time.perf_counter() - begun) * 1e3
    if answer.status_code != 200:
        raise SystemExit(answer.text)
    return took


if __name__ == "__main__":
    main()
