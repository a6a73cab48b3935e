"""Bundles over HTTP: made, fetched, sent in parts, looked at, taken in; what no browser may send is refused."""

import io
import zipfile
from contextlib import closing
from unittest import mock

from jaxel.store.bundle.pack import pack
from jaxel.store.db import connect
from jaxel.web.workshop import bundles
from tests.store.bundle.bundle_case import worked
from tests.web.cases.api_case import ApiCase


class Bundles(ApiCase):
    def ended(self, begun, path):
        found = begun.json
        while found["state"] in ("waiting", "working"):
            found = self.client.get(f"{path}/{found['job']}").json
        return found

    def send(self, data, part=bundles.PART):  # type: ignore[override]
        held = self.client.post("/api/bundles/coming", json={"size": len(data)}).json["held"]
        for number, start in enumerate(range(0, len(data), part)):
            answer = self.put(held, number, data[start : start + part])
            self.assertEqual(answer.status_code, 200, answer.text)
        return held

    def put(self, held, number, data):
        address = f"/api/bundles/coming/{held}/parts/{number}"
        return self.client.put(address, data=data, content_type="application/octet-stream")

    def act(self, held, what):
        begun = self.client.post(f"/api/bundles/coming/{held}/{what}", json={})
        self.assertEqual(begun.status_code, 202, begun.text)
        return self.ended(begun, "/api/bundles/coming")

    def elsewhere(self, of="machine"):
        """A bundle of another workshop."""
        data, keys = worked()
        path = self.app.config["DATABASE"] + ".elsewhere"
        with open(path, "wb") as file:  # noqa: PTH123
            file.write(data)
        out = io.BytesIO()
        with closing(connect(path)) as connection:
            pack(connection, out, of, keys.get(of, 0))
        return out.getvalue()

    def test_made_fetched_and_named_for_a_file(self):
        made = self.ended(self.client.post("/api/bundles/made", json={"of": "machine", "id": self.machine}),
                          "/api/bundles/made")  # fmt: skip
        self.assertEqual((made["state"], made["share"]), ("done", 1.0))
        answer = self.client.get(f"/api/bundles/made/{made['job']}/file")
        self.assertEqual((answer.mimetype, len(answer.data)), ("application/zip", made["size"]))
        self.assertRegex(answer.headers["Content-Disposition"], r"filename=jaxel-[a-z0-9-]+\.zip$")
        with zipfile.ZipFile(io.BytesIO(answer.data)) as archive:
            words = archive.read(next(each for each in archive.namelist() if each.startswith("machines/")))
        self.assertNotIn(b"Maren", words)
        self.assertEqual(self.client.get(f"/api/bundles/made/{made['job']}/file").data, answer.data)

    def test_an_open_visit_or_none_is_refused(self):
        for body, field in (
            ({"of": "visit", "id": self.visit["id"]}, "visit"),
            ({"of": "machine", "id": 99}, "bundle"),
        ):
            found = self.ended(self.client.post("/api/bundles/made", json=body), "/api/bundles/made")
            self.assertEqual((found["state"], found["refused"]["field"]), ("refused", field))
            self.assertEqual(self.client.get(f"/api/bundles/made/{found['job']}/file").status_code, 404)

    def test_looked_at_then_taken_in(self):
        before = len(self.client.get("/api/floor").json["machines"])
        with mock.patch.object(bundles, "PART", 10_000):
            held = self.send(self.elsewhere(), 10_000)
        looked = self.act(held, "look")
        self.assertEqual((looked["state"], len(looked["new_machines"]), len(looked["new_visits"])), ("done", 1, 1))
        self.assertEqual(len(self.client.get("/api/floor").json["machines"]), before)
        taken = self.act(held, "take")
        self.assertEqual((taken["new_machines"], taken["photos"]), (looked["new_machines"], 1))
        self.assertEqual(len(self.client.get("/api/floor").json["machines"]), before + 1)
        answer = self.client.post(f"/api/bundles/coming/{held}/take", json={})
        self.refused(answer, 404, "address", "there is no such bundle: send it again")
        for card in self.client.get("/api/floor").json["machines"]:
            self.assertEqual(self.client.get(f"/api/machines/{card['machine']['id']}").status_code, 200)

    def test_a_whole_workshop_is_the_commands(self):
        found = self.act(self.send(self.elsewhere("workshop")), "look")
        self.assertEqual(found["refused"]["field"], "bundle")
        self.assertIn("taken in by the command", found["refused"]["reason"])

    def test_parts_come_one_after_the_other_and_as_long_as_announced(self):
        with mock.patch.object(bundles, "PART", 4):
            held = self.client.post("/api/bundles/coming", json={"size": 10}).json["held"]
            self.refused(self.put(held, 1, b"5678"), 422, "part", "2 is not the next")
            self.refused(self.put(held, 0, b"123"), 422, "part", "1 is not the next, or is not as long")
            self.assertEqual(self.put(held, 0, b"1234").json["came"], 4)
            self.assertEqual(self.put(held, 0, b"abcd").json["came"], 4)
            self.refused(self.put(held, 2, b"90"), 422, "part", "3 is not the next")
            answer = self.client.post(f"/api/bundles/coming/{held}/look", json={})
            self.refused(answer, 422, "bundle", "has come in with 4 of 10 bytes: send the rest first")
            self.assertEqual(self.put(held, 1, b"5678").json["came"], 8)
            self.assertEqual(self.put(held, 2, b"90").json["came"], 10)
            self.refused(self.put(held, 3, b""), 422, "part", "4 is not the next")

    def test_few_are_held_and_none_is_too_large(self):
        answer = self.client.post("/api/bundles/coming", json={"size": 200_000_001})
        self.assertEqual((answer.status_code, answer.json["error"]["field"]), (422, "size"))
        held = [self.client.post("/api/bundles/coming", json={"size": 9}).json["held"] for _ in range(5)]
        states = [self.put(each, 0, b"123456789").status_code for each in held]
        self.assertEqual(states, [404, 200, 200, 200, 200])
