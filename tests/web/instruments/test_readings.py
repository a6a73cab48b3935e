"""Devices that send: let in by their bench's token, held two minutes, taken once; everything else refused in words."""

import json
from datetime import UTC, datetime, timedelta
from pathlib import Path

from jaxel.store.db import at_moment
from tests.web.cases.api_case import ApiCase

CALIPER = {"format": "jaxel-reading", "version": 1, "bench": 1, "instrument": "caliper", "value": 35.42, "unit": "mm"}


class DeviceCase(ApiCase):
    def setUp(self):
        super().setUp()
        self.client.post("/api/benches", json={"name": "By the door"})
        self.token = self.new_token(1)

    def new_token(self, bench):
        return self.client.post(f"/api/benches/{bench}/token", json={}).json["token"]

    def device(self, body=CALIPER, token=None, headers=(), **changed):
        """What a device sends: its token, and nothing of a browser's."""
        data = body if isinstance(body, (str, bytes)) else json.dumps(body | changed)
        sent = {"Authorization": f"Bearer {token or self.token}", **dict(headers)}
        return self.app.test_client(use_cookies=False).post(
            "/api/readings", data=data, headers=sent, content_type="application/json"
        )

    def waiting(self, bench=1):
        return [(each["instrument"], each["value"], each["unit"])
                for each in self.client.get(f"/api/benches/{bench}/readings").json["readings"]]  # fmt: skip


class Sent(DeviceCase):
    def test_a_reading_waits_at_its_bench_and_goes_to_one_page(self):
        sent = self.device()
        self.assertEqual((sent.status_code, sent.json["said"]), (201, "Caliper 35.42 mm, at bench 1"))
        self.assertEqual(self.waiting(), [("caliper", 35.42, "mm")])
        address = f"/api/benches/1/readings/{sent.json['id']}/take"
        self.assertEqual(self.client.post(address, json={}).json["value"], 35.42)
        self.refused(self.client.post(address, json={}), 404, "address", "reading")
        self.assertEqual(self.waiting(), [])

    def test_a_unit_is_told_as_it_is_written_here(self):
        self.device(value=1.394, unit="inch")
        self.assertEqual(self.waiting(), [("caliper", 1.394, "in")])

    def test_it_waits_two_minutes(self):
        sent = datetime(2026, 11, 30, 12, tzinfo=UTC)
        with at_moment(sent):
            self.device()
        for seconds, waits in ((0, 120), (119, 1), (120, None), (3600, None)):
            with at_moment(sent + timedelta(seconds=seconds)):
                held = self.client.get("/api/benches/1/readings").json["readings"]
                self.assertEqual([each["seconds_left"] for each in held], [] if waits is None else [waits])

    def test_two_benches_wait_for_their_own(self):
        self.client.post("/api/benches", json={"name": "At the window"})
        second = self.new_token(2)
        self.device(value=34.1)
        self.device(bench=2, value=31.5, token=second)
        self.assertEqual(self.waiting(1), [("caliper", 34.1, "mm")])
        self.assertEqual(self.waiting(2), [("caliper", 31.5, "mm")])
        self.refused(self.device(bench=2), 403, "token", "is not that of bench 2")

    def test_a_bench_does_not_drown(self):
        for number in range(50):
            self.assertEqual(self.device(value=float(number)).status_code, 201)
        self.refused(self.device(), 422, "bench", "50 readings that nobody takes")


