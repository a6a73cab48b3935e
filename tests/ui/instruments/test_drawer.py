"""The drawer of instruments: by keyboard, by touch on a tablet, with devices at two benches and a keyboard lead."""

import re
import subprocess
import sys

from playwright.sync_api import expect

from tests.ui import checks
from tests.ui.browser import BrowserCase

SIDE_BY_SIDE = 4
"""The demo's side-by-side: two of its belt's three places are measured."""


class Drawer(BrowserCase):
    def belt(self):
        self.open(f"/visits/{SIDE_BY_SIDE}/belt")
        place = self.page.locator("[data-place='place_3']")
        expect(place).to_be_visible()
        return place

    def tearDown(self):
        held = self.visit(SIDE_BY_SIDE)["belt"]["widths_mm"].get("3")
        if held is not None:
            body = {"place": 3, "was": held, "now": None}
            self.client.put(f"/api/visits/{SIDE_BY_SIDE}/belt/reading", json=body)
        super().tearDown()

    def drawer(self, page=None):
        return (page or self.page).get_by_role("complementary", name="Instruments")

    def measured(self):
        return self.visit(SIDE_BY_SIDE)["belt"]["widths_mm"].get("3")

    def wait_measured(self):
        self.wait_saved(SIDE_BY_SIDE, lambda visit: visit["belt"]["widths_mm"].get("3") is not None)

    def test_a_reading_by_keyboard_alone(self):
        place = self.belt()
        place.focus()
        self.page.keyboard.press("Alt+i")
        expect(self.drawer().get_by_role("button", name="Read", exact=True)).to_be_focused()
        expect(self.drawer().get_by_label("Caliper, in hand")).to_be_visible()  # the one for a width
        self.page.keyboard.press("Enter")
        send = self.drawer().get_by_role("button", name="Send to Belt width at place 3")
        expect(send).to_be_focused()
        expect(place).to_have_value("")  # it is looked at before it goes
        self.page.keyboard.press("Enter")
        self.wait_measured()
        self.assertAlmostEqual(self.measured(), self.visit(SIDE_BY_SIDE)["belt"]["widths_mm"]["1"], delta=0.5)
        told = self.client.get(f"/api/visits/{SIDE_BY_SIDE}/log?after=0").json["changes"][-1]
        self.assertEqual((told["instrument"], told["lines"][0]["station"]), ("caliper", "belt"))
        self.page.keyboard.press("Escape")
        expect(self.drawer()).to_have_count(0)
        expect(place).to_be_focused()
        expect(self.page.get_by_role("button", name=re.compile("^Undo"))).to_be_visible()

    def test_another_quantity_is_asked_about_not_taken(self):
        place = self.belt()
        place.focus()
        self.page.keyboard.press("Alt+i")
        self.page.evaluate("() => 0")
        self.drawer().get_by_role("button", name="Scale", exact=True).click()
        self.refusals = {422}
        self.drawer().get_by_role("button", name="Read", exact=True).click()
        expect(self.drawer()).to_contain_text("has nothing a scale could be held to")
        self.assertIsNone(self.measured())

    def test_by_touch_on_a_tablet_with_the_field_in_sight(self):
        self.page = self.new_page(viewport={"width": 820, "height": 1180}, has_touch=True)
        place = self.belt()
        place.tap()
        self.page.get_by_role("button", name="Instruments").tap()
        self.drawer().get_by_role("button", name="Read", exact=True).tap()
        self.drawer().get_by_role("button", name="Send to Belt width at place 3").tap()
        self.wait_measured()
        expect(place).to_be_in_viewport()
        above = place.bounding_box()["y"] + place.bounding_box()["height"]
        self.assertLess(above, self.drawer().bounding_box()["y"])
        for check in (checks.violations, checks.sideways, checks.small_words, checks.small_targets):
            with self.subTest(check.__name__):
                self.assertEqual(check(self.page), [])

    def test_every_station_has_it(self):
        for station in ("intake", "belt", "strip", "set-up", "rebuild", "line-up", "road-test", "hand-over"):
            self.open(f"/visits/2/{station}")
            expect(self.page.get_by_role("button", name="Instruments")).to_be_visible()
            self.page.keyboard.press("Alt+i")
            expect(self.drawer()).to_be_visible()
            self.page.keyboard.press("Alt+i")
            expect(self.drawer()).to_have_count(0)

    def test_the_run_logger_goes_along(self):
        self.open("/visits/2/road-test")
        self.page.get_by_role("button", name=re.compile("^Begin")).click()
        self.page.get_by_role("button", name="Take the run logger along").last.click()
        expect(self.page.locator("canvas").first).to_be_visible()
        expect(
            self.page.get_by_role("heading", name="ride 1.csv").or_(self.page.get_by_text("ride 1.csv")).first
        ).to_be_visible()


