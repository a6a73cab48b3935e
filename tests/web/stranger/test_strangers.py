"""The way in over HTTP: a stranger's answers, a hand's units in every word, and nonsense refused by its field."""

from tests.store.cases.any_machine_case import picture
from tests.web.cases.api_case import ApiCase

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
        engine = "four-stroke, under 600 cc"
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
