import re

from playwright.sync_api import Locator, expect

from tests.ui import checks
from tests.ui.cases.reach_case import Sized

OPENERS = (
    ("/", "Keys and words"),
    ("/bring-in", "which is it"),
    ("/bring-in", "from a file"),
    ("/bring-in", "like one"),
    ("/machines/1", "Pass it on"),
    ("/visits/2/belt", "^Starting ratio"),
    ("/visits/2/set-up", "as a table"),
    ("/visits/2/set-up", "All cautions"),
    ("/visits/2/set-up", "and why|why, and from what"),
    ("/visits/2/set-up", "From the shelf"),
    ("/visits/2/set-up", "^Engagement, rpm"),
    ("/visits/2/set-up", "^Recorded"),
    ("/visits/2/set-up", "things? open$"),
    ("/visits/9/strip", "A whole job"),
    ("/visits/10/rebuild", "tools to lay out"),
    ("/parts", "^Sheet in"),
    ("/workshop", "Take a bundle in"),
    ("/visits/1/hand-over", "Pass it on"),
)
PRINTED = ("/visits/1/hand-over", "/guide/roller-variator-primary", "/visits/2/altitude-card", "/belts/1")


class Over(Sized):
    def opener(self, path: str, name: str) -> Locator:
        self.open(path)
        self.settle()
        return self.page.get_by_role("button", name=re.compile(name)).first

    def test_each_by_key_and_back_at_its_button(self):
        for place, (path, name) in enumerate(OPENERS):
            with self.subTest(path=path, opener=name):
                button = self.opener(path, name)
                expect(button).to_have_attribute("aria-expanded", "false")
                button.press("Enter")
                dialog = self.page.get_by_role("dialog")
                expect(dialog).to_be_visible()
                self.settle()
                theme = ("dark", "light")[place % 2]  # all are of the same two materials
                self.page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")
                self.assertEqual(checks.violations(self.page), [])
                self.page.keyboard.press("Escape")
                expect(dialog).to_have_count(0)
                expect(button).to_be_focused()

    def test_a_figure_says_where_it_comes_from(self):
        told = self.page.get_by_role("dialog", name="What it means")
        self.opener("/visits/2/belt", "^Side gap at rest").click()
        expect(told).to_contain_text("Computed: the gap of a new belt and the width it has lost.")
        expect(told).to_contain_text("nobody said how they are known")
        self.page.keyboard.press("Escape")
        self.opener("/visits/2/set-up", "^Engagement, rpm").click()
        expect(told).to_contain_text("What makes up its ±")
        expect(told.get_by_role("row", name="how strongly the weights act")).to_contain_text("59 %")

    def test_its_button_closes_it_and_a_touch_elsewhere_keeps_the_focus_there(self):
        button = self.opener("/visits/2/set-up", "^Engagement, rpm")
        dialog = self.page.get_by_role("dialog", name="What it means")
        button.click()
        expect(dialog).to_be_visible()
        button.click()
        expect(dialog).to_have_count(0)
        button.click()
        expect(dialog).to_be_visible()
        elsewhere = self.page.get_by_role("tab", name="Pull")
        elsewhere.click()
        expect(dialog).to_have_count(0)
        expect(elsewhere).to_be_focused()

    def test_first_opened_while_the_server_is_away_it_comes_when_it_is_back(self):
        button = self.opener("/visits/1/hand-over", "Keys and words")
        self.page.route("**/assets/layers-*", lambda route: route.abort("internetdisconnected"))
        button.click()
        dialog = self.page.get_by_role("dialog", name="Keys and words")
        self.page.wait_for_timeout(400)
        expect(dialog).to_have_count(0)
        self.page.unroute("**/assets/layers-*")
        expect(dialog).to_be_visible()
        self.faults = [fault for fault in self.faults if "INTERNET_DISCONNECTED" not in fault]

    def test_paper_is_sound_to_a_reader_too(self):
        for path in PRINTED:
            with self.subTest(path):
                self.open(path)
                self.settle()
                self.page.emulate_media(media="print")
                self.assertEqual(checks.violations(self.page), [])
                self.page.emulate_media(media="screen")
