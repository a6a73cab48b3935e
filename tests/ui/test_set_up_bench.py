"""The set-up bench and the parts room in the browser: dragged, swapped by key, asked, undone, printed, taken in."""

import re
import tempfile
from contextlib import closing
from pathlib import Path

from playwright.sync_api import Request, expect

from jaxel.core.trade.planner import plan
from jaxel.core.trade.shelf import stock_of
from jaxel.store import shelf, visits
from jaxel.store.db import connect
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


class Tray(Case):
    def test_a_spring_is_swapped_by_key_and_stepped_by_key(self):
        self.bench()
        page = self.page
        key = page.locator("[data-curve='left']").get_attribute("data-key")
        page.keyboard.press("p")
        page.locator("[data-part='FB-PS60']").press("Enter")
        self.wait_saved(SLED, lambda v: v["setup"]["draft"].get("part.primary_spring") == self.part("FB-PS60")["id"])
        expect(page.get_by_label("start").first).to_have_value("600")
        expect(page.locator("[data-curve='left']")).not_to_have_attribute("data-key", key)
        page.get_by_label("start").first.press("ArrowUp")
        expect(page.get_by_label("start").first).to_have_value("650")
        self.wait_saved(SLED, lambda v: v["setup"]["draft"].get("primary_start_n") == 650)
        self.accessible()

    def test_a_kit_shows_each_members_share(self):
        self.bench()
        self.page.keyboard.press("p")
        self.page.locator("[data-part='FB-KT1']").click()
        shares = self.page.locator("[data-shares] li")
        expect(shares).to_have_count(3)
        told = self.client.get(f"/api/visits/{SLED}/setup/shares").json["shares"]
        for share in told:
            figure = f"{share['engagement_rpm']:+,.0f}/{share['shift_rpm']:+,.0f}".replace("-", "−")
            expect(self.page.locator("[data-shares]")).to_contain_text(f"{share['name']} {figure}")

    def test_a_part_for_another_clutch_says_so_and_one_that_is_gone_is_refused(self):
        self.bench()
        page = self.page
        page.locator("button[data-shelf]").click()
        expect(page.locator("[data-part='FB-VR17']")).to_be_disabled()
        expect(page.locator("[data-part='FB-VR17']")).to_contain_text("for another clutch: roller variator")
        part = self.part("FB-PS68")
        page.locator("[data-part='FB-PS68']").click()
        self.wait_saved(SLED, lambda v: "part.primary_spring" in v["setup"]["draft"])
        # Another hand takes the last one meanwhile.
        at = f"/api/parts/{part['id']}/pieces"
        self.assertEqual(self.client.patch(at, json={"was": 1, "now": 0}).status_code, 200)
        page.get_by_label("Why this change?").fill("a stiffer start")
        self.refusals = {422}
        page.get_by_role("button", name="Record as fitted").click()
        expect(page.get_by_role("alert")).to_contain_text("FB-PS68: 1 needed, 0 on the shelf: another hand took it")
        self.client.patch(at, json={"was": 0, "now": 1})


class Answers(Case):
    def test_the_first_answer_is_the_best_of_every_combination_and_can_be_undone(self):
        self.bench()
        page = self.page
        page.locator("[data-all-answers]").click()
        for name in ("heel load", "middle load", "tip load", "Shim", "Helix", "Secondary spring"):
            page.get_by_label(name, exact=True).uncheck()
        page.get_by_role("button", name="Close").click()
        expect(page.get_by_text("13 set-ups of 15 parts")).to_be_visible()
        wanted = self.exhaustively()
        expect(page.locator("[data-answer='1']")).to_contain_text(f"{round(wanted.probability * 20) * 5} %")
        expect(page.locator("[data-answer='1']")).to_contain_text(wanted.for_rider)
        page.locator("[data-answer='1']").hover()
        expect(page.locator("[data-curve='answer']")).to_be_visible()
        before = self.visit(SLED)["left"]["shift"]["mean_rpm"]
        page.keyboard.press("1")
        self.wait_saved(SLED, lambda v: abs(v["left"]["shift"]["mean_rpm"] - wanted.shift_mean_rpm) < 0.2)
        expect(page.get_by_label("Readout")).to_contain_text(f"{wanted.shift_mean_rpm:,.0f}")
        self.accessible()
        page.keyboard.press("u")
        self.wait_saved(SLED, lambda v: v["setup"]["draft"] == {} and v["left"]["shift"]["mean_rpm"] == before)

    def exhaustively(self):
        """The best of arms and springs, each combination worked out by the planner's own exact route."""
        with closing(connect(self.database)) as db:
            visit = visits.get(db, SLED)
            document = visit.left.in_use(visit.left_width_mm, visit.conditions, visit.target)
            may = frozenset({"arms", "primary_spring"})
            stock = stock_of(document, list(shelf.stocked(db).values()), visit.kinds, may)
        found = plan(document, stock, visit.calibration.core, top=50)
        self.assertEqual(len(found.answers), found.combinations - 1)  # all of them, none left to the first look
        return found.answers[0]

    def test_every_answer_says_why_not_sooner(self):
        self.bench()
        self.page.locator("[data-all-answers]").click()
        items = self.page.get_by_label("All answers").get_by_role("listitem").filter(has_text="Engages")
        self.assertGreaterEqual(items.count(), 4)
        expect(items.nth(1)).to_contain_text("Why not sooner: ")
        expect(items.first).not_to_contain_text("Why not sooner")
        self.accessible()
        items.nth(2).get_by_role("button", name="On the tray").click()
        self.wait_saved(SLED, lambda v: v["setup"]["draft"] != {})


