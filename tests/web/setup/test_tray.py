"""The set-up bench and the parts room over HTTP: what is shown is the core's, and nonsense is refused by its field."""

from tests.web.cases.set_up_bench_case import Case


class Tray(Case):
    def test_the_shelf_says_what_goes_where_and_why_not(self):
        self.sent("POST", "/api/parts", {"number": "VR", "kind": "variator roller"}, 201)
        part = self.sent("GET", "/api/parts")["parts"]
        roller = next(each for each in part if each["number"] == "VR")
        cells = {"was": roller["cells"], "now": {"base_mass_g": "17", "cg_mm": ""}}
        self.sent("PATCH", f"/api/parts/{roller['id']}/spec", cells)
        self.sent("PATCH", f"/api/parts/{roller['id']}", {"fits": {"was": "", "now": "roller-variator-primary"}})
        self.send("PATCH", "/kinds", primary_kind="shimmed-spider-primary")
        found = self.sent("GET", f"{self.at}/setup/shelf")
        arms = {each["number"]: each for each in next(s for s in found["slots"] if s["slot"] == "arms")["parts"]}
        self.assertEqual((arms["A-57"]["pieces"], arms["A-57"]["words"], arms["A-57"]["refused"]),
                         (6, "57 / 57.1 / 56.9 g", ""))  # fmt: skip
        self.assertNotIn("VR", arms)  # a roller is never offered to an arm's slot
        self.assertEqual([each["number"] for each in found["kits"]], ["KT-1"])

    def test_a_part_its_record_and_its_undoing(self):
        view = self.fill(("arms", self.parts["A-57"]))
        slot = next(each for each in view["setup"]["slots"] if each["name"] == "Arms")
        self.assertEqual(slot["parts"][0]["stock"], "A-57")
        self.send("PATCH", "/setup/reason", was="", now="lighter")
        self.visit = self.client.get(self.at).json
        self.send("POST", "/setup/record", reason="lighter")
        pieces = {each["number"]: each["pieces"] for each in self.sent("GET", "/api/parts")["parts"]}
        self.assertEqual(pieces["A-57"], 3)
        self.sent("POST", f"{self.at}/undo", {"edit": self.visit["last_change"]["edit"]})
        pieces = {each["number"]: each["pieces"] for each in self.sent("GET", "/api/parts")["parts"]}
        self.assertEqual(pieces["A-57"], 6)

    def test_the_log_names_the_part(self):
        view = self.fill(("primary_spring", self.parts["PS-1"]))
        lines = view["last_change"]["lines"]
        self.assertEqual([(line["what"], line["now"]) for line in lines], [("Primary spring, from the shelf", "PS-1")])

    def test_a_kit_shows_each_members_share_of_the_whole(self):
        before = self.visit["left"]["shift"]["mean_rpm"]
        after = self.fill(("kit", self.parts["KT-1"]))["left"]["shift"]["mean_rpm"]
        shares = self.sent("GET", f"{self.at}/setup/shares")["shares"]
        self.assertEqual({each["name"] for each in shares}, {"Arms", "Primary spring"})
        self.assertAlmostEqual(sum(each["shift_rpm"] for each in shares), after - before, delta=2)
        self.fill(("kit", None), ("arms", None), ("primary_spring", None))
        self.assertEqual(self.sent("GET", f"{self.at}/setup/shares")["shares"], [])

    def test_what_is_gone_or_elsewhere_is_refused(self):
        gone = {"fills": [{"slot": "arms", "part": 999}], "draft": {}}
        self.refused(self.client.post(f"{self.at}/setup/fill", json=gone), 422, "part", "no longer on the shelf")
        body = {"fills": [{"slot": "arms", "part": self.parts["A-57"]}], "draft": {"shim_mm": 1.0}}
        self.refused(self.client.post(f"{self.at}/setup/fill", json=body), 409, "slots", "changed elsewhere")
