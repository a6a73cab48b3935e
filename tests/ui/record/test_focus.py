"""Everything is in reach: in one view, by key, read aloud, at any size, with words of any length, and on paper."""

from playwright.sync_api import expect

from tests.ui.cases.reach_case import DESK, PAGES, PHONE, TITLES, ZOOMED, Sized


class Focus(Sized):
    def test_lands_where_the_next_hand_goes(self):
        page = self.page
        self.open("/")
        page.get_by_role("button", name="Open a visit for Hollinbeck").click()
        expect(page.get_by_label("Complaint")).to_be_focused()
        visit_id = int(page.url.split("/visits/")[1].split("/")[0])
        page.get_by_role("button", name="Looked at, matches").click()
        belt = page.get_by_role("navigation", name="Stations").get_by_role("link", name="Belt")
        expect(belt).to_be_focused()
        belt.press("Enter")
        expect(page.get_by_role("textbox", name="Place 1")).to_be_focused()
        for place in (1, 2, 3):
            page.get_by_role("textbox", name=f"Place {place}").fill("33.9")
            page.keyboard.press("Enter")
        expect(page.get_by_role("radio", name="Run on")).to_be_focused()
        self.open(f"/visits/{visit_id}/set-up")
        arms = page.get_by_label("each of 3")
        arms.fill(str(float(arms.input_value()) - 1))
        arms.press("Enter")
        page.get_by_label("Why this change?").fill("lighter")
        page.get_by_label("Why this change?").press("Enter")
        road = page.get_by_role("navigation", name="Stations").get_by_role("link", name="Road test")
        expect(road).to_be_focused()
        road.press("Enter")
        page.get_by_role("button", name="Begin a run").click()
        expect(page.get_by_label("Engagement", exact=True)).to_be_focused()
        page.keyboard.insert_text("3900")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Shift", exact=True)).to_be_focused()
        page.keyboard.insert_text("8000")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Begin another run")).to_be_focused()

    def test_open_things_lead_to_their_field(self):
        self.open("/visits/4/intake")
        for item, focused in (
            ("belt width at place 3", self.page.get_by_role("textbox", name="Place 3")),
            ("belt: run on", self.page.get_by_role("radio", name="Run on")),
            ("set-up change tried", self.page.get_by_label("Why this change?")),
            ("measured engagement", self.page.get_by_role("button", name="Begin a run")),
        ):
            self.page.get_by_role("button", name="things open").click()
            self.page.get_by_role("link", name=item).click()
            expect(focused).to_be_focused()

    def test_skip_link_and_a_title_and_one_heading_for_each_place(self):
        for path in PAGES:
            self.open(path)
            expect(self.page).to_have_title(TITLES[path])
            expect(self.page.get_by_role("heading", level=1)).to_have_count(1)
        self.open("/visits/1/hand-over")
        self.settle()
        self.page.keyboard.press("Shift+Tab")
        self.page.evaluate("document.querySelector('[href=\"#work\"]').focus()")
        self.page.keyboard.press("Enter")
        expect(self.page.locator("main")).to_be_focused()

    def test_keys(self):
        page = self.page
        self.open("/visits/1/hand-over")
        expect(page.get_by_role("article")).to_be_visible()
        for key, station in (("i", "intake"), ("b", "belt"), ("s", "set-up"), ("r", "road-test"), ("h", "hand-over")):
            page.keyboard.press(key)
            page.wait_for_url(f"**/{station}")
        page.keyboard.press("?")
        expect(page.get_by_role("dialog", name="Keys and words")).to_contain_text("the main action of the page")
        page.get_by_label("Single letters act").uncheck()
        page.keyboard.press("Escape")
        page.keyboard.press("b")
        page.wait_for_timeout(200)
        self.assertTrue(page.url.endswith("/hand-over"))
        page.keyboard.press("?")
        page.get_by_label("Single letters act").check()
        page.keyboard.press("Escape")
        page.keyboard.press("/")
        expect(page.get_by_label("Find a machine")).to_be_focused()
        self.open("/visits/2/road-test")
        before = len(self.visit(2)["runs"])
        expect(page.get_by_role("button", name="Begin a")).to_be_visible()
        page.keyboard.press("Control+Enter")
        self.wait_saved(2, lambda v: len(v["runs"]) == before + 1)

    def test_nothing_that_has_the_focus_lies_behind_the_strip(self):
        for size in (DESK, PHONE, ZOOMED):
            self.at(size)
            self.open("/visits/2/intake")
            expect(self.page.get_by_label("Complaint")).to_be_visible()
            feet = self.page.evaluate(
                """() => [...document.querySelectorAll('main :is(input, select, textarea, button)')].map((field) => {
                  field.focus()
                  const strip = document.querySelector('.strip')
                  const above = strip.getBoundingClientRect().top - field.getBoundingClientRect().bottom
                  // What a closed part of the page holds cannot have the focus.
                  return getComputedStyle(strip).position === 'sticky' && document.activeElement === field ? above : 0
                })"""
            )
            self.assertGreater(len(feet), 10)
            self.assertGreaterEqual(min(feet), -1, size)
