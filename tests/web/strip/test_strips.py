"""Belt, strip, guide, parts and dues over HTTP: what is shown is the core's, and nonsense is refused by its field."""

import csv
import io
import random
from typing import Any

from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.strip.diagnosis import network_of
from jaxel.core.trade.strip.rings import felt
from jaxel.store.db import connect
from jaxel.store.visit import visits
from tests.store.cases.any_machine_case import picture
from tests.web.cases.belt_and_strip_case import Case


class Strips(Case):
    def test_a_reading_in_any_unit_decides(self):
        view = self.read("primary", "arm_bushing", 0, "0.02 in")
        found = self.item(view, "arm_bushing")
        self.assertAlmostEqual(found["readings"][0], 0.508)
        limit = {"value": 0.4, "origin": "this machine's manual", "own": True}
        self.assertEqual((found["finding"], found["limit"]), ("replace", limit))

    def test_sentences_are_in_the_hands_units(self):
        units = self.client.get("/api/workshop").json
        self.sent("PATCH", "/api/workshop/units", {"was": units["units"], "now": units["presets"][1]["units"]})
        found = self.item(self.read("primary", "arm_bushing", 1, "0.6 mm"), "arm_bushing")
        self.assertEqual(
            found["sentences"][0], "B: 0.024 in is 0.008 in past the limit 0.016 in, this machine's manual."
        )

    def test_what_is_ordered_is_what_was_chosen(self):
        for number, kind, price, pack in (("AB", "arm bushing", 20.0, 2), ("ARM", "arm", 62.0, 1)):
            part = self.sent("POST", "/api/parts", {"number": number, "kind": kind}, 201)["parts"]
            chosen = next(each["id"] for each in part if each["number"] == number)
            body = {"price": {"was": None, "now": price}, "pack": {"was": 1, "now": pack}}
            self.sent("PATCH", f"/api/parts/{chosen}", body)
        self.read("primary", "arm_bushing", 0, 0.6)
        view = self.say("primary", "arm_bushing", looked="removed")
        self.assertEqual(view["strip"]["parts"], [])  # two ways, none chosen
        press, arms = self.item(view, "arm_bushing")["alternatives"]
        self.assertEqual((press["now"], press["lacks"]), (None, ["arm bushing driver"]))
        self.assertEqual((arms["now"], arms["lines"][0]["packs"]), (186.0, 3))
        view = self.say("primary", "arm_bushing", remedy="bushings")
        (line,) = view["strip"]["parts"]
        self.assertEqual((line["pieces"], line["packs"], line["left_over"], line["price"]), (3, 2, 1, 40.0))
        rows = list(csv.reader(io.StringIO(self.client.get(f"{self.at}/strip/parts.csv").text)))
        self.assertEqual(rows[0], ["# jaxel-order 1"])
        self.assertEqual(rows[2], ["arm bushing", "AB", "", "3", "2", "2", "40.00", "", ""])

    def test_the_workshops_school_comes_first_and_is_named(self):
        self.sent("PATCH", "/api/guide/school", {"question": "worn_bushing", "was": "both", "now": "arm"})
        self.sent("PATCH", "/api/guide/school", {"question": "abrasive", "was": "pad", "now": "fine"})
        found = self.item(self.read("primary", "arm_bushing", 0, 0.6), "arm_bushing")
        self.assertEqual([each["key"] for each in found["alternatives"]], ["arms", "bushings"])
        body = {"place": 0, "was": None, "now": 3}
        view = self.sent("PUT", f"{self.at}/strip/items/primary/moving_face/ring", body)
        dress = self.item(view, "moving_face")["alternatives"][0]
        self.assertEqual(dress["name"], "Dress the face: 1000 paper, cross-hatch")

    def test_what_was_said_of_another_kind_of_clutch_opens_still(self):
        self.read("primary", "arm_bushing", 0, 0.6)
        self.say("primary", "arm_roller", looked="removed", grade="stiff because new")
        self.send("PATCH", "/kinds", primary_kind="adjustable-cam-primary")
        self.assertEqual([each["side"] for each in self.visit["strip"]["items"]], [])
        self.say("primary", "primary_spring", looked="removed", grade="rusty")
        answer = self.send("PATCH", "/kinds", secondary_kind="floating-secondary")
        self.assertEqual(answer.status_code, 200, answer.text)
        self.say("secondary", "secondary_moving_face", looked="assembled", grade="glazed")
        for kind in ("nut-retained-torque-spring-secondary", "jackshaft-roller-secondary", "bolt-in-helix-secondary"):
            self.assertEqual(self.send("PATCH", "/kinds", secondary_kind=kind).status_code, 200)

    def test_where_a_groove_is_felt_is_the_models(self):
        with connect(self.app.config["DATABASE"]) as db:
            run = predict(visits.get(db, self.visit["id"]).as_found().core())
        shown = self.client.get(f"{self.at}/strip/felt").json
        for side in ("primary", "secondary"):
            for mine, theirs in zip(shown[side], felt(run, side), strict=True):
                self.assertAlmostEqual(mine["kph_to"], theirs.kph_to)

    def test_causes_move_and_nothing_is_explained_while_nothing_is_amiss(self):
        self.assertEqual(self.visit["strip"]["causes"], [])
        view = self.sent("PATCH", f"{self.at}/intake", {"symptoms": {"was": [], "now": ["bog"]}})
        before = {each["key"]: each["chance"] for each in view["strip"]["causes"]}
        self.read("primary", "arm_bushing", 0, 0.6)
        view = self.say("primary", "arm_bushing", grade="cocked")
        first = view["strip"]["causes"][0]
        self.assertEqual((first["key"], [each["what"] for each in first["steps"]]),
                         ("cocked_arm", ["Bogs at take-off or on a climb", "Arm bushings"]))  # fmt: skip
        self.assertGreater(first["chance"], 2 * before["cocked_arm"])
        for picked in (["nothing"], ["bog", "bog"]):
            answer = self.client.patch(f"{self.at}/intake", json={"symptoms": {"was": ["bog"], "now": picked}})
            self.refused(answer, 422, "symptoms", "no symptom|twice")

    def test_what_it_came_to_is_kept_and_counted(self):
        view = self.sent("PATCH", f"{self.at}/intake", {"symptoms": {"was": [], "now": ["rattle"]}})
        first, second = (each["key"] for each in view["strip"]["causes"][:2])
        self.assertEqual(view["strip"]["first_ranked"], {"told": 0, "first": 0})
        view = self.sent("POST", f"{self.at}/strip/outcome", {"cause": first, "outcome": "was not"})
        self.assertEqual((view["strip"]["causes"][0]["outcome"], view["strip"]["first_ranked"]),
                         ("was not", {"told": 1, "first": 0}))  # fmt: skip
        self.assertIn("was not", str(view["last_change"]))
        view = self.sent("POST", f"{self.at}/strip/outcome", {"cause": second, "outcome": "was it"})
        self.assertEqual(view["strip"]["first_ranked"], {"told": 1, "first": 0})
        self.sent("POST", f"{self.at}/strip/outcome", {"cause": second, "outcome": None})
        view = self.sent("POST", f"{self.at}/strip/outcome", {"cause": first, "outcome": "was it"})
        self.assertEqual(view["strip"]["first_ranked"], {"told": 1, "first": 1})
        view = self.sent("POST", f"{self.at}/undo", {"edit": view["last_change"]["edit"]})
        self.assertEqual(view["strip"]["causes"][0]["outcome"], "was not")
        for wrong in ("steam", "slide_guides"):
            answer = self.client.post(f"{self.at}/strip/outcome", json={"cause": wrong, "outcome": "was it"})
            self.refused(answer, 422, "cause", "is not ranked here")

    def test_no_complaint_ranks_nothing(self):
        self.read("primary", "arm_bushing", 0, 0.6)
        view = self.say("primary", "arm_bushing", grade="cocked")
        self.assertNotEqual(view["strip"]["causes"], [])
        view = self.sent("PATCH", f"{self.at}/intake", {"complaint": {"was": view["intake"]["complaint"],
                                                                      "now": "None, routine"}})  # fmt: skip
        self.assertEqual((view["strip"]["causes"], view["strip"]["telling"]), ([], []))

    def test_the_next_check_is_of_this_complaints_causes(self):
        view = self.sent("PATCH", f"{self.at}/intake", {"symptoms": {"was": [], "now": ["over_rev"]}})
        told = network_of(Kinds(view["kinds"]["primary_kind"], view["kinds"]["secondary_kind"])).shown_by(["over_rev"])
        self.assertTrue({each["key"] for each in view["strip"]["telling"]} <= told)

    def test_range_at_walking_pace_is_evidence(self):
        view = self.sent("PATCH", f"{self.at}/intake", {"symptoms": {"was": [], "now": ["hot", "eats_belts"]},
                                                        "walking_range": {"was": "", "now": "high"}})  # fmt: skip
        steps = view["strip"]["causes"][0]["steps"]
        self.assertIn("high range at walking pace", [each["what"] for each in steps])

    def test_a_photo_is_of_the_item_of_this_machine(self):
        path = f"/api/machines/{self.machine}/photos"
        query = f"?visit_id={self.visit['id']}&subject=primary.arm_bushing"
        answer = self.client.post(path + query, data=picture(), content_type="image/jpeg")
        self.assertEqual(answer.status_code, 201, answer.text)
        photos = self.client.get(f"{self.at}/photos").json["photos"]
        self.assertEqual(list(photos), ["primary.arm_bushing"])
        self.assertEqual(self.client.post(f"{path}?visit_id=99&subject=x", data=picture(),
                                          content_type="image/jpeg").status_code, 404)  # fmt: skip
        answer = self.client.post(path + query, data=b"not a picture", content_type="image/jpeg")
        self.refused(answer, 422, "photo", "no photo")

    def test_nonsense_is_refused_by_its_field(self):
        at = f"{self.at}/strip"
        for method, path, body, field in (
            ("PATCH", at, {"depth": {"was": None, "now": "half way"}}, "depth"),
            ("PATCH", f"{at}/items/primary/nothing", {"grade": {"was": "", "now": "snug"}}, "item"),
            ("PATCH", f"{at}/items/left/arm_bushing", {"grade": {"was": "", "now": "snug"}}, "side"),
            ("PATCH", f"{at}/items/primary/arm_bushing", {"looked": {"was": "", "now": "smelled"}}, "looked"),
            ("PUT", f"{at}/items/primary/arm_bushing/reading", {"place": 0, "now": "far"}, "now"),
            ("PUT", f"{at}/items/primary/arm_bushing/reading", {"place": 3, "now": 1}, "place"),
            ("PUT", f"{at}/items/primary/arm_bushing/ring", {"place": 0, "now": 1}, "primary_arm_bushing_0"),
            ("PATCH", f"{at}/marked", {"part": "primary.nothing", "was": False, "now": True}, "marked"),
            ("PUT", f"{self.at}/belt/reading", {"place": 13, "now": 36}, "place"),
            ("POST", f"{self.at}/belt/marks", {"kind": "cup", "place": 1.0, "flank": "both"}, "place"),
            ("POST", f"{self.at}/belt/marks", {"kind": "cup", "place": 0.5, "flank": "top"}, "flank"),
            ("PATCH", f"{self.at}/belt", {"side_gap_mm": {"was": None, "now": 99}}, "side_gap_mm"),
            ("PATCH", "/api/belts/1", {"bought_on": {"was": "", "now": "2026-02-30"}}, "bought_on"),
            ("POST", "/api/guide/kinds/steam/limits", {"item": "x", "value": 1, "origin": "manual"}, "item"),
            ("PATCH", "/api/tools", {"name": "hammer"}, "name"),
        ):
            with self.subTest(path=path, body=body):
                answer = self.client.open(path, method=method, json=body)
                self.assertEqual(answer.status_code, 422, answer.text)
                self.assertTrue(answer.json["error"]["field"].startswith(field), answer.text)

    def test_whatever_is_sent_is_never_5xx(self):
        dice = random.Random(7)
        strange = [None, "", "x" * 600, -1, 1e308, "1e400", True, [], {}, "\x00", "٣", [None], {"was": 1}, "½ in", 3]
        changes = {
            "/strip": ("depth", "spring_note"),
            "/strip/items/primary/arm_bushing": ("looked", "grade", "overruled", "remedy", "note"),
            "/belt": ("no_width", "failure", "pieces", "side_gap_mm", "ride_mm", "direction"),
            "/intake": ("symptoms", "walking_range"),
        }
        plain = {
            ("PATCH", "/strip/marked"): ("part", "was", "now"),
            ("PUT", "/strip/items/primary/arm_bushing/reading"): ("place", "was", "now"),
            ("PUT", "/strip/items/primary/moving_face/ring"): ("place", "was", "now"),
            ("POST", "/belt/marks"): ("kind", "place", "flank", "length_mm"),
            ("POST", "/belt/substitute"): ("width_mm", "round_mm"),
        }
        body: dict[str, Any]
        for _ in range(400):
            if dice.random() < 0.5:
                path, names = dice.choice(list(changes.items()))
                method = "PATCH"
                body = {name: {"was": dice.choice(strange), "now": dice.choice(strange)} for name in names}
            else:
                (method, path), names = dice.choice(list(plain.items()))
                body = {name: dice.choice(strange) for name in names}
            answer = self.client.open(self.at + path, method=method, json=body)
            self.assertLess(answer.status_code, 500, (path, body, answer.text))
        self.assertEqual(self.client.get(self.at).status_code, 200)
