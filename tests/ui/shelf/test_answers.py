"""The set-up bench and the parts room in the browser: dragged, swapped by key, asked, undone, printed, taken in."""

from contextlib import closing
from math import floor

from playwright.sync_api import expect

from jaxel.core.trade.shelf.planner import plan
from jaxel.core.trade.shelf.shelf import stock_of
from jaxel.store.db import connect
from jaxel.store.shelf import shelf
from jaxel.store.visit import visits
from tests.ui.cases.set_up_bench_case import SLED, Case


class Answers(Case):
    def test_the_first_answer_is_the_best_of_every_combination_and_can_be_undone(self):
        self.bench()
        page = self.page
        page.locator("[data-all-answers]").click()
        for name in ("heel load", "middle load", "tip load", "Shim", "Helix", "Secondary spring"):
            box = page.get_by_label(name, exact=True)
            box.click()
            expect(box).not_to_be_checked()
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
        expect(page.get_by_label("Readout")).to_contain_text(f"{floor(wanted.shift_mean_rpm + 0.5):,}")
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
        expect(items.nth(3)).to_be_visible()
        expect(items.nth(1)).to_contain_text("Why not sooner: ")
        expect(items.first).not_to_contain_text("Why not sooner")
        self.accessible()
        items.nth(2).get_by_role("button", name="On the tray").click()
        self.wait_saved(SLED, lambda v: v["setup"]["draft"] != {})