class InSight(Case):
    def test_what_the_predictions_stand_on(self):
        self.bench()
        self.page.get_by_role("tab", name="Calibration").click()
        panel = self.page.get_by_role("tabpanel")
        known = self.client.get(f"/api/visits/{SLED}/setup/calibration").json
        expect(panel).to_contain_text("on 2 runs")
        for each in known["moved"]:
            expect(panel).to_contain_text(each["name"], ignore_case=True)
        expect(panel).to_contain_text("a run on this set-up, 20 min", ignore_case=True)
        expect(panel.get_by_role("row")).to_have_count(5)
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


class PartsRoom(Case):
    def test_a_sheet_with_three_bad_rows(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        sheet = Path(folder.name) / "stock.csv"
        sheet.write_text(
            "number,kind,make,pieces,base_mass_g,force_start_lbf,force_finish_lbf,travel_in\n"
            "UI-A1,arm,Brackholm,3,58.5,,,\n"
            "UI-A2,arm,Brackholm,three,58.5,,,\n"
            "UI-S1,primary spring,Ravnsete,2,,140,315,1.18\n"
            "UI-S2,primary spring,Ravnsete,2,,315,140,1.18\n"
            "UI-X1,steam valve,Ravnsete,2,,,,\n",
            encoding="utf-8",
        )
        page = self.page
        self.open("/parts")
        page.get_by_role("button", name="Sheet in").click()
        page.get_by_label("Stock sheet", exact=True).set_input_files(sheet)
        became = page.get_by_label("What became of it")
        expect(became).to_contain_text("2 added, 0 changed, 0 stood so already, 3 refused")
        refused = page.locator("[data-refused]")
        expect(refused).to_have_count(3)
        for line, words in (
            (3, "pieces"),
            (5, "must not be below the starting force"),
            (6, "“steam valve” is no kind"),
        ):
            expect(page.locator(f"[data-refused='{line}']")).to_contain_text(words)
        self.accessible()
        page.get_by_role("button", name="Close").click()
        expect(page.locator("[data-part='UI-S1']")).to_contain_text("622.8 / 1,401.2 N")
        sheet.write_text("number,colour\nA,red\n", encoding="utf-8")
        self.refusals = {422}
        page.get_by_role("button", name="Sheet in").click()
        page.get_by_label("Stock sheet", exact=True).set_input_files(sheet)
        expect(page.get_by_role("alert")).to_contain_text("a column “colour” that is not known here")

    def test_a_part_is_described_counted_and_flagged(self):
        page = self.page
        self.open("/parts")
        expect(page.locator("[data-part='FB-A48']")).to_contain_text("out of balance by 1.2 g")
        expect(page.locator("[data-part='FB-PS72']")).to_contain_text("has lost 8.1 % of its rated force")
        page.get_by_label("New part number").fill("UI-H1")
        page.locator("form select").first.select_option("helix")
        page.get_by_role("button", name="Add it").click()
        row = page.locator("[data-part='UI-H1']")
        row.get_by_label("angles").fill("0:47; 22:41")
        page.reload()
        page.locator("[data-part='UI-H1']").get_by_role("button", name="more").click()
        expect(row.get_by_label("angles")).to_have_value("0:47; 22:41")  # half-typed, it outlives a reload
        row.get_by_role("button", name="Save what it is").click()
        expect(row).to_contain_text("47° / 41°")
        row.get_by_label("pieces at hand").fill("2")
        row.get_by_label("pieces at hand").press("Tab")
        for _ in range(60):
            if (held := self.part("UI-H1"))["pieces"] == 2:
                break
            page.wait_for_timeout(100)
        self.assertEqual((held["pieces"], held["spec"]["angles"][1]), (2, {"travel_mm": 22.0, "deg": 41.0}))
        self.refusals = {422}
        row.get_by_label("angles").fill("steep")
        row.get_by_role("button", name="Save what it is").click()
        expect(row.get_by_role("alert")).to_contain_text("“steep” is no pair")
        self.accessible()

    def test_how_long_belts_lasted_stands_beside_their_makers_word(self):
        self.open("/parts")
        expect(self.page.locator("[data-lasted='belt'] [data-survival]")).to_have_count(1)
        made = self.page.locator("[data-lasted='belt']").filter(has_text="Ravnsete")
        expect(made).to_contain_text("Its maker says 3,200 km: none has come so far here.")
