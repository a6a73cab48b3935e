"""What a hand does at single stations, and what the screens promise everywhere."""

import json
import re

from playwright.sync_api import expect

from jaxel.core.formats.setup import read_setup
from tests.ui.browser import BrowserCase

STATIONS = ("intake", "belt", "set-up", "road-test", "hand-over")


class Bench(BrowserCase):
    """Visit 4 of the demo: the side-by-side, half-way through. Each test leaves it as it likes."""

    def drop(self):
        """Put the bench back, as another hand."""
        body = {"draft": self.visit(4)["setup"]["draft"]}
        self.assertEqual(self.client.post("/api/visits/4/setup/drop", json=body).status_code, 200)

    def test_a_belt_kept_as_spare_is_replaced(self):
        page = self.page
        self.open("/visits/4/belt")
        page.get_by_role("textbox", name="Place 3").fill("31.9")
        page.get_by_role("textbox", name="Place 3").press("Enter")
        page.get_by_role("radio", name="Keep as spare").click()
        page.get_by_label("Reason", exact=True).fill("uneven")
        page.get_by_label("Width of the belt going on").fill("32.9")
        page.get_by_label("Width of the belt going on").press("Enter")
        expect(page.get_by_role("button", name="6 things open")).to_be_visible()
        self.wait_saved(4, lambda v: v["belt"]["next_width_mm"] == 32.9 and v["belt"]["reason"] == "uneven")
        visit = self.visit(4)
        self.assertEqual(visit["setup"]["drawing"]["belt_width_mm"], 32.9)
        # The machine leaves on the wider belt: it starts in a lower gear than it came in with.
        self.assertGreater(visit["left"]["belt"]["low_ratio"], visit["found"]["belt"]["low_ratio"])
        readout = page.get_by_label("Readout")
        expect(readout).to_contain_text(f"{visit['left']['belt']['low_ratio']:.2f}")

    def test_a_hole_pair_is_chosen_and_put_back(self):
        page = self.page
        self.drop()
        self.open("/visits/4/set-up")
        before = self.visit(4)["left"]["shift"]["mean_rpm"]
        page.get_by_label("holes").select_option(label="B–3, 100°")
        expect(page.get_by_text("found B–2, 80°")).to_be_visible()
        self.wait_saved(4, lambda v: v["left"]["shift"]["mean_rpm"] > before + 20)
        page.get_by_role("button", name="Put back").click()
        expect(page.get_by_text("found B–2, 80°")).to_be_hidden()
        self.wait_saved(4, lambda v: v["left"]["shift"]["mean_rpm"] == before)

    def test_recording_without_a_reason_is_refused(self):
        self.refusals = {422}
        self.drop()
        self.other_hand(4, "/setup/slots", which="left", numbers={"shim_mm": {"was": 0, "now": 0.4}})
        self.open("/visits/4/set-up")
        self.page.get_by_role("button", name="Record as fitted").click()
        expect(self.page.get_by_role("alert")).to_contain_text("a change is recorded with its reason")

    def test_what_one_step_does_stands_under_each_slot(self):
        self.open("/visits/2/set-up")
        steps = self.client.get("/api/visits/2/setup/steps").json["steps"]
        arm = next(step for step in steps if step["key"] == "arm_mass_g")
        shown = "/".join(f"{arm[name]:+,.0f}".replace("-", "−") for name in ("bite_rpm", "mean_rpm"))
        expect(self.page.locator("[data-step='arm_mass_g'] [aria-hidden]")).to_have_text(shown)

    def test_a_simulated_pull_is_shown_as_found_and_as_left(self):
        self.open("/visits/2/set-up")
        self.page.get_by_role("tab", name="Pull").click()
        strip = self.client.get("/api/visits/2/setup/strip").json
        figures = self.page.locator("[data-figure='400 m'] dd")
        found, left = (f"{strip[which]['to_400_m_s']:.2f}" for which in ("found", "left"))
        expect(figures).to_have_text(re.compile(rf"as found {found}\s+as left {left}"))

    def test_something_else_found_fitted_is_put_right(self):
        page = self.page
        self.open("/visits/4/intake")
        confirm = page.locator("main").get_by_role("button", name=re.compile("fitted|matches"))
        expect(confirm).to_have_text("Looked at: this is fitted")
        page.get_by_label("pocket 1").fill("2")
        page.get_by_label("pocket 1").press("Enter")
        expect(confirm).to_have_text("This is what is fitted")
        confirm.click()
        expect(confirm).to_have_text("Looked at: this is fitted")
        machine = self.visit(4)["machine"]["id"]
        newest = self.client.get(f"/api/machines/{machine}").json["setups"]["revisions"][0]
        self.assertIn("found fitted at intake", newest["reason"])
        self.assertEqual([(c["label"], c["left"]) for c in newest["changes"]], [("pocket 1", 2)])

    def test_a_kind_of_clutch_brings_its_slots(self):
        page = self.page
        self.open("/visits/4/intake")
        shim = page.get_by_label("spider", exact=True)
        expect(shim).to_be_visible()
        page.get_by_label("Kind of primary").select_option(label="Loaded-arm primary")
        expect(shim).to_be_hidden()
        expect(page.get_by_label("pocket 1")).to_be_visible()
        page.get_by_label("Kind of primary").select_option(label="kind not stated")
        expect(shim).to_be_visible()

    def test_a_run_is_taken_back(self):
        page = self.page
        self.open("/visits/2/road-test")
        page.get_by_role("button", name="Begin a run").click()
        page.get_by_label("Shift", exact=True).fill("7,870")
        page.get_by_label("Shift", exact=True).press("Enter")
        expect(page.locator("[data-miss='Shift']")).to_have_count(2)
        page.get_by_role("button", name="Take back run 1").click()
        expect(page.locator("[data-miss='Shift']")).to_have_count(1)
        self.wait_saved(2, lambda v: v["runs"] == [])

    def test_fractions_and_inches(self):
        self.open("/visits/2/belt")
        place = self.page.get_by_role("textbox", name="Place 3")
        place.fill("1 25/64 in")
        place.press("Enter")
        expect(place).to_have_value("35.32")
        self.assertAlmostEqual(self.visit(2)["belt"]["widths_mm"]["3"], (1 + 25 / 64) * 25.4)


