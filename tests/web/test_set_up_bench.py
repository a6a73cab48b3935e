"""The set-up bench and the parts room over HTTP: what is shown is the core's, and nonsense is refused by its field."""

import csv
import io
import json
import random
import time

from jaxel.core.trade.altitude import altitude_table
from jaxel.core.trade.calibration import Calibration
from jaxel.core.trade.picture import clutch_picture
from jaxel.core.trade.planner import plan
from jaxel.core.trade.prediction import predicted
from jaxel.core.trade.shelf import stock_of
from jaxel.core.trade.what_if import Elsewhere, what_if
from jaxel.core.units import FOOT
from jaxel.store import shelf, visits
from jaxel.store.db import connect
from tests.web.test_api import ApiCase

SHEET = """number,kind,make,pieces,price,base_mass_g,force_start_n,force_finish_n,travel_mm,mass_g,members
A-57,arm,Brackholm,6,62,57/57.1/56.9,,,,,
A-61,arm,Brackholm,3,62,61,,,,,
PS-1,primary spring,Brackholm,1,54,,640,1390,30,,
L-15,load,Brackholm,12,1.5,,,,,1.5,
KT-1,kit,Brackholm,1,140,,,,,,A-57; PS-1
"""


class Case(ApiCase):
    def setUp(self):
        super().setUp()
        self.at = f"/api/visits/{self.visit['id']}"
        report = self.sent("POST", "/api/sheets", {"text": SHEET})
        self.assertEqual((report["added"], report["refused"]), (5, []))
        self.parts = {each["number"]: each["id"] for each in report["parts"]["parts"]}

    def sent(self, method, path, body=None, status=200):
        answer = self.client.open(path, method=method, json=body)
        self.assertEqual(answer.status_code, status, answer.text[:2000])
        return answer.json

    def fill(self, *fills, whole=False, status=200):
        draft = self.client.get(self.at).json["setup"]["draft"]
        filled = [{"slot": slot, "part": part} for slot, part in fills]
        body = {"fills": filled, "draft": draft, "whole": whole}
        return self.sent("POST", f"{self.at}/setup/fill", body, status)

    def stored(self):
        db = connect(self.app.config["DATABASE"])
        self.addCleanup(db.close)
        return db, visits.get(db, self.visit["id"])


class Pictures(Case):
    def test_both_clutches_are_the_cores(self):
        self.send("PATCH", "/setup/slots", which="left", slots={"arm_mass_g": "58"})
        found = self.sent("GET", f"{self.at}/setup/picture")
        _, visit = self.stored()
        for side, document in (("found", visit.as_found()), ("left", visit.as_left())):
            wanted = clutch_picture(document, predicted(document, backshift=True))
            self.assertEqual(found[side], json.loads(wanted.model_dump_json()))

    def test_a_preview_is_quick_without_its_band_and_whole_with_it(self):
        body = {"numbers": {"arm_mass_g": "58"}}
        quick = self.sent("POST", f"{self.at}/setup/preview", body | {"banded": False})
        whole = self.sent("POST", f"{self.at}/setup/preview", body | {"banded": True})
        self.assertIsNone(quick["figures"]["band"])
        self.assertGreater(whole["figures"]["band"]["mean_rpm"], 0)
        self.assertAlmostEqual(quick["figures"]["shift"]["mean_rpm"], whole["figures"]["shift"]["mean_rpm"], delta=0.2)
        self.assertEqual((quick["picture"], whole["picture"]["mass_g"]), (None, 58))
        self.assertNotEqual(quick["figures"]["key"], whole["figures"]["key"])


