"""Belt, strip and inspect on screen: a cocked arm, a belt's forecast, a belt that broke, cups on both flanks."""

import re

from playwright.sync_api import expect

from tests.ui.cases.belt_and_strip_case import TOURING, OnScreen


class Around(OnScreen):
    """The guide, the parts and what is due."""

    def test_the_guide_finds_chooses_and_takes_the_manuals_limit(self):
        page = self.page
        self.open("/guide")
        page.get_by_label("Find in all of it").fill("needle cages")
        expect(page.locator("[data-found]").first).to_contain_text("Adjustable-cam primary")
        page.get_by_label("Find in all of it").fill("")
        self.pick("Abrasive", "1000 paper")
        self.accessible()
        page.reload()
        expect(page.get_by_label("Abrasive", exact=True).get_by_role("radio", name="1000 paper")).to_have_attribute(
            "data-state", "on"
        )
        page.get_by_role("link", name=re.compile("Tower-and-button primary")).click()
        self.choose("Item", "pivot_bolt")
        page.get_by_label("Limit, mm").fill("0.2")
        # A limit is one machine's, or of every one of a make and model, by the manual that says so.
        expect(page.get_by_role("button", name="State it")).to_be_disabled()
        page.get_by_label("Make and model").fill("Skelgarth 600")
        page.get_by_label("Which manual says so").fill("Skelgarth manual, 2023")
        page.get_by_role("button", name="State it").click()
        expect(page.locator("[data-limit=pivot_bolt]")).to_contain_text("0.2 mm")
        self.accessible()
        machine = self.visit(TOURING)["machine"]["id"]
        said = {"model": {"was": "", "now": "Skelgarth 600"}}
        self.assertEqual(self.client.patch(f"/api/machines/{machine}/said", json=said).status_code, 200)
        self.open(f"/visits/{TOURING}/strip#primary_pivot_bolt")
        expect(page.get_by_role("article")).to_contain_text("0.2 mm, every Skelgarth 600: Skelgarth manual, 2023")
        self.open("/guide/tower-and-button-primary")
        page.locator("[data-limit=pivot_bolt]").get_by_role("button", name="Withdraw").click()
        expect(page.locator("[data-limit=pivot_bolt]")).to_have_count(0)

    def test_parts_are_typed_and_refused_where_they_stand(self):
        page = self.page
        self.open("/parts")
        page.get_by_label("New part number").fill("FB-WASH")
        self.choose("Of", "roller thrust washer")
        page.get_by_role("button", name="Add it").click()
        row = page.locator("[data-part='FB-WASH']")
        row.get_by_label("Price of a pack").fill("9.50")
        row.get_by_label("Pieces a pack").fill("6")
        row.get_by_label("Pieces a pack").press("Tab")
        self.accessible()
        self.refusals = {422}
        row.get_by_label("Price of a pack").fill("cheap")
        row.get_by_label("Price of a pack").press("Tab")
        expect(row.get_by_role("alert")).to_be_visible()
        held = next(each for each in self.client.get("/api/parts").json["parts"] if each["number"] == "FB-WASH")
        self.assertEqual((held["price"], held["pack"]), (9.5, 6))

    def test_what_is_due_stands_on_the_floor_in_order(self):
        self.open("/")
        due = self.page.locator("[data-due]")
        expect(due.first).to_contain_text("due now")
        told = self.client.get("/api/due?limit=6").json["due"]
        self.assertEqual(due.count(), len(told))
        days = [each["on"] or "9999" for each in told]
        self.assertEqual(days, sorted(days))
