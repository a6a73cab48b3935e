"""The run reader in the browser: a log with odd headings mapped, remembered and read; a mark dragged by mouse, by touch
and by keys; the visit calibrated by it, and the miss explained."""

import json
import re

from playwright.sync_api import FilePayload, expect

from jaxel.core.formats.run.log import log_columns
from jaxel.core.formats.setup.setup import read_setup
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.instruments.logger import Logger, Style
from tests.examples import example
from tests.ui.cases.set_up_bench_case import SLED, Case

THROTTLE = ((0.0, 0.0), (0.5, 0.0), (3.0, 0.17), (18.0, 0.25), (18.3, 0.0), (24.0, 0.0), (24.1, 1.0), (48.0, 1.0),
            (48.1, 0.0), (49.5, 0.0), (49.6, 1.0), (53.0, 1.0), (53.3, 0.0), (56.0, 0.0))  # fmt: skip
"""A slow roll-on, then a full-throttle pull with a chop."""

ODD = Style({"time_s": "Kanal 1", "engine_rpm": "Kanal 2", "speed_kph": "Kanal 3", "throttle_pct": "Kanal 4"},
            delimiter=";", decimal=",", factors={"speed_kph": 1 / 1.609344})  # fmt: skip


class Reader(Case):
    def setUp(self):
        super().setUp()
        core = read_setup(json.dumps(example("mountain-sled")).encode()).core()
        self.trace = log_columns(simulate(core, Strip(duration=56, throttle=THROTTLE), 50))
        self.open(f"/visits/{SLED}/road-test")
        self.page.get_by_role("button", name=re.compile("Begin")).click()
        expect(self.page.locator("[data-run='last']")).to_be_visible()

    def add(self, style):
        data = Logger(style=style).written(self.trace, 4)
        file = FilePayload(name="strip.csv", mimeType="text/csv", buffer=data)
        self.page.get_by_label("Log file of the run").last.set_input_files(file)

    def value(self, figure):
        text = self.page.locator(f"[data-figure='{figure}'] td").first.inner_text()
        return float(text.replace(",", "").replace("−", "-"))

    def test_mapped_remembered_read_marked_and_calibrated_by(self):
        page = self.page
        self.add(ODD)
        expect(page.get_by_role("alert")).to_contain_text("time_s: is missing: no column reads as time")
        self.accessible()
        for heading, field in (("Kanal 1", "time, s"), ("Kanal 2", "engine, rpm"), ("Kanal 3", "vehicle speed, mph"),
                               ("Kanal 4", "throttle, %")):  # fmt: skip
            page.get_by_label(f"What {heading} holds").select_option(label=field)
        page.get_by_role("button", name="Read it so").click()
        expect(page.locator("[data-reader]")).to_be_visible()
        expect(page.get_by_text("pull 2 of 2, with a chop")).to_be_visible()
        expect(page.locator("[data-counted='shift_mean_rpm']")).to_contain_text("inside")
        self.accessible()

        # The mark by mouse: the figures follow while it is dragged, and both places are kept.
        before = self.value("Spread")
        handle = page.get_by_role("slider", name="shift starts")
        box = handle.bounding_box()
        page.mouse.move(box["x"] + 22, box["y"] + 22)
        page.mouse.down()
        page.mouse.move(box["x"] + 82, box["y"] + 22, steps=5)
        expect(page.locator("[data-figure='Spread'] td").first).not_to_have_text(f"{before:,.0f}")
        page.mouse.up()
        expect(page.get_by_text("shift starts moved by hand")).to_be_visible()
        expect(page.get_by_text(re.compile(r"found at .* s, put at .* s"))).to_be_visible()
        self.assertLess(self.value("Spread"), before - 20)
        (mark,) = self.marks("shift_start")
        self.assertGreater(mark["moved_s"], mark["found_s"] + 1)

        # And by keys, from where it stands.
        handle.focus()
        for _ in range(3):
            page.keyboard.press("ArrowLeft")
        expect(handle).to_have_attribute("aria-valuetext", re.compile("moved by hand"))
        self.wait_for(lambda: abs(self.marks("shift_start")[0]["moved_s"] - mark["moved_s"] + 0.15) < 0.02)
        page.get_by_role("button", name="as found", exact=True).click()
        expect(page.get_by_text("moved by hand")).to_have_count(0)
        self.assertEqual(self.value("Spread"), before)

        # Looked at closer by keys, read along, and as a table.
        plot = page.get_by_role("group", name=re.compile("Engine and speed over time"))
        plot.focus()
        page.keyboard.press("+")
        page.keyboard.press("ArrowRight")
        expect(page.get_by_label("At the cursor")).to_contain_text(re.compile(r"s · [\d,]+ rpm · .* · ratio"))
        page.keyboard.press("Home")
        expect(page.get_by_role("button", name="this pull")).to_be_visible()
        page.get_by_role("button", name="as a table").click()
        expect(page.get_by_role("dialog")).to_contain_text("engine, rpm")
        self.accessible()
        page.keyboard.press("Escape")

        # The next log of this logger is known.
        page.get_by_role("button", name="runs", exact=True).click()
        page.get_by_role("button", name="Begin another run").click()
        expect(page.get_by_label("Log file of the run")).to_have_count(1)
        self.add(ODD)
        expect(page.locator("[data-reader]")).to_be_visible()

        # Calibrated by it: what was measured is what is predicted, and the miss before is told.
        page.get_by_role("button", name="runs", exact=True).click()
        self.wait_for(lambda: self.visit(SLED)["runs"][-1]["measured_shift_rpm"])
        measured = self.visit(SLED)["runs"][-1]["measured_shift_rpm"]
        expect(page.locator("[data-miss='Shift']").last).to_contain_text(re.compile(r"[+−]\d+"))
        self.client.post(f"/api/visits/{SLED}/setup/calibrate", json={})
        self.assertAlmostEqual(self.visit(SLED)["left"]["shift"]["mean_rpm"], measured, delta=40)
        self.open(f"/visits/{SLED}/set-up")
        page.get_by_role("tab", name="Calibration").click()
        expect(page.get_by_role("tabpanel")).to_contain_text("on 6 runs")
        expect(page.get_by_role("tabpanel").get_by_role("row").last).to_contain_text(re.compile(r"0\.7\d\d"))

    def marks(self, name):
        run = self.visit(SLED)["runs"][-1]["id"]
        log = self.client.get(f"/api/visits/{SLED}/runs/{run}/log").json
        return [each for pull in log["pulls"] for each in pull["marks"] if each["mark"] == name and each["moved_s"]]

    def wait_for(self, check):
        for _ in range(40):
            if check():
                return
            self.page.wait_for_timeout(100)
        self.assertTrue(check())
