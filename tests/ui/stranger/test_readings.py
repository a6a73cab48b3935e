"""Nothing is silently wrong: what is typed is understood as it was meant, asked about, or refused in plain words."""

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase


class Readings(BrowserCase):
    """An instrument types a reading and Enter, with no pause between the keys."""

    def reads(self, text: str) -> None:
        self.page.keyboard.type(text)
        self.page.keyboard.press("Enter")

    def test_a_reading_presses_no_button(self):
        self.open("/visits/2/road-test")
        button = self.page.get_by_role("button", name="Begin a run")
        before = len(self.visit(2)["runs"])
        button.focus()
        self.reads("35.4")
        expect(self.page.get_by_role("status").get_by_text("A reading of 35.4 came in")).to_be_visible()
        self.page.wait_for_timeout(300)
        self.assertEqual(len(self.visit(2)["runs"]), before)
        button.press("Enter")
        self.wait_saved(2, lambda v: len(v["runs"]) == before + 1)

    def test_a_reading_turns_no_list(self):
        self.open("/visits/4/set-up")
        holes = self.page.get_by_label("holes")
        held = holes.input_value()
        holes.focus()
        self.reads("1.4")
        expect(self.page.get_by_role("status").get_by_text("A reading of 1.4 came in")).to_be_visible()
        expect(holes).to_have_value(held)

    def test_enter_leads_past_what_is_filled_and_out_of_the_set_up(self):
        self.open("/visits/2/intake")
        before = self.visit(2)["setup"]
        baseline = self.page.get_by_role("group", name="Baseline, untouched")
        for name in ("Engagement", "Shift"):
            baseline.get_by_label(name).fill("")
            baseline.get_by_label(name).blur()
        self.wait_saved(2, lambda v: v["intake"]["baseline_shift_rpm"] is None)
        baseline.get_by_label("Engagement").focus()
        self.reads("3990")
        expect(baseline.get_by_label("Shift")).to_be_focused()
        self.reads("7710")
        self.wait_saved(2, lambda v: v["intake"]["baseline_shift_rpm"] == 7710)
        expect(baseline.get_by_label("Shift")).not_to_be_focused()
        self.reads("35.4")
        self.page.wait_for_timeout(900)
        self.assertEqual(self.visit(2)["setup"]["found_slots"], before["found_slots"])

    def test_what_is_filled_is_overwritten_only_when_asked(self):
        self.open("/visits/2/belt")
        place = self.page.get_by_role("textbox", name="Place 1")
        held = place.input_value()
        self.page.get_by_role("textbox", name="Place 3").focus()
        self.page.keyboard.press("Shift+Tab")
        self.page.keyboard.press("Shift+Tab")
        expect(place).to_be_focused()
        self.bursts("35.1")
        expect(self.page.get_by_role("alert")).to_contain_text(f"{held} mm stands here already")
        self.assertEqual(self.visit(2)["belt"]["widths_mm"]["1"], float(held))
        self.page.get_by_role("button", name="Drop it").click()
        expect(place).to_have_value(held)
        place.focus()
        place.select_text()
        self.bursts("35.1")
        place.press("Enter")
        self.wait_saved(2, lambda v: v["belt"]["widths_mm"]["1"] == 35.1)

    def test_a_reading_put_in_anothers_place_is_judged_all_the_same(self):
        self.refusals = {422}
        self.open("/visits/2/belt")
        place = self.page.get_by_role("textbox", name="Place 1")
        held = self.visit(2)["belt"]["widths_mm"]["1"]
        place.focus()
        place.select_text()
        self.bursts("12.5")
        place.press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text("24 mm narrower than a new belt")
        self.assertEqual(self.visit(2)["belt"]["widths_mm"]["1"], held)
        place.press("Escape")

    def test_the_last_reading_leads_to_the_decision(self):
        self.open("/visits/4/belt")
        expect(self.page.get_by_role("textbox", name="Place 3")).to_be_focused()
        self.reads("31.9")
        self.wait_saved(4, lambda v: v["belt"]["widths_mm"].get("3") == 31.9)
        expect(self.page.get_by_role("radio", name="Run on")).to_be_focused()