class Refused(DeviceCase):
    def test_each_field_says_what_is_wrong_with_it(self):
        for changed, field, reason in (
            ({"version": 2}, "version", "must be 1"),
            ({"format": "jaxel-setup"}, "format", "jaxel-reading"),
            ({"instrument": "yardstick"}, "instrument", "."),
            ({"unit": "N"}, "unit", "mm, cm, in"),
            ({"unit": ""}, "unit", "."),
            ({"value": "35.42"}, "value", "number"),
            ({"value": 9000.0}, "value", "more than a caliper can read"),
            ({"bench": 0}, "bench", "."),
            ({"colour": "red"}, "colour", "."),
        ):
            self.refused(self.device(**changed), 422, field, reason)
        self.assertEqual(self.waiting(), [])

    def test_what_is_no_number_is_no_reading(self):
        for number in ("NaN", "Infinity", "-Infinity", "1e999"):
            body = json.dumps(CALIPER).replace("35.42", number)
            self.refused(self.device(body), 422, "value", "finite")

    def test_a_line_of_a_megabyte_is_turned_away_unread(self):
        line = json.dumps(CALIPER | {"unit": "m" * 1_000_000})
        self.assertEqual(self.device(line).status_code, 413)
        self.assertEqual(self.device(json.dumps(CALIPER | {"unit": "m" * 3000})).status_code, 413)
        self.assertEqual(self.waiting(), [])

    def test_what_is_not_json_is_told_so(self):
        for body in ("", "caliper 35.42 mm", "[1]", '{"bench": 1, "bench": 2}'):
            self.refused(self.device(body), 422, "bench" if "bench" in body else "document", ".")

    def test_a_token_of_nobody_opens_nothing(self):
        self.refused(self.device(token="x" * 32), 403, "token", "is not that of bench 1")
        self.refused(self.device(bench=77), 403, "token", "is not that of bench 77")
        bare = self.app.test_client().post("/api/readings", json=CALIPER)
        self.refused(bare, 403, "token", "is missing")

    def test_a_stolen_token_is_worthless_once_there_is_a_new_one(self):
        stolen, self.token = self.token, self.new_token(1)
        self.assertRegex(self.token, "^[0-9a-f]{48}$")  # one that began with a dash was an option to the command
        self.refused(self.device(token=stolen), 403, "token", "is not that of bench 1")
        self.assertEqual(self.device().status_code, 201)

    def test_a_page_cannot_send_one_even_with_the_token(self):
        # What a browser adds by itself (Fetch, RFC 6454): a page can leave none of it out.
        for name, value in (
            ("Origin", "http://localhost"), ("Origin", "https://elsewhere.example"), ("Sec-Fetch-Site", "cross-site"),
            ("Cookie", "a=b"), ("Referer", "http://localhost/"),
        ):  # fmt: skip
            self.refused(self.device(headers=[(name, value)]), 403, "origin", "not from a page")

    def test_another_host_is_refused_before_the_token_is_looked_at(self):
        self.refused(self.device(headers=[("Host", "192.0.2.7:8710")]), 403, "host", "only at its own address")

    def test_a_token_opens_nothing_but_readings(self):
        headers = {"Authorization": f"Bearer {self.token}", "Origin": "https://elsewhere.example"}
        answer = self.client.post("/api/benches", json={"name": "Mine"}, headers=headers)
        self.refused(answer, 403, "origin", "own pages")


class Benches(DeviceCase):
    def test_names_are_one_bench_s_each(self):
        self.refused(self.client.post("/api/benches", json={"name": "by the DOOR"}), 422, "name", "another bench's")
        self.refused(self.client.post("/api/benches", json={"name": " "}), 422, "name", "1 to 60")
        self.refused(self.client.post("/api/benches/9/token", json={}), 404, "address", "bench")

    def test_a_bench_goes_with_what_waits_there(self):
        self.device()
        self.assertEqual(self.client.post("/api/benches/1/remove", json={}).json["benches"], [])
        self.refused(self.client.get("/api/benches/1/readings"), 404, "address", "bench")
        self.refused(self.device(), 403, "token", "bench 1")

    def test_the_file_keeps_no_token(self):
        self.assertNotIn(self.token.encode(), Path(self.app.config["DATABASE"]).read_bytes())


class Evidence(DeviceCase):
    def test_the_log_says_with_what_a_number_was_read(self):
        headers = {"Jaxel-Instrument": "caliper"}
        address = f"/api/visits/{self.visit['id']}"
        body = {"place": 1, "was": None, "now": "35.42 mm"}
        self.assertEqual(self.client.put(f"{address}/belt/reading", json=body, headers=headers).status_code, 200)
        self.client.put(f"{address}/belt/reading", json=body | {"place": 2, "now": "35.5"})
        told = self.client.get(f"{address}/log?after=0").json["changes"]
        self.assertEqual([each["instrument"] for each in told][-2:], ["caliper", ""])

    def test_a_device_that_is_none_is_refused(self):
        body = {"place": 1, "was": None, "now": 35.4}
        answer = self.client.put(
            f"/api/visits/{self.visit['id']}/belt/reading", json=body, headers={"Jaxel-Instrument": "thumb"}
        )
        self.refused(answer, 422, "instrument", "no device")

    def test_what_a_device_read_in_a_slot_is_measured(self):
        held = next(n["left"] for slot in self.visit["setup"]["found_slots"] for n in slot["numbers"]
                    if n["key"] == "primary_start_n")  # fmt: skip
        start = {"was": held, "now": "742 N"}
        address = f"/api/visits/{self.visit['id']}/setup/slots"
        for headers, origin in (({}, None), ({"Jaxel-Instrument": "spring tester"}, "measured")):
            visit = self.client.patch(
                address, json={"which": "found", "numbers": {"primary_start_n": start}}, headers=headers
            ).json
            parts = [part for slot in visit["setup"]["found_slots"] for part in slot["parts"]]
            spring = next(part for part in parts if part["key"] == "primary_spring")
            self.assertEqual((spring["origin"], spring["said"]), (origin, origin is not None))
            start = {"was": 742, "now": "743 N"}