class Tray(Case):
    def test_the_shelf_says_what_goes_where_and_why_not(self):
        self.sent("POST", "/api/parts", {"number": "VR", "kind": "variator roller"}, 201)
        part = self.sent("GET", "/api/parts")["parts"]
        roller = next(each for each in part if each["number"] == "VR")
        cells = {"was": roller["cells"], "now": {"base_mass_g": "17", "cg_mm": ""}}
        self.sent("PATCH", f"/api/parts/{roller['id']}/spec", cells)
        self.sent("PATCH", f"/api/parts/{roller['id']}", {"fits": {"was": "", "now": "roller-variator-primary"}})
        self.send("PATCH", "/kinds", primary_kind="shimmed-spider-primary")
        found = self.sent("GET", f"{self.at}/setup/shelf")
        arms = {each["number"]: each for each in next(s for s in found["slots"] if s["slot"] == "arms")["parts"]}
        self.assertEqual((arms["A-57"]["pieces"], arms["A-57"]["words"], arms["A-57"]["refused"]),
                         (6, "57 / 57.1 / 56.9 g", ""))  # fmt: skip
        self.assertRegex(arms["VR"]["refused"], "another clutch: roller variator")
        self.assertEqual([each["number"] for each in found["kits"]], ["KT-1"])

    def test_a_part_its_record_and_its_undoing(self):
        view = self.fill(("arms", self.parts["A-57"]))
        slot = next(each for each in view["setup"]["slots"] if each["name"] == "Arms")
        self.assertEqual(slot["parts"][0]["stock"], "A-57")
        self.send("PATCH", "/setup/reason", was="", now="lighter")
        self.visit = self.client.get(self.at).json
        self.send("POST", "/setup/record", reason="lighter")
        pieces = {each["number"]: each["pieces"] for each in self.sent("GET", "/api/parts")["parts"]}
        self.assertEqual(pieces["A-57"], 3)
        self.sent("POST", f"{self.at}/undo", {"edit": self.visit["last_change"]["edit"]})
        pieces = {each["number"]: each["pieces"] for each in self.sent("GET", "/api/parts")["parts"]}
        self.assertEqual(pieces["A-57"], 6)

    def test_the_log_names_the_part(self):
        view = self.fill(("primary_spring", self.parts["PS-1"]))
        lines = view["last_change"]["lines"]
        self.assertEqual([(line["what"], line["now"]) for line in lines], [("Primary spring, from the shelf", "PS-1")])

    def test_a_kit_shows_each_members_share_of_the_whole(self):
        before = self.visit["left"]["shift"]["mean_rpm"]
        after = self.fill(("kit", self.parts["KT-1"]))["left"]["shift"]["mean_rpm"]
        shares = self.sent("GET", f"{self.at}/setup/shares")["shares"]
        self.assertEqual({each["name"] for each in shares}, {"Arms", "Primary spring"})
        self.assertAlmostEqual(sum(each["shift_rpm"] for each in shares), after - before, delta=2)
        self.fill(("kit", None), ("arms", None), ("primary_spring", None))
        self.assertEqual(self.sent("GET", f"{self.at}/setup/shares")["shares"], [])

    def test_what_is_gone_or_elsewhere_is_refused(self):
        gone = {"fills": [{"slot": "arms", "part": 999}], "draft": {}}
        self.refused(self.client.post(f"{self.at}/setup/fill", json=gone), 422, "part", "no longer on the shelf")
        body = {"fills": [{"slot": "arms", "part": self.parts["A-57"]}], "draft": {"shim_mm": 1.0}}
        self.refused(self.client.post(f"{self.at}/setup/fill", json=body), 409, "slots", "changed elsewhere")


