"""Logs over HTTP: sent in parts, mapped once and remembered, read, drawn, marked, given back; what is refused."""

import json
from typing import Any
from unittest import mock

import numpy as np

from jaxel.core.formats.paths import with_value
from jaxel.core.formats.run.log import log_columns
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import TRACES, Strip
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.instruments.logger import STYLES, Logger, Style
from jaxel.store.db import connect
from jaxel.store.run.log_uploads import PART
from jaxel.web.setup import predictions
from tests.examples import example, read
from tests.web.cases.api_case import ApiCase

ODD = Style({"time_s": "Kanal 1", "engine_rpm": "Kanal 2", "speed_kph": "Kanal 3", "throttle_pct": "Kanal 4"},
            delimiter=";", decimal=",", factors={"speed_kph": 1 / 1.609344})  # fmt: skip
"""A borrowed logger's: headings that say nothing, mph with decimal commas."""

MAPPED = [("Kanal 1", "time_s"), ("Kanal 2", "engine_rpm"), ("Kanal 3", "speed_mph"), ("Kanal 4", "throttle_pct")]


def distance(columns):
    """Metres gone at each row."""
    speed = columns["speed_kph"] / 3.6
    return np.concatenate([[0.0], np.cumsum(0.5 * (speed[1:] + speed[:-1]) * np.diff(columns["time_s"]))])


class LogCase(ApiCase):
    columns: dict[str, Any]

    @classmethod
    def setUpClass(cls):
        core = read(example("mountain-sled")).core()
        cls.columns = log_columns(simulate(core, Strip(duration=24, throttle=TRACES["chop"]), 50))

    def setUp(self):
        super().setUp()
        self.another()
        self.room = self.app.extensions["reading_room"]

    def another(self):
        """Another run, which the log that comes next is of."""
        self.send("POST", "/runs", revision_id=self.visit["left_revision_id"])
        self.ride_id = self.visit["runs"][-1]["id"]
        self.at = f"/api/visits/{self.visit['id']}/runs/{self.ride_id}/log"

    def upload(self, data, name="lake strip.csv"):
        begun = self.client.post(f"{self.at}/uploads", json={"name": name, "size": len(data)})
        self.assertEqual(begun.status_code, 201, begun.text)
        number = begun.json["id"]
        for place, start in enumerate(range(0, len(data), PART)):
            answer = self.client.put(f"{self.at}/uploads/{number}/parts/{place}", data=data[start : start + PART],
                                     content_type="application/octet-stream")  # fmt: skip
            self.assertEqual(answer.status_code, 200, answer.text)
        return number

    def read(self, number, columns=()):
        said = [{"header": header, "field": field} for header, field in columns]
        body = {"columns": said, "name": "the borrowed one"}
        answer = self.client.post(f"{self.at}/uploads/{number}/read", json=body)
        self.assertEqual(answer.status_code, 200, answer.text)
        self.room.finish()
        return self.client.get(f"{self.at}/uploads/{number}").json

    def logged(self, style=STYLES["own"], **said):
        return Logger(style=style, **said).written(self.columns, 3)

    def shown(self):
        self.visit = self.client.get(f"/api/visits/{self.visit['id']}").json
        return next(run for run in self.visit["runs"] if run["id"] == self.ride_id)


