"""The set-up bench and the parts room over HTTP: what is shown is the core's, and nonsense is refused by its field."""

import csv
import io
import json

from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.elsewhere.what_if import Elsewhere, what_if
from jaxel.core.trade.shelf.altitude import altitude_table
from jaxel.core.units import FOOT
from tests.web.cases.set_up_bench_case import Case


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
        first, *rows = csv.reader(io.StringIO(answer.text))
        self.assertEqual(first, ["# jaxel-altitude 1"])
        self.assertEqual(answer.mimetype, "text/csv")
        self.assertEqual(rows[0][:4], ["altitude, ft", "temperature, °F", "power", "arms, g"])
        self.assertEqual((rows[1][0], rows[3][0]), ("0", "3281"))  # 1,000 m are 3,280.84 ft
        self.refused(self.client.get(f"{self.at}/setup/altitude?slot=clicker"), 422, "altitude", "no clicker")
