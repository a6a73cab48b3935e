"""Nothing is silently wrong: what is typed is understood as it was meant, asked about, or refused in plain words."""

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase


class Asked(BrowserCase):
    def setUp(self):
        super().setUp()
        self.refusals = {422}

    def enter(self, field, text: str) -> None:
        """Type and press Enter in one go: on a machine that is busy the pause after typing would ask first, and Enter
        would answer."""
        expect(field).to_be_editable()
        field.evaluate(
            """(field, text) => {
              field.focus()
              field.select()
              document.execCommand('insertText', false, text)
              field.dispatchEvent(new KeyboardEvent('keydown', {key: 'Enter', bubbles: true, cancelable: true}))
            }""",
            text,
        )

    def test_a_helix_stamp_is_no_fraction(self):
        self.open("/visits/2/set-up")
        helix = self.page.get_by_role("group", name="Helix")
        self.enter(helix.get_by_label("angle"), "44/36")
        expect(self.page.get_by_role("alert")).to_contain_text("reads as a progressive helix")
        self.assertEqual(self.visit(2)["setup"]["draft"], {})
        helix.get_by_label("angle").press("Enter")
        expect(helix.get_by_label("at 0 mm")).to_have_value("44")
        expect(helix.get_by_label("at 32 mm")).to_have_value("36")
        self.assertEqual(self.visit(2)["setup"]["draft"], {"helix_deg.0": 44, "helix_deg.1": 36})
        self.client.post("/api/visits/2/setup/drop", json={"draft": self.visit(2)["setup"]["draft"]})

    def test_a_point_that_groups_thousands(self):
        self.open("/visits/2/intake")
        shift = self.page.get_by_role("group", name="Baseline, untouched").get_by_label("Shift")
        self.enter(shift, "7.810")
        expect(self.page.get_by_role("alert")).to_contain_text("7.81 rpm is no speed an engine shifts at")
        expect(self.page.get_by_role("button", name="7,810 rpm")).to_be_visible()
        expect(shift).to_be_focused()
        self.page.keyboard.press("Enter")
        self.wait_saved(2, lambda v: v["intake"]["baseline_shift_rpm"] == 7810)
        expect(shift).to_have_value("7810")

    def test_a_belt_no_clutch_could_drive_is_stood_by_or_dropped(self):
        self.open("/visits/2/belt")
        place = self.page.get_by_role("textbox", name="Place 2")
        before = self.visit(2)["belt"]["widths_mm"]["2"]
        self.enter(place, "12")
        expect(self.page.get_by_role("alert")).to_contain_text("24.5 mm narrower than a new belt")
        expect(self.page.get_by_text("% worn")).to_be_hidden()
        place.press("Enter")
        self.page.wait_for_timeout(200)
        expect(self.page.get_by_role("alert")).to_contain_text("24.5 mm narrower than a new belt")
        self.page.get_by_role("button", name="Drop it").click()
        expect(place).to_have_value(f"{before:g}")
        self.enter(place, "33")
        self.page.get_by_role("button", name="Keep 33").click()
        self.wait_saved(2, lambda v: v["belt"]["widths_mm"]["2"] == 33)
        self.enter(place, f"{before:g}")

    def test_arms_of_five_grams(self):
        self.open("/visits/2/set-up")
        arms = self.page.get_by_label("each of 3")
        self.enter(arms, "5")
        expect(self.page.get_by_role("alert")).to_contain_text("5 g is far from the 59 g that stood here")
        arms.press("Escape")
        expect(arms).to_have_value("59")
        self.enter(arms, "5.8")
        expect(self.page.get_by_role("button", name="58 g")).to_be_visible()
        arms.press("Enter")
        self.wait_saved(2, lambda v: v["setup"]["draft"] == {"arm_mass_g": 58})
        self.client.post("/api/visits/2/setup/drop", json={"draft": {"arm_mass_g": 58}})

    def test_an_engagement_above_the_shift(self):
        held = self.visit(4)["intake"]
        self.other_intake(4, "target_shift_rpm", 6500)
        self.open("/visits/4/intake")
        target = self.page.get_by_role("group", name="Target engagement")
        self.enter(target.get_by_label("Engagement"), "6990")
        expect(self.page.get_by_role("alert")).to_contain_text("puts the engagement, 6,990 rpm, above the shift")
        expect(self.page.get_by_role("button", name="engagement 6,500, shift 6,990 rpm")).to_be_visible()
        target.get_by_label("Engagement").press("Enter")
        self.wait_saved(
            4, lambda v: (v["intake"]["target_engagement_rpm"], v["intake"]["target_shift_rpm"]) == (6500, 6990)
        )
        for name in ("target_engagement_rpm", "target_shift_rpm"):
            self.other_intake(4, name, held[name])

    def test_an_odometer_that_runs_backwards_was_read_in_miles(self):
        self.open("/visits/2/intake")
        odometer = self.page.get_by_label("Odometer")
        self.enter(odometer, "700")
        expect(self.page.get_by_role("alert")).to_contain_text("less than at the last visit, 820 km")
        expect(self.page.get_by_role("button", name="700 mi, which is 1,127 km")).to_be_visible()
        odometer.press("Enter")
        expect(odometer).to_have_value("1126.54")

    def test_as_it_is_typed_at_a_bench(self):
        self.open("/visits/2/intake")
        for label, text, shown in (
            ("Odometer", "2 435", "2435"),
            ("Odometer", "2.435,5", "2435.5"),
            ("Temperature", "14 deg F", "-10"),
        ):
            self.enter(self.page.get_by_label(label), text)
            expect(self.page.get_by_label(label)).to_have_value(shown)
        self.open("/visits/2/set-up")
        spring = self.page.get_by_role("group", name="Primary spring")
        self.enter(spring.get_by_label("start"), "150lbs")
        expect(spring.get_by_label("start")).to_have_value("667.23")
        self.enter(self.page.get_by_label("each of 3"), "58.5 58.4 58.6")
        expect(self.page.get_by_label("each of 3")).to_have_value("58.5")
        self.client.post("/api/visits/2/setup/drop", json={"draft": self.visit(2)["setup"]["draft"]})

    def test_no_technical_words(self):
        self.open("/visits/2/intake")
        odometer = self.page.get_by_label("Odometer")
        self.enter(odometer, "1e6 km")
        expect(self.page.get_by_role("alert")).to_contain_text("Not saved: ")
        self.enter(odometer, "9 999 999")
        expect(self.page.get_by_role("alert")).to_contain_text("must be at most 1,000,000")
        odometer.press("Escape")
        expect(self.page.get_by_role("alert")).to_be_hidden()
