"""Nothing typed, chosen or pressed is lost: a server that comes and goes, refusals, another hand."""

from playwright.sync_api import expect

from tests.ui.cases.never_lost_case import Lost


class Together(Lost):
    """Another hand, and oneself on another page."""

    def test_a_reload_right_after_enter_is_no_conflict(self):
        self.open("/visits/2/intake")
        odometer = self.page.get_by_label("Odometer")
        for wait in (0, 20, 45):
            reading = str(2411 + wait)
            odometer.fill(reading)
            odometer.press("Enter")
            self.page.wait_for_timeout(wait)
            self.page.reload()
            expect(odometer).to_have_value(reading)
            self.wait_saved(2, lambda v: v["intake"]["odometer_km"] == 2411 + wait)  # noqa: B023
        expect(self.page.get_by_text("Changed elsewhere")).to_be_hidden()

    def test_a_choice_over_another_hands_is_asked(self):
        self.refusals = {409}
        page = self.page
        self.open("/visits/4/belt")
        expect(page.get_by_role("radio", name="Discard")).to_be_visible()
        held = self.visit(4)["belt"]["decision"]
        self.other_hand(4, "/belt", decision={"was": held, "now": "spare"})
        page.get_by_role("radio", name="Discard").click()
        expect(page.get_by_text("Changed elsewhere to Keep as spare")).to_be_visible()
        page.get_by_role("radio", name="Discard").click()
        self.assertEqual(self.visit(4)["belt"]["decision"], "spare")
        page.get_by_role("button", name="Keep mine").click()
        self.wait_saved(4, lambda v: v["belt"]["decision"] == "discard")

    def test_a_sign_off_is_of_what_was_seen(self):
        page = self.page
        self.ride(2, engagement_rpm=4150, shift_rpm=7880)
        self.counted_in(2)
        self.open("/visits/2/hand-over")
        page.get_by_label("Technician").fill("Tove")
        self.other_intake(2, "odometer_km", 3333)
        self.refusals = {409}
        page.get_by_role("button", name="Sign off", exact=True).click()
        # The Undo button comes to name the same change as soon as the page looks again.
        changes = page.get_by_role("listitem").filter(has_text="odometer: ")
        expect(changes).to_contain_text("3,333 km")
        self.assertIsNone(self.visit(2)["signed_off_at"])
        page.get_by_role("button", name="Looked at").click()
        expect(page.get_by_label("Technician")).to_have_value("Tove")
        page.get_by_role("button", name="Sign off", exact=True).click()
        expect(page.get_by_text("Signed off by Tove, ")).to_be_visible()
        expect(page.get_by_role("button", name="Print this page")).to_be_focused()
