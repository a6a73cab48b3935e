"""What a hand does at single stations, and what the screens promise everywhere."""

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase


class Connection(BrowserCase):
    sparing = False

    def test_what_is_typed_without_a_connection_is_kept_and_saved_later(self):
        page = self.page
        self.open("/visits/2/intake")
        complaint = page.get_by_label("Complaint, in the rider's words")
        expect(complaint).not_to_have_value("")
        page.context.set_offline(True)
        complaint.fill("typed in the cold shed")
        complaint.blur()
        expect(page.get_by_text("Kept here; not on the server yet.")).to_be_visible()
        page.context.set_offline(False)
        expect(page.get_by_text("Kept here; not on the server yet.")).to_be_hidden()
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "typed in the cold shed")
        self.faults = [fault for fault in self.faults if "INTERNET_DISCONNECTED" not in fault]
