"""Every screen answers, every hand gets through: a server that goes, keys from inside a reading, photos, a phone."""

import io
import re

from PIL import Image
from playwright.sync_api import Route, expect

from tests.ui.browser import BrowserCase
from tests.ui.checks import sideways, violations


class ServerGone(BrowserCase):
    sparing = False

    def test_a_reload_shows_the_last_page_to_read_and_what_is_unsaved(self):
        self.page = page = self.new_page(service_workers="allow")
        self.open("/visits/2/belt")
        expect(page.locator("[data-place='place_1']")).to_be_enabled()
        # Asked from outside: a wait within the page would have to evaluate words, which its policy forbids.
        for _ in range(600):
            if page.evaluate("navigator.serviceWorker.controller?.state") == "activated":
                break
            page.wait_for_timeout(100)
        page.wait_for_timeout(2500)  # what the page shows is kept once it has stood a moment
        page.context.set_offline(True)
        page.locator("[data-place='place_1']").fill("35.3")
        expect(page.get_by_text("1 entry not saved")).to_be_visible()
        page.reload()
        expect(page.locator("[data-old]")).to_contain_text("as last seen here")
        place = page.locator("[data-place='place_1']")
        expect(place).to_have_value("35.3")
        expect(place).to_be_disabled()
        page.context.set_offline(False)
        expect(page.locator("[data-old]")).to_be_hidden()
        expect(place).to_be_enabled()
        self.wait_saved(2, lambda now: now["belt"]["widths_mm"]["1"] == 35.3)
        # Another hand at this browser: what the one before saw is gone with it.
        page.get_by_label("at this browser").select_option("Ebba")
        page.wait_for_timeout(300)
        page.context.set_offline(True)
        kept = page.evaluate(
            """() => new Promise(done => { indexedDB.open('jaxel-last-page').onsuccess = ({target}) => {
              const ask = target.result.transaction('answers').objectStore('answers').get('last')
              ask.onsuccess = () => done(ask.result?.hand ?? null) } })"""
        )
        self.assertNotEqual(kept, "bench")
        self.faults.clear()

    def test_one_that_hangs_is_told(self):
        self.open("/visits/2/belt")
        expect(self.page.locator("[data-place='place_1']")).to_be_enabled()
        held: list[Route] = []

        def hold(route: Route) -> None:
            held.append(route)

        self.page.route("**/api/visits/2/belt/reading", hold)
        self.page.locator("[data-place='place_1']").fill("35.2")
        self.page.keyboard.press("Enter")
        expect(self.page.locator("[data-slow]")).to_be_visible()
        held[0].continue_()
        expect(self.page.locator("[data-slow]")).to_be_hidden()

    def test_a_photo_that_comes_when_others_wait_is_sent_again(self):
        page = self.page
        turned_away: list[str] = []

        def busy(route):
            if turned_away:
                route.continue_()
                return
            turned_away.append(route.request.url)
            route.fulfill(status=429, json={"error": {"field": "busy", "reason": "photos: 4 are waiting already"}})

        self.refusals = {429}
        page.route("**/api/machines/*/photos*", busy)
        self.open("/visits/4/belt")
        row = page.locator("[data-photos=belt]")
        out = io.BytesIO()
        Image.new("RGB", (60, 40), "grey").save(out, "JPEG")
        row.get_by_label("Photo of belt").set_input_files(
            {"name": "belt.jpg", "mimeType": "image/jpeg", "buffer": out.getvalue()}
        )
        expect(row.get_by_role("button", name="Open photo 1")).to_be_visible()
        self.assertEqual(len(turned_away), 1)

    def test_a_photo_waits_like_any_entry_and_comes_as_small_as_it_is_kept(self):
        page = self.page
        self.open("/visits/2/belt")
        row = page.locator("[data-photos=belt]")
        expect(row).to_contain_text("Photo of belt")
        page.context.set_offline(True)
        out = io.BytesIO()
        Image.new("RGB", (3000, 1500), "grey").save(out, "JPEG")
        row.get_by_label("Photo of belt").set_input_files(
            {"name": "belt.jpg", "mimeType": "image/jpeg", "buffer": out.getvalue()}
        )
        expect(row).to_contain_text("photo waits here")
        expect(page.get_by_text("1 photo not saved")).to_be_visible()
        page.context.set_offline(False)
        row.get_by_role("button", name="Open photo 1").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Ring").focus()
        page.keyboard.press("Enter")
        expect(dialog.get_by_role("button", name="the last mark off")).to_be_visible()
        dialog.get_by_label("What it shows").fill("glazed")
        page.keyboard.press("Enter")
        expect(dialog.get_by_role("heading", name="glazed")).to_be_visible()
        self.assertEqual(violations(page), [])
        (photo,) = self.client.get("/api/visits/2/photos").json["photos"]["belt"]
        self.assertEqual((photo["caption"], [each["kind"] for each in photo["marks"]]), ("glazed", ["ring"]))
        self.assertEqual((photo["width"], photo["height"]), (2000, 1000))
        self.faults.clear()


