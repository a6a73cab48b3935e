"""Writes an example of each format that the program writes by itself, from the demo workshop.

make docs
"""

import io
import json
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from pathlib import Path

from jaxel.core.formats.prediction import write_prediction
from jaxel.core.formats.run.log import log_columns
from jaxel.core.formats.setup.setup import read_setup
from jaxel.core.formats.setup.tested_spring import read_spring, spring_report
from jaxel.core.formats.tables import ORDER, RUN, written
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import TRACES, Strip
from jaxel.core.trade.setup.prediction import predicted
from jaxel.demo.workshop import build
from jaxel.instruments.logger import OWN, Logger
from jaxel.store.bundle.opened import opened
from jaxel.store.bundle.pack import pack
from jaxel.store.db import connect, migrate, writing
from jaxel.web import create_app

FORMATS = Path(__file__).parent / "formats"
EXAMPLES = FORMATS / "examples"
ROWS = 12
"""Rows of an example's table."""

SPRING = {
    "format": "jaxel-spring", "version": 1, "name": "primary, season two",
    "points": [{"length_mm": 65, "force_n": 585}, {"length_mm": 50, "force_n": 968},
               {"length_mm": 35, "force_n": 1356}],
    "rated": {"rate_n_per_mm": 26, "free_length_mm": 89}, "installed_length_mm": 65,
}  # fmt: skip


def write(name: str, text: str) -> None:
    """Write an example."""
    (EXAMPLES / name).write_text(text, encoding="utf-8")


def of_the_commands() -> None:
    """A spring, a prediction and a run, as the commands print them."""
    spring = json.dumps(SPRING, indent=1)
    write("spring.json", spring + "\n")
    write("spring-report.json", spring_report(read_spring(spring.encode())).model_dump_json(indent=2) + "\n")
    document = read_setup((FORMATS / "setups" / "sled.json").read_bytes())
    write("prediction.json", write_prediction(predicted(document, points=9)) + "\n")
    run = log_columns(simulate(document.core(), Strip(duration=0.3, throttle=TRACES["full"]), 50))
    style = OWN.__class__(OWN.headings, preamble=(RUN.first_line,))
    write("run.csv", Logger(noise={}, style=style).written(run, 0).decode())


def order() -> None:
    """What a visit needs, priced and in packs."""
    rows = [
        ("button", "B-104", "Ravnsete", 3, 6, 1, "28.50", None, None),
        ("spider bushing", "SB-22", "Brackholm", 3, None, 3, "41.40", "SB-23", "two weeks"),
    ]
    write("order.csv", written(ORDER, list(ORDER.columns), rows))


def of_the_workshop() -> None:
    """Tables, a calendar and the documents of a bundle, from the demo workshop."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "demo.db"
        migrate(path)
        with closing(connect(path)) as connection, writing(connection):
            build(connection)
        client = create_app(path, Path(folder)).test_client()
        for name, address in (
            ("parts.csv", "/api/parts.csv"), ("log.csv", "/api/workshop/log.csv"), ("due.ics", "/api/due.ics"),
            ("altitude.csv", "/api/visits/2/setup/altitude.csv?slot=arms"),
        ):  # fmt: skip
            answer = client.get(address)
            if answer.status_code != 200:
                raise SystemExit(f"{address}: {answer.text}")
            lines = answer.text.splitlines(keepends=True)
            write(name, "".join(lines if name.endswith(".ics") else lines[: ROWS + 2]))
        with closing(connect(path)) as connection:
            of_a_bundle(smallest(connection))


def smallest(connection: sqlite3.Connection) -> io.BytesIO:
    """The smallest bundle of a visit."""
    found = []
    for (visit,) in connection.execute("SELECT id FROM visit WHERE signed_off_at IS NOT NULL").fetchall():
        file = io.BytesIO()
        pack(connection, file, "visit", visit)
        found.append(file)
    return min(found, key=lambda file: len(file.getvalue()))


def of_a_bundle(file: io.BytesIO) -> None:
    """What is in a bundle, each document under its own name."""
    bundle = opened(file)
    with zipfile.ZipFile(file) as archive:
        write("bundle.json", bundle.manifest.model_dump_json(indent=1) + "\n")
        for name in archive.namelist():
            of = name.partition("/")[0].removesuffix("s").removesuffix(".json")
            if of in ("machine", "visit", "workshop"):
                write(f"{of}.json", archive.read(name).decode() + "\n")
            elif name == "tables/visits.csv":
                write("visits.csv", archive.read(name).decode())


def main() -> None:
    """Write every example that is made from the code."""
    of_the_commands()
    order()
    of_the_workshop()


if __name__ == "__main__":
    main()