class Connection(BrowserCase):
    def test_what_is_typed_without_a_connection_is_kept_and_saved_later(self):
        page = self.page
        self.open("/visits/2/intake")
        complaint = page.get_by_label("Complaint, in the rider's words")
        expect(complaint).not_to_have_value("")
        page.context.set_offline(True)
        complaint.fill("typed in the cold shed")
        complaint.blur()
        expect(page.get_by_text("Kept here; not on the server yet.")).to_be_visible()
        page.context.set_offline(False)
        expect(page.get_by_text("Kept here; not on the server yet.")).to_be_hidden()
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "typed in the cold shed")
        self.faults = [fault for fault in self.faults if "INTERNET_DISCONNECTED" not in fault]


class Machine(BrowserCase):
    def test_setups_show_what_changed_and_the_miss(self):
        self.open("/machines/1")
        rows = self.page.get_by_role("row")
        expect(rows.nth(1)).to_contain_text("Arms, each of 3: 60 → 59")
        expect(rows.nth(1)).to_contain_text("not measured")
        ((measured, miss),) = (
            (each["measured_rpm"], each["miss_rpm"])
            for each in self.client.get("/api/machines/1").json["setups"]["revisions"][1]["measured"]
            if each["figure"] == "Shift"
        )
        expect(rows.nth(2)).to_contain_text(f"{measured:,.0f} ({miss:+,.0f})")

    def test_a_setup_is_saved_as_a_document(self):
        self.open("/machines/1")
        with self.page.expect_download() as waiting:
            self.page.get_by_label("Save set-up").first.click()
        document = read_setup(waiting.value.path().read_bytes())
        self.assertEqual(document.primary.weights.base_mass_g, 59)

    def test_unknown_places_say_so(self):
        self.refusals = {404}
        for path, words in (("/machines/77", "no such machine"), ("/visits/77/belt", "no such visit")):
            self.open(path)
            expect(self.page.get_by_text(words)).to_be_visible()


class Promises(BrowserCase):
    PAGES = ("/", "/machines/1", *(f"/visits/2/{station}" for station in STATIONS))

    def test_theme_is_remembered(self):
        self.open("/")
        self.page.get_by_role("button", name="Use the dark theme").click()
        self.page.reload()
        self.assertEqual(self.page.evaluate("document.documentElement.dataset.theme"), "dark")

    def test_contrast(self):
        # WCAG 2.2, success criterion 1.4.3: 4.5 : 1 for text; relative luminance as defined there.
        self.open("/")

        def luminance(colour):
            parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
            linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
            return sum(w * p for w, p in zip((0.2126, 0.7152, 0.0722), linear, strict=True))

        for theme in ("light", "dark"):
            self.page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")
            read = "name => getComputedStyle(document.documentElement).getPropertyValue(name).trim()"
            for ground in ("--paper", "--card"):
                for text in ("--ink", "--quiet", "--signal-words", "--keep", "--watch", "--replace"):
                    dark, light = sorted(luminance(self.page.evaluate(read, name)) for name in (ground, text))
                    with self.subTest(f"{text} on {ground}, {theme}"):
                        self.assertGreaterEqual((light + 0.05) / (dark + 0.05), 4.5)

    def test_every_field_has_a_name(self):
        for path in self.PAGES:
            self.open(path)
            self.page.wait_for_load_state("networkidle")
            nameless = self.page.evaluate(
                "[...document.querySelectorAll('input:not([type=file]), textarea, select')]"
                ".filter(f => !f.labels?.length && !f.getAttribute('aria-label')).map(f => f.outerHTML)"
            )
            self.assertEqual(nameless, [], path)

    def test_a_caution_stands_at_every_station(self):
        for station in STATIONS:
            self.open(f"/visits/2/{station}")
            self.page.get_by_text("All cautions for this step").click()
            expect(self.page.get_by_text("local rules and a qualified technician come first")).to_be_visible()

    def test_nothing_comes_from_elsewhere(self):
        asked = []
        self.page.on("request", lambda request: asked.append(request.url))
        self.open("/visits/2/set-up")
        self.page.wait_for_load_state("networkidle")
        outside = [url for url in asked if not url.startswith((self.address, "data:"))]
        self.assertEqual(outside, [], json.dumps(asked))
