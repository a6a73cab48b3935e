"""The way in over HTTP: a stranger's answers, a hand's units in every word, and nonsense refused by its field."""

from tests.web.cases.api_case import ApiCase


class Units(ApiCase):
    """What a hand reads in pounds, inches, feet and Fahrenheit."""

    def imperial(self):
        held = self.client.get("/api/workshop").json
        send = {"was": held["units"], "now": held["presets"][1]["units"]}
        self.assertEqual(self.client.patch("/api/workshop/units", json=send).status_code, 200)

    def test_words_steps_and_refusals_follow(self):
        at = f"/api/visits/{self.visit['id']}"
        metric = self.client.get(at).json
        self.imperial()
        imperial = self.client.get(at).json
        steps = [next(slot["step"] for slot in each["setup"]["slots"] if slot["name"] == "Primary spring")
                 for each in (metric, imperial)]  # fmt: skip
        self.assertEqual(steps, ["+50 N", "+10 lbf"])
        step = next(each for each in self.client.get(f"{at}/setup/steps").json["steps"]
                    if each["key"] == "primary_start_n")  # fmt: skip
        self.assertAlmostEqual(step["step"], 44.4822, places=4)
        # Numbers stay in the units they are stored in; only words and the table say how they are read.
        self.assertEqual(imperial["belt"]["limit_mm"], metric["belt"]["limit_mm"])
        answer = self.client.put(f"{at}/belt/reading", json={"place": 1, "was": None, "now": "1.5 in"})
        self.assertEqual(answer.json["error"]["reason"].split(": ")[0],
                         "is more than 0.039 in wider than the new belt, 1.437 in")  # fmt: skip
        asked = self.client.patch(f"{at}/setup/slots", json={
            "which": "left", "numbers": {"primary_start_n": {"was": 755, "now": "755 lbf"}}})  # fmt: skip
        self.assertEqual(asked.json["error"]["reason"], "755 lbf is far from the 169.7 lbf that stood here")
        # Newtons typed where pounds are read: what was likely meant.
        self.assertEqual(asked.json["error"]["asks"]["meant"], {"primary_start_n": "755 N"})

    def test_each_hand_reads_its_own(self):
        self.imperial()
        (person,) = self.client.post("/api/workshop/people", json={"name": "Jörn"}).json["people"]
        metric = self.client.get("/api/workshop").json["presets"][0]["units"]
        self.client.patch(f"/api/workshop/people/{person['id']}/units", json={"was": None, "now": metric})
        for hand, name in (("J%C3%B6rn", "N"), ("bench", "lbf")):
            shown = self.client.get("/api/workshop", headers={"Jaxel-Hand": hand}).json["shown"]
            self.assertEqual(shown["N"]["name"], name)
        self.refused(self.client.patch("/api/workshop/units", json={"was": metric, "now": {"force": "stone"}}), 422,
                     "now.force", "must be")  # fmt: skip
