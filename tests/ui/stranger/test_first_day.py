"""A stranger with gloves brings in what stands on the lift, and works any visit with it."""

import re
from contextlib import closing

from playwright.sync_api import expect

from jaxel.store.db import connect
from tests.ui.browser import BrowserCase, DemoServer
from tests.ui.checks import violations


class FirstDay(BrowserCase):
    """An empty workshop, by keys alone."""

    def setUp(self):
        super().setUp()
        self.server = self.enterContext(DemoServer(empty=True))

    def test_greets_and_fills_with_the_demo_by_one_key(self):
        page = self.page
        page.goto(self.server.address)
        expect(page.get_by_role("heading", name="The bench is clear.")).to_be_visible()
        self.assertEqual(violations(page), [])
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_contain_text("look around in the demo workshop")
        page.keyboard.press("Escape")
        page.keyboard.press("d")
        expect(page.get_by_role("heading", name="In the building")).to_be_visible(timeout=90_000)
        with closing(connect(self.server.database)) as connection:
            self.assertGreater(connection.execute("SELECT count(*) FROM machine").fetchone()[0], 2)

    def test_brings_in_the_first_machine_without_a_mouse(self):
        page = self.page
        page.goto(self.server.address)
        expect(page.get_by_role("heading", name="The bench is clear.")).to_be_visible()
        page.keyboard.press("n")
        expect(page.get_by_role("radio", name="Sled")).to_be_focused()
        for name in ("Side-by-side", "Quad"):
            page.keyboard.press("ArrowRight")
            expect(page.get_by_role("radio", name=name)).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.get_by_role("radio", name="Quad")).to_be_checked()
        page.keyboard.press("Tab")
        for name in ("Loaded-arm", "One-way-bearing", "Roller variator"):
            page.keyboard.press("ArrowRight")
            expect(page.get_by_role("radio", name=name)).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.locator("[data-package]")).to_contain_text("Quad, roller variator")
        page.keyboard.press("Control+Enter")
        page.wait_for_url(re.compile(r"/visits/1/intake"))
        # Arriving puts the focus where the next hand goes; only then is it moved from there.
        expect(page.get_by_label("Complaint, in the rider's words")).to_be_focused()
        page.locator("#work").focus()
        page.keyboard.press("/")
        expect(page.get_by_label("Find a machine")).to_be_focused()
