"""Everything is in reach: in one view, by key, read aloud, at any size, with words of any length, and on paper."""

import re
from contextlib import closing
from pathlib import Path

from playwright.sync_api import Page, Route, expect

from jaxel.store import visits
from jaxel.store.db import connect
from tests.ui import checks
from tests.ui.browser import BrowserCase

STATIONS = ("intake", "belt", "set-up", "road-test", "hand-over")
TITLES = {
    "/": "Shop floor · Jaxel",
    "/bring-in": "Bring in · Jaxel",
    "/machines/1": "Tarnhowe 840 mountain sled · Jaxel",
    "/workshop": "Workshop · Jaxel",
    **{
        f"/visits/2/{station}": f"{station.capitalize().replace('Road-', 'Road ')} · Tarnhowe 840 mountain sled · Jaxel"
        for station in STATIONS
    },
    "/visits/9/strip": "Strip & inspect · Skelgarth 600 touring sled · Jaxel",
    "/belts/1": "Belt 1 · Tarnhowe 840 mountain sled · Jaxel",
    "/guide": "Bench guide · Jaxel",
    "/guide/roller-variator-primary": "Roller variator primary · Bench guide · Jaxel",
    "/parts": "Parts · Jaxel",
    "/visits/1/hand-over": "Hand-over · Tarnhowe 840 mountain sled · Jaxel",
}
PAGES = tuple(TITLES)
DESK, TABLET, KEYBOARD_UP, PHONE, ZOOMED = (1280, 800), (820, 1180), (820, 760), (390, 844), (640, 400)
LONG = "Überlandschneefahrt" * 26


class Sized(BrowserCase):
    def setUp(self):
        super().setUp()
        self.count(self.page)

    def at(self, size: tuple[int, int], **options) -> None:
        self.page = self.new_page(viewport={"width": size[0], "height": size[1]}, **options)
        self.count(self.page)

    def count(self, page: Page) -> None:
        """Keep count of what the page has asked for and not been answered."""
        self.asked = 0

        def more(_: object) -> None:
            self.asked += 1

        def less(_: object) -> None:
            self.asked -= 1

        page.on("request", more)
        page.on("requestfinished", less)
        page.on("requestfailed", less)

    def settle(self) -> None:
        """Until everything that was asked for has come and been drawn."""
        expect(self.page.locator("main")).to_be_visible()
        expect(self.page.locator("main").get_by_text(re.compile("Opening|Drawing|working…"))).to_have_count(0)
        quiet = 0
        for _ in range(100):
            self.page.wait_for_timeout(40)
            quiet = quiet + 1 if self.asked == 0 else 0
            if quiet == 3:
                return