class Sent(LogCase):
    def test_read_and_counted(self):
        self.assertEqual(self.read(self.upload(self.logged()))["state"], "read")
        log = self.client.get(self.at).json
        self.assertEqual((log["name"], log["size"], log["counts"]), ("lake strip.csv", len(self.logged()), True))
        self.assertEqual([pull["kind"] for pull in log["pulls"]], ["chop"])
        self.assertAlmostEqual(log["low_ratio"], 3.444, delta=0.4)
        counted = {each["figure"]: each for each in log["counted"]}
        mean = counted["shift_mean_rpm"]
        self.assertAlmostEqual(mean["sd"], np.hypot(mean["read_sd"], 20), places=6)
        run = self.shown()
        self.assertEqual(run["log"]["name"], "lake strip.csv")
        self.assertEqual((run["shift_rpm"], run["measured_shift_rpm"]), (None, mean["counted"]))
        rows = self.client.get(f"/api/visits/{self.visit['id']}/page").json["page"]["rows"]
        after = next(row for row in rows if row["key"] == "after")
        self.assertEqual(after["lines"][0]["words"], "shift: from the run's log, beside a simulated run of the set-up")
        self.assertEqual(after["table"]["rows"][0][2], f"{mean['counted']:,.0f} ± 20")
        (row,) = run["comparison"]
        self.assertEqual((row["figure"], row["measured_rpm"], row["measured_sd_rpm"]),
                         ("Shift", mean["counted"], mean["sd"]))  # fmt: skip

    def test_the_file_comes_back_as_it_was_sent(self):
        data = self.logged(noise={"engine_rpm": 5.0}) + b"\n" * (PART + 10)  # more than a part
        self.assertEqual(self.read(self.upload(data, 'år 3 "x".csv'))["refusal"], "")
        answer = self.client.get(f"{self.at}/file")
        self.assertEqual(answer.data, data)
        self.assertEqual(answer.headers["X-Content-Type-Options"], "nosniff")
        self.assertIn("attachment", answer.headers["Content-Disposition"])
        machine = self.client.get(f"/api/machines/{self.machine}").json
        self.assertEqual([(each["run_id"], each["size"]) for each in machine["logs"]], [(self.ride_id, len(data))])

    def test_the_same_file_is_kept_once(self):
        data = self.logged()
        self.read(self.upload(data))
        self.another()
        self.read(self.upload(data))
        connection = connect(self.app.config["DATABASE"])
        self.addCleanup(connection.close)
        self.assertEqual([tuple(row) for row in connection.execute("SELECT count(*), sum(packed) FROM log_file_part")],
                         [(1, 1)])  # fmt: skip
        self.assertEqual(connection.execute("SELECT count(*) FROM log_upload").fetchone()[0], 0)

    def test_odd_headings_are_mapped_once_and_remembered(self):
        data = self.logged(ODD)
        number = self.upload(data)
        refused = self.read(number)
        self.assertEqual((refused["state"], refused["refusal_field"]), ("refused", "time_s"))
        self.assertRegex(refused["refusal"], "no column reads as time")
        self.assertEqual([column["heading"] for column in refused["columns"]], [header for header, _ in MAPPED])
        self.assertEqual(refused["columns"][0]["sample"][:2], ["0,0000", "0,0200"])
        self.assertEqual(self.read(number, MAPPED)["state"], "read")
        mean = self.client.get(self.at).json["summary"]["shift"]["mean_rpm"]["value"]
        self.another()
        self.read(self.upload(self.logged()))
        # The vehicle's speed for the secondary's: the same shift.
        self.assertAlmostEqual(mean, self.client.get(self.at).json["summary"]["shift"]["mean_rpm"]["value"], delta=12)
        self.another()
        again = self.upload(data)
        self.assertEqual(self.client.get(f"{self.at}/uploads/{again}").json["remembered"], "the borrowed one")
        self.assertEqual(self.read(again)["state"], "read")

    def test_a_phones_track_beside_a_tachometers_number(self):
        self.send("PATCH", f"/runs/{self.ride_id}", shift_rpm={"now": 7850})
        points = "".join(
            f'<trkpt lat="{62 + way / 1852 / 60:.8f}" lon="25"><time>2026-01-10T10:00:{second:02d}Z</time></trkpt>'
            for second, way in enumerate(np.interp(range(-6, 24), self.columns["time_s"], distance(self.columns)))
        )
        track = f'<gpx version="1.1" creator="phone"><trk><trkseg>{points}</trkseg></trk></gpx>'.encode()
        self.assertEqual(self.read(self.upload(track, "phone.gpx"))["state"], "read")
        log = self.client.get(self.at).json
        self.assertEqual(log["counted"], [])
        way = log["summary"]["times"]["to_200_m_s"]  # a point a second: the start is known to half of one
        self.assertGreater(way["read_sd"], 0.3)
        self.assertAlmostEqual(way["value"], 10.8, delta=3 * way["read_sd"])
        self.assertIn("No engine speed: times and road figures alone.", log["summary"]["limits"])
        self.assertEqual(self.shown()["measured_shift_rpm"], 7850)

    def test_a_disk_that_is_full(self):
        number = self.upload(self.logged())
        connection = connect(self.app.config["DATABASE"])
        self.addCleanup(connection.close)
        pages = connection.execute("PRAGMA page_count").fetchone()[0]

        def full(path):
            opened = connect(path)
            opened.execute(f"PRAGMA max_page_count = {pages}")
            return opened

        with mock.patch("jaxel.web.jobs.connect", full), self.assertLogs("jaxel.web.jobs"):
            answer = self.read(number)
        self.assertEqual((answer["state"], answer["refusal_field"]), ("refused", "log"))
        self.assertRegex(answer["refusal"], "could not be kept: database or disk is full")
        for table in ("log_file", "log_file_part", "run_log", "run_trace", "run_counted"):
            self.assertEqual(connection.execute(f"SELECT count(*) FROM {table}").fetchone()[0], 0, table)
        self.assertEqual(self.read(number)["state"], "read")  # with room again

    def test_a_visit_is_calibrated_by_it(self):
        self.read(self.upload(self.logged()))
        self.send("POST", "/setup/calibrate")
        run = self.shown()
        self.assertAlmostEqual(self.visit["left"]["shift"]["mean_rpm"], run["measured_shift_rpm"], delta=25)
        self.assertEqual(self.visit["fresh_runs"], 0)

    def test_what_was_fitted_may_lie_where_no_hand_would_type_it(self):
        self.read(self.upload(self.logged()))
        self.send("POST", "/setup/calibrate")

        def below_nothing(_, document):
            return with_value(document, "primary.spring.force_start_n", -40.0)

        def told():
            for kept in (predictions._strip_figures, predictions._steps):
                kept.cache_clear()
            at = f"/api/visits/{self.visit['id']}/setup"
            return [self.client.get(f"{at}/{page}") for page in ("strip", "steps")]

        with mock.patch.object(Calibration, "_with_fitted", below_nothing):
            found = told()
        self.assertEqual([each.status_code for each in found], [200, 200])
        for far, fitted in zip(found, told(), strict=True):
            self.assertNotEqual(far.json, fitted.json)


