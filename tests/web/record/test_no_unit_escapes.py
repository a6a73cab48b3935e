"""Every answer of the demo, read in imperial units: no metric unit stands outside a hand's own words."""

import re
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from jaxel.core.words import CLOSE, OPEN
from jaxel.demo.workshop import build
from jaxel.store.db import connect, migrate
from jaxel.web import create_app

IMPERIAL = {"force": "lbf", "length": "in", "distance": "mi", "altitude": "ft", "temperature": "°F", "torque": "ft-lb"}
METRIC = re.compile(r"[-−]?\d[\d,.]* ?(mm|km/h|km|kg|kW|N·m|N/mm|°C|N|m)(?![\w·/°])")

OWN = {
    "complaint", "reason", "note", "taper", "tyre", "stamp", "watch", "text", "name", "why_not", "supplier_note",
    "because", "put_right",
    "spring_note", "caption", "rider", "machine", "label", "unrepaired", "subject",
}  # fmt: skip
"""Fields that hold what a hand wrote."""

FILES = {"unit", "units", "guide", "options", "question", "questions", "how", "hold"}
"""Fields of a kind's file, and the names of units themselves."""


def sentences(value, path=()):
    """Every text of an answer with where it stands, hands' own words aside."""
    if isinstance(value, dict) and value.get("key") in ("complaint", "watch", "after"):
        return  # rows of the page that repeat what a hand wrote
    if isinstance(value, dict) and value.get("key") == "changed":
        # Reasons are a hand's own words.
        value = value | {"lines": [line for line in value["lines"] if line["tone"] != "quiet"]}
    if isinstance(value, dict):
        # Why a service is due is what the hand told the rider to watch.
        own = OWN | FILES | ({"why"} if value.get("what") == "service" else set())
        for name, each in value.items():
            if name not in own:
                yield from sentences(each, (*path, name))
    elif isinstance(value, list):
        for each in value:
            yield from sentences(each, path)
    elif isinstance(value, str):
        yield path, re.sub(r"“[^”]*”", "", value)


class Told(unittest.TestCase):
    def setUp(self):
        folder = self.enterContext(tempfile.TemporaryDirectory())
        path = Path(folder) / "demo.db"
        migrate(path)
        with closing(connect(path)) as connection:
            build(connection)
            self.visits = [row[0] for row in connection.execute("SELECT id FROM visit")]
            self.machines = [row[0] for row in connection.execute("SELECT id FROM machine")]
            self.belts = [row[0] for row in connection.execute("SELECT id FROM belt")]
        self.client = create_app(path, front_end=Path(folder)).test_client()
        held = self.client.get("/api/workshop").json["units"]
        self.assertEqual(self.client.patch("/api/workshop/units", json={"was": held, "now": IMPERIAL}).status_code, 200)

    def test_no_metric_unit_and_no_mark_is_left(self):
        addresses = ["/api/floor", "/api/due", "/api/parts", "/api/guide", "/api/workshop"]
        addresses += [f"/api/visits/{each}{at}" for each in self.visits for at in ("", "/page", "/log?after=0")]
        addresses += [f"/api/machines/{each}" for each in self.machines]
        addresses += [f"/api/belts/{each}" for each in self.belts]
        for address in addresses:
            answer = self.client.get(address)
            self.assertEqual(answer.status_code, 200, address)
            self.assertFalse({OPEN, CLOSE} & set(answer.text), address)
            for path, words in sentences(answer.json):
                found = METRIC.search(words)
                self.assertIsNone(found, (address, path, words))
