"""A stranger with gloves brings in what stands on the lift, and works any visit with it."""

import re

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase


class Imperial(BrowserCase):
    """A whole visit in pounds, inches, feet and Fahrenheit: no newton on screen or paper."""

    METRIC = re.compile(r"\d\s?(N|mm|km|km/h|°C|kN|kW|N·m|m)\b(?!·)")

    def no_newton(self):
        text = self.page.evaluate(
            "() => document.body.innerText + [...document.querySelectorAll('[aria-label], title')]"
            ".map((e) => e.getAttribute('aria-label') ?? e.textContent).join(' ')"
        )
        self.assertEqual([found[0] for found in self.METRIC.finditer(text)], [])
        self.assertNotRegex(text, r"[Nn]ewton|, N\b|, mm\b|, km/h\b")

    def test_works_a_whole_visit(self):
        page = self.page
        self.open("/workshop")
        page.get_by_role("button", name="Imperial").first.click()
        expect(page.get_by_label("Force").first).to_have_value("lbf")
        brought = self.client.post("/api/bring-in", json={"machine": "side-by-side", "complaint": "Slow",
                                                          "primary_kind": "loaded-arm-primary"}).json  # fmt: skip
        visit_id = brought["visit_id"]
        at = f"/visits/{visit_id}"
        self.open("/bring-in")
        page.get_by_role("radio", name="Sled").click()
        expect(page.locator("[data-known]")).to_be_visible()
        self.no_newton()
        self.open(f"/machines/{brought['machine_id']}")
        expect(page.get_by_text("Set-ups through time")).to_be_visible()
        self.no_newton()
        self.open(f"{at}/intake")
        page.get_by_label("Odometer", exact=True).fill("1,435")
        page.get_by_label("Odometer", exact=True).press("Enter")
        page.get_by_label("Temperature", exact=True).fill("14")
        page.get_by_label("Temperature", exact=True).press("Enter")
        page.get_by_label("Altitude of use").fill("4,000")
        page.get_by_label("Altitude of use").press("Enter")
        self.wait_saved(visit_id, lambda v: abs(v["intake"]["elevation_m"] - 1219.2) < 1e-6)
        intake = self.visit(visit_id)["intake"]
        self.assertAlmostEqual(intake["odometer_km"], 1435 * 1.609344)
        self.assertAlmostEqual(intake["temperature_c"], -10)
        page.get_by_role("button", name="Looked at, matches").click()
        self.no_newton()
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Belt").click()
        for place, typed in ((1, "1.275"), (2, "1 9/32"), (3, "32.4 mm")):
            page.get_by_label(f"Place {place}").fill(typed)
            page.get_by_label(f"Place {place}").press("Enter")
        page.get_by_role("radio", name="Run on").click()
        self.wait_saved(visit_id, lambda v: len(v["belt"]["widths_mm"]) == 3)
        self.assertAlmostEqual(self.visit(visit_id)["belt"]["widths_mm"]["2"], 25.4 * (1 + 9 / 32))
        self.no_newton()
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Set-up").click()
        page.get_by_role("tab", name="Pull").click()
        expect(page.locator("[data-pull=done]")).to_be_visible()
        start = page.get_by_label("start").first
        start.fill("50")
        start.press("Enter")
        self.wait_saved(visit_id, lambda v: v["setup"]["draft"] != {})
        self.assertAlmostEqual(self.visit(visit_id)["setup"]["draft"]["primary_start_n"], 50 * 4.4482216152605)
        expect(page.locator("[data-pull=done]")).to_be_visible()
        expect(page.get_by_text("+10 lbf").first).to_be_visible()
        self.no_newton()
        page.get_by_role("button", name="as a table").click()
        expect(page.get_by_role("columnheader", name="mph").first).to_be_visible()
        self.no_newton()
        page.keyboard.press("Escape")
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Road test").click()
        self.no_newton()
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Hand-over").click()
        expect(page.get_by_role("article")).to_contain_text("lbf")
        self.no_newton()
        page.emulate_media(media="print")
        self.no_newton()
