"""A kit from a box with a spring that has a paint stripe and no numbers: fitted, asked, and told as such."""

from playwright.sync_api import expect

from tests.ui.cases.belt_and_strip_case import OnScreen

VISIT = 2
KIT = {"members": "KS-STRIPE; B-77", "sheet": "the middle hole", "starts": "", "omits": "cover bushing",
       "not_used": "the six short bolts", "decal": "on the guard"}  # fmt: skip


class FromABox(OnScreen):
    def entered(self, number: str, kind: str, **cells: str) -> None:
        answer = self.client.post("/api/parts", json={"number": number, "kind": kind})
        part = next(each for each in answer.json["parts"] if each["number"] == number)
        if cells:
            was = part["cells"]
            said = self.client.patch(f"/api/parts/{part['id']}/spec", json={"was": was, "now": {**was, **cells}})
            self.assertEqual(said.status_code, 200, said.text)

    def test_fitted_though_nobody_knows_its_figures(self):
        page = self.page
        self.entered("KS-STRIPE", "primary spring", mark="paint stripe, no numbers")
        self.entered("B-77", "belt")
        self.entered("BOX-1", "kit", **KIT)
        self.open(f"/visits/{VISIT}/set-up")
        before = next(each for each in self.visit(VISIT)["setup"]["slots"] if each["name"] == "Primary spring")
        page.locator("[data-shelf]").click()
        option = page.locator("[data-part='BOX-1']")
        expect(option).to_contain_text("also B-77, belt")
        option.click()
        page.locator("[data-kits]").click()
        notes = page.get_by_label("Kits", exact=True)
        expect(notes).to_contain_text("BOX-1 begins with: the middle hole")
        expect(notes).to_contain_text("Not to be used of BOX-1: the six short bolts")
        self.accessible()
        page.keyboard.press("Escape")
        page.get_by_label("Tried, not yet recorded. Why this change?").fill("the kit, as its sheet says")
        page.get_by_role("button", name="Record as fitted").click()
        self.wait_saved(VISIT, lambda visit: visit["setup"]["draft"] == {} and visit["setup"]["kits"] != [])
        after = next(each for each in self.visit(VISIT)["setup"]["slots"] if each["name"] == "Primary spring")
        self.assertEqual([each["left"] for each in after["numbers"]], [each["left"] for each in before["numbers"]])
        self.assertEqual(after["parts"][0]["origin"], "unknown")
        asked = [ask["words"] for step in self.visit(VISIT)["rebuild"]["steps"] for ask in step["asks"]]
        self.assertIn("Stop: left out, as the sheet of BOX-1 says: the six short bolts.", asked)
        self.open(f"/visits/{VISIT}/hand-over")
        sheet = page.get_by_role("article").first
        expect(sheet).to_contain_text("paint stripe, no numbers, not measured: its figures stay typical")
        expect(sheet).to_contain_text("Kit BOX-1: KS-STRIPE; B-77, belt")
        self.accessible()