class Refused(LogCase):
    def test_what_cannot_be_read_is_told_and_nothing_kept(self):
        rows = [f"{k / 10:.1f},{1300 + 100 * k},{k}" for k in range(60)]
        table = "time_s,engine_rpm,speed_kph\n"
        for name, data, field, reason in (
            ("binary", bytes(range(256)) * 9, "log", "not a text file"),
            ("header", table.encode(), "log", "no row of numbers"),
            ("delimiter", (table + "\n".join([*rows[:30], *(row.replace(",", ";") for row in rows[30:])])).encode(),
             "time_s", "line 32 holds"),
            ("entities", b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aa">]><gpx>&a;</gpx>', "log", "entity"),
        ):  # fmt: skip
            with self.subTest(name):
                answer = self.read(self.upload(data))
                self.assertEqual((answer["state"], answer["refusal_field"]), ("refused", field))
                self.assertRegex(answer["refusal"], reason)
                self.assertEqual(self.client.get(self.at).status_code, 404)
                self.assertIsNone(self.shown()["log"])

    def test_too_large_is_refused_by_its_announced_size(self):
        for size, reason in ((60_000_000, "60 MB"), (0, "empty")):
            answer = self.client.post(f"{self.at}/uploads", json={"name": "x", "size": size})
            self.refused(answer, 422, "size", reason)

    def test_parts_of_the_wrong_length_kind_or_place(self):
        number = self.client.post(f"{self.at}/uploads", json={"name": "x", "size": PART + 5}).json["id"]
        parts = f"{self.at}/uploads/{number}/parts"
        stream = "application/octet-stream"
        for place, reason in ((0, "1 holds 3 bytes where 4194304"), (2, "3 holds 3 bytes where 0")):
            answer = self.client.put(f"{parts}/{place}", data=b"123", content_type=stream)
            self.refused(answer, 422, "part", reason)
        self.assertEqual(self.client.put(f"{parts}/0", data=b"1" * (PART + 1), content_type=stream).status_code, 413)
        self.assertEqual(self.client.put(f"{parts}/1", data=b"12345", content_type="text/plain").status_code, 415)
        self.assertEqual(self.client.put(f"{parts}/13", data=b"12345", content_type=stream).status_code, 422)
        self.refused(self.client.post(f"{self.at}/uploads/{number}/read", json={}), 422, "log", "has come in with 0 of")

    def test_a_log_is_not_written_over(self):
        self.read(self.upload(self.logged()))
        answer = self.client.post(f"{self.at}/uploads", json={"name": "x", "size": 10})
        self.refused(answer, 409, "log", "this run has a log")

    def test_a_visit_that_is_closed_meanwhile_is_left_as_it_was_signed(self):
        number = self.upload(self.logged())
        connection = connect(self.app.config["DATABASE"])
        self.addCleanup(connection.close)
        connection.execute("UPDATE visit SET signed_off_at = '2026-01-01T00:00:00Z', signed_off_by = 'Jo'")
        answer = self.read(number)
        self.assertEqual((answer["state"], answer["refusal_field"]), ("refused", "log"))
        self.assertRegex(answer["refusal"], "the visit is closed")
        self.assertEqual(self.client.get(self.at).status_code, 404)
        self.assertEqual(self.client.post(f"{self.at}/uploads", json={"name": "x", "size": 10}).status_code, 409)

    def test_given_up_is_gone(self):
        number = self.upload(self.logged())
        self.assertEqual(self.client.post(f"{self.at}/uploads/{number}/cancel", json={}).status_code, 200)
        self.assertEqual(self.client.get(f"{self.at}/uploads/{number}").status_code, 404)
        self.assertEqual(self.client.get(self.at).status_code, 404)

    def test_of_another_visit(self):
        self.read(self.upload(self.logged()))
        for path in ("", "/file", "/traces", "/pulls/0"):
            self.assertEqual(self.client.get(self.at.replace("visits/1/", "visits/7/") + path).status_code, 404)

    def test_a_map_that_reads_two_columns_as_one(self):
        number = self.upload(self.logged(ODD))
        twice = [{"header": "Kanal 1", "field": "time_s"}, {"header": "Kanal 2", "field": "time_ms"}]
        answer = self.client.post(f"{self.at}/uploads/{number}/read", json={"columns": twice})
        self.refused(answer, 422, "columns", "two columns as the same quantity")


class Drawn(LogCase):
    def setUp(self):
        super().setUp()
        self.read(self.upload(self.logged(noise={})))
        self.log = self.client.get(self.at).json

    def test_a_stretch_as_fine_as_it_is_asked_for(self):
        whole = self.client.get(f"{self.at}/traces?points=100").json
        self.assertEqual(whole["size"], 4)  # 1,201 points; the last level has no more than 1,024
        engine = next(each for each in whole["traces"] if each["field"] == "engine_rpm")
        self.assertEqual(len(engine["most"]), len(whole["stamps"]))
        self.assertAlmostEqual(max(engine["most"]), self.columns["engine_rpm"].max(), delta=1)
        self.assertAlmostEqual(min(engine["least"]), self.columns["engine_rpm"].min(), delta=1)
        close = self.client.get(f"{self.at}/traces?first=500&last=600&points=100").json
        self.assertEqual((close["size"], close["first"], len(close["stamps"])), (1, 500, 100))
        self.assertAlmostEqual(close["stamps"][0], 10.0, places=3)
        speed = next(each for each in close["traces"] if each["field"] == "speed_kph")
        self.assertAlmostEqual(speed["most"][0], self.columns["speed_kph"][500], delta=0.02)

    def test_a_mark_is_tried_moved_undone(self):
        found = next(each for each in self.log["pulls"][0]["marks"] if each["mark"] == "shift_start")
        self.assertIsNone(found["moved_s"])
        to = round(found["found_s"] + 2, 2)
        tried = self.client.post(f"{self.at}/tried", json={"pull": 0, "marks": {"shift_start": to}}).json
        before = self.client.get(f"{self.at}/pulls/0").json
        self.assertLess(tried["shift"]["spread_rpm"]["value"], before["shift"]["spread_rpm"]["value"] - 50)
        self.assertEqual(self.client.get(f"{self.at}/pulls/0").json, before)  # nothing was kept
        self.send("PATCH", f"/runs/{self.ride_id}/log/marks", pull=0, mark="shift_start", was=None, now=to)
        (kept,) = (each for each in self.client.get(self.at).json["pulls"][0]["marks"] if each["mark"] == "shift_start")
        self.assertEqual((kept["found_s"], kept["moved_s"]), (found["found_s"], to))
        connection = connect(self.app.config["DATABASE"])
        self.addCleanup(connection.close)
        marks = json.loads(connection.execute("SELECT marks FROM run_log").fetchone()[0])
        self.assertEqual(marks, {"0.shift_start": [round(found["found_s"], 4), to]})
        after = self.client.get(f"{self.at}/pulls/0").json
        self.assertEqual(after["shift"]["spread_rpm"], tried["shift"]["spread_rpm"])
        # The figure that counts still does, beside the same part of the simulated run.
        self.assertTrue(self.shown()["comparison"])
        line = self.client.get(f"/api/visits/{self.visit['id']}/log").json["changes"][-1]["lines"][0]
        self.assertEqual((line["what"], line["now"]), ("run 1, shift starts of pull 1", f"{to:.2f} s"))
        edit = self.visit["last_change"]["edit"]
        self.visit = self.client.post(f"/api/visits/{self.visit['id']}/undo", json={"edit": edit}).json
        (back,) = (each for each in self.client.get(self.at).json["pulls"][0]["marks"] if each["mark"] == "shift_start")
        self.assertIsNone(back["moved_s"])

    def test_two_hands_at_one_mark(self):
        move = {"pull": 0, "mark": "full_shift", "was": None}
        self.assertEqual(self.client.patch(f"{self.at}/marks", json=move | {"now": 15.0}).status_code, 200)
        answer = self.client.patch(f"{self.at}/marks", json=move | {"now": 16.0})
        self.assertEqual(answer.status_code, 409)
        self.assertEqual(answer.json["error"]["theirs"], 15.0)
        for said, field, reason in (({"was": 15.0, "now": 999.0}, "to", "outside"), ({"pull": 4}, "pull", "holds 1")):
            answer = self.client.patch(f"{self.at}/marks", json=move | {"now": 9.0} | said)
            self.refused(answer, 422, field, reason)

    def test_set_aside_what_was_typed_counts(self):
        self.send("PATCH", f"/runs/{self.ride_id}", shift_rpm={"now": 7700})
        counted = self.shown()["measured_shift_rpm"]
        self.assertNotEqual(counted, 7700)
        self.send("POST", f"/runs/{self.ride_id}/log/counts", counts=False)
        self.assertEqual(self.shown()["measured_shift_rpm"], 7700)
        self.send("POST", f"/runs/{self.ride_id}/log/counts", counts=True)
        self.assertEqual(self.shown()["measured_shift_rpm"], counted)

    def test_a_run_taken_back_comes_back_with_its_log(self):
        run = self.shown()
        self.send("POST", f"/runs/{self.ride_id}/remove",
                  **{name: run[name] for name in ("engagement_rpm", "shift_rpm", "note")})  # fmt: skip
        self.assertEqual(self.client.get(self.at).status_code, 404)
        edit = self.visit["last_change"]["edit"]
        self.visit = self.client.post(f"/api/visits/{self.visit['id']}/undo", json={"edit": edit}).json
        self.assertEqual(self.client.get(self.at).json["name"], "lake strip.csv")


class RollOns(ApiCase):
    def test_three_typed_roll_ons_count_as_their_mean(self):
        self.ride(engagement_rpm=3900, second_roll_on_rpm=3960, third_roll_on_rpm="3 930")
        (run,) = self.visit["runs"]
        self.assertAlmostEqual(run["measured_engagement_rpm"], 3930)
        (row,) = run["comparison"]
        self.assertAlmostEqual(row["measured_sd_rpm"], 75 / 3**0.5)
        self.send("PATCH", f"/runs/{run['id']}", shift_rpm={"now": 7850})
        answer = self.send("PATCH", f"/runs/{run['id']}", second_roll_on_rpm={"was": 3960, "now": 8100})
        self.refused(answer, 422, "second_roll_on_rpm", "engages|engagement")
