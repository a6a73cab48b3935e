"""The application's answers: a visit from end to end, refusals at the field, never a 5xx."""

import json
import tempfile
import unittest
from pathlib import Path

from jaxel.web import create_app
from tests.examples import example


class ApiCase(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.app = create_app(Path(folder.name) / "workshop.db", front_end=Path(folder.name))
        self.client = self.app.test_client()
        machine = self.bring_in(example("mountain-sled"))
        self.assertEqual(machine.status_code, 201, machine.text)
        self.machine = machine.json["machine"]["id"]
        self.visit = self.client.post(f"/api/machines/{self.machine}/visits", json={}).json

    def bring_in(self, document, query="kind=sled&rider=Maren"):
        data = document if isinstance(document, bytes) else json.dumps(document).encode()
        return self.client.post(f"/api/machines?{query}", data=data, content_type="application/json")

    def send(self, method, path, **body):
        """What a page sends: a field given plainly replaces what the last answer shows."""
        address = f"/api/visits/{self.visit['id']}{path}"
        shown = {"/intake": "intake", "/belt": "belt", "/hand-over": "hand_over", "/kinds": "kinds"}.get(path)
        if shown:
            body = {name: {"was": self.visit[shown].get(name), "now": value} for name, value in body.items()}
        if path == "/belt/reading" and "now" in body:
            body = {"was": self.visit["belt"]["widths_mm"].get(str(body["place"]))} | body
        if path == "/setup/slots":
            body = {"which": body["which"], "numbers": self.numbers(**body)}
        if path in ("/setup/record", "/setup/drop"):
            body = {"draft": self.visit["setup"]["draft"]} | body
        if path == "/fitted":
            body = {"draft": self.visit["setup"]["found_draft"]}
        if path == "/sign-off":
            body = {"edit": self.visit["edit"]} | body
        answer = self.client.open(address, method=method, json=body)
        if answer.status_code == 200:
            self.visit = answer.json
        return answer

    def numbers(self, which, slots):
        shown = self.visit["setup"]["slots" if which == "left" else "found_slots"]
        held = {number["key"]: number["left"] for slot in shown for number in slot["numbers"]}
        return {key: {"was": held.get(key), "now": value} for key, value in slots.items()}

    def ride(self, **measured):
        self.send("POST", "/runs", revision_id=self.visit["left_revision_id"])
        run = self.visit["runs"][-1]["id"]
        return self.send("PATCH", f"/runs/{run}", **{name: {"now": value} for name, value in measured.items()})

    def refused(self, answer, status, field, reason):
        self.assertEqual(answer.status_code, status, answer.text)
        self.assertEqual(set(answer.json), {"error"})
        self.assertEqual(answer.json["error"]["field"], field)
        self.assertRegex(answer.json["error"]["reason"], reason)


def left(slot, value):
    return {"which": "left", "slots": {slot: value}}
