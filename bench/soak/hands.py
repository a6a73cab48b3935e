"""Six hands at once: lists read, fields written over each other; memory flat, lists quick, no update lost."""

import json
import random
import threading
import time
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from typing import Any

from jaxel.store.db import connect

from .kills import Server, ask

HANDS = 6
LISTS = ("/api/floor", "/api/parts", "/api/due", "/api/workshop/log", "/api/floor?find=bogs")


@dataclass
class Worked:
    """What six hands did in so many seconds: lists and writes by how long they took [s], memory at a tenth and at the
    end [bytes], and what was lost."""

    seconds: float = 0.0
    lists: list[float] = field(default_factory=list)
    writes: list[float] = field(default_factory=list)
    memory: tuple[int, int] = (0, 0)
    faults: list[str] = field(default_factory=list)

    @property
    def told(self) -> str:
        """In one line."""
        lists, writes = (median(each) * 1e3 if each else 0 for each in (self.lists, self.writes))
        early, late = (each / 1e6 for each in self.memory)
        return (f"{self.seconds:.0f} s, {len(self.lists):,} lists of {lists:.0f} ms and {len(self.writes):,} writes of"
                f" {writes:.0f} ms at the median, memory {early:.0f} → {late:.0f} MB")  # fmt: skip


class _Hand(threading.Thread):
    def __init__(self, port: int, number: int, visits: list[int], until: float, found: Worked, lock: threading.Lock):
        super().__init__(daemon=True)
        self.port, self.number, self.visits, self.until = port, number, visits, until
        self.found, self.lock = found, lock
        self.told: list[tuple[int, str]] = []

    def run(self) -> None:
        dice = random.Random(self.number)
        while time.monotonic() < self.until:
            try:
                self._list(dice)
                self._write(dice)
            except OSError as error:
                with self.lock:
                    self.found.faults.append(f"hand {self.number}: {error}")
                return

    def _list(self, dice: random.Random) -> None:
        begun = time.monotonic()
        status, _ = ask(self.port, "GET", dice.choice(LISTS), timeout=30)
        self._note(self.found.lists, begun, status)

    def _write(self, dice: random.Random) -> None:
        """Say something of a visit; where another hand was before, look and say it again."""
        visit, words = dice.choice(self.visits), f"hand {self.number}, {dice.getrandbits(24)}"
        was: Any = ""
        for _ in range(20):
            begun = time.monotonic()
            body = {"complaint": {"was": was, "now": words}}
            status, answer = ask(self.port, "PATCH", f"/api/visits/{visit}/intake", body, timeout=30)
            self._note(self.found.writes, begun, status)
            if status == 200:
                self.told.append((visit, words))
            if status != 409:
                return
            was = answer["error"].get("theirs", "")

    def _note(self, times: list[float], begun: float, status: int) -> None:
        with self.lock:
            times.append(time.monotonic() - begun)
            if status >= 500:
                self.found.faults.append(f"hand {self.number}: {status}")


def work(database: Path, seconds: float, visits: list[int]) -> Worked:
    """Let six hands work on a server of their own for so long."""
    server, found, lock = Server(database), Worked(seconds), threading.Lock()
    try:
        begun = time.monotonic()
        hands = [_Hand(server.port, each, visits, begun + seconds, found, lock) for each in range(HANDS)]
        for each in hands:
            each.start()
        time.sleep(seconds / 10)
        early = ask(server.port, "GET", "/api/health")[1]["memory"]
        for each in hands:
            each.join(seconds + 60)
        found.memory = (early, ask(server.port, "GET", "/api/health")[1]["memory"])
    finally:
        server.kill()
    found.faults += _lost(database, {each for hand in hands for each in hand.told})
    return found


def _lost(database: Path, told: set[tuple[int, str]]) -> list[str]:
    """Writes that were told done and are in no log, and changes that replaced what no one had seen."""
    faults, logged, stands = [], set(), dict[int, str]()
    with closing(connect(database)) as db:
        for row in db.execute("SELECT visit_id, was, now FROM visit_log WHERE field = 'complaint' ORDER BY id"):
            visit, was, became = row["visit_id"], json.loads(row["was"]), json.loads(row["now"])
            if visit in stands and stands[visit] != was:
                faults.append(f"visit {visit}: “{stands[visit]}” was replaced unseen by “{became}”")
            stands[visit] = became
            logged.add((visit, became))
        for visit, words in stands.items():
            held = db.execute("SELECT complaint FROM intake WHERE visit_id = ?", (visit,)).fetchone()[0]
            if held != words:
                faults.append(f"visit {visit} holds “{held}”, its log says “{words}”")
    return faults + [f"visit {visit}: “{words}” was told done and is lost" for visit, words in told - logged]
