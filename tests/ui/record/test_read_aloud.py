"""Everything is in reach: in one view, by key, read aloud, at any size, with words of any length, and on paper."""

import re
from math import floor

from playwright.sync_api import expect

from tests.ui.cases.reach_case import Sized


class ReadAloud(Sized):
    def test_groups_regions_and_values_are_named(self):
        page = self.page
        self.open("/visits/2/intake")
        for group in ("Baseline, untouched", "Target engagement", "Target shift"):
            expect(page.get_by_role("group", name=group, exact=True)).to_be_visible()
        self.open("/visits/2/set-up")
        slider = page.get_by_role("slider", name="Point of the shift")
        expect(slider).to_have_attribute("aria-valuetext", re.compile(r"\d mm of travel, [\d,]+ rpm, ratio \d"))
        page.get_by_label("each of 3").fill("58")
        page.get_by_label("each of 3").press("Enter")
        self.wait_saved(2, lambda v: v["setup"]["draft"] == {"arm_mass_g": 58})
        shift = f"{floor(self.visit(2)['left']['shift']['mean_rpm'] + 0.5):,}"  # halves up, as a page rounds
        expect(page.locator("[data-said]")).to_contain_text(f"shift {shift} rpm")
        self.client.post("/api/visits/2/setup/drop", json={"draft": {"arm_mass_g": 58}})
        page.get_by_role("button", name="as a table").click()
        table = page.get_by_role("dialog", name="From idle to full shift, place by place")
        nodes = self.client.get("/api/visits/2/setup/picture").json["left"]["nodes"]
        expect(table.get_by_role("row")).to_have_count(len(nodes) + 1)
        self.open("/visits/4/intake")
        page.wait_for_load_state("networkidle")  # the station stands, and the bar under it is drawn no more
        page.get_by_role("button", name="things open").click()
        expect(page.get_by_role("dialog", name="Open things")).to_be_visible()
