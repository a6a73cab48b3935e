"""What a hand does at single stations, and what the screens promise everywhere."""

from playwright.sync_api import expect

from jaxel.core.formats.setup.setup import read_setup
from tests.ui.browser import BrowserCase


class Machine(BrowserCase):
    def test_setups_show_what_changed_and_the_miss(self):
        self.open("/machines/1")
        rows = self.page.get_by_role("row")
        expect(rows.nth(1)).to_contain_text("Arms, each of 3: 60 → 59")
        expect(rows.nth(1)).to_contain_text("not measured")
        ((measured, miss),) = (
            (each["measured_rpm"], each["miss_rpm"])
            for each in self.client.get("/api/machines/1").json["setups"]["revisions"][1]["measured"]
            if each["figure"] == "Shift"
        )
        expect(rows.nth(2)).to_contain_text(f"{measured:,.0f} ({miss:+,.0f})")

    def test_a_setup_is_saved_as_a_document(self):
        self.open("/machines/1")
        with self.page.expect_download() as waiting:
            self.page.get_by_label("Save set-up").first.click()
        document = read_setup(waiting.value.path().read_bytes())
        self.assertEqual(document.primary.weights.base_mass_g, 59)

    def test_unknown_places_say_so(self):
        self.refusals = {404}
        for path, words in (("/machines/77", "no such machine"), ("/visits/77/belt", "no such visit")):
            self.open(path)
            expect(self.page.get_by_text(words)).to_be_visible()
