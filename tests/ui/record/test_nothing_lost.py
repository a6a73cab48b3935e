"""A visit driven as a person would, with the numbers on the screen checked against the core."""

import json
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from tests.examples import changed, example
from tests.ui.browser import BrowserCase


class NothingLost(BrowserCase):
    """Visit 2 of the demo: the mountain sled that waits for its road test."""

    sparing = False

    def complaint(self):
        return self.page.get_by_label("Complaint, in the rider's words")

    def test_a_reload_loses_nothing(self):
        self.open("/visits/2/intake")
        self.complaint().fill("typed and reloaded at once")
        self.page.reload()
        expect(self.complaint()).to_have_value("typed and reloaded at once")
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "typed and reloaded at once")

    def test_a_refused_width_stays_with_its_reason(self):
        self.refusals = {422}
        self.open("/visits/2/belt")
        place = self.page.get_by_role("textbox", name="Place 2")
        before = self.visit(2)["belt"]["widths_mm"]["2"]
        place.fill("39.9")
        place.press("Enter")
        alert = self.page.get_by_role("alert")
        expect(alert).to_contain_text("more than 1 mm wider than the new belt")
        expect(place).to_have_value("39.9")
        self.assertEqual(self.visit(2)["belt"]["widths_mm"]["2"], before)
        self.page.reload()
        expect(place).to_have_value("39.9")
        expect(alert).to_contain_text("wider than the new belt")
        place.fill("35.5")
        place.press("Enter")
        expect(alert).to_be_hidden()

    def test_unequal_arms_and_text_are_refused_at_the_field(self):
        self.refusals = {422}
        self.open("/visits/2/set-up")
        arms = self.page.get_by_label("each of 3")
        for typed, reason in (
            ("59 / 59.6 / 59", "the arms are unequal"),
            ("heavy", "is not a number"),
            ("0", "far from the 59 g"),
        ):
            arms.fill(typed)
            arms.press("Enter")
            expect(self.page.get_by_role("alert")).to_contain_text(reason)
        arms.fill("59")
        arms.press("Enter")
        expect(self.page.get_by_role("alert")).to_be_hidden()
        self.assertEqual(self.visit(2)["setup"]["draft"], {})

    def test_an_edit_made_elsewhere_is_shown_not_overwritten(self):
        self.refusals = {409}
        self.open("/visits/2/intake")
        expect(self.complaint()).not_to_have_value("")
        self.other_intake(2, "complaint", "from the tablet")
        self.complaint().fill("from the bench")
        expect(self.page.get_by_text("Changed elsewhere to from the tablet.")).to_be_visible()
        self.assertEqual(self.visit(2)["intake"]["complaint"], "from the tablet")
        self.page.get_by_role("button", name="Keep mine").click()
        expect(self.page.get_by_text("Changed elsewhere")).to_be_hidden()
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "from the bench")

        # A change made elsewhere in another field does not get in the way.
        self.other_intake(2, "odometer_km", 2312)
        self.complaint().fill("from the bench again")
        expect(self.page.get_by_label("Odometer")).to_have_value("2312")
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "from the bench again")

    def test_text_left_unsaved_does_not_overwrite_what_came_after(self):
        page = self.page
        self.refusals = {409}
        self.open("/visits/4/intake")
        expect(self.complaint()).not_to_have_value("")
        page.context.set_offline(True)
        self.complaint().fill("left in the field")
        self.complaint().blur()
        expect(page.get_by_text("Kept here; not on the server yet.")).to_be_visible()
        page.close()
        self.other_intake(4, "complaint", "came after")
        page.context.set_offline(False)
        self.page = page.context.new_page()
        self.open("/visits/4/intake")
        expect(self.page.get_by_text("Changed elsewhere to came after.")).to_be_visible()
        expect(self.complaint()).to_have_value("left in the field")
        self.page.get_by_role("button", name="Take it").click()
        expect(self.complaint()).to_have_value("came after")
        self.faults = [fault for fault in self.faults if "INTERNET_DISCONNECTED" not in fault]

    def test_a_file_too_large_to_be_read_is_refused_in_words(self):
        self.refusals = {413}
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "large.json"
            path.write_text('{"name": "' + "x" * 1_200_000 + '"}')
            self.open("/")
            self.page.get_by_role("link", name="Bring in a machine").click()
            self.page.get_by_role("button", name="from a file").click()
            self.page.get_by_label("Setup document").set_input_files(path)
            self.page.get_by_role("button", name="Bring it in").click()
            expect(self.page.get_by_role("alert")).to_contain_text("document: is larger than 1,000 kB")

    def test_a_malformed_document_is_refused(self):
        self.refusals = {422}
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bad.json"
            path.write_text(json.dumps(changed(example("trail-sled"), "belt.top_width_mm", 44)))
            self.open("/")
            self.page.get_by_role("link", name="Bring in a machine").click()
            self.page.get_by_role("button", name="from a file").click()
            self.page.get_by_label("Setup document").set_input_files(path)
            self.page.get_by_role("button", name="Bring it in").click()
            expect(self.page.get_by_role("alert")).to_contain_text("belt.top_width_mm")
        self.assertEqual(len(self.client.get("/api/floor").json["machines"]), 6)