class Keys(BrowserCase):
    def test_from_inside_a_reading_by_alt_and_out_of_it_by_escape(self):
        page = self.page
        self.open("/visits/2/belt")
        page.locator("[data-place='place_2']").focus()
        page.keyboard.press("Alt+4")
        page.wait_for_url(re.compile("/visits/2/set-up"))
        page.get_by_label("each of 3").focus()
        page.keyboard.press("Escape")
        expect(page.get_by_label("each of 3")).not_to_be_focused()
        page.keyboard.press("b")
        page.wait_for_url(re.compile("/visits/2/belt"))

    def test_one_key_to_the_refused_and_then_through_what_is_open(self):
        page = self.page
        self.refusals.add(422)
        self.open("/visits/2/intake")
        page.get_by_label("Temperature").fill("hot")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Not saved: “hot” is not a number")).to_be_visible()
        page.get_by_label("Humidity").focus()
        page.keyboard.press("Alt+o")
        expect(page.get_by_label("Temperature")).to_be_focused()
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        page.keyboard.press("o")
        page.wait_for_url(re.compile("#"))

    def test_the_third_weight_leaves_the_hand_on_the_page(self):
        page = self.page
        self.open("/visits/2/road-test")
        page.get_by_role("button", name=re.compile("^Begin")).click()
        last = page.locator("[data-run='last'] input[data-walk]").last
        last.focus()
        for _ in range(4):
            page.keyboard.press("Enter")
            self.assertNotEqual(page.evaluate("document.activeElement.tagName"), "BODY")


class AnyMachine(BrowserCase):
    """A stranger's machine from the floor to an open visit with a prediction, in five acts."""

    def test_each_kind_of_primary(self):
        kinds = {
            "Adjustable-cam": "Sled", "Loaded-arm": "Side-by-side", "One-way-bearing": "Quad",
            "Roller variator": "Quad", "Shimmed-spider": "Sled", "Tower-and-button": "Sled",
            "Light torque converter": "Light vehicle",
        }  # fmt: skip
        page = self.page
        for primary, machine in kinds.items():
            with self.subTest(primary):
                self.open("/")
                expect(page.get_by_role("heading", name="In the building")).to_be_visible()
                page.keyboard.press("n")
                page.get_by_role("radio", name=machine, exact=True).click()
                page.get_by_role("radio", name=primary).first.click()
                page.get_by_label("Complaint, in the rider's words").fill("Slow off the line")
                page.keyboard.press("Control+Enter")
                page.wait_for_url(re.compile(r"/visits/\d+/intake"))
                visit = self.visit(int(page.url.split("/visits/")[1].split("/")[0]))
                self.assertGreater(visit["left"]["shift"]["mean_rpm"], 2000)
                self.assertTrue(visit["intake"]["target_typical"])
                expect(page.locator("section.strip")).to_contain_text("Typical, rpm")


class Narrow(BrowserCase):
    def test_nothing_sideways_at_320_px_and_every_place_in_two_touches(self):
        self.page = page = self.new_page(viewport={"width": 320, "height": 640}, has_touch=True)
        for path in ("/", "/bring-in", "/visits/2/intake", "/visits/2/belt", "/visits/3/hand-over", "/machines/1"):
            with self.subTest(path):
                self.open(path)
                expect(page.locator("main")).not_to_be_empty()
                page.wait_for_timeout(800)
                self.assertEqual(sideways(page), [])
        for name, title in (
            ("Parts room", "Parts · Jaxel"),
            ("Bench guide and words", "Bench guide · Jaxel"),
            ("Workshop", "Workshop · Jaxel"),
        ):
            page.get_by_role("button", name="Places").click()
            page.get_by_role("link", name=name, exact=True).click()
            expect(page).to_have_title(title)  # its address stands before the page does