class Devices(BrowserCase):
    """A keyboard lead and a device that sends, at one page; two benches at once."""

    def setUp(self):
        super().setUp()
        self.tokens = {}
        for name in ("By the door", "At the window"):
            self.client.post("/api/benches", json={"name": name})
        for bench in self.client.get("/api/benches").json["benches"]:
            self.tokens[bench["id"]] = self.client.post(f"/api/benches/{bench['id']}/token", json={}).json["token"]

    def tearDown(self):
        for visit in (SIDE_BY_SIDE, 2):
            for place in (1, 2, 3):
                held = self.visit(visit)["belt"]["widths_mm"].get(str(place))
                if held in (31.77, 31.66, 35.11, 35.4):
                    self.client.put(
                        f"/api/visits/{visit}/belt/reading", json={"place": place, "was": held, "now": None}
                    )
        for bench in self.tokens:
            self.client.post(f"/api/benches/{bench}/remove", json={})
        super().tearDown()

    def sent(self, bench, *words):
        """The client of a device, as it is run at the bench."""
        command = [sys.executable, "-m", "jaxel", "reading", "--bench", str(bench), "--url", self.address]
        answer = subprocess.run(
            [*command, "--token", self.tokens[bench], *words], capture_output=True, text=True, timeout=60, check=False
        )
        self.assertEqual((answer.returncode, answer.stderr), (0, ""))
        return answer.stdout.strip()

    def page_at(self, bench, visit, place):
        page = self.new_page()
        page.add_init_script(f"localStorage.setItem('jaxel.bench', '{bench}')")
        page.goto(f"{self.address}/visits/{visit}/belt")
        field = page.locator(f"[data-place='place_{place}']")
        expect(field).to_be_visible()
        return page, field

    def free(self, visit, place):
        held = self.visit(visit)["belt"]["widths_mm"].get(str(place))
        if held is not None:
            self.client.put(f"/api/visits/{visit}/belt/reading", json={"place": place, "was": held, "now": None})

    def test_a_lead_types_and_a_device_sends_to_one_page(self):
        for place in (1, 2, 3):
            self.free(SIDE_BY_SIDE, place)
        self.page, first = self.page_at(1, SIDE_BY_SIDE, 1)
        first.focus()
        self.bursts("31.66")
        self.wait_saved(SIDE_BY_SIDE, lambda visit: visit["belt"]["widths_mm"].get("1") == 31.66)
        second = self.page.locator("[data-place='place_2']")
        expect(second).to_be_focused()
        self.assertEqual(self.sent(1, "caliper", "31.77", "mm"), "Caliper 31.77 mm, at bench 1")
        self.wait_saved(SIDE_BY_SIDE, lambda visit: visit["belt"]["widths_mm"].get("2") == 31.77)
        self.assertEqual(self.client.get("/api/benches/1/readings").json["readings"], [])

    def test_two_benches_wait_at_once(self):
        self.free(SIDE_BY_SIDE, 3)
        self.free(2, 3)
        _, mine = self.page_at(1, SIDE_BY_SIDE, 3)
        _, theirs = self.page_at(2, 2, 3)
        mine.focus(), theirs.focus()
        self.sent(2, "caliper", "35.11", "mm")
        self.sent(1, "caliper", "31.77", "mm")
        expect(theirs).to_have_value(re.compile("^35.1"))
        expect(mine).to_have_value(re.compile("^31.77|^31.8"))
        self.wait_saved(2, lambda visit: visit["belt"]["widths_mm"].get("3") == 35.11)
        self.wait_saved(SIDE_BY_SIDE, lambda visit: visit["belt"]["widths_mm"].get("3") == 31.77)

    def test_without_a_field_it_is_held_and_shown(self):
        self.page = self.new_page()
        self.page.add_init_script("localStorage.setItem('jaxel.bench', '1')")
        self.open(f"/visits/{SIDE_BY_SIDE}/road-test")  # no run was begun: no number is asked there
        expect(self.page.get_by_role("button", name="Instruments")).to_be_visible()
        self.sent(1, "caliper", "31.77", "mm")
        expect(self.page.get_by_text("31.77 mm came in from the caliper")).to_be_visible()
        self.page.keyboard.press("Alt+i")
        held = self.page.get_by_role("list", name="Readings that came in")
        expect(held).to_contain_text(re.compile(r"31\.77 mm caliper.*held for 1\d\d s more"))
        expect(held.get_by_role("button", name="Send to a field")).to_be_disabled()
        held.get_by_role("button", name="Let it go").click()
        expect(held).to_have_count(0)
        self.assertEqual(self.client.get("/api/benches/1/readings").json["readings"], [])

    def test_a_force_sent_to_a_width_is_asked_about(self):
        self.free(SIDE_BY_SIDE, 3)
        self.page, field = self.page_at(1, SIDE_BY_SIDE, 3)
        field.focus()
        self.sent(1, "spring tester", "742", "N")
        alert = self.page.get_by_role("alert").filter(has_text="a spring tester reads N, and this field takes mm")
        expect(alert).to_be_visible()
        self.assertIsNone(self.visit(SIDE_BY_SIDE)["belt"]["widths_mm"].get("3"))
        alert.get_by_role("button", name="Drop it").click()
        expect(field).to_have_value("")
