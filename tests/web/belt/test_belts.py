"""Belt, strip, guide, parts and dues over HTTP: what is shown is the core's, and nonsense is refused by its field."""

from contextlib import closing

from jaxel.core.trade.belt.trend import trend_of
from jaxel.store.db import connect
from tests.web.cases.belt_and_strip_case import Case


class Belts(Case):
    def test_a_life_and_its_trend_are_the_cores(self):
        for km, width in ((600, 36.3), (1500, 35.9)):
            self.send("PATCH", "/intake", odometer_km=km)
            for place in (1, 2, 3):
                self.send("PUT", "/belt/reading", place=place, now=width)
            if km == 600:
                reason = {"edit": self.visit["edit"], "by": "Jo", "reason": "no time"}
                self.sent("POST", f"{self.at}/unrepaired", reason)
                self.visit = self.client.post(f"/api/machines/{self.machine}/visits", json={}).json
                self.at = f"/api/visits/{self.visit['id']}"
        life = self.client.get("/api/belts/1").json
        self.assertEqual([(each["use"], round(each["width_mm"], 6)) for each in life["points"]],
                         [(600, 36.3), (1500, 35.9)])  # fmt: skip
        told = trend_of([600, 1500], [36.3, 35.9], life["new_width_mm"], life["limit_mm"], from_new=False)
        self.assertAlmostEqual(life["trend"]["left_from"], told.left_from)
        self.assertAlmostEqual(life["trend"]["wear_mm_per_1000"], told.wear_mm_per_1000)
        code = self.client.get("/api/belts/1/code.svg")
        self.assertEqual((code.status_code, life["coded"]), (404, False))  # no phone opens a loopback name

    def test_a_machine_that_counts_hours_has_a_trend_by_hours(self):
        self.send("PATCH", "/intake", odometer_h=50)
        self.send("PUT", "/belt/reading", place=1, now=36.3)
        life = self.client.get("/api/belts/1").json
        self.assertEqual((life["unit"], [each["use"] for each in life["points"]]), ("h", [50]))

    def test_a_belt_without_a_width_is_predicted_as_last_known(self):
        left = self.visit["left"]["key"]
        self.send("PATCH", "/belt", no_width="broke")
        self.assertEqual(self.visit["left"]["key"], left)
        self.refused(self.send("PATCH", "/belt", decision="spare"), 422, "decision", "no width")

    def test_a_length_that_no_belt_has_is_refused_and_an_old_one_leaves_every_page_readable(self):
        answer = self.client.patch("/api/belts/1", json={"length_mm": {"was": None, "now": 40}})
        self.refused(answer, 422, "length_mm", "350")
        self.refused(self.send("PATCH", "/belt", next_length_mm=40), 422, "next_length_mm", "350")
        with closing(connect(self.app.config["DATABASE"])) as database:  # as an earlier version took it
            database.execute("UPDATE belt SET length_mm = 10")
            database.execute("UPDATE visit SET edit = edit + 1")
        shown = self.client.get(self.at)
        self.assertEqual(shown.status_code, 200)
        self.assertIn("leaves no belt", shown.json["fault"]["reason"])
        self.assertEqual(shown.json["belt"]["costs"], [])
        self.assertEqual(self.client.get(f"{self.at}/page").status_code, 200)
        for page in ("strip", "steps", "altitude.csv?slot=arms"):
            self.assertLess(self.client.get(f"{self.at}/setup/{page}").status_code, 500, page)
        self.assertLess(self.client.post(f"{self.at}/setup/what-if", json={"slots": {}}).status_code, 500)

    def test_a_visit_with_something_tried_opens_whatever_its_belt_became(self):
        self.send("PATCH", "/setup/slots", which="left", slots={"arm_mass_g": 57})
        self.assertNotEqual(self.visit["setup"]["draft"], {})
        self.client.patch("/api/belts/1", json={"length_mm": {"was": None, "now": 400, "sure": True}})
        shown = self.client.get(self.at)
        self.assertEqual(shown.status_code, 200)
        self.assertIn("too short", shown.json["fault"]["reason"])
        self.assertEqual(shown.json["setup"]["draft"], {"arm_mass_g": 57})
        recorded = self.client.post(f"{self.at}/setup/record", json={"reason": "lighter", "draft": {"arm_mass_g": 57}})
        self.refused(recorded, 422, "belt.outer_circumference_mm", "too short")

    def test_the_floor_stands_whatever_the_new_belt_became(self):
        self.send("PUT", "/belt/reading", place=1, now=36.9)
        was = self.client.get("/api/belts/1").json["new_width_mm"]
        changed = {"new_width_mm": {"was": None, "now": was - 0.9, "sure": True}}
        answer = self.client.patch("/api/belts/1", json=changed)
        self.assertEqual(answer.status_code, 200, answer.text)
        self.assertEqual(self.client.get("/api/floor").status_code, 200)
        shown = self.client.get(self.at)
        self.assertEqual(shown.status_code, 200)
        self.assertIn("wider than the new belt", shown.json["belt"]["assessment"]["reason"])
