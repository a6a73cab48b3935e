"""Belt, strip and inspect on screen: a cocked arm, a belt's forecast, a belt that broke, cups on both flanks."""

import re

from playwright.sync_api import expect

from tests.ui.cases.belt_and_strip_case import MOUNTAIN, OnScreen


class Broken(OnScreen):
    def test_a_belt_that_broke_and_out_of_the_door_without_an_rpm(self):
        page = self.page
        visit = self.client.post("/api/machines/2/visits", json={"scope": "belt"}).json["id"]
        self.open(f"/visits/{visit}/intake")
        page.get_by_label("Complaint").fill("Belt broke on the lake, rode home on the rim of it.")
        page.get_by_label("Odometer", exact=True).fill("3390")
        page.get_by_label("Odometer", exact=True).press("Enter")
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Belt").click()
        self.pick("Belt without a width", "In pieces")
        expect(page.get_by_role("textbox", name="Place 1")).to_have_count(0)
        page.get_by_label("How it failed").select_option("burnt")
        self.pick("pieces of the belt, counted against the whole", "Some missing")
        for search in ("ducts cleared of cord", "both clutches cleared of cord",
                       "seals behind both clutches searched for cord", "faces felt for burrs"):  # fmt: skip
            self.pick(search, "Clear")
        self.pick("Cause of the failure", "Not looked for")
        self.pick("Belt decision", "Discard")
        self.pick("New, or used elsewhere", "New")
        page.get_by_label("Number on it, or none").fill("FB-BELT")
        page.get_by_label("Width of the belt going on").fill("35")
        page.get_by_label("Width of the belt going on").press("Enter")
        self.belt_back_on("By its arrow or lettering")
        self.wait_saved(visit, lambda held: {each["station"] for each in held["open"]} == {"hand-over"})
        self.accessible()
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Hand-over").click()
        expect(page.get_by_role("article")).to_contain_text(
            "in pieces, burnt through at one place · pieces of the belt, counted against the whole: some"
        )
        self.pick("Break-in", "To be done by the rider")
        expect(page.get_by_role("article")).to_contain_text("no full throttle")
        self.close_up()
        page.get_by_label("Technician").fill("Ebba")
        page.get_by_role("button", name="Sign off").click()
        expect(page.get_by_text("Signed off by Ebba,")).to_be_visible()
        states = {belt["number"]: belt["state"] for belt in self.client.get("/api/machines/2").json["belts"]}
        self.assertEqual((states[2], states[3]), ("discarded", "fitted"))


class Cups(OnScreen):
    def test_cups_on_both_flanks_prove_a_belt_held_still(self):
        page = self.page
        self.open(f"/visits/{MOUNTAIN}/belt")
        page.get_by_text("Mark what the eye found").click()
        picture = page.get_by_role("img", name=re.compile("Where the belt is measured"))
        for flank in ("inner", "outer"):
            box = picture.bounding_box()
            picture.click(position={"x": box["width"] * 0.5, "y": box["height"] * 0.87})  # once it holds still
            expect(page.locator("[data-pointed]")).to_be_visible()
            self.choose("On", flank)
            page.get_by_role("button", name="Mark it").click()
            expect(page.locator("[data-pointed]")).to_have_count(0)
        expect(page.locator("[data-mark=cup]")).to_have_count(2)
        expect(page.locator("[data-pattern]")).to_contain_text("held still while a sheave turned")
        causes = {cause["key"]: cause["chance"] for cause in self.visit(MOUNTAIN)["strip"]["causes"]}
        self.assertGreater(causes["held_still"], 0.4)
        self.accessible()
        page.get_by_role("button", name=re.compile("Take back: Cup")).first.click()
        expect(page.locator("[data-pattern]")).to_have_count(0)
