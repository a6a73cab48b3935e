"""What a hand does at single stations, and what the screens promise everywhere."""

import re

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase


class Bench(BrowserCase):
    """Visit 4 of the demo: the side-by-side, half-way through. Each test leaves it as it likes."""

    def drop(self):
        """Put the bench back, as another hand."""
        body = {"draft": self.visit(4)["setup"]["draft"]}
        self.assertEqual(self.client.post("/api/visits/4/setup/drop", json=body).status_code, 200)

    def test_a_belt_kept_as_spare_is_replaced(self):
        page = self.page
        self.open("/visits/4/belt")
        page.get_by_role("textbox", name="Place 3").fill("31.9")
        page.get_by_role("textbox", name="Place 3").press("Enter")
        page.get_by_role("radio", name="Keep as spare").click()
        page.get_by_label("Reason", exact=True).fill("uneven")
        page.get_by_label("Width of the belt going on").fill("32.9")
        page.get_by_label("Width of the belt going on").press("Enter")
        self.wait_saved(4, lambda v: v["belt"]["next_width_mm"] == 32.9 and v["belt"]["reason"] == "uneven")
        count = len(self.visit(4)["open"])
        expect(page.get_by_role("button", name=f"{count} things open")).to_be_visible()
        visit = self.visit(4)
        self.assertEqual(visit["setup"]["drawing"]["belt_width_mm"], 32.9)
        # The machine leaves on the wider belt: it starts in a lower gear than it came in with.
        self.assertGreater(visit["left"]["belt"]["low_ratio"], visit["found"]["belt"]["low_ratio"])
        readout = page.get_by_label("Readout")
        expect(readout).to_contain_text(f"{visit['left']['belt']['low_ratio']:.2f}")

    def test_a_hole_pair_is_chosen_and_put_back(self):
        page = self.page
        self.drop()
        self.open("/visits/4/set-up")
        before = self.visit(4)["left"]["shift"]["mean_rpm"]
        page.get_by_label("holes").select_option(label="B–3, 100°")
        expect(page.get_by_text("found B–2, 80°")).to_be_visible()
        self.wait_saved(4, lambda v: v["left"]["shift"]["mean_rpm"] > before + 20)
        page.get_by_role("button", name="Put back").click()
        expect(page.get_by_text("found B–2, 80°")).to_be_hidden()
        self.wait_saved(4, lambda v: v["left"]["shift"]["mean_rpm"] == before)

    def test_recording_without_a_reason_is_refused(self):
        self.refusals = {422}
        self.drop()
        self.other_hand(4, "/setup/slots", which="left", numbers={"shim_mm": {"was": 0, "now": 0.4}})
        self.open("/visits/4/set-up")
        self.page.get_by_role("button", name="Record as fitted").click()
        expect(self.page.get_by_role("alert")).to_contain_text("a change is recorded with its reason")

    def test_what_one_step_does_stands_under_each_slot(self):
        self.open("/visits/2/set-up")
        steps = self.client.get("/api/visits/2/setup/steps").json["steps"]
        arm = next(step for step in steps if step["key"] == "arm_mass_g")
        shown = "/".join(f"{arm[name]:+,.0f}".replace("-", "−") for name in ("bite_rpm", "mean_rpm"))
        expect(self.page.locator("[data-step='arm_mass_g'] [aria-hidden]")).to_have_text(shown)

    def test_a_simulated_pull_is_shown_as_found_and_as_left(self):
        self.open("/visits/2/set-up")
        self.page.get_by_role("tab", name="Pull").click()
        strip = self.client.get("/api/visits/2/setup/strip").json
        figures = self.page.locator("[data-figure='400 m'] .reading")
        found, left = (f"{strip[which]['to_400_m_s']:.2f}" for which in ("found", "left"))
        expect(figures).to_have_text(re.compile(rf"as found {found}\s+as left {left}"))

    def test_something_else_found_fitted_is_put_right(self):
        page = self.page
        self.open("/visits/4/intake")
        confirm = page.locator("main").get_by_role("button", name=re.compile("fitted|matches"))
        expect(confirm).to_have_text("Looked at: this is fitted")
        page.get_by_label("pocket 1").fill("2")
        page.get_by_label("pocket 1").press("Enter")
        expect(confirm).to_have_text("This is what is fitted")
        confirm.click()
        expect(confirm).to_have_text("Looked at: this is fitted")
        machine = self.visit(4)["machine"]["id"]
        newest = self.client.get(f"/api/machines/{machine}").json["setups"]["revisions"][0]
        self.assertIn("found fitted at intake", newest["reason"])
        self.assertEqual([(c["label"], c["left"]) for c in newest["changes"]], [("pocket 1", 2)])

    def test_a_kind_of_clutch_brings_its_slots(self):
        page = self.page
        self.open("/visits/4/intake")
        shim = page.get_by_label("spider", exact=True)
        expect(shim).to_be_visible()
        page.get_by_label("Kind of primary").select_option(label="Loaded-arm primary")
        expect(shim).to_be_hidden()
        expect(page.get_by_label("pocket 1")).to_be_visible()
        page.get_by_label("Kind of primary").select_option(label="kind not stated")
        expect(shim).to_be_visible()

    def test_a_run_is_taken_back(self):
        page = self.page
        self.open("/visits/2/road-test")
        page.get_by_role("button", name="Begin a run").click()
        page.get_by_label("Shift", exact=True).fill("7,870")
        page.get_by_label("Shift", exact=True).press("Enter")
        expect(page.locator("[data-miss='Shift']")).to_have_count(2)
        page.get_by_role("button", name="Take back run 1").click()
        expect(page.locator("[data-miss='Shift']")).to_have_count(1)
        self.wait_saved(2, lambda v: v["runs"] == [])

    def test_fractions_and_inches(self):
        self.open("/visits/2/belt")
        place = self.page.get_by_role("textbox", name="Place 3")
        place.fill("1 25/64 in")
        place.press("Enter")
        expect(place).to_have_value("35.32")
        self.assertAlmostEqual(self.visit(2)["belt"]["widths_mm"]["3"], (1 + 25 / 64) * 25.4)