class Answers(Case):
    def search(self, **body):
        found = self.sent("POST", f"{self.at}/setup/plan", body)
        for _ in range(200):
            if found["state"] != "searching":
                return found
            time.sleep(0.05)
            found = self.sent("GET", f"{self.at}/setup/plan/{found['search']}")
        raise AssertionError("still searching")

    def test_they_are_the_planners_and_an_answer_fills_the_tray(self):
        found = self.search()
        db, visit = self.stored()
        document = visit.left.in_use(visit.left_width_mm, visit.conditions, visit.target)
        wanted = plan(document, stock_of(document, list(shelf.stocked(db).values()), visit.kinds), top=12)
        self.assertEqual(found["combinations"], wanted.combinations)
        self.assertEqual([(a["probability"], a["shift_rpm"], a["for_rider"]) for a in found["answers"]],
                         [(a.probability, a.shift_mean_rpm, a.for_rider) for a in wanted.answers])  # fmt: skip
        for answer in found["answers"][:4]:
            draft = self.client.get(self.at).json["setup"]["draft"]
            body = {"fills": answer["fills"], "draft": draft, "whole": True}
            view = self.sent("POST", f"{self.at}/setup/fill", body)
            self.assertAlmostEqual(view["left"]["shift"]["mean_rpm"], answer["shift_rpm"], delta=0.2)
            self.assertAlmostEqual(view["left"]["engagement"]["bite_rpm"], answer["engagement_rpm"], delta=0.2)

    def test_the_same_question_is_one_search_whatever_lies_on_the_tray(self):
        first = self.search()
        self.fill(("arms", self.parts["A-57"]))
        self.assertEqual(self.search()["search"], first["search"])
        self.sent("PATCH", f"/api/parts/{self.parts['PS-1']}/pieces", {"was": 1, "now": 0})
        self.assertNotEqual(self.search()["search"], first["search"])

    def test_only_what_may_be_changed_is(self):
        found = self.search(may=["primary_spring"])
        self.assertEqual({c["slot"] for a in found["answers"] for c in a["changes"]}, {"primary_spring"})

    def test_the_workshops_order_of_tuning_is_followed(self):
        self.assertEqual(self.search()["order"], "spring")
        self.sent("PATCH", "/api/guide/school", {"question": "tuning_order", "was": "spring", "now": "weights"})
        self.assertEqual(self.search()["order"], "weights")

    def test_an_impossible_window_says_so(self):
        held = self.visit["intake"]["target_engagement_rpm"]
        sure = {"target_engagement_rpm": {"was": held, "now": 8000, "sure": True}}
        self.sent("PATCH", f"{self.at}/intake", sure)
        found = self.search()
        self.assertEqual((found["state"], found["refused"]["field"]), ("refused", "target.engagement_rpm"))

    def test_nothing_on_the_shelf_says_what_would_do_it(self):
        for number in ("KT-1", "A-57", "A-61", "PS-1", "L-15"):
            self.sent("POST", f"/api/parts/{self.parts[number]}/remove", {})
        self.send("PATCH", "/intake", target_shift_rpm=8200)
        found = self.search()
        self.assertEqual((found["state"], found["answers"]), ("done", []))
        self.assertRegex(found["reach"][0]["words"], r"Primary spring start 610 N → \d")

    def test_a_search_given_up_is_told_and_can_be_asked_again(self):
        many = "number,kind,base_mass_g,force_start_n,force_finish_n,travel_mm\n"
        many += "".join(f"M{i},arm,{50 + i / 7:.3f},,,\n" for i in range(100))
        many += "".join(f"S{i},primary spring,,{580 + i},{1350 + i},30\n" for i in range(100))
        self.sent("POST", "/api/sheets", {"text": many})
        begun = self.sent("POST", f"{self.at}/setup/plan", {"may": ["arms", "primary_spring", "load:tip"]})
        self.assertEqual(begun["state"], "searching")
        given_up = self.sent("POST", f"{self.at}/setup/plan/{begun['search']}/cancel", {})
        self.assertIn(given_up["state"], ("given up", "done"))
        self.refused(self.client.get(f"{self.at}/setup/plan/{'0' * 64}"), 404, "address", "no such search")

    def test_too_many_combinations_are_refused_in_words(self):
        many = "number,kind,base_mass_g,force_start_n,force_finish_n,travel_mm,angles\n"
        many += "".join(f"M{i},arm,{50 + i / 7:.3f},,,,\n" for i in range(99))
        many += "".join(f"S{i},primary spring,,{580 + i},{1350 + i},30,\n" for i in range(99))
        many += "".join(f"H{i},helix,,,,,0:{38 + i / 9:.3f}\n" for i in range(60))
        self.sent("POST", "/api/sheets", {"text": many})
        found = self.search()
        self.assertEqual(found["state"], "refused")
        self.assertIn("leave a group out", found["refused"]["reason"])


