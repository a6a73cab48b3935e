"""Everything is in reach: in one view, by key, read aloud, at any size, with words of any length, and on paper."""

import re

from playwright.sync_api import Route, expect

from tests.ui.cases.reach_case import DESK, KEYBOARD_UP, TABLET, Sized


class OneView(Sized):
    """The set-up bench: what a hand changes and what it does, without scrolling."""

    def setUp(self):
        super().setUp()
        if draft := self.visit(2)["setup"]["draft"]:  # each begins with nothing on the bench
            self.client.post("/api/visits/2/setup/drop", json={"draft": draft})

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
            f", {int(left['snap_n'] + 0.5):,} N of it at once"
        )
        self.open("/visits/2/belt")
        costs = {row["name"]: row for row in self.visit(2)["belt"]["costs"]}
        expect(self.page.locator("[data-cost='Of it at once']")).to_have_text(
            f"{int(costs['Of it at once']['now'] + 0.5):,}"
        )
        self.assertGreater(costs["Of it at once"]["now"], costs["Of it at once"]["new"])  # a worn belt bites harder

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

        waiting: list[Route] = []
        let_go = False

        def held_up(route: Route) -> None:
            if let_go:
                route.continue_()
            else:
                waiting.append(route)

        page.route("**/setup/strip", held_up)
        page.get_by_label("each of 3").fill("57")
        page.get_by_label("each of 3").press("Enter")
        expect(page.locator("[data-pull=working]")).to_have_text("working…")
        let_go = True
        for each in waiting:
            each.continue_()
        expect(page.locator("[data-pull=done]")).to_be_visible()
        strip = self.client.get("/api/visits/2/setup/strip").json
        expect(page.locator("[data-figure='200 m']")).to_contain_text(f"{strip['left']['to_200_m_s']:.2f}")
        self.client.post("/api/visits/2/setup/drop", json={"draft": {"arm_mass_g": 57}})

    def test_the_curve_moves_while_it_is_typed(self):
        page = self.page
        self.open("/visits/2/set-up")
        curve = page.locator("[data-curve='left']")
        before, held = curve.get_attribute("data-key"), self.visit(2)["setup"]["draft"]
        waiting: list[Route] = []
        let_go = False

        def held_up(route: Route) -> None:
            if let_go:
                route.continue_()
            else:
                waiting.append(route)

        page.route("**/setup/slots", held_up)  # what is typed is not saved yet, however long this machine takes
        page.get_by_label("each of 3").fill("57")
        expect(curve).not_to_have_attribute("data-key", before)
        self.assertEqual(self.visit(2)["setup"]["draft"], held)
        let_go = True
        for each in waiting:
            each.continue_()
        page.get_by_label("each of 3").fill("59")
        page.get_by_label("each of 3").press("Enter")
        expect(curve).to_have_attribute("data-key", before)
        self.wait_saved(2, lambda visit: visit["setup"]["draft"] == held)

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
