"""The way in over HTTP: a stranger's answers, a hand's units in every word, and nonsense refused by its field."""

from tests.store.test_any_machine import picture
from tests.web.test_api import ApiCase

QUAD = {"machine": "quad", "primary_kind": "roller-variator-primary"}


class Strangers(ApiCase):
    def look(self, **body):
        return self.client.post("/api/bring-in/look", json=QUAD | body)

    def test_the_band_narrows_as_the_list_promised(self):
        before = self.look().json["look"]
        first = before["lines"][0]
        after = self.look(readings={first["key"]: {first["fields"][0]["name"]: "20"}}).json["look"]
        self.assertAlmostEqual(before["shift_sd_rpm"] - after["shift_sd_rpm"], first["shift_rpm"], delta=1)
        self.assertEqual((before["counts"], after["counts"]["measured"]), ({"typical": 28}, 1))

    def test_every_picture_and_reading_finds_an_answer(self):
        options = self.client.get("/api/bring-in").json
        self.assertEqual(len({each["key"] for side in ("primaries", "secondaries") for each in options[side]}), 11)
        for machine in options["machines"]:
            for primary in options["primaries"]:
                for secondary in options["secondaries"][::2]:
                    answer = self.look(machine=machine["key"], primary_kind=primary["key"],
                                       secondary_kind=secondary["key"])  # fmt: skip
                    self.assertEqual(answer.status_code, 200, answer.text)

    def test_whatever_is_typed_is_taken_or_refused_by_its_field(self):
        found = {
            line["key"]: [each["name"] for each in line["fields"]]
            for machine, primary in (("quad", "roller-variator-primary"), ("side-by-side", "loaded-arm-primary"))
            for line in self.look(machine=machine, primary_kind=primary).json["look"]["lines"]
        }
        self.assertGreater(len(found), 25)
        for text in ("0", "-1", "1e9", "1/0", "“", "0.0001", "9999", "12 parsecs", "٣", "1 2 3"):
            for machine, primary in (("quad", "roller-variator-primary"), ("side-by-side", "loaded-arm-primary")):
                typed = {key: dict.fromkeys(names, text) for key, names in found.items()}
                answer = self.look(machine=machine, primary_kind=primary, readings=typed)
                self.assertEqual(answer.status_code, 200, (text, answer.text[:300]))
                for line in answer.json["look"]["lines"]:
                    if line["state"] == "refused":
                        self.assertIn(line["field"], [each["name"] for each in line["fields"]])
                        self.assertTrue(line["reason"])

    def test_a_stranger_that_cannot_be_is_refused_and_nothing_is_written(self):
        for body, field in (({"machine": "tank"}, "machine"), ({"primary_kind": "steam"}, "primary_kind"),
                            ({"name": "x" * 121}, "name"), ({"readings": {"weights": {"mass_g": 20}}}, "readings"),
                            ({"secondary_kind": "roller-variator-primary"}, "secondary_kind"),
                            ({"offset_mm": "far", "bare": True}, "offset_mm")):  # fmt: skip
            with self.subTest(body):
                for path in ("/api/bring-in/look", "/api/bring-in"):
                    answer = self.client.post(path, json=QUAD | body)
                    self.assertEqual(answer.status_code, 422)
                    self.assertTrue(answer.json["error"]["field"].startswith(field), answer.text)
        self.assertEqual(self.client.get("/api/floor").json["total"], 1)

    def test_sent_twice_it_comes_in_once(self):
        header = {"Jaxel-Once": "stranger-one"}
        first, second = (self.client.post("/api/bring-in", json=QUAD, headers=header).json for _ in range(2))
        self.assertEqual(first, second)
        self.assertEqual(self.client.get("/api/floor").json["total"], 2)

    def test_the_demo_goes_only_into_an_empty_workshop(self):
        self.refused(self.client.post("/api/demo", json={}), 409, "demo", "machines of its own")

    def test_a_record_merged_away_opens_as_the_one_that_goes_on(self):
        copy = self.client.post(f"/api/machines/{self.machine}/copy", json={"name": "Twin"}).json["machine"]["id"]
        self.client.post(f"/api/machines/{self.machine}/merge", json={"double": copy})
        self.assertEqual(self.client.get(f"/api/machines/{copy}").json["machine"]["id"], self.machine)

    def test_a_stranger_is_named_by_its_own_engine(self):
        # No package has this engine on a torque converter: the nearest one's must not name it.
        engine = "four-stroke, 400–550 cc"
        said = {"machine": "quad", "primary_kind": "light-torque-converter", "engine": engine}
        machine = self.client.post("/api/bring-in", json=said).json["machine_id"]
        self.assertEqual(self.client.get(f"/api/machines/{machine}").json["machine"]["name"], f"Quad, {engine}")

    def test_photos_over_the_wire(self):
        at = f"/api/machines/{self.machine}/photos"
        for data, kind, status in ((picture(), "image/jpeg", 201), (b"x" * 100, "image/png", 422),
                                   (picture(), "text/html", 415), (b"x" * 8_000_001, "image/jpeg", 413)):  # fmt: skip
            with self.subTest(kind=kind, size=len(data)):
                answer = self.client.post(at, data=data, content_type=kind)
                self.assertEqual(answer.status_code, status, answer.text[:200])
        (photo,) = self.client.get(f"/api/machines/{self.machine}").json["photos"]
        image = self.client.get(f"/api/photos/{photo['id']}")
        self.assertEqual((image.mimetype, image.headers["X-Content-Type-Options"]), ("image/jpeg", "nosniff"))


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
            "which": "left", "numbers": {"primary_start_n": {"was": 610, "now": "610 lbf"}}})  # fmt: skip
        self.assertEqual(asked.json["error"]["reason"], "610 lbf is far from the 137.1 lbf that stood here")
        # Newtons typed where pounds are read: what was likely meant.
        self.assertEqual(asked.json["error"]["asks"]["meant"], {"primary_start_n": "610 N"})

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
