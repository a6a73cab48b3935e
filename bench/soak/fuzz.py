"""Fuzz: bodies from the description against the demo workshop; no 5xx, none slow, the database whole, every page there.

Each case is one request; a write that another hand's value stands before is sent again with that value.
"""

import json
import random
import re
import resource
import shutil
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from contextlib import closing
from dataclasses import dataclass, field
from itertools import count, repeat
from multiprocessing import get_context
from pathlib import Path
from typing import Any

from flask.testing import FlaskClient

from jaxel.store.db import connect
from jaxel.web import create_app
from jaxel.web.record.blueprint import describe

from .bodies import Bodies

SLOWEST_S = 5.0
"""CPU of its own that a case may take [s]."""

KNOWN_IN_PATH: dict[str, tuple[Any, ...]] = {
    "side": ("primary", "secondary"), "item": ("buttons", "rollers", "arm_bushing", "none"),
    "matched": ("arms", "rollers"), "fastener": ("cover_bolts", "helix_screws", "retaining_bolt"),
    "kind": ("tower-and-button-primary", "bolt-in-helix-secondary", "roller-variator-primary"), "slot": ("arms",),
    "key": ("tools", "own.none"), "question": ("belt_way", "tuning_order"), "job": ("belt",), "number": (0, 1),
    "visit_id": (*range(1, 12), 99), "machine_id": (*range(1, 8), 99), "run_id": (*range(1, 12), 99),
}  # fmt: skip
READS = 0.1
"""Share of the cases that only read: what a write answers with is read too."""

SIDE_DOORS = ("/demo", "/ride", "/bundles", "/readings")
"""Addresses that build a demo, ride a machine, hold files or want a token: tried by their own tests."""


A_ROUND = 2500
"""Cases on one copy of a database."""


@dataclass
class Found:
    """What came of the cases: how many, by status, those carried out, and faults by case."""

    cases: int = 0
    statuses: Counter[int] = field(default_factory=Counter)
    taken: int = 0
    writes: int = 0
    slowest_s: float = 0.0
    slowest: str = ""
    faults: list[str] = field(default_factory=list)

    @property
    def share(self) -> float:
        """Share of the writes that were carried out."""
        return self.taken / max(1, self.writes)

    def add(self, other: "Found") -> None:
        """What came of another round beside it."""
        self.cases += other.cases
        self.statuses += other.statuses
        self.taken += other.taken
        self.writes += other.writes
        self.slowest_s, self.slowest = max((self.slowest_s, self.slowest), (other.slowest_s, other.slowest))
        self.faults += other.faults


def fuzz_in_rounds(whole: Path, cases: int, seed: int) -> Found:
    """Fuzz fresh copies of a database, on every core: where everything has been signed little is left to try."""
    sizes = [min(A_ROUND, cases - begun) for begun in range(0, cases, A_ROUND)]
    found = Found()
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        for one in pool.map(_round, repeat(whole), sizes, count(1000 * seed)):
            found.add(one)
            print(f"fuzzed {found.cases:,}, {len(found.faults)} faults", file=sys.stderr, flush=True)
    return found


def _round(whole: Path, cases: int, seed: int) -> Found:
    with tempfile.TemporaryDirectory() as folder:
        return fuzz(Path(shutil.copy(whole, Path(folder) / "fuzz.db")), cases, seed)


def fuzz(database: Path, cases: int, seed: int) -> Found:
    """Send so many cases to an application on a database, and look at all of it afterwards."""
    dice, found = random.Random(seed), Found()
    app = create_app(database)
    client = app.test_client()
    description = json.loads(json.dumps(describe(app)))
    bodies = Bodies(description["components"]["schemas"], dice, _known(database))
    addresses = list(_addresses(description))
    reads, writes = ([each for each in addresses if (each[0] == "get") is read] for read in (True, False))
    for _ in range(cases):
        _case(client, bodies, found, *dice.choice(reads if dice.random() < READS else writes))
    found.faults += whole(client, database)
    return found