class OneView(Sized):
    """The set-up bench: what a hand changes and what it does, without scrolling."""

    def test_in_one_view(self):
        for size in (DESK, TABLET, KEYBOARD_UP):
            self.at(size)
            self.open("/visits/2/set-up")
            self.settle()
            self.assertEqual(self.page.evaluate("document.documentElement.scrollHeight"), size[1])
            tray = self.page.get_by_role("region", name="Slots").bounding_box()
            for what in (
                self.page.get_by_role("img", name=re.compile("Clutches to scale")),
                self.page.get_by_role("img", name=re.compile("^Engagement, rpm")),
                self.page.locator("[data-curve='left']"),
                self.page.get_by_text("the belt is slack"),
                self.page.get_by_label("each of 3"),
                self.page.get_by_label("Readout"),
            ):
                box = what.bounding_box()
                with self.subTest(size=size, what=str(what)):
                    self.assertGreaterEqual(box["y"], 0)
                    self.assertLessEqual(box["y"] + box["height"], size[1])
                    if box["y"] < tray["y"]:
                        self.assertLessEqual(box["y"], tray["y"] - 60)

    def test_snap_stands_beside_the_engagement(self):
        self.open("/visits/2/set-up")
        left = self.visit(2)["left"]["engagement"]
        expect(self.page.get_by_label("Engagement against its window")).to_contain_text(
            f"snap {int(left['snap_n'] + 0.5):,} N"
        )
        self.open("/visits/2/belt")
        costs = {row["name"]: row for row in self.visit(2)["belt"]["costs"]}
        expect(self.page.locator("[data-cost=Snap]")).to_have_text(f"{int(costs['Snap']['now'] + 0.5):,}")
        self.assertGreater(costs["Snap"]["now"], costs["Snap"]["new"])  # a worn belt bites harder

    def test_the_pull_says_whose_limiter_it_was(self):
        # The sled's launch flares while the ground takes no more; arms far too light hold it there in the shift too.
        strip = self.client.get("/api/visits/2/setup/strip").json["left"]
        self.open("/visits/2/set-up")
        self.page.get_by_role("tab", name="Pull").click()
        pull = self.page.get_by_label("Simulated pull")
        launch = strip["limiter_launch_s"]
        expect(pull).to_contain_text(f"{launch:.1f} s at launch" if launch else "on limiter never")
        expect(pull).to_contain_text("ground grip 0.5")

    def test_fifty_rpm_are_plain(self):
        self.open("/visits/2/set-up")
        window = self.page.locator("[data-window]").bounding_box()
        # The window is 200 rpm high: 50 rpm are at least 8 pixels, which no scale from zero would give.
        self.assertGreater(window["height"] / 4, 8)
        target = self.visit(2)["intake"]["target_engagement_tolerance_rpm"]
        box = self.page.get_by_role("img", name=re.compile("^Engagement, rpm")).locator("rect").bounding_box()
        self.assertGreater(box["width"] / (2 * target) * 50, 20)

    def test_the_pull_says_it_is_working_then_its_figures(self):
        page = self.page
        self.open("/visits/2/set-up")
        page.get_by_role("tab", name="Pull").click()
        expect(page.locator("[data-pull=done]")).to_be_visible()

        def slowly(route: Route) -> None:
            page.wait_for_timeout(500)
            route.continue_()

        page.route("**/setup/strip", slowly)
        page.get_by_label("each of 3").fill("57")
        page.get_by_label("each of 3").press("Enter")
        expect(page.locator("[data-pull=working]")).to_have_text("working…")
        expect(page.locator("[data-pull=done]")).to_be_visible()
        strip = self.client.get("/api/visits/2/setup/strip").json
        expect(page.locator("[data-figure='200 m']")).to_contain_text(f"{strip['left']['to_200_m_s']:.2f}")
        page.unroute("**/setup/strip")
        self.client.post("/api/visits/2/setup/drop", json={"draft": {"arm_mass_g": 57}})

    def test_the_curve_moves_while_it_is_typed(self):
        page = self.page
        self.open("/visits/2/set-up")
        curve = page.locator("[data-curve='left']")
        before, held = curve.get_attribute("data-key"), self.visit(2)["setup"]["draft"]
        page.get_by_label("each of 3").press("End")
        page.get_by_label("each of 3").press("Backspace")
        page.get_by_label("each of 3").press_sequentially("7", delay=10)
        expect(curve).not_to_have_attribute("data-key", before)
        self.assertEqual(self.visit(2)["setup"]["draft"], held)
        page.get_by_label("each of 3").fill("59")
        page.get_by_label("each of 3").press("Enter")
        expect(curve).to_have_attribute("data-key", before)

    def test_what_is_refused_moves_no_curve(self):
        self.refusals = {422}
        page = self.page
        self.open("/visits/2/set-up")
        curve, arms = page.locator("[data-curve='left']"), page.get_by_label("each of 3")
        before = curve.get_attribute("data-key")
        arms.fill("57")
        expect(curve).not_to_have_attribute("data-key", before)
        arms.fill("57x")
        expect(page.get_by_role("alert")).to_be_visible()
        expect(curve).to_have_attribute("data-key", before)
        # Another slot typed meanwhile is shown without it.
        page.get_by_role("group", name="Helix").get_by_label("angle").fill("40")
        alone = self.client.post("/api/visits/2/setup/preview", json={"numbers": {"helix_deg.0": "40"}}).json
        expect(curve).to_have_attribute("data-key", alone["figures"]["key"])
        arms.press("Escape")
        page.get_by_role("group", name="Helix").get_by_label("angle").fill("41")


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
        expect(page.get_by_role("dialog", name="Keys")).to_contain_text("the main action of the page")
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


class ReadAloud(Sized):
    def test_groups_regions_and_values_are_named(self):
        page = self.page
        self.open("/visits/2/intake")
        for group in ("Baseline, untouched", "Target engagement", "Target shift"):
            expect(page.get_by_role("group", name=group, exact=True)).to_be_visible()
        self.open("/visits/2/set-up")
        slider = page.get_by_role("slider", name="Point of the shift")
        expect(slider).to_have_attribute("aria-valuetext", re.compile(r"\d mm of travel, [\d,]+ rpm, ratio \d"))
        page.get_by_label("each of 3").fill("58")
        page.get_by_label("each of 3").press("Enter")
        self.wait_saved(2, lambda v: v["setup"]["draft"] == {"arm_mass_g": 58})
        shift = f"{self.visit(2)['left']['shift']['mean_rpm']:,.0f}"
        expect(page.locator("[data-said]")).to_contain_text(f"shift {shift} rpm")
        self.client.post("/api/visits/2/setup/drop", json={"draft": {"arm_mass_g": 58}})
        page.get_by_role("button", name="as a table").click()
        table = page.get_by_role("dialog", name="From idle to full shift, place by place")
        nodes = self.client.get("/api/visits/2/setup/picture").json["left"]["nodes"]
        expect(table.get_by_role("row")).to_have_count(len(nodes) + 1)
        self.open("/visits/4/intake")
        page.get_by_role("button", name="things open").click()
        expect(page.get_by_role("dialog", name="Open things")).to_be_visible()


