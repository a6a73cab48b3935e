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
            self.assertEqual(answer.json, {"figures": None, "prediction": None, "picture": None})
