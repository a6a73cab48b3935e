"""The set-up bench and the parts room over HTTP: what is shown is the core's, and nonsense is refused by its field."""

import random

from tests.web.cases.set_up_bench_case import Case


class PartsRoom(Case):
    def test_a_spec_is_said_whole_and_never_over_another_hands(self):
        spring = next(p for p in self.sent("GET", "/api/parts")["parts"] if p["number"] == "PS-1")
        now = spring["cells"] | {"force_start_n": "140 lbf"}
        at = f"/api/parts/{spring['id']}/spec"
        view = self.sent("PATCH", at, {"was": spring["cells"], "now": now})
        held = next(p for p in view["parts"] if p["number"] == "PS-1")
        self.assertAlmostEqual(held["spec"]["force_start_n"], 140 * 4.4482216152605)
        self.assertRegex(held["figures"]["words"], r"622\.8 / 1,390 N")
        answer = self.client.patch(at, json={"was": spring["cells"], "now": now | {"force_start_n": "600"}})
        self.assertEqual(answer.status_code, 409)
        for cells, field in (({"force_start_n": "lots"}, "force_start_n"), ({"colour": "red"}, "colour"),
                             ({"force_start_n": "600"}, "force_finish_n")):  # fmt: skip
            answer = self.client.patch(at, json={"was": held["cells"], "now": cells})
            self.assertEqual((answer.status_code, answer.json["error"]["field"]), (422, field))
        plain = self.sent("POST", "/api/parts", {"number": "BT", "kind": "button"}, 201)["parts"]
        button = next(p["id"] for p in plain if p["number"] == "BT")
        answer = self.client.patch(f"/api/parts/{button}/spec", json={"was": {}, "now": {}})
        self.refused(answer, 422, "kind", "does not change a set-up")

    def test_sheet_out_is_sheet_in(self):
        answer = self.client.get("/api/parts.csv")
        self.assertEqual(answer.mimetype, "text/csv")
        report = self.taken_in(answer.text)["report"]
        self.assertEqual((report["added"], report["changed"], report["alike"], report["refused"]), (0, 0, 5, []))

    def test_a_sheet_of_a_million_rows_is_turned_away(self):
        text = "number,kind\n" + "N,button\n" * 1_000_000
        answer = self.client.post("/api/sheets", json={"text": text})
        self.refused(answer, 413, "document", "larger than")
        refused = self.taken_in("number,kind\n" + "N,button\n" * 50_000)["refused"]
        self.assertEqual(refused["field"], "sheet")
        self.assertIn("more than 5,000 rows", refused["reason"])

    def test_lives_have_an_address_of_their_own(self):
        self.assertEqual(self.sent("GET", "/api/lasted"), {"lasted": []})

    def test_nonsense_is_refused_and_never_fatal(self):
        dice = random.Random(11)
        part = self.parts["PS-1"]
        odd = [
            None,
            True,
            -1,
            0,
            1e308,
            "",
            "é" * 30,
            "½",
            "1/0",
            "nan",
            [],
            {},
            {"was": 1},
            "../..",
            "arms",
            999,
            "0:0",
        ]

        def value():
            return dice.choice(odd)

        for _ in range(300):
            method, path, body = dice.choice((
                ("POST", f"{self.at}/setup/fill", {"fills": [{"slot": value(), "part": value(), "numbers": {}}],
                                                   "draft": {}, "whole": value()}),
                ("POST", f"{self.at}/setup/fill", {"fills": [{"slot": "arms", "numbers": {"arm_mass_g": value()}}],
                                                   "draft": {}}),
                ("POST", f"{self.at}/setup/preview", {"fills": [{"slot": value(), "part": part}], "numbers": {}}),
                ("POST", f"{self.at}/setup/plan", {"may": [value()]}),
                ("POST", f"{self.at}/setup/what-if", {"elevation_m": value(), "rolling_radius_mm": value(),
                                                      "drive_ratio": value(), "power_pct": value()}),
                ("PATCH", f"/api/parts/{part}/spec", {"was": {}, "now": {"force_start_n": value()}}),
                ("PATCH", f"/api/parts/{part}/pieces", {"was": value(), "now": value()}),
                ("PATCH", f"/api/parts/{part}", {dice.choice(("fits", "place", "kind")): {"was": "", "now": value()}}),
                ("POST", "/api/sheets", {"text": value()}),
                ("GET", f"{self.at}/setup/altitude?slot={value()}", None),
            ))  # fmt: skip
            answer = self.client.open(path, method=method, json=body)
            self.assertLess(answer.status_code, 500, (method, path, body, answer.text))
        self.assertEqual(self.client.get(self.at).status_code, 200)