class InSight(Case):
    def test_a_calibration_moves_what_is_predicted_and_says_what_it_stands_on(self):
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        self.assertEqual((self.visit["calibration"], self.visit["fresh_runs"]), (None, 1))
        before = self.sent("GET", f"{self.at}/setup/calibration")
        self.assertEqual((before["made_at"], before["runs"], before["moved"]), (None, [], []))
        view = self.sent("POST", f"{self.at}/setup/calibrate", {})
        self.assertEqual((view["calibration"]["runs"], view["fresh_runs"]), (1, 0))
        self.assertRegex(view["calibration"]["anchor"], r"^\d{4}-\d\d-\d\d, road test$")
        self.assertAlmostEqual(view["left"]["shift"]["mean_rpm"], 7700, delta=0.5)
        self.assertEqual([each["figure"] for each in view["left"]["anchor"]], ["engagement_rpm", "shift_mean_rpm"])
        found = self.sent("GET", f"{self.at}/setup/calibration")
        (run,) = found["runs"]
        self.assertEqual([(fit["figure"], fit["measured"]) for fit in run["figures"]],
                         [("engagement", 3900), ("shift", 7700)])  # fmt: skip
        self.assertEqual([each["in_use"] for each in found["history"]], [True])
        self.assertTrue(any("weights" in each["name"] or "engine" in each["name"] for each in found["moved"]))
        self.assertTrue(found["next"])
        # The run is scored by what was predicted for it on its day, not by what it taught.
        scores = self.sent("GET", "/api/scores")
        self.assertEqual([each["runs"] for each in scores["tallies"]], [1, 1])
        self.assertGreater(abs(scores["tallies"][1]["mean_miss_rpm"]), 50)
        self.assertEqual(scores["machines"][0]["machine_id"], self.machine)

    def test_without_a_run_there_is_nothing_to_calibrate_on(self):
        answer = self.client.post(f"{self.at}/setup/calibrate", json={})
        self.refused(answer, 422, "runs", "measure engagement or shift first")

    def test_what_if_touches_nothing(self):
        body = {"elevation_m": "8,000 ft", "temperature_c": "14 °F", "power_pct": 110, "airflow_pct": 200}
        before = self.client.get(self.at).json
        found = self.sent("POST", f"{self.at}/setup/what-if", body)
        _, visit = self.stored()
        tried = Elsewhere(elevation_m=8000 * FOOT, temperature_c=-10.0, power=1.1, airflow=2.0)
        wanted = what_if(visit.as_left(), tried)
        for name in ("shift_rpm", "power_kw", "belt_max_c", "overall_gearing"):
            self.assertAlmostEqual(found["tried"][name], getattr(wanted, name), delta=0.11)
        self.assertEqual(found["here"]["drive_ratio"], 2.43)
        self.assertEqual(self.client.get(self.at).json, before)
        answer = self.client.post(f"{self.at}/setup/what-if", json={"drive_ratio": 0})
        self.refused(answer, 422, "drive_ratio", "above 0")
        for name, typed in (
            ("rolling_radius_mm", "0"),
            ("power_pct", "lots"),
            ("airflow_pct", "-5 %"),
            ("drive_ratio", ""),
        ):
            answer = self.client.post(f"{self.at}/setup/what-if", json={name: typed})
            self.assertEqual(answer.status_code, 200 if typed == "" else 422, name)

    def test_the_altitude_card_is_the_cores_in_any_unit(self):
        found = self.sent("GET", f"{self.at}/setup/altitude?slot=load:tip")
        _, visit = self.stored()
        wanted = altitude_table(visit.as_left(), "load:tip", Calibration.none(visit.as_left()))
        self.assertEqual(found["table"], json.loads(wanted.model_dump_json()))
        self.assertEqual(list(found["slots"]), ["arms", "load:heel", "load:middle", "load:tip"])
        units = self.client.get("/api/workshop").json
        self.sent("PATCH", "/api/workshop/units", {"was": units["units"], "now": units["presets"][1]["units"]})
        answer = self.client.get(f"{self.at}/setup/altitude.csv?slot=arms")
        rows = list(csv.reader(io.StringIO(answer.text)))
        self.assertEqual(answer.mimetype, "text/csv")
        self.assertEqual(rows[0][:4], ["altitude, ft", "temperature, °F", "power", "arms, g"])
        self.assertEqual((rows[1][0], rows[3][0]), ("0", "3281"))  # 1,000 m are 3,280.84 ft
        self.refused(self.client.get(f"{self.at}/setup/altitude?slot=clicker"), 422, "altitude", "no clicker")