class AnySize(Sized):
    """Two themes, five sizes, every page and every state of it."""

    def whole(self, where: object) -> None:
        """Nothing cut, sideways or too small."""
        for check in (checks.sideways, checks.small_words, checks.small_targets, checks.cut_words):
            with self.subTest(where, check=check.__name__):
                self.assertEqual(check(self.page), [])

    def accessible(self, where: object) -> None:
        with self.subTest(where):
            self.assertEqual(checks.violations(self.page), [])

    def test_every_page(self):
        self.at(DESK, color_scheme="light")
        for path in PAGES:
            self.page.set_viewport_size({"width": DESK[0], "height": DESK[1]})
            self.open(path)
            self.settle()
            # Colours and names do not hang on the size.
            for theme in ("dark", "light"):
                self.page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")
                self.accessible((path, theme))
            # With the keyboard up the width stays: only the page that fits its height looks another way.
            for size in (DESK, TABLET, *((KEYBOARD_UP,) if path.endswith("set-up") else ()), PHONE, ZOOMED):
                self.page.set_viewport_size({"width": size[0], "height": size[1]})
                self.settle()
                self.whole((path, size))

    def test_dialogs_errors_questions_and_conflicts(self):
        self.refusals = {409, 422}
        for size, theme in ((DESK, "dark"), (PHONE, "light")):
            self.at(size, color_scheme=theme)
            page = self.page
            self.open("/")
            page.get_by_role("link", name="Bring in a machine").click()
            page.get_by_role("button", name="from a file").click()
            page.get_by_role("button", name="Bring it in").click()
            expect(page.get_by_role("alert")).to_be_visible()
            self.accessible(("bring in", size, theme))
            self.open("/visits/2/belt")
            for place, text in (("Place 1", "wide"), ("Place 2", "12")):
                page.get_by_role("textbox", name=place).fill(text)
                page.get_by_role("textbox", name=place).press("Enter")
            expect(page.get_by_role("alert")).to_have_count(2)
            self.whole(("refused and asked", size))
            self.accessible(("refused and asked", size, theme))
            page.get_by_role("banner").get_by_role("button", name="2 entries not saved").click()
            self.accessible(("what is not saved", size, theme))
            page.keyboard.press("Escape")
            for place in ("Place 1", "Place 2"):
                page.get_by_role("textbox", name=place).press("Escape")
            self.open("/visits/2/intake")
            complaint = page.get_by_label("Complaint")
            expect(complaint).not_to_have_value("")
            self.other_intake(2, "complaint", f"other hand {size} {theme}")
            complaint.fill(f"this hand {size} {theme}")
            expect(page.get_by_text("Changed elsewhere to")).to_be_visible()
            self.accessible(("conflict", size, theme))
            page.get_by_role("button", name="Take it").click()
            page.get_by_role("button", name="things open").click()
            self.accessible(("open things", size, theme))

    def test_words_of_any_length(self):
        self.other_intake(2, "complaint", (LONG + " " + "bogs and smells of rubber " * 80)[:2000])
        self.other_hand(2, "/belt", reason={"was": self.visit(2)["belt"]["reason"], "now": LONG[:494]})
        self.other_hand(2, "/hand-over", watch={"was": self.visit(2)["hand_over"]["watch"], "now": LONG[:494]})
        workshop = self.client.get("/api/workshop").json["name"]
        self.client.patch("/api/workshop/name", json={"was": workshop, "now": "W" * 120})
        self.client.post("/api/workshop/people", json={"name": "N" * 120})
        with closing(connect(Path(self.client.application.config["DATABASE"]))) as db:
            for _ in range(60):
                visit = visits.open_visit(db, 2)
                db.execute("UPDATE visit SET signed_off_at = opened_at, signed_off_by = 'Jo' WHERE id = ?", (visit,))
        self.at(DESK)
        for path in (*PAGES, "/machines/2"):
            self.open(path)
            for size in (ZOOMED, PHONE, DESK):
                self.page.set_viewport_size({"width": size[0], "height": size[1]})
                self.settle()
                with self.subTest(path=path, size=size):
                    self.assertEqual(checks.sideways(self.page), [])


class Printed(Sized):
    def test_white_from_any_theme_on_one_page_with_a_line_to_sign(self):
        for theme in ("light", "dark"):
            self.at(DESK, color_scheme=theme)
            page = self.page
            self.open("/visits/1/hand-over")
            self.settle()
            page.emulate_media(media="print", color_scheme=theme)
            sheet = page.get_by_role("article")
            for words in ("Fellside Clutch Bench", "% humidity", "Technician", "Received by"):
                expect(sheet).to_contain_text(words)
            expect(sheet.get_by_text("Received by")).to_be_visible()
            ground = "e => getComputedStyle(e).backgroundColor"
            self.assertEqual(
                page.evaluate("getComputedStyle(document.documentElement).backgroundColor"), "rgb(255, 255, 255)"
            )
            self.assertEqual(sheet.evaluate(ground), "rgb(255, 255, 255)")
            self.assertEqual(sheet.evaluate("e => getComputedStyle(e).color"), "rgb(0, 0, 0)")
            self.assertEqual(page.pdf(format="A4").count(b"/Type /Page\n"), 1)
