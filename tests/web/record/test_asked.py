"""The application's answers: a visit from end to end, refusals at the field, never a 5xx."""

from tests.web.cases.api_case import ApiCase


class Asked(ApiCase):
    def test_an_implausible_reading_comes_back_as_a_question(self):
        at = f"/api/visits/{self.visit['id']}"
        change = {"was": None, "now": "7.810"}
        answer = self.client.patch(f"{at}/intake", json={"baseline_shift_rpm": change})
        self.refused(answer, 422, "baseline_shift_rpm", "no speed an engine shifts at")
        self.assertEqual(
            answer.json["error"]["asks"], {"words": "7,810 rpm", "meant": {"baseline_shift_rpm": "7,810 rpm"}}
        )
        answer = self.client.patch(f"{at}/intake", json={"baseline_shift_rpm": change | {"sure": True}})
        self.assertEqual(answer.json["intake"]["baseline_shift_rpm"], 7.81)

    def test_limits_are_said_in_words(self):
        self.refused(self.send("PATCH", "/intake", odometer_km=1e9), 422, "odometer_km", "at most 1,000,000$")
