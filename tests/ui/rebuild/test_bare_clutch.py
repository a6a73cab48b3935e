"""Back together on screen: four mistakes caught on the way, lined up, broken in across a reload, handed over."""

import re
from functools import partial

from playwright.sync_api import expect

from tests.ui.cases.back_together_case import SPARE, TOURING, BackTogether, done


class OnTheBench(BackTogether):
    """A spare clutch that came without its machine is rebuilt and handed over."""

    at = SPARE

    def test_a_bare_clutch_goes_back_together(self):
        page = self.page
        self.step("primary.arms")
        self.typed("C", "48.0")
        expect(page.locator("[data-spread]")).to_contain_text("All alike")
        page.get_by_label("Left so because").fill("lighter set, the set-up follows")
        for place in ("primary.arms", "primary.spring", "primary.cover", "primary.checks"):
            self.step(place)
            for box in page.get_by_role("article").get_by_role("checkbox").all():
                if "did not come off" not in box.inner_text().lower() and box.get_attribute("aria-checked") != "true":
                    box.click()
            for button in page.get_by_role("button", name=re.compile("^Clicked at|^Seen: ")).all():
                button.click()
            self.wait_saved(self.at, partial(done, place=place))
        self.assertFalse([each for each in self.visit(self.at)["open"] if each["station"] == "rebuild"])
        states = {each["station"]: each["state"] for each in self.visit(self.at)["stations"]}
        self.assertEqual((states["rebuild"], "line-up" in states, "belt" in states), ("done", False, False))
        self.open(f"/visits/{self.at}/hand-over")
        waiting = [each for each in self.visit(self.at)["close"]["counts"] if each["back"] is None]
        for each in waiting:  # what was tightened and seen going back is not counted again
            page.get_by_role("button", name=f"All {each['out']} back: {each['name']}", exact=True).click()
        self.wait_saved(self.at, lambda visit: visit["close"]["missing"] == {})
        sheet = page.get_by_role("article")
        expect(sheet).to_contain_text("Cover bolts ×6, primary: 13.5 N·m")
        expect(sheet).to_contain_text("18 of 18 fasteners and small parts")
        expect(page.get_by_label("Guard and duct are back on")).to_have_count(0)

    def test_in_one_view_and_on_a_phone(self):
        page = self.page
        self.step("primary.cover")
        self.assertEqual(page.evaluate("document.documentElement.scrollHeight"), 800)
        for what in ("[data-steps]", "[data-follows]", "[data-wanted]", "[data-fastener] button"):
            box = page.locator(what).first.bounding_box()
            self.assertLessEqual(box["y"] + box["height"], 728, what)
        for size in ((820, 1180), (390, 844)):
            page.set_viewport_size({"width": size[0], "height": size[1]})
            for path in ("rebuild#primary.cover", "hand-over"):
                self.open(f"/visits/{self.at}/{path}")
                expect(page.locator("[data-steps], [data-counts]").first).to_be_visible()
                self.accessible()
        self.open(f"/visits/{TOURING}/line-up")
        expect(page.locator("[data-plan]")).to_be_visible()
        self.accessible()
        self.open("/workshop")
        long = page.locator("[data-wrench='Long click']")
        expect(long).to_contain_text("overdue for checking since 2026-09-30")
        self.accessible()
        long.get_by_label("To be checked on").fill("2099-09-30")  # back from its checking
        expect(long).not_to_contain_text("overdue")
        page.get_by_role("button", name="Retire Long click").click()
        expect(page.get_by_role("button", name="Bring back Long click")).to_be_visible()
        expect(page.get_by_label("Name of the workshop")).to_have_value("Fellside Clutch Bench")
