"""The set-up bench and the parts room in the browser: dragged, swapped by key, asked, undone, printed, taken in."""

import re

from playwright.sync_api import Request, expect

from tests.ui.cases.set_up_bench_case import SLED, Case


class Dragged(Case):
    def test_the_shift_is_dragged_and_stepped_and_asks_nobody(self):
        self.bench()
        nodes = self.client.get(f"/api/visits/{SLED}/setup/picture").json["left"]["nodes"]
        self.page.wait_for_load_state("networkidle")
        asked: list[str] = []

        def note(request: Request) -> None:
            # The visit is looked at every ten seconds, whatever the hand does.
            if not request.url.endswith(f"/api/visits/{SLED}"):
                asked.append(request.url)

        self.page.on("request", note)
        slider = self.page.get_by_role("slider", name="Point of the shift")
        slider.press("Home")
        expect(self.picture()).to_have_attribute("aria-label", re.compile("at idle"))
        expect(self.picture()).to_contain_text(f"gap {nodes[0]['gap_mm']:.1f} mm")
        low = self.ratio()
        thumb = slider.bounding_box()
        track = slider.locator("xpath=ancestor::*[contains(@class, 'touch-none')]").bounding_box()
        self.page.mouse.move(thumb["x"] + thumb["width"] / 2, thumb["y"] + thumb["height"] / 2)
        self.page.mouse.down()
        ratios = []
        for step in range(1, 11):
            self.page.mouse.move(track["x"] + track["width"] * step / 10, thumb["y"] + thumb["height"] / 2)
            ratios.append(self.ratio())
        self.page.mouse.up()
        self.assertEqual(ratios, sorted(ratios, reverse=True))
        self.assertGreater(low, ratios[-1] * 3)
        self.assertAlmostEqual(ratios[-1], nodes[-1]["ratio"], delta=0.006)
        slider.press("ArrowLeft")
        self.assertAlmostEqual(self.ratio(), nodes[-2]["ratio"], delta=0.006)
        expect(self.picture()).to_contain_text(f"tight {nodes[-2]['tight_n']:,.0f} N")
        self.assertEqual(asked, [])

    def test_its_figures_are_a_table_too(self):
        self.bench()
        nodes = self.client.get(f"/api/visits/{SLED}/setup/picture").json["left"]["nodes"]
        self.page.get_by_role("button", name="as a table").click()
        rows = self.page.get_by_role("row")
        expect(rows).to_have_count(len(nodes) + 1)
        last = rows.last
        end = nodes[-1]
        for words in ("full shift", f"{end['rpm']:,.0f}", f"{end['arm_deg']:.1f}", f"{end['ratio']:.2f}"):
            expect(last).to_contain_text(words)
        self.accessible()

    def test_the_part_in_hand_is_lit(self):
        self.bench()
        lit = self.picture().locator(".fill-signal.stroke-signal")
        expect(lit).to_have_count(0)
        self.page.get_by_label("each of 3").focus()
        expect(lit).to_have_count(1)
        self.page.get_by_label("angle").focus()
        expect(lit).to_have_count(2)  # the helix and what rides on it

    def test_the_chart_is_against_what_the_hand_asks(self):
        self.bench()
        path = self.page.locator("[data-curve='left']")
        before = path.get_attribute("d")
        self.page.locator("label:has-text('against') select").select_option("ratio")
        expect(self.page.get_by_role("img", name=re.compile("at full throttle against ratio"))).to_be_visible()
        self.assertNotEqual(path.get_attribute("d"), before)
        self.page.get_by_label("backshift").check()
        expect(self.page.locator("[data-curve='backshift']")).to_be_visible()
