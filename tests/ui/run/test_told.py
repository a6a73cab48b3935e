"""A run becomes a decision: predicted, ridden, judged; the next change opened on the bench by one key; a second run
that is noise, a third that is gain, and the page with both."""

import json
import re

import numpy as np
from playwright.sync_api import FilePayload, expect

from jaxel.core.formats.run.log import log_columns
from jaxel.core.formats.setup.setup import read_setup
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.instruments.logger import Logger
from tests.examples import example
from tests.ui.cases.set_up_bench_case import SLED, Case

BETWEEN = 4.0
"""Standing still between two pulls [s]."""


def afternoon(gain: float, seed: int) -> bytes:
    """A log of three pulls from rest, of the sled with arms that give so much of what its records say."""
    document = read_setup(json.dumps(example("mountain-sled")).encode())
    ridden = document.model_copy(update={"model": document.model.model_copy(update={"gain_scale": gain})})
    one = log_columns(simulate(ridden.core(), Strip(duration=20), 50))
    rest = {name: np.full(int(BETWEEN * 50), values[0]) for name, values in one.items()}
    rest["time_s"] = one["time_s"][-1] + np.arange(1, int(BETWEEN * 50) + 1) / 50
    whole = {name: np.concatenate([values, rest[name]]) for name, values in one.items()}
    length = whole["time_s"][-1] + 0.02
    three = {name: np.tile(values, 3) for name, values in whole.items()}
    three["time_s"] = np.concatenate([whole["time_s"] + length * each for each in range(3)])
    return Logger().written(three, seed)


class Told(Case):
    def ride(self, gain, seed):
        self.open(f"/visits/{SLED}/road-test")
        self.page.get_by_role("button", name=re.compile("^Begin")).click()
        last = self.page.locator("[data-run='last']")
        expect(last.get_by_label("Log file of the run")).to_be_attached()
        file = FilePayload(name=f"lake {seed}.csv", mimeType="text/csv", buffer=afternoon(gain, seed))
        last.get_by_label("Log file of the run").set_input_files(file)
        expect(self.page.locator("[data-reader]")).to_be_visible()
        expect(self.page.locator("[data-verdict]:not([data-verdict='none'])")).to_be_visible()

    def record(self, why):
        self.page.get_by_label(re.compile("Why this change")).fill(why)
        self.page.get_by_role("button", name="Record as fitted").click()
        expect(self.page.get_by_label(re.compile("Why this change"))).to_have_count(0)

    def laid_over(self):
        self.open(f"/visits/{SLED}/road-test")
        self.page.get_by_role("button", name=re.compile("^Lay runs over")).click()
        expect(self.page.locator("[data-difference='shift_mean_rpm']")).to_be_visible()
        return self.page.locator("[data-difference='shift_mean_rpm']")

    def test_predicted_ridden_judged_and_the_next_change_opened(self):
        # A window that one change of the shelf's arms can reach: the sled bites low for its own.
        target = {"target_engagement_rpm": {"was": 4000, "now": 3850}}
        self.client.patch(f"/api/visits/{SLED}/intake", json=target)
        self.ride(1.07, 1)
        with self.subTest("verdict"):
            verdict = self.page.get_by_label("Engine or clutch")
            expect(verdict).to_contain_text("The top ratio came to")
            expect(verdict.get_by_role("row", name=re.compile("^Top ratio"))).to_contain_text("0.7")
            self.accessible()
        self.open(f"/visits/{SLED}/road-test")
        offered = self.page.locator("[data-next]")
        expect(offered).to_be_visible()
        words = offered.inner_text()
        self.page.keyboard.press("Control+Enter")
        self.page.wait_for_url("**/set-up")
        self.assertNotEqual(self.draft(), {})
        slot = re.sub(r" .*", "", words)
        self.assertIn(slot.lower(), self.page.get_by_label("Slots").inner_text().lower())
        self.record("as the run says")

        self.ride(1.07, 2)  # it did nothing that shows
        shift = self.laid_over()
        self.assertEqual(shift.get_attribute("data-shown"), "not shown")
        expect(self.page.locator("[data-real]")).to_have_attribute("data-real", "0")
        expect(self.page.get_by_text("Gains of separate pairs are not added up")).to_be_visible()
        self.accessible()
        self.page.get_by_role("button", name="time", exact=True).click()
        expect(self.page.get_by_role("img", name=re.compile("along time"))).to_have_count(2)

        self.open(f"/visits/{SLED}/set-up")
        expect(self.page.locator("[data-answer='1']")).to_be_visible()
        self.page.locator("[data-answer='1']").click()
        expect(self.page.get_by_label(re.compile("Why this change"))).to_be_visible()
        self.record("and the next")
        self.ride(1.0, 3)
        shift = self.laid_over()
        self.assertEqual(shift.get_attribute("data-shown"), "real")
        expect(self.page.get_by_label("What differs")).to_contain_text("real")

        self.open(f"/visits/{SLED}/road-test")
        self.page.get_by_role("button", name="Top: better").click()
        self.page.get_by_label("in their own words, if any").fill("pulls")
        self.page.get_by_role("button", name="Keep it").click()
        expect(self.page.locator("[data-rider-word='better']")).to_contain_text("“pulls”")

        self.open(f"/visits/{SLED}/hand-over")
        for text in (
            "run 2 beside run 1: not shown to differ",
            "run 3 beside run 2:",
            "better at the top, set-up as left",
        ):
            expect(self.page.get_by_text(re.compile(text))).to_be_visible()
