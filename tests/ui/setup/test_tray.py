"""The set-up bench and the parts room in the browser: dragged, swapped by key, asked, undone, printed, taken in."""

from math import floor

from playwright.sync_api import expect

from tests.ui.cases.set_up_bench_case import SLED, Case


class Tray(Case):
    def test_a_spring_is_swapped_by_key_and_stepped_by_key(self):
        self.bench()
        page = self.page
        key = page.locator("[data-curve='left']").get_attribute("data-key")
        page.keyboard.press("p")
        page.locator("[data-part='FB-PS60']").press("Enter")
        self.wait_saved(SLED, lambda v: v["setup"]["draft"].get("part.primary_spring") == self.part("FB-PS60")["id"])
        expect(page.get_by_label("start").first).to_have_value("740")
        expect(page.locator("[data-curve='left']")).not_to_have_attribute("data-key", key)
        page.get_by_label("start").first.press("ArrowUp")
        expect(page.get_by_label("start").first).to_have_value("790")
        self.wait_saved(SLED, lambda v: v["setup"]["draft"].get("primary_start_n") == 790)
        self.accessible()

    def test_a_kit_shows_each_members_share(self):
        self.bench()
        self.page.keyboard.press("p")
        self.page.locator("[data-part='FB-KT1']").click()
        shares = self.page.locator("[data-shares] li")
        expect(shares).to_have_count(3)
        told = self.client.get(f"/api/visits/{SLED}/setup/shares").json["shares"]
        for share in told:
            rounded = [floor(share[name] + 0.5) for name in ("engagement_rpm", "shift_rpm")]
            figure = "/".join(f"{each:+,}" for each in rounded).replace("-", "−")
            expect(self.page.locator("[data-shares]")).to_contain_text(f"{share['name']} {figure}")

    def test_a_part_for_another_clutch_is_not_offered_and_one_that_is_gone_is_refused(self):
        self.bench()
        page = self.page
        page.locator("button[data-shelf]").click()
        expect(page.locator("[data-part='FB-VR17']")).to_have_count(0)  # a roller is offered to no arm's slot
        part = self.part("FB-PS68")
        page.locator("[data-part='FB-PS68']").click()
        self.wait_saved(SLED, lambda v: "part.primary_spring" in v["setup"]["draft"])
        # Another hand takes the last one meanwhile.
        at = f"/api/parts/{part['id']}/pieces"
        self.assertEqual(self.client.patch(at, json={"was": 1, "now": 0}).status_code, 200)
        page.get_by_label("Why this change?").fill("a stiffer start")
        self.refusals = {422}
        page.get_by_role("button", name="Record as fitted").click()
        expect(page.get_by_role("alert")).to_contain_text("FB-PS68: 1 needed, 0 on the shelf: another hand took it")
        self.client.patch(at, json={"was": 0, "now": 1})
