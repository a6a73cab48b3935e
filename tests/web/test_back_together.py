"""Rebuild, wrenches, line-up, break-in and close over HTTP: values by unit, refusals by field, nonsense never fatal."""

import random
from typing import Any

from jaxel.core.trade.balance import rotating_force, unbalance
from jaxel.core.units import FOOT_POUND
from tests.web.test_belt_and_strip import Case


class Opened(Case):
    def setUp(self):
        super().setUp()
        self.sent("PATCH", f"{self.at}/scope", {"was": "tune", "now": "rebuild"})
        self.view = self.sent("PATCH", f"{self.at}/strip", {"depth": {"was": None, "now": "full strip"}})

    def fastener(self, key):
        steps = self.client.get(self.at).json["rebuild"]["steps"]
        return next(each for step in steps for each in step["fasteners"] if each["key"] == key)

    def state(self, fastener, torque, status=200, kind="tower-and-button-primary", **more):
        body = {"kind": kind, "fastener": fastener, "tightness": "torque", "torque": torque, "origin": "manual"}
        return self.sent("POST", f"{self.at}/rebuild/torques", body | more, status)

    def wrench(self, status=201, **values):
        body = {"name": "Bench", "low": "10", "high": "60 ft-lb", "step": "0.5", "length_mm": "340"} | values
        return self.sent("POST", "/api/wrenches", body, status)


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
            ({"kind": "multiplier", "ratio": "1"}, "ratio"), ({"low": "-4"}, "high"),
        ):  # fmt: skip
            with self.subTest(field=field):
                self.assertEqual(self.wrench(422, **values)["error"]["field"], field)
        self.assertEqual(self.client.get("/api/wrenches").json["wrenches"], [])


class Balance(Opened):
    def test_what_is_out_pulls_by_the_vector_sum(self):
        masses = (48.1, 48.0, 46.9)
        for place, mass in enumerate(masses):
            body = {"place": place, "was": None, "now": f"{mass} g"}
            view = self.sent("PUT", f"{self.at}/rebuild/matched/primary/arms/mass", body)
        (found,) = view["rebuild"]["balance"]
        step = next(each for each in view["rebuild"]["steps"] if each["place"] == "primary.arms")
        radius = step["matched"][0]["radius_mm"]
        self.assertTrue(40 < radius < 90)
        self.assertAlmostEqual(found["unbalance_gmm"], abs(unbalance(masses, radius)))
        self.assertAlmostEqual(found["force_n"], rotating_force(abs(unbalance(masses, radius)), found["rpm"]))
        self.assertEqual(found["rpm"], view["left"]["shift"]["mean_rpm"])
        for place, mass in enumerate((13.1, 12.0, 12.0)):
            body = {"place": place, "was": None, "now": mass}
            view = self.sent("PUT", f"{self.at}/rebuild/matched/primary/rollers/mass", body)
        (paired,) = view["rebuild"]["balance"]
        # The heaviest roller goes to the lightest arm.
        heavy = paired["rollers"].index(0)
        self.assertEqual(paired["arms"][heavy], 2)
        self.assertLess(paired["best_gmm"], paired["unbalance_gmm"])


class Shims(Opened):
    def test_typed_in_any_unit(self):
        body = {"behind": {"was": [], "now": "1,5 + 1/32 in"}}
        held = self.sent("PATCH", f"{self.at}/line-up", body)["line_up"]["read"]["behind"]
        self.assertEqual([round(each, 5) for each in held], [1.5, 0.79375])
        for typed in ("abc", "-1", "0.5 + x"):
            refused = self.sent("PATCH", f"{self.at}/line-up", {"behind": {"was": held, "now": typed}}, 422)
            self.assertTrue(refused["error"]["field"].startswith("behind"))


class Nonsense(Opened):
    def test_whatever_is_sent_is_never_5xx(self):
        dice = random.Random(12)
        strange: list[Any]
        strange = [None, "", "x" * 600, -1, 0, 1e308, "1e400", True, [], {}, "\x00", "٣", [None], {"was": 1}, "½ in", 3,
                   "60 ft-lb", "primary.cover", "primary.cover.back", "clockwise", "done", "own.", "../.."]  # fmt: skip
        said = f"{self.at}/rebuild"
        changes = {
            said: ("closes", "wound", "wound_deg", "sheave_hole", "helper"),
            f"{said}/fasteners/primary/cover_bolts": ("state", "torque_nm", "means", "wrench", "note"),
            f"{self.at}/line-up": ("way", "front_mm", "base_mm", "behind", "turned", "seated", "toe_tolerance_deg"),
            f"{self.at}/break-in": ("released", "reason"),
            f"{self.at}/counts/spreader": ("out", "back", "note"),
            "/api/wrenches/1": ("name", "length_mm", "due_on", "retired"),
        }
        plain = {
            ("PATCH", f"{said}/seen"): ("asked", "was", "now"),
            ("PATCH", f"{said}/left-on"): ("part", "was", "now"),
            ("PATCH", f"{said}/accepted"): ("step", "was", "now"),
            ("PUT", f"{said}/matched/primary/arms/mass"): ("place", "was", "now"),
            ("PUT", f"{said}/matched/primary/rollers/radius"): ("was", "now"),
            ("POST", f"{said}/fasteners/secondary/helix_screws/clock"): ("what",),
            ("POST", f"{said}/torques"): ("kind", "fastener", "tightness", "torque", "origin"),
            ("POST", f"{said}/torques/choose"): ("stated_id",),
            ("POST", f"{self.at}/break-in/heats/1/end"): ("temperature_c",),
            ("POST", f"{self.at}/counts"): ("name", "sort", "out", "note"),
            ("POST", "/api/wrenches"): ("name", "low", "high", "step", "ratio", "due_on"),
        }
        body: dict[str, Any]
        self.wrench()
        for _ in range(450):
            if dice.random() < 0.5:
                path, names = dice.choice(list(changes.items()))
                method = "PATCH"
                body = {name: {"was": dice.choice(strange), "now": dice.choice(strange)} for name in names}
                body = dict(dice.sample(list(body.items()), dice.randint(1, len(body))))
            else:
                (method, path), names = dice.choice(list(plain.items()))
                body = {name: dice.choice(strange) for name in names}
            answer = self.client.open(path, method=method, json=body)
            self.assertLess(answer.status_code, 500, (method, path, body, answer.text))
        for address in (self.at, "/api/floor", f"{self.at}/log?after=0", "/api/wrenches"):
            self.assertEqual(self.client.get(address).status_code, 200)
