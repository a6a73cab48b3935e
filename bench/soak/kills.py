"""Kills: the server is killed −9 while hands sign off, count parts, send sheets and bundles; what was told stays."""

import http.client
import json
import random
import signal
import subprocess
import sys
import threading
import time
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from jaxel.store.db import connect

HALF = ("hand_over_page", "visit")


@dataclass
class Killed:
    """How many kills there were, what was acknowledged before them, and what was lost."""

    kills: int = 0
    acknowledged: int = 0
    faults: list[str] = field(default_factory=list)


def ask(port: int, method: str, path: str, body: Any = None, timeout: float = 10) -> tuple[int, Any]:
    """One request to a server on this machine: its status and its JSON."""
    with closing(http.client.HTTPConnection("127.0.0.1", port, timeout=timeout)) as connection:
        data = None if body is None else json.dumps(body)
        connection.request(method, path, data, {"Content-Type": "application/json"} if data else {})
        answer = connection.getresponse()
        text = answer.read()
        return answer.status, json.loads(text) if text[:1] in b"{[" else text


class Server:
    """A server of its own process on a database."""

    def __init__(self, database: Path):
        command = [sys.executable, "-m", "jaxel", "serve", "--database", str(database), "--port", "0"]
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
        line = self.process.stdout.readline() if self.process.stdout else ""
        self.port = int(line.rsplit(":", 1)[1])

    def kill(self) -> None:
        """Kill it without a word."""
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        if self.process.stdout:
            self.process.stdout.close()


class Hand(threading.Thread):
    """A hand that does one thing after the other until the server is gone, and remembers what it was told is done."""

    def __init__(self, port: int, what: str, dice: random.Random):
        super().__init__(daemon=True)
        self.port, self.what, self.dice = port, what, dice
        self.told: dict[str, Any] = {}
        self.done = 0

    def run(self) -> None:
        try:
            while True:
                getattr(self, f"_{self.what}")()
        except (OSError, http.client.HTTPException, ValueError, KeyError):
            return

    def _pieces(self) -> None:
        held = ask(self.port, "GET", "/api/parts")[1]["parts"]
        part = self.dice.choice(held)
        fresh = (part["pieces"] or 0) + 1
        status, _ = ask(self.port, "PATCH", f"/api/parts/{part['id']}/pieces", {"was": part["pieces"], "now": fresh})
        if status == 200:
            self.told[f"pieces of {part['id']}"] = fresh
            self.done += 1

    def _sheet(self) -> None:
        mark = f"soak {self.dice.getrandbits(40):x}"
        text = "number,kind,make\n" + "".join(f"SK-{n},arm,{mark}\n" for n in range(40))
        found = ask(self.port, "POST", "/api/sheets", {"text": text})[1]
        while found["state"] in ("waiting", "working"):
            found = ask(self.port, "GET", f"/api/sheets/{found['job']}")[1]
        if found["state"] == "done":
            self.told["make of the sheet"] = mark
            self.done += 1

    def _sign(self) -> None:
        floor = ask(self.port, "GET", "/api/floor")[1]["machines"]
        for card in floor:
            if card["visit"] is None:
                opened = ask(self.port, "POST", f"/api/machines/{card['machine']['id']}/visits", {"scope": "belt"})
                if opened[0] == 201:
                    self.done += 1
                continue
            visit = ask(self.port, "GET", f"/api/visits/{card['visit']['id']}")[1]
            body = {"edit": visit["edit"], "reason": "soaked", "by": "Jo"}
            status, _ = ask(self.port, "POST", f"/api/visits/{visit['id']}/unrepaired", body)
            if status == 200:
                self.told.setdefault("signed", []).append(visit["id"])
                self.done += 1

    def _bundle(self) -> None:
        found = ask(self.port, "POST", "/api/bundles/made", {"of": "machine", "id": 1, "rider": True})[1]
        while found["state"] in ("waiting", "working"):
            found = ask(self.port, "GET", f"/api/bundles/made/{found['job']}")[1]
        self.done += found["state"] == "done"


KINDS = ("pieces", "sheet", "sign", "bundle")


def kills(database: Path, count: int, seed: int) -> Killed:
    """Kill so many servers under four hands each, and look after each at what is left."""
    dice, found = random.Random(seed), Killed()
    for _ in range(count):
        server = Server(database)
        hands = [Hand(server.port, kind, random.Random(dice.getrandbits(32))) for kind in KINDS]
        for each in hands:
            each.start()
        time.sleep(dice.uniform(0.1, 2.0))
        server.kill()
        for each in hands:
            each.join(10)
        found.kills += 1
        found.acknowledged += sum(each.done for each in hands)
        found.faults += _lost(database, hands)
    return found


def _lost(database: Path, hands: list[Hand]) -> list[str]:
    """What was told is done and is not there, or is half there."""
    faults = []
    told = {key: value for each in hands for key, value in each.told.items()}
    with closing(connect(database)) as db:
        if (said := db.execute("PRAGMA integrity_check").fetchone()[0]) != "ok":
            faults.append(f"integrity: {said}")
        faults += [f"foreign key: {tuple(row)}" for row in db.execute("PRAGMA foreign_key_check")]
        half = db.execute(
            "SELECT count(*) FROM visit LEFT JOIN hand_over_page ON visit_id = visit.id"
            " WHERE (signed_off_at IS NULL) <> (hand_over_page.visit_id IS NULL)"
        ).fetchone()[0]
        if half:
            faults.append(f"{half} visits are half signed")
        for visit in told.get("signed", ()):
            row = db.execute("SELECT signed_off_at FROM visit WHERE id = ?", (visit,)).fetchone()
            if row["signed_off_at"] is None:
                faults.append(f"visit {visit} was told signed and is open")
        for key, value in told.items():
            if key.startswith("pieces of "):
                part = int(key.removeprefix("pieces of "))
                held = db.execute("SELECT sum(pieces) FROM stock_move WHERE part_id = ?", (part,)).fetchone()[0]
                if held not in (value, value + 1):  # the one under way when it died may have landed too
                    faults.append(f"{key}: told {value}, there {held}")
        makes = {row[0] for row in db.execute("SELECT DISTINCT make FROM part WHERE number LIKE 'SK-%'")}
        if len(makes) > 1:
            faults.append(f"a sheet is half in: {makes}")
    return faults
