"""Everything is in reach: in one view, by key, read aloud, at any size, with words of any length, and on paper."""

import re

from playwright.sync_api import Page, expect

from tests.ui.browser import BrowserCase

STATIONS = ("intake", "belt", "set-up", "road-test", "hand-over")
TITLES = {
    "/": "Shop floor · Jaxel",
    "/bring-in": "Bring in · Jaxel",
    "/machines/1": "Tarnhowe 840 mountain sled · Jaxel",
    "/workshop": "Workshop · Jaxel",
    **{
        f"/visits/2/{station}": f"{station.capitalize().replace('Road-', 'Road ')} · Tarnhowe 840 mountain sled · Jaxel"
        for station in STATIONS
    },
    "/visits/9/strip": "Strip & inspect · Skelgarth 600 touring sled · Jaxel",
    "/belts/1": "Belt 1 · Tarnhowe 840 mountain sled · Jaxel",
    "/guide": "Bench guide · Jaxel",
    "/guide/roller-variator-primary": "Roller variator primary · Bench guide · Jaxel",
    "/parts": "Parts · Jaxel",
    "/visits/1/hand-over": "Hand-over · Tarnhowe 840 mountain sled · Jaxel",
}
PAGES = tuple(TITLES)
DESK, TABLET, KEYBOARD_UP, PHONE, ZOOMED = (1280, 800), (820, 1180), (820, 760), (390, 844), (640, 400)


class Sized(BrowserCase):
    def setUp(self):
        super().setUp()
        self.count(self.page)

    def at(self, size: tuple[int, int], **options) -> None:
        self.page = self.new_page(viewport={"width": size[0], "height": size[1]}, **options)
        self.count(self.page)

    def count(self, page: Page) -> None:
        """Keep count of what the page has asked for and not been answered."""
        self.asked = 0

        def more(_: object) -> None:
            self.asked += 1

        def less(_: object) -> None:
            self.asked -= 1

        page.on("request", more)
        page.on("requestfinished", less)
        page.on("requestfailed", less)

    def settle(self) -> None:
        """Until everything that was asked for has come and been drawn."""
        expect(self.page.locator("main")).to_be_visible()
        expect(self.page.locator("main").get_by_text(re.compile("Opening|Drawing|working…"))).to_have_count(0)
        quiet = 0
        for _ in range(100):
            self.page.wait_for_timeout(40)
            quiet = quiet + 1 if self.asked == 0 else 0
            if quiet == 3:
                return
