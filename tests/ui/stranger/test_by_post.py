"""A clutch comes by post: only its half is asked, its label claims nothing, it is judged, and mounted later."""

import re

from playwright.sync_api import expect

from tests.ui.cases.belt_and_strip_case import OnScreen


class ByPost(OnScreen):
    def test_brought_in_labelled_judged_and_mounted(self):
        page = self.page
        self.open("/workshop")
        page.get_by_label("What an hour costs").fill("80")
        page.get_by_label("What an hour costs").blur()
        self.open("/bring-in")
        page.get_by_role("button", name="a bare clutch").click()
        page.get_by_role("radio", name="Sled").first.click()
        page.get_by_role("radio", name=re.compile("Tower-and-button")).first.click()
        lines = page.locator("main")
        expect(lines).to_contain_text("Weights, weighed")
        expect(lines).not_to_contain_text("Centre distance")
        page.get_by_label("What is wrong with it, in their words").fill("Posted in: is it worth it?")
        page.get_by_label("Name").fill("Post K7")
        self.accessible()
        page.get_by_role("button", name="Open the visit").click()
        page.wait_for_url(re.compile("/visits/[0-9]+/intake"))
        visit = int(re.search(r"visits/(\d+)", page.url)[1])
        # Nothing of a machine, a belt or the other half is asked.
        asked = page.locator("main")
        for words in ("Odometer", "Riding", "Helix", "Altitude", "Kind of secondary"):
            expect(asked).not_to_contain_text(words)
        expect(page.locator("section.strip")).to_contain_text("a typical other half")
        machine = self.visit(visit)["machine"]["id"]
        self.open(f"/visits/{visit}/strip")
        page.get_by_role("radio", name="Cover off").click()
        expect(page.locator("[data-items]")).to_contain_text("Primary spring")
        self.assertNotIn("bolt", [each["key"] for each in self.visit(visit)["rebuild"]["steps"]])
        self.other_hand(visit, "/strip/items/primary/primary_spring",
                        looked={"was": "", "now": "removed"}, grade={"was": "", "now": "broken"})  # fmt: skip
        self.open(f"/visits/{visit}/strip#primary_primary_spring")
        worth = page.locator("[data-worth]").first
        expect(worth).to_contain_text(re.compile("Repair: parts .*15 min at 80.00 an hour"))
        worth.get_by_label("A used one costs").fill("40")
        worth.get_by_label("A used one costs").press("Enter")
        expect(worth).to_contain_text("A used one: 40.00")
        self.accessible()
        worth.get_by_role("button", name="Return it: not worth it").click()
        expect(page.get_by_label("Why")).to_have_value(re.compile("returned, not worth it. Repair: "))
        page.get_by_label("Closed by").fill("Ebba")
        page.get_by_role("button", name="Looked at").click()  # another hand had graded the spring
        page.get_by_role("button", name="Close: returned").click()
        expect(page.get_by_text("Closed unrepaired by Ebba").first).to_be_visible()
        sheet = page.get_by_role("article").first
        expect(sheet).to_contain_text("Returned")
        expect(sheet).to_contain_text("with a typical other half, belt and machine: none of them was here")
        expect(sheet).not_to_contain_text("Used at")
        # What nobody measured is not known, and its label says so.
        label = self.client.get(f"/api/machines/{machine}").json["label"]
        self.assertIn("Arms: not known", label)
        self.assertIn("Primary spring: not known", label)
        self.mounted_later(machine)

    def mounted_later(self, clutch: int) -> None:
        page = self.page
        floor = self.client.get("/api/floor?limit=200").json["machines"]
        sled = next(each["machine"] for each in floor if each["machine"]["kind"] == "sled" and each["visit"] is None)
        self.open(f"/machines/{clutch}")
        page.get_by_label("Mount this primary on").select_option(str(sled["id"]))
        page.get_by_role("radio", name="Lies here as a bare clutch").click()
        self.accessible()
        page.get_by_role("button", name="Mount it").click()
        link = page.locator("[data-mounted]")
        expect(link).to_contain_text(sled["name"])
        expect(link).to_contain_text("until now")
        link.get_by_role("link", name=sled["name"]).click()
        expect(page.locator("[data-mounted]")).to_contain_text("Post K7, primary")
        expect(page.get_by_text("Post K7 mounted, primary").first).to_be_visible()
        self.accessible()
