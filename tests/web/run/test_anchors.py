"""The set-up bench and the parts room over HTTP: what is shown is the core's, and nonsense is refused by its field."""

from tests.web.cases.set_up_bench_case import Case


class Anchors(Case):
    def test_a_prediction_on_a_calibration_has_a_key_of_its_own_for_ever(self):
        bare = self.visit["left"]["key"]
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        key = self.sent("POST", f"{self.at}/setup/calibrate", {})["left"]["key"]
        self.assertNotEqual(key, bare)
        anchored, plain = (self.sent("GET", f"/api/predictions/{each}") for each in (key, bare))
        self.assertAlmostEqual(anchored["shift"]["mean_rpm"], 7700, delta=0.5)
        self.assertIsNone(plain["anchor"])
