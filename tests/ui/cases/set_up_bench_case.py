"""The set-up bench and the parts room in the browser: dragged, swapped by key, asked, undone, printed, taken in."""

import re

from playwright.sync_api import expect

from tests.ui import checks
from tests.ui.browser import BrowserCase

SLED = 2
"""The demo's mountain sled, on its bench."""


class Case(BrowserCase):
    def tearDown(self):
        draft = self.visit(SLED)["setup"]["draft"]
        if draft:
            self.client.post(f"/api/visits/{SLED}/setup/drop", json={"draft": draft})
        super().tearDown()

    def bench(self):
        self.open(f"/visits/{SLED}/set-up")
        expect(self.page.locator("[data-answer='1']")).to_be_visible()
        expect(self.page.locator("[data-curve='left']")).to_be_visible()
        expect(self.page.locator("button[data-shelf]")).to_be_visible()  # its key works from then on

    def picture(self):
        return self.page.get_by_role("img", name=re.compile("^Clutches to scale"))

    def ratio(self):
        return float(re.search(r"ratio ([\d.]+)", self.picture().get_attribute("aria-label"))[1])

    def draft(self):
        return self.visit(SLED)["setup"]["draft"]

    def part(self, number):
        return next(each for each in self.client.get("/api/parts").json["parts"] if each["number"] == number)

    def accessible(self):
        for check in (checks.violations, checks.sideways, checks.small_words, checks.small_targets):
            with self.subTest(check.__name__):
                self.assertEqual(check(self.page), [])
