"""The record tells what hands did: a decision is no fitting, a change opens what it needs, who did it stands by it."""

import re

from playwright.sync_api import expect

from tests.ui.cases.acts_case import ActsCase

SIDE_BY_SIDE, SPARE = 4, 10


class WhatHandsDid(ActsCase):
    def test_a_tune_of_loads_alone_without_a_tachometer(self):
        page = self.page
        self.at = SIDE_BY_SIDE
        held = self.visit(self.at)["kinds"]
        self.other_hand(self.at, "/kinds", primary_kind={"was": held["primary_kind"], "now": None})
        self.go("set-up")
        page.get_by_label("Tried, not yet recorded. Why this change?").fill("half a gram more at the tip")
        self.press("^Record as fitted$")
        self.wait_saved(self.at, lambda now: now["setup"]["draft"] == {})
        # Of which kind the clutch is, is asked at that moment: it never says that nothing has to go back.
        self.go("rebuild")
        expect(page.get_by_text("Of which kind is it?")).to_be_visible()
        page.get_by_label("Kind of primary").select_option(label="Loaded-arm primary")
        expect(page.locator("[data-steps]")).to_contain_text("Cover")
        keys = [step["key"] for step in self.visit(self.at)["rebuild"]["steps"]]
        self.assertEqual(keys, ["arms", "spring", "cover", "checks"])
        # The arms stayed on: one question, what is in every pocket.
        self.open(f"/visits/{self.at}/rebuild#primary.arms")
        panel = page.get_by_role("article")
        expect(panel.get_by_role("checkbox")).to_have_count(1)
        expect(panel).to_contain_text("In every one alike, as the set-up says")
        expect(panel.locator("[data-fastener]")).to_have_count(0)
        # What lies open is marked and looked at there and then, and nothing insists on it.
        stations = page.get_by_role("navigation", name="Stations")
        expect(stations.get_by_role("link", name="Strip & inspect")).to_be_visible()
        self.assertFalse([words for words in self.waits() if words.startswith("strip")])
        self.go("intake")
        self.choose("Tachometer", "No tachometer")
        self.wait_saved(self.at, lambda now: now["intake"]["no_tachometer"])
        self.assertFalse([words for words in self.waits() if words.startswith("road-test")])
        self.go("hand-over")
        expect(page.get_by_role("article")).to_contain_text("no tachometer")
        expect(page.get_by_role("article")).to_contain_text("half a gram more at the tip")

    def test_replace_is_not_renewed_until_a_hand_says_so_and_whose_hand(self):
        page = self.page
        self.at = SPARE
        look = f"/api/visits/{SPARE}/strip/items/primary/arm_bushing"
        read = self.client.put(f"{look}/reading", json={"place": 0, "was": 0.1, "now": 0.6})
        self.assertEqual(read.status_code, 200, read.text)
        self.other_hand(SPARE, "/strip/items/primary/arm_bushing", remedy={"was": "", "now": "bushings"})
        self.open(f"/visits/{SPARE}/hand-over")
        sheet = page.get_by_role("article")
        expect(sheet).to_contain_text("Arm bushings, primary: replace was decided; fitting not recorded")
        self.open(f"/visits/{SPARE}/rebuild#primary.arms")
        self.choose("Arm bushings: what was done", "Not done")
        self.choose("Arm bushings: why it was not done", "Not in stock")
        expect(page.get_by_text("The visit waits for it. To order: arm bushing ×3, FB-AB3.")).to_be_visible()
        self.wait_saved(SPARE, lambda now: any("waits for arm bushing ×3" in each["what"] for each in now["open"]))
        self.choose("Arm bushings: what was done", "New fitted")
        self.act(page.get_by_label("Arm bushings: from the shelf").get_by_role("radio", name=re.compile("^FB-AB3")))
        self.type("Price of all", "38")
        self.wait_saved(
            SPARE, lambda now: not any("arm bushing" in each["what"] for each in now["open"] if each["field"])
        )
        self.open(f"/visits/{SPARE}/rebuild#primary.cover")
        self.press("^Clicked at")
        expect(page.locator("[data-tightened=done]")).to_be_visible()
        page.get_by_text("Size and thread").click()
        page.get_by_label("Done by, where another hand did it").fill("Ebba")
        page.get_by_label("Done by, where another hand did it").press("Enter")
        self.wait_saved(
            SPARE,
            lambda now: any(f["done"]["did"] == "Ebba" for s in now["rebuild"]["steps"] for f in s["fasteners"]),
        )
        self.open(f"/visits/{SPARE}/hand-over")
        expect(sheet).to_contain_text("Arm bushings, primary: new fitted FB-AB3, 38.00")
        expect(sheet).to_contain_text("13.5 N·m · Ebba, written by bench,")
