"""Rebuild, wrenches, line-up, break-in and close over HTTP: values by unit, refusals by field, nonsense never fatal."""

from jaxel.core.units import FOOT_POUND
from tests.web.cases.back_together_case import Opened


class Torques(Opened):
    def test_a_torque_in_any_unit_and_the_wrench_for_it(self):
        self.wrench()
        self.wrench(name="Times four", low=None, step=None, high="800", kind="multiplier", ratio="4")
        self.state("cover_bolts", "12 ft-lb")
        found = self.fastener("cover_bolts")
        self.assertAlmostEqual(found["torque_nm"], 12 * FOOT_POUND)
        self.assertEqual((found["source"], found["wrench"]["best"]["name"]), ("manual", "Bench"))
        self.assertEqual(found["order"], [0, 3, 1, 4, 2, 5])
        self.state("spider", "290 ft-lb")
        spider = self.fastener("spider")["wrench"]
        self.assertIsNone(spider["best"])  # 393 N·m through four to one is 98 N·m: beyond the bench wrench too
        self.assertEqual(spider["instead"][0], "borrow a wrench that reaches 393 N·m")

    def test_words_are_in_the_hands_units(self):
        self.state("spider", "390")
        units = self.client.get("/api/workshop").json
        self.sent("PATCH", "/api/workshop/units", {"was": units["units"], "now": units["presets"][1]["units"]})
        self.assertEqual(self.fastener("spider")["wrench"]["instead"][0], "borrow a wrench that reaches 287.6 ft-lb")

    def test_the_wrong_unit_is_asked_about_and_then_believed(self):
        for torque, meant in (("60 ft-lb", "60 in-lb"), ("60", "60 in-lb")):
            refused = self.state("helix_screws", torque, 422, kind="bolt-in-helix-secondary")["error"]
            self.assertEqual((refused["field"], refused["asks"]["meant"]), ("torque", {"torque": meant}))
        self.state("helix_screws", "60 in-lb", kind="bolt-in-helix-secondary")
        self.assertAlmostEqual(self.fastener("helix_screws")["torque_nm"], 5 * FOOT_POUND)
        self.state("helix_screws", "60 ft-lb", kind="bolt-in-helix-secondary", sure=True, origin="from memory")
        self.assertTrue(self.fastener("helix_screws")["conflict"])

    def test_a_typed_unit_stands(self):
        asked = self.state("retaining_bolt", "48 in-lb", 422)["error"]
        self.assertTrue(asked["reason"].startswith("48 in-lb: 5.42 N·m on the retaining bolt is far from"), asked)
        self.assertIn(asked["asks"]["meant"]["torque"], ("48 N·m", "48 ft-lb"))
        self.state("retaining_bolt", "48 in-lb", sure=True)
        self.assertAlmostEqual(self.fastener("retaining_bolt")["torque_nm"], 4 * FOOT_POUND)

    def test_an_adapter_of_a_textbook(self):
        # FAA AC 43.13-1B, chapter 7, from memory: 30 ft-lb, 3 in adapter, 1 ft wrench: 24 ft-lb on its scale.
        self.wrench(length_mm="12 in")
        found = self.sent("GET", "/api/torque-adapter?torque=30 ft-lb&extension=3 in&angle=0", None)
        self.assertAlmostEqual(found["best"]["setting_nm"] / FOOT_POUND, 24.0)
        across = self.sent("GET", "/api/torque-adapter?torque=30 ft-lb&extension=3 in&angle=90", None)
        self.assertAlmostEqual(across["best"]["setting_nm"] / FOOT_POUND, 30.0)
        for query, field in (("torque=0", "torque"), ("torque=x", "torque"),
                             ("torque=30&extension=-12 in", "extension"),
                             ("torque=30&angle=7", "angle"), ("torque=9e9", "torque")):  # fmt: skip
            refused = self.sent("GET", f"/api/torque-adapter?{query}", None, 422)
            self.assertEqual(refused["error"]["field"], field)

    def test_a_wrench_that_cannot_be(self):
        for values, field in (
            ({"high": "10"}, "high"), ({"low": "90", "high": "10"}, "high"), ({"step": "0"}, "step"),
            ({"name": " "}, "name"), ({"high": "far"}, "high"), ({"due_on": "2026-13-45"}, "due_on"),
            ({"kind": "multiplier", "ratio": "1"}, "ratio"), ({"low": "-4"}, "low"),
        ):  # fmt: skip
            with self.subTest(field=field):
                self.assertEqual(self.wrench(422, **values)["error"]["field"], field)
        self.assertEqual(self.client.get("/api/wrenches").json["wrenches"], [])
