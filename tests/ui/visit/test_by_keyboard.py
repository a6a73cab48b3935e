"""A whole tune by keyboard alone, from the shop floor to the signed page, and how long the runs of Tab are."""

import re
from functools import partial
from typing import Any

from playwright.sync_api import Locator, expect

from jaxel.core.trade.kinds.kinds import of_side
from tests.ui.cases.acts_case import ActsCase, closed

MOST_TABS = 6
MOST_OPEN = 20


class ByKeyboard(ActsCase):
    def key(self, *keys: str) -> None:
        for each in keys:
            self.page.keyboard.press(each)

    def write(self, text: str) -> None:
        self.page.keyboard.insert_text(text)
        self.key("Enter")

    def has_focus(self, target: Locator) -> bool:
        return target.count() == 1 and bool(target.evaluate("e => e === document.activeElement"))

    def tab_to(self, target: Locator) -> None:
        expect(target).to_be_visible()
        for _ in range(MOST_TABS + 1):
            if self.has_focus(target):
                return
            self.key("Tab")
        where = self.page.evaluate("document.activeElement.outerHTML.slice(0, 120)")
        self.fail(f"not reached by {MOST_TABS} Tabs: {target}; at {where}")

    def open_thing(self, place: str) -> None:
        """Through what is open, by its key, until the page says `place`."""
        for _ in range(MOST_OPEN):
            if self.page.url.endswith(f"#{place}"):
                return
            was = self.page.url
            self.key("Alt+o")
            self.page.wait_for_function("was => location.href !== was", arg=was)
        self.fail(f"{place} is not open; at {self.page.url}")

    def test_a_whole_tune(self):
        page = self.page
        self.open("/")
        expect(page.get_by_text("Hollinbeck").first).to_be_visible()
        self.key("/")
        expect(page.get_by_label("Find a machine")).to_be_focused()
        page.keyboard.insert_text("hollinbeck")
        expect(page.locator("[data-row]")).to_have_count(1)
        self.key("Enter")
        expect(page.locator("[data-row]")).to_be_focused()
        self.tab_to(page.get_by_role("button", name="Open a visit for Hollinbeck"))
        self.key("Enter")
        expect(page.get_by_label("Complaint")).to_be_focused()
        self.at = int(page.url.split("/visits/")[1].split("/")[0])
        self.intake()
        self.belt()
        self.set_up()
        self.road_test()
        self.rebuild()
        self.hand_over()
        self.assertEqual(self.visit(self.at)["signed_off_by"], "Ebba")

    def intake(self) -> None:
        page = self.page
        page.keyboard.insert_text("bogs off the line")
        self.tab_to(page.get_by_label("Odometer", exact=True))
        self.write("3650")
        expect(page.get_by_label("Engagement", exact=True).first).to_be_focused()
        self.write("3700")
        self.write("7800")
        self.open_thing("fitted")
        expect(page.get_by_role("button", name="Looked at, matches")).to_be_focused()
        self.key("Enter")
        expect(page.get_by_role("navigation", name="Stations").get_by_role("link", name="Belt")).to_be_focused()

    def belt(self) -> None:
        page = self.page
        self.key("Alt+2")
        expect(page.get_by_role("textbox", name="Place 1")).to_be_focused()
        for width in ("34.6", "34.6", "34.5"):
            self.write(width)
        expect(page.get_by_role("radio", name="Run on")).to_be_focused()
        self.key("Space")
        for place, target in (
            ("went_on", page.get_by_role("radio", name="As it came off")),
            ("risen", page.get_by_role("checkbox", name="Stop: tool out")),
        ):
            self.open_thing(place)
            expect(target).to_be_focused()
            self.key("Space")

    def set_up(self) -> None:
        page = self.page
        self.key("Alt+3")
        arms = page.get_by_label("each of 3")
        expect(arms).to_be_enabled()
        self.key("Alt+c")
        expect(arms).to_be_focused()
        self.key("Alt+c")
        expect(page.get_by_label("heel", exact=True)).to_be_focused()
        self.key("Shift+Tab", "Control+a")
        self.write("48")
        self.open_thing("reason")
        expect(page.get_by_label("Why this change?")).to_be_focused()
        page.keyboard.insert_text("lighter, for engagement")
        self.key("Control+Enter")
        expect(page.get_by_role("navigation", name="Stations").get_by_role("link", name="Road test")).to_be_focused()
        self.key("Enter")

    def road_test(self) -> None:
        page = self.page
        self.tab_to(page.get_by_role("button", name="Begin a run"))
        self.key("Enter")
        for name, rpm in (("Engagement", "3820"), ("Shift", "8010")):
            expect(page.get_by_label(name, exact=True)).to_be_focused()
            self.write(rpm)
        expect(page.get_by_role("button", name="Begin another run")).to_be_focused()

    def rebuild(self) -> None:
        """Each step that is open: what was weighed, what was seen, each fastener."""
        page = self.page
        self.manual_read()
        while waits := [each for each in self.visit(self.at)["rebuild"]["steps"] if each["open"]]:
            step = waits[0]
            self.open_thing(step["place"])
            panel = page.get_by_role("article")
            expect(panel).to_have_attribute("aria-label", of_side(step["name"], step["side"]))
            self.ticked(step, stops=True)
            for each in step["matched"]:
                for letter in "ABC"[: each["count"] if each["expected_g"] else 0]:
                    self.tab_to(panel.get_by_label(letter, exact=True))
                    self.write(str(round(each["expected_g"], 2)))
            seen = panel.get_by_role("button", name=re.compile("seen: goes back as it says$"))
            if seen.count():
                self.tab_to(seen)
                self.key("Enter")
                expect(seen).to_have_count(0)
            self.ticked(step, stops=False)
            for each in step["fasteners"]:
                self.tab_to(panel.locator(f"[data-fastener='{each['key']}'] button[data-main]"))
                self.key("Enter")
            self.wait_saved(self.at, partial(closed, place=step["place"]))

    def ticked(self, step: dict[str, Any], *, stops: bool) -> None:
        for each in step["asks"]:
            box = self.page.get_by_role("article").locator(f"[data-place='{step['place']}.{each['key']}']")
            if (each["sort"] == "stop") == stops and box.get_attribute("aria-checked") != "true":
                self.tab_to(box)
                self.key("Space")

    def hand_over(self) -> None:
        page = self.page
        self.open_thing("count_tools")
        self.tab_to(page.locator("[data-count=tools]").get_by_role("button", name=re.compile("^All|^Back")))
        self.key("Enter")
        self.wait_saved(self.at, lambda now: [each["field"] for each in now["open"]] == ["guard_on"])
        self.open_thing("guard_on")
        self.key("Space")
        self.wait_saved(self.at, lambda now: now["open"] == [])
        self.tab_to(page.get_by_label("Technician"))
        page.keyboard.insert_text("Ebba")
        self.key("Control+Enter")
        expect(page.get_by_text("Signed off by Ebba,")).to_be_visible()
