"""A visit driven as a person would, with the numbers on the screen checked against the core."""

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase


class SlowServer(BrowserCase):
    sparing = False

    def test_typing_on_while_it_saves_is_no_conflict_with_oneself(self):
        def slowly(route):
            if route.request.method == "PATCH":
                self.page.wait_for_timeout(600)
            route.continue_()

        self.open("/visits/2/intake")
        self.page.wait_for_load_state("networkidle")
        self.page.route("**/api/visits/2/intake", slowly)
        complaint = self.page.get_by_label("Complaint, in the rider's words")
        complaint.fill("bogs")
        self.page.wait_for_timeout(900)
        complaint.press("End")
        complaint.type(", and lazy at the top")
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "bogs, and lazy at the top")
        expect(self.page.get_by_text("Changed elsewhere")).to_be_hidden()

    def test_a_page_that_breaks_says_so_and_offers_the_way_back(self):
        broken = {"machines": [{}], "total": 1, "unfinished": False}
        self.page.route("**/api/floor*", lambda route: route.fulfill(json=broken))
        self.open("/")
        expect(self.page.get_by_role("heading", name="This page has broken")).to_be_visible()
        self.page.unroute("**/api/floor*")
        self.page.get_by_role("link", name="Open it again").click()
        expect(self.page.get_by_role("heading", name="In the building")).to_be_visible()
        self.assertTrue(self.faults)  # what broke stands on the console
        self.faults = []
