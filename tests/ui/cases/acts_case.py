"""A hand that counts its acts: one committed value, one tick, one choice, one button."""

import re
from functools import partial
from typing import Any

from playwright.sync_api import Locator, expect

from jaxel.core.trade.kinds.kinds import of_side
from tests.ui.browser import BrowserCase


def closed(visit: dict[str, Any], place: str) -> bool:
    """Whether nothing of a step is open."""
    return not any(step["place"] == place and step["open"] for step in visit["rebuild"]["steps"])


class ActsCase(BrowserCase):
    """`acts` so far of the visit `at`."""

    at = 0
    acts = 0

    def begin(self, machine: int, scope: str) -> None:
        self.at = self.client.post(f"/api/machines/{machine}/visits", json={"scope": scope}).json["id"]
        self.acts = 0

    def go(self, station: str) -> None:
        """To a station: the eye and the hand go there, nothing is committed."""
        self.open(f"/visits/{self.at}/{station}")
        expect(self.page.get_by_label("Readout")).to_be_visible()

    def act(self, target: Locator) -> None:
        target.click()
        self.acts += 1

    def choose(self, label: str, option: str) -> None:
        self.act(self.page.get_by_label(label, exact=True).get_by_role("radio", name=option))

    def tick(self, words: str) -> None:
        self.act(self.page.get_by_role("checkbox", name=re.compile(words)))

    def type(self, label: str, value: str) -> None:
        field = self.page.get_by_label(label, exact=True)
        field.fill(value)
        field.press("Enter")
        self.acts += 1

    def press(self, name: str) -> None:
        self.act(self.page.get_by_role("button", name=re.compile(name)).first)

    def waits(self) -> list[str]:
        return [f"{each['station']}: {each['what']}" for each in self.visit(self.at)["open"]]

    def manual_read(self) -> None:
        """The machine's torques are known from before: stated once, they stay its."""
        rebuild = self.visit(self.at)["rebuild"]
        kinds = {each["side"]: each["kind"] for each in rebuild["clutches"]}
        for step in rebuild["steps"]:
            for each in step["fasteners"]:
                if each["tightness"] == "torque" and each["torque_nm"] is None:
                    middle = round((each["low_nm"] * each["high_nm"]) ** 0.5) if each["low_nm"] else 30
                    body = {"kind": kinds[step["side"]], "fastener": each["key"], "tightness": "torque",
                            "torque": middle, "origin": "manual"}  # fmt: skip
                    answer = self.client.post(f"/api/visits/{self.at}/rebuild/torques", json=body)
                    self.assertEqual(answer.status_code, 200, answer.text)

    def put_all_back(self) -> None:
        """Every step of the rebuild at the page: one look each, each stop and check its own, each fastener."""
        self.manual_read()
        for step in self.visit(self.at)["rebuild"]["steps"]:
            self.open(f"/visits/{self.at}/rebuild#{step['place']}")
            panel = self.page.get_by_role("article")
            expect(panel).to_have_attribute("aria-label", of_side(step["name"], step["side"]))
            place = step["place"]
            all_seen = panel.get_by_role("button", name=re.compile("seen: goes back as it says$"))
            if all_seen.count():
                self.act(all_seen)
                expect(all_seen).to_have_count(0)
            for each in step["asks"]:
                box = panel.locator(f"[data-place='{place}.{each['key']}']")
                if box.get_attribute("aria-checked") != "true":
                    self.act(box)
            for each in step["matched"]:
                if each["of"] == "weights" and each["expected_g"]:
                    for letter in "ABCDEFGHIJKL"[: each["count"]]:
                        self.type(letter, str(round(each["expected_g"], 2)))
            if step["wind"]:
                for label in ("The sheave closes turning", "The top was turned"):
                    self.choose(label, "↻ Clockwise")
            for each in step["fasteners"]:
                button = panel.locator(f"[data-fastener='{each['key']}'] button[data-main]")
                self.act(button)
            self.wait_saved(self.at, partial(closed, place=place))

    def sign(self, by: str) -> None:
        self.go("hand-over")
        expect(self.page.get_by_role("checkbox", name="Guard and duct are back on")).to_be_visible()
        tools = self.page.locator("[data-count=tools]").get_by_role("button", name=re.compile("^All|^Back"))
        if tools.count():
            self.act(tools)
        self.tick("^Guard and duct are back on")
        self.wait_saved(self.at, lambda now: now["open"] == [])
        self.page.get_by_label("Technician").fill(by)
        self.acts += 1
        self.press("^Sign off$")
        expect(self.page.get_by_text(f"Signed off by {by},")).to_be_visible()
