"""The application's answers: a visit from end to end, refusals at the field, never a 5xx."""

from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.units import RPM
from tests.examples import changed, example, read
from tests.web.cases.api_case import ApiCase


class Previews(ApiCase):
    def test_what_is_being_typed_is_predicted_and_not_kept(self):
        at = f"/api/visits/{self.visit['id']}"
        seen = self.client.post(f"{at}/setup/preview", json={"numbers": {"arm_mass_g": "58"}}).json
        expected = predict(read(changed(example("mountain-sled"), "primary.weights.base_mass_g", 58)).core())
        self.assertAlmostEqual(seen["figures"]["shift"]["mean_rpm"], expected.shift.mean / RPM, places=1)
        self.assertEqual(len(seen["prediction"]["curve"]), 41)
        self.assertEqual(self.client.get(at).json["setup"]["draft"], {})
        for text in ("5", "", "5x", "58/"):
            answer = self.client.post(f"{at}/setup/preview", json={"numbers": {"arm_mass_g": text}})
            nowhere = {"engagement": "", "shift": ""}
            self.assertEqual(answer.json, {"figures": None, "lies": nowhere, "prediction": None, "picture": None})

    def test_where_it_lies_is_said_of_a_stated_window_as_far_as_its_doubt_lets(self):
        at = f"/api/visits/{self.visit['id']}"
        left = self.client.get(at).json["left"]
        bite, sd = left["engagement"]["bite_rpm"], left["band"]["bite_rpm"]
        for centre, tolerance, typical, where in (
            (bite, sd + 1, False, "inside"), (bite, sd - 1, False, ""), (bite, sd + 1, True, ""),
            (bite + 2 * sd + 100, 50, False, "outside"), (bite + 60 + sd / 2, 50, False, ""),
        ):  # fmt: skip
            self.send("PATCH", "/intake", target_engagement_rpm=round(centre))
            self.send("PATCH", "/intake", target_engagement_tolerance_rpm=round(tolerance))
            self.send("PATCH", "/intake", target_typical=typical)
            self.assertEqual(self.client.get(at).json["lies"]["engagement"], where, (centre, tolerance, typical))
        seen = self.client.post(f"{at}/setup/preview", json={"numbers": {"arm_mass_g": "58"}, "banded": True}).json
        self.assertEqual(set(seen["lies"]), {"engagement", "shift"})
