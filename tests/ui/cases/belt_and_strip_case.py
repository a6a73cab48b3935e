"""Belt, strip and inspect on screen: a cocked arm, a belt's forecast, a belt that broke, cups on both flanks."""

import re

from playwright.sync_api import expect

from tests.ui import checks
from tests.ui.browser import BrowserCase

TOURING, MOUNTAIN = 9, 2


class OnScreen(BrowserCase):
    def pick(self, group: str, choice: str) -> None:
        """Press one of a choice's buttons."""
        self.page.get_by_label(group, exact=True).get_by_role("radio", name=choice, exact=True).click()

    def choose(self, label: str, value: str) -> None:
        """Choose of a list by the words its label begins with."""
        self.page.locator("label", has_text=re.compile(f"^{label}")).locator("select").select_option(value)

    def take(self, item: str) -> None:
        """Take an item of the strip in hand, by its name in the list."""
        self.page.locator("[data-items]").get_by_role("button", name=item).click()
        expect(self.page.get_by_role("article")).to_contain_text(item)

    def accessible(self) -> None:
        for check in (checks.violations, checks.sideways, checks.small_words, checks.small_targets, checks.cut_words):
            with self.subTest(check.__name__):
                self.assertEqual(check(self.page), [])
