"""How long a start takes: from a prepared database until the floor is answered, and one prediction by command.

Beside each, what this machine's Python takes to do nothing: that much no start can save. Then how many statements a
visit's answer and a complaint typed cost.
"""

import os
import re
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any
from unittest import mock

from jaxel.demo.workshop import build
from jaxel.store import db
from jaxel.web import create_app

TIMES = 7
SETUP = Path(__file__).parents[1] / "docs" / "formats" / "setups" / "sled.json"


def floor(database: Path) -> float:
    """Seconds from the start of `serve` to the answer of the floor."""
    begun = time.perf_counter()
    command = [sys.executable, "-u", "-m", "jaxel", "serve", "--database", str(database), "--port", "0"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as server:
        assert server.stdout is not None
        address = re.search(r"http://\S+", server.stdout.readline())
        assert address is not None
        with urllib.request.urlopen(f"{address[0]}/api/floor") as answer:
            answer.read()
        taken = time.perf_counter() - begun
        server.terminate()
    return taken


def command(*arguments: str) -> float:
    """Seconds one command takes."""
    begun = time.perf_counter()
    subprocess.run([sys.executable, *arguments], stdout=subprocess.DEVNULL, check=True)
    return time.perf_counter() - begun


def told(what: str, run: Callable[[], float]) -> None:
    taken = sorted(run() for _ in range(TIMES))
    print(f"{what:<46} {statistics.median(taken):6.2f} s median, {taken[0]:.2f} to {taken[-1]:.2f}")


def statements(database: Path) -> None:
    """Statements that a read of a visit and a complaint typed come to."""
    seen: list[str] = []

    def connect(path: Path):  # type: ignore[no-untyped-def]
        connection = db.connect(path)
        connection.set_trace_callback(seen.append)
        return connection

    client = create_app(database).test_client()
    with mock.patch("jaxel.web.database.connect", connect):
        visit: Any = client.get("/api/visits/2").json
        was = visit["intake"]["complaint"]
        seen.clear()
        client.get("/api/visits/2")
        print(f"{'A visit read':<46} {len(seen):3} statements")
        seen.clear()
        client.patch("/api/visits/2/intake", json={"complaint": {"was": was, "now": f"{was} "}})
        print(f"{'A complaint typed':<46} {len(seen):3} statements")


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "demo.db"
        db.migrate(database)
        with closing(db.connect(database)) as connection:
            build(connection)
        print(f"{os.cpu_count()} cores")
        told("Python that does nothing", lambda: command("-c", ""))
        told("serve, until /api/floor is answered", lambda: floor(database))
        told("predict", lambda: command("-m", "jaxel", "predict", str(SETUP)))
        statements(database)


if __name__ == "__main__":
    main()
