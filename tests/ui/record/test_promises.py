"""What a hand does at single stations, and what the screens promise everywhere."""

import json

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase

STATIONS = ("intake", "belt", "set-up", "road-test", "hand-over")


class Promises(BrowserCase):
    PAGES = ("/", "/machines/1", *(f"/visits/2/{station}" for station in STATIONS))

    def test_theme_is_remembered(self):
        self.open("/")
        self.page.get_by_role("button", name="Use the dark theme").click()
        self.page.reload()
        self.assertEqual(self.page.evaluate("document.documentElement.dataset.theme"), "dark")

    def test_contrast(self):
        # WCAG 2.2, success criterion 1.4.3: 4.5 : 1 for text; relative luminance as defined there.
        self.open("/")

        def luminance(colour):
            parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
            linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
            return sum(w * p for w, p in zip((0.2126, 0.7152, 0.0722), linear, strict=True))

        for theme in ("light", "dark"):
            self.page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")
            read = "name => getComputedStyle(document.documentElement).getPropertyValue(name).trim()"
            for ground in ("--paper", "--card"):
                for text in ("--ink", "--quiet", "--signal-words", "--keep", "--watch", "--replace"):
                    dark, light = sorted(luminance(self.page.evaluate(read, name)) for name in (ground, text))
                    with self.subTest(f"{text} on {ground}, {theme}"):
                        self.assertGreaterEqual((light + 0.05) / (dark + 0.05), 4.5)

    def test_every_field_has_a_name(self):
        for path in self.PAGES:
            self.open(path)
            self.page.wait_for_load_state("networkidle")
            nameless = self.page.evaluate(
                "[...document.querySelectorAll('input:not([type=file]), textarea, select')]"
                ".filter(f => !f.labels?.length && !f.getAttribute('aria-label')).map(f => f.outerHTML)"
            )
            self.assertEqual(nameless, [], path)

    def test_a_caution_stands_at_every_station(self):
        for station in STATIONS:
            self.open(f"/visits/2/{station}")
            self.page.get_by_text("All cautions for this step").click()
            expect(self.page.get_by_text("local rules and a qualified technician come first")).to_be_visible()

    def test_nothing_comes_from_elsewhere(self):
        asked = []
        self.page.on("request", lambda request: asked.append(request.url))
        self.open("/visits/2/set-up")
        self.page.wait_for_load_state("networkidle")
        outside = [url for url in asked if not url.startswith((self.address, "data:"))]
        self.assertEqual(outside, [], json.dumps(asked))