def _known(database: Path) -> dict[str, tuple[Any, ...]]:
    """Values that stand in the database, by the field that names them."""
    with closing(connect(database)) as db:
        keys = {
            f"{table}_id": tuple(row[0] for row in db.execute(f"SELECT id FROM {table}")) or (1,)
            for table in ("belt", "part", "photo", "setup_revision", "person", "wrench", "stamp", "bench")
        }
        opened = tuple(row[0] for row in db.execute("SELECT id FROM visit WHERE signed_off_at IS NULL"))
        numbers = tuple(row[0] for row in db.execute("SELECT number FROM part")) or ("A-1",)
    return KNOWN_IN_PATH | keys | {"revision_id": keys["setup_revision_id"], "part": keys["part_id"], "number": numbers,
                                    "visit_id": (*opened * 4, *range(1, 12), 99)}  # fmt: skip


def _addresses(description: dict[str, Any]) -> Iterator[tuple[str, str, Any]]:
    """Every address: method, path, and the schema of its body or None."""
    for path, operations in description["paths"].items():
        if any(each in path for each in SIDE_DOORS):
            continue
        for method, operation in operations.items():
            content = operation.get("requestBody", {}).get("content", {})
            yield method, path, content.get("application/json", {}).get("schema")


def _case(client: FlaskClient, bodies: Bodies, found: Found, method: str, path: str, schema: Any) -> None:
    dice = bodies.dice
    address = re.sub(r"\{(\w+)\}", lambda name: str(dice.choice(bodies.known.get(name[1], (1, 2, "x")))), path)
    body = None if schema is None else bodies.of(schema)
    if schema is not None and dice.random() < 0.25:
        body = bodies.spoiled(body)
    begun = _cpu()
    status, text = _sent(client, method, address, body)
    took = _cpu() - begun
    found.cases += 1
    found.statuses[status] += 1
    if method != "get":
        found.writes += 1
        found.taken += status < 300
    if took > found.slowest_s:
        found.slowest_s, found.slowest = took, f"{method} {address}"
    told = f"{method} {address} {json.dumps(body)[:400]}"
    if status >= 500 and '"storage"' not in text:
        found.faults.append(f"{status}: {told}: {text[:300]}")
    if took > SLOWEST_S:
        found.faults.append(f"{took:.1f} s: {told}")


def _cpu() -> float:
    used = resource.getrusage(resource.RUSAGE_THREAD)
    return used.ru_utime + used.ru_stime


def _sent(client: FlaskClient, method: str, address: str, body: Any) -> tuple[int, str]:
    """A body's answer, sent again as by a hand that has looked where another was before it."""
    given = {} if body is None else {"json": body}
    answer = client.open(address, method=method.upper(), **given)
    for _ in range(6):
        if answer.status_code != 409 or not isinstance(body, dict):
            break
        error = answer.get_json()["error"]
        change = body.get(error["field"], body)
        if "theirs" not in error or not isinstance(change, dict) or "was" not in change:
            break
        change["was"] = error["theirs"]
        answer = client.open(address, method=method.upper(), json=body)
    return answer.status_code, answer.text if answer.status_code >= 500 else ""


def whole(client: FlaskClient, database: Path) -> list[str]:
    """What is wrong with a database and its pages: nothing where all is well."""
    faults = []
    with closing(connect(database)) as db:
        if (told := db.execute("PRAGMA integrity_check").fetchone()[0]) != "ok":
            faults.append(f"integrity: {told}")
        faults += [f"foreign key: {tuple(row)}" for row in db.execute("PRAGMA foreign_key_check")]
        visits = [row[0] for row in db.execute("SELECT id FROM visit")]
        machines = [row[0] for row in db.execute("SELECT id FROM machine")]
        belts = [row[0] for row in db.execute("SELECT id FROM belt")]
    until = time.monotonic() + 20
    while client.get("/api/health").get_json()["waiting"]["jobs"] and time.monotonic() < until:
        time.sleep(0.1)
    pages = [
        *(f"/api/visits/{each}{end}" for each in visits for end in ("", "/log", "/page", "/photos")),
        *(f"/api/machines/{each}" for each in machines),
        *(f"/api/belts/{each}" for each in belts),
        "/api/floor", "/api/parts", "/api/due", "/api/workshop", "/api/workshop/log", "/api/wrenches", "/api/scores",
    ]  # fmt: skip
    for page in pages:
        answer = client.get(page)
        if answer.status_code not in (200, 404):
            faults.append(f"{page}: {answer.status_code} {answer.text[:200]}")
    return faults
