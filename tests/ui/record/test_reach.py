"""A visit driven as a person would, with the numbers on the screen checked against the core."""

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase


class Reach(BrowserCase):
    def test_open_things_are_named_and_lead_to_their_station(self):
        self.open("/visits/2/intake")
        count = len(self.visit(2)["open"])
        self.page.get_by_role("button", name=f"{count} things open").click()
        self.page.get_by_role("link", name="measured shift rpm on the set-up as left").click()
        expect(self.page.get_by_role("button", name="Begin a run on the set-up as left")).to_be_visible()

    def test_shop_floor_finds_by_complaint(self):
        self.open("/")
        self.page.get_by_label("Find a machine").fill("trailer")
        expect(self.page.get_by_role("link", name="Skelwath")).to_be_visible()
        expect(self.page.get_by_role("link", name="Tarnhowe")).to_have_count(0)

    def test_nothing_overflows_on_a_tablet_in_the_dark(self):
        page = self.page = self.new_page(viewport={"width": 820, "height": 1180}, color_scheme="dark")
        for path in (
            "/",
            "/machines/1",
            *(f"/visits/2/{s}" for s in ("intake", "belt", "set-up", "road-test", "hand-over")),
        ):
            self.open(path)
            page.wait_for_load_state("networkidle")
            with self.subTest(path):
                self.assertEqual(page.evaluate("document.documentElement.dataset.theme"), "dark")
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 820)

    def test_targets_are_large_enough_for_gloves(self):
        self.open("/visits/2/belt")
        for target in self.page.locator("main button, main input, nav a").all():
            box = target.bounding_box()
            self.assertGreaterEqual(box["height"], 40, target.inner_text())