class PartsRoom(Case):
    def test_a_spec_is_said_whole_and_never_over_another_hands(self):
        spring = next(p for p in self.sent("GET", "/api/parts")["parts"] if p["number"] == "PS-1")
        now = spring["cells"] | {"force_start_n": "140 lbf"}
        at = f"/api/parts/{spring['id']}/spec"
        view = self.sent("PATCH", at, {"was": spring["cells"], "now": now})
        held = next(p for p in view["parts"] if p["number"] == "PS-1")
        self.assertAlmostEqual(held["spec"]["force_start_n"], 140 * 4.4482216152605)
        self.assertRegex(held["figures"]["words"], r"622\.8 / 1,390 N")
        answer = self.client.patch(at, json={"was": spring["cells"], "now": now | {"force_start_n": "600"}})
        self.assertEqual(answer.status_code, 409)
        for cells, field in (({"force_start_n": "lots"}, "force_start_n"), ({"colour": "red"}, "colour"),
                             ({"force_start_n": "600"}, "force_finish_n")):  # fmt: skip
            answer = self.client.patch(at, json={"was": held["cells"], "now": cells})
            self.assertEqual((answer.status_code, answer.json["error"]["field"]), (422, field))
        plain = self.sent("POST", "/api/parts", {"number": "BT", "kind": "button"}, 201)["parts"]
        button = next(p["id"] for p in plain if p["number"] == "BT")
        answer = self.client.patch(f"/api/parts/{button}/spec", json={"was": {}, "now": {}})
        self.refused(answer, 422, "kind", "does not change a set-up")

    def test_sheet_out_is_sheet_in(self):
        answer = self.client.get("/api/parts.csv")
        self.assertEqual(answer.mimetype, "text/csv")
        report = self.sent("POST", "/api/sheets", {"text": answer.text})
        self.assertEqual((report["added"], report["changed"], report["alike"], report["refused"]), (0, 0, 5, []))

    def test_a_sheet_of_a_million_rows_is_turned_away(self):
        text = "number,kind\n" + "N,button\n" * 1_000_000
        answer = self.client.post("/api/sheets", json={"text": text})
        self.refused(answer, 413, "document", "larger than")
        answer = self.client.post("/api/sheets", json={"text": "number,kind\n" + "N,button\n" * 50_000})
        self.refused(answer, 422, "sheet", "more than 5,000 rows")

    def test_lives_have_an_address_of_their_own(self):
        self.assertEqual(self.sent("GET", "/api/lasted"), {"lasted": []})

    def test_nonsense_is_refused_and_never_fatal(self):
        dice = random.Random(11)
        part = self.parts["PS-1"]
        odd = [
            None,
            True,
            -1,
            0,
            1e308,
            "",
            "é" * 30,
            "½",
            "1/0",
            "nan",
            [],
            {},
            {"was": 1},
            "../..",
            "arms",
            999,
            "0:0",
        ]

        def value():
            return dice.choice(odd)

        for _ in range(300):
            method, path, body = dice.choice((
                ("POST", f"{self.at}/setup/fill", {"fills": [{"slot": value(), "part": value(), "numbers": {}}],
                                                   "draft": {}, "whole": value()}),
                ("POST", f"{self.at}/setup/fill", {"fills": [{"slot": "arms", "numbers": {"arm_mass_g": value()}}],
                                                   "draft": {}}),
                ("POST", f"{self.at}/setup/preview", {"fills": [{"slot": value(), "part": part}], "numbers": {}}),
                ("POST", f"{self.at}/setup/plan", {"may": [value()]}),
                ("POST", f"{self.at}/setup/what-if", {"elevation_m": value(), "rolling_radius_mm": value(),
                                                      "drive_ratio": value(), "power_pct": value()}),
                ("PATCH", f"/api/parts/{part}/spec", {"was": {}, "now": {"force_start_n": value()}}),
                ("PATCH", f"/api/parts/{part}/pieces", {"was": value(), "now": value()}),
                ("PATCH", f"/api/parts/{part}", {dice.choice(("fits", "place", "kind")): {"was": "", "now": value()}}),
                ("POST", "/api/sheets", {"text": value()}),
                ("GET", f"{self.at}/setup/altitude?slot={value()}", None),
            ))  # fmt: skip
            answer = self.client.open(path, method=method, json=body)
            self.assertLess(answer.status_code, 500, (method, path, body, answer.text))
        self.assertEqual(self.client.get(self.at).status_code, 200)


class Anchors(Case):
    def test_a_prediction_on_a_calibration_has_a_key_of_its_own_for_ever(self):
        bare = self.visit["left"]["key"]
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        key = self.sent("POST", f"{self.at}/setup/calibrate", {})["left"]["key"]
        self.assertNotEqual(key, bare)
        anchored, plain = (self.sent("GET", f"/api/predictions/{each}") for each in (key, bare))
        self.assertAlmostEqual(anchored["shift"]["mean_rpm"], 7700, delta=0.5)
        self.assertIsNone(plain["anchor"])
