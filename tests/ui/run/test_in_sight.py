"""The set-up bench and the parts room in the browser: dragged, swapped by key, asked, undone, printed, taken in."""

from playwright.sync_api import expect

from tests.ui import checks
from tests.ui.cases.set_up_bench_case import SLED, Case


class InSight(Case):
    def test_what_the_predictions_stand_on(self):
        self.bench()
        self.page.get_by_role("tab", name="Calibration").click()
        panel = self.page.get_by_role("tabpanel")
        known = self.client.get(f"/api/visits/{SLED}/setup/calibration").json
        expect(panel).to_contain_text("on 4 runs")
        for each in known["moved"]:
            expect(panel).to_contain_text(each["name"], ignore_case=True)
        expect(panel).to_contain_text("a run on this set-up, 20 min", ignore_case=True)
        expect(panel.get_by_role("row")).to_have_count(1 + sum(len(each["figures"]) for each in known["runs"]))
        self.accessible()
        self.open("/workshop")
        expect(self.page.get_by_label("Score card").locator("[data-tally]").first).to_contain_text("Engagement")

    def test_what_if_leaves_the_visit_alone(self):
        self.bench()
        before = self.visit(SLED)
        self.page.get_by_role("tab", name="What if").click()
        self.page.get_by_label("Altitude, m").fill("8000 ft")
        there = self.page.locator("[data-what-if='shift_rpm'] td").last
        expect(there).not_to_have_text(f"{before['left']['shift']['mean_rpm']:,.0f}")
        tried = self.client.post(f"/api/visits/{SLED}/setup/what-if", json={"elevation_m": "8000 ft"}).json["tried"]
        expect(there).to_have_text(f"{tried['shift_rpm']:,.0f}")
        self.assertEqual(self.visit(SLED), before)
        self.accessible()

    def test_the_altitude_card_is_printed(self):
        self.bench()
        page = self.page
        page.get_by_role("tab", name="Altitude").click()
        expect(page.locator("[data-altitude] tbody tr")).to_have_count(8)
        self.accessible()
        page.get_by_role("link", name="Card to print").click()
        rows = self.client.get(f"/api/visits/{SLED}/setup/altitude").json["table"]["rows"]
        expect(page.locator("[data-altitude] tbody tr").nth(3)).to_contain_text(f"{rows[3]['value']:.1f}")
        page.evaluate("window.print = () => { window.printed = true }")
        page.get_by_role("button", name="Print").click()
        self.assertTrue(page.evaluate("window.printed"))
        page.emulate_media(media="print")
        expect(page.get_by_role("banner")).to_be_hidden()
        expect(page.get_by_role("article")).to_contain_text("Tarnhowe 840 mountain sled")
        self.assertGreater(len(page.pdf()), 1000)
        self.assertEqual(checks.violations(page), [])
