"""A visit driven as a person would, with the numbers on the screen checked against the core."""

import json
import re
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from jaxel.core.mechanism.shift import predict
from jaxel.core.units import RPM
from tests.examples import changed, example, read
from tests.ui.browser import BrowserCase


def grouped(value: float) -> str:
    return f"{value:,.0f}"


class WholeVisit(BrowserCase):
    def field(self, label, nth=0):
        return self.page.get_by_label(label, exact=True).nth(nth)

    def station(self, name):
        self.page.get_by_role("navigation", name="Stations").get_by_role("link", name=name).click()

    def test_from_bringing_in_to_printed_hand_over(self):
        page = self.page
        document = changed(example("mountain-sled"), "name", "Mosswater 840 test sled")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "mosswater.json"
            path.write_text(json.dumps(document))
            self.open("/")
            page.get_by_role("link", name="Bring in a machine").click()
            page.get_by_role("button", name="from a file").click()
            page.get_by_label("Setup document").set_input_files(path)
            page.get_by_role("dialog").get_by_label("Rider or owner").fill("Test rider")
            page.get_by_role("button", name="Bring it in").click()
            expect(page.get_by_text("Set-ups through time")).to_be_visible()  # the file is read until then
        page.get_by_role("button", name="Open a visit").click()
        page.wait_for_url(re.compile(r"/visits/\d+/intake"))
        visit_id = int(page.url.split("/visits/")[1].split("/")[0])

        # Intake
        self.field("Complaint, in the rider's words").fill("Bogs on a climb")
        page.get_by_role("radio", name="Mountain").click()
        self.field("Odometer").fill("1,435 mi")
        self.field("Odometer").press("Enter")
        # What is filled is passed over: the next reading that waits is the baseline's.
        baseline = page.get_by_role("group", name="Baseline, untouched").get_by_label("Engagement")
        expect(baseline).to_be_focused()
        expect(self.field("Odometer")).to_have_value("2309.41")
        self.field("Altitude of use").fill("1500")
        self.field("Altitude of use").press("Enter")
        self.field("Temperature").fill("-12")
        baseline.fill("3950")
        page.get_by_role("button", name="Looked at, matches").click()
        expect(page.get_by_role("button", name="Looked at: this is fitted")).to_be_visible()
        self.wait_saved(visit_id, lambda v: v["intake"]["baseline_engagement_rpm"] == 3950)
        document["conditions"] |= {"elevation_m": 1500, "temperature_c": -12}

        # Belt: the caliper types into the first place and presses Enter.
        self.station("Belt")
        expect(self.field("Place 1")).to_be_focused()
        for width in ("35.4", "35.5", "35.4"):
            page.keyboard.type(width)
            page.keyboard.press("Enter")
        expect(page.get_by_text("71% of the wear is used")).to_be_visible()
        worn = changed(document, "belt.top_width_mm", (35.4 + 35.5 + 35.4) / 3)
        found = predict(read(worn).core())
        expect(page.locator("[data-cost='Bite']")).to_have_text(grouped(found.engagement.bite / RPM))
        expect(page.locator("[data-cost='Starting ratio']")).to_have_text(f"{found.low_ratio:.2f}")
        expect(page.locator("[data-cost='Top ratio']")).to_have_text(f"{found.high_ratio:.2f}")
        page.get_by_role("radio", name="Run on").click()
        expect(page.get_by_role("radio", name="Run on")).to_be_checked()

        # Set-up: lighter arms, tried, recorded with the reason.
        self.station("Set-up")
        self.field("each of 3").fill("58.5")
        self.field("each of 3").press("Enter")
        expect(page.get_by_text("found 60")).to_be_visible()
        left = predict(read(changed(worn, "primary.weights.base_mass_g", 58.5)).core())
        readout = page.get_by_label("Readout")
        expect(readout).to_contain_text(grouped(left.shift.mean / RPM))
        expect(readout).to_contain_text(grouped(found.shift.mean / RPM))
        expect(readout).to_contain_text(grouped(left.engagement.bite / RPM))
        expect(page.locator("[data-curve='left']")).to_be_visible()
        slider = page.get_by_role("slider", name="Point of the shift")
        slider.press("End")
        expect(page.get_by_role("img", name=f"at full shift, ratio {left.high_ratio:.2f}")).to_be_visible()
        self.field("Tried, not yet recorded. Why this change?").fill("thinner air")
        page.get_by_role("button", name="Record as fitted").click()
        expect(page.get_by_text("thinner air")).to_be_visible()
        expect(page.get_by_role("button", name="Record as fitted")).to_be_hidden()

        # Road test: the miss beside the prediction.
        self.station("Road test")
        page.get_by_role("button", name="Begin a run on the set-up as left").click()
        expect(self.field("Engagement")).to_be_focused()
        page.keyboard.type("4120")
        page.keyboard.press("Enter")
        page.keyboard.type("7880")
        page.keyboard.press("Enter")
        miss = 7880 - left.shift.mean / RPM
        shown = page.locator("[data-miss='Shift']").last
        expect(shown).to_have_text(f"{miss:+,.0f}".replace("-", "−"))
        self.wait_saved(visit_id, lambda v: v["runs"][0]["engagement_rpm"] == 4120)

        # Hand-over: nothing is missing, the page prints, the visit closes.
        self.station("Hand-over")
        self.field("What to watch").fill("Belt again at 2,800 km")
        self.field("Next service at").fill("2800")
        self.field("Next service at").press("Enter")
        self.wait_saved(visit_id, lambda v: v["hand_over"]["next_service_km"] == 2800)
        sheet = page.get_by_role("article")
        for text in ("Bogs on a climb", "35.4 / 35.5 / 35.4", "runs on", "thinner air", "7,880", "2,800", "58.5"):
            expect(sheet).to_contain_text(text)
        page.emulate_media(media="print")
        expect(sheet).to_be_visible()
        for part in ("Readout", "Stations"):
            expect(page.get_by_label(part)).to_be_hidden()
        self.assertEqual(page.pdf(format="A4").count(b"/Type /Page\n"), 1)
        page.emulate_media(media="screen")
        self.close_up()
        self.wait_saved(visit_id, lambda v: v["open"] == [])
        self.field("Technician").fill("Jonas")
        page.get_by_role("button", name="Sign off", exact=True).click()
        expect(page.get_by_text("Signed off by Jonas, ")).to_be_visible()
        self.wait_saved(visit_id, lambda v: v["signed_off_at"] is not None)
        expect(self.field("What to watch")).to_be_disabled()


class NothingLost(BrowserCase):
    """Visit 2 of the demo: the mountain sled that waits for its road test."""

    def complaint(self):
        return self.page.get_by_label("Complaint, in the rider's words")

    def test_a_reload_loses_nothing(self):
        self.open("/visits/2/intake")
        self.complaint().fill("typed and reloaded at once")
        self.page.reload()
        expect(self.complaint()).to_have_value("typed and reloaded at once")
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "typed and reloaded at once")

    def test_a_refused_width_stays_with_its_reason(self):
        self.refusals = {422}
        self.open("/visits/2/belt")
        place = self.page.get_by_role("textbox", name="Place 2")
        place.fill("39.9")
        place.press("Enter")
        alert = self.page.get_by_role("alert")
        expect(alert).to_contain_text("more than 1 mm wider than the new belt")
        expect(place).to_have_value("39.9")
        self.assertEqual(self.visit(2)["belt"]["widths_mm"]["2"], 35.5)
        self.page.reload()
        expect(place).to_have_value("39.9")
        expect(alert).to_contain_text("wider than the new belt")
        place.fill("35.5")
        place.press("Enter")
        expect(alert).to_be_hidden()

    def test_unequal_arms_and_text_are_refused_at_the_field(self):
        self.refusals = {422}
        self.open("/visits/2/set-up")
        arms = self.page.get_by_label("each of 3")
        for typed, reason in (
            ("59 / 59.6 / 59", "the arms are unequal"),
            ("heavy", "is not a number"),
            ("0", "far from the 59 g"),
        ):
            arms.fill(typed)
            arms.press("Enter")
            expect(self.page.get_by_role("alert")).to_contain_text(reason)
        arms.fill("59")
        arms.press("Enter")
        expect(self.page.get_by_role("alert")).to_be_hidden()
        self.assertEqual(self.visit(2)["setup"]["draft"], {})

    def test_an_edit_made_elsewhere_is_shown_not_overwritten(self):
        self.refusals = {409}
        self.open("/visits/2/intake")
        expect(self.complaint()).not_to_have_value("")
        self.other_intake(2, "complaint", "from the tablet")
        self.complaint().fill("from the bench")
        expect(self.page.get_by_text("Changed elsewhere to from the tablet.")).to_be_visible()
        self.assertEqual(self.visit(2)["intake"]["complaint"], "from the tablet")
        self.page.get_by_role("button", name="Keep mine").click()
        expect(self.page.get_by_text("Changed elsewhere")).to_be_hidden()
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "from the bench")

        # A change made elsewhere in another field does not get in the way.
        self.other_intake(2, "odometer_km", 2312)
        self.complaint().fill("from the bench again")
        expect(self.page.get_by_label("Odometer")).to_have_value("2312")
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "from the bench again")

    def test_text_left_unsaved_does_not_overwrite_what_came_after(self):
        page = self.page
        self.refusals = {409}
        self.open("/visits/4/intake")
        expect(self.complaint()).not_to_have_value("")
        page.context.set_offline(True)
        self.complaint().fill("left in the field")
        self.complaint().blur()
        expect(page.get_by_text("Kept here; not on the server yet.")).to_be_visible()
        page.close()
        self.other_intake(4, "complaint", "came after")
        page.context.set_offline(False)
        self.page = page.context.new_page()
        self.open("/visits/4/intake")
        expect(self.page.get_by_text("Changed elsewhere to came after.")).to_be_visible()
        expect(self.complaint()).to_have_value("left in the field")
        self.page.get_by_role("button", name="Take it").click()
        expect(self.complaint()).to_have_value("came after")
        self.faults = [fault for fault in self.faults if "INTERNET_DISCONNECTED" not in fault]

    def test_a_file_too_large_to_be_read_is_refused_in_words(self):
        self.refusals = {413}
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "large.json"
            path.write_text('{"name": "' + "x" * 1_200_000 + '"}')
            self.open("/")
            self.page.get_by_role("link", name="Bring in a machine").click()
            self.page.get_by_role("button", name="from a file").click()
            self.page.get_by_label("Setup document").set_input_files(path)
            self.page.get_by_role("button", name="Bring it in").click()
            expect(self.page.get_by_role("alert")).to_contain_text("document: is larger than 1,000 kB")

    def test_a_malformed_document_is_refused(self):
        self.refusals = {422}
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bad.json"
            path.write_text(json.dumps(changed(example("trail-sled"), "belt.top_width_mm", 44)))
            self.open("/")
            self.page.get_by_role("link", name="Bring in a machine").click()
            self.page.get_by_role("button", name="from a file").click()
            self.page.get_by_label("Setup document").set_input_files(path)
            self.page.get_by_role("button", name="Bring it in").click()
            expect(self.page.get_by_role("alert")).to_contain_text("belt.top_width_mm")
        self.assertEqual(len(self.client.get("/api/floor").json["machines"]), 6)


class SlowServer(BrowserCase):
    def test_typing_on_while_it_saves_is_no_conflict_with_oneself(self):
        def slowly(route):
            if route.request.method == "PATCH":
                self.page.wait_for_timeout(600)
            route.continue_()

        self.open("/visits/2/intake")
        self.page.wait_for_load_state("networkidle")
        self.page.route("**/api/visits/2/intake", slowly)
        complaint = self.page.get_by_label("Complaint, in the rider's words")
        complaint.fill("bogs")
        self.page.wait_for_timeout(900)
        complaint.press("End")
        complaint.type(", and lazy at the top")
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "bogs, and lazy at the top")
        expect(self.page.get_by_text("Changed elsewhere")).to_be_hidden()

    def test_a_page_that_breaks_says_so_and_offers_the_way_back(self):
        broken = {"machines": [{}], "total": 1, "unfinished": False}
        self.page.route("**/api/floor*", lambda route: route.fulfill(json=broken))
        self.open("/")
        expect(self.page.get_by_role("heading", name="This page has broken")).to_be_visible()
        self.page.unroute("**/api/floor*")
        self.page.get_by_role("link", name="Open it again").click()
        expect(self.page.get_by_role("heading", name="In the building")).to_be_visible()
        self.assertTrue(self.faults)  # what broke stands on the console
        self.faults = []


class Reach(BrowserCase):
    def test_open_things_are_named_and_lead_to_their_station(self):
        self.open("/visits/2/intake")
        self.page.get_by_role("button", name="4 things open").click()
        self.page.get_by_role("link", name="measured shift rpm on the set-up as left").click()
        expect(self.page.get_by_role("button", name="Begin a run on the set-up as left")).to_be_visible()

    def test_shop_floor_finds_by_complaint(self):
        self.open("/")
        self.page.get_by_label("Find a machine").fill("trailer")
        expect(self.page.get_by_role("link", name="Skelwath")).to_be_visible()
        expect(self.page.get_by_role("link", name="Tarnhowe")).to_have_count(0)

    def test_nothing_overflows_on_a_tablet_in_the_dark(self):
        page = self.page = self.new_page(viewport={"width": 820, "height": 1180}, color_scheme="dark")
        for path in (
            "/",
            "/machines/1",
            *(f"/visits/2/{s}" for s in ("intake", "belt", "set-up", "road-test", "hand-over")),
        ):
            self.open(path)
            page.wait_for_load_state("networkidle")
            with self.subTest(path):
                self.assertEqual(page.evaluate("document.documentElement.dataset.theme"), "dark")
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 820)

    def test_targets_are_large_enough_for_gloves(self):
        self.open("/visits/2/belt")
        for target in self.page.locator("main button, main input, nav a").all():
            box = target.bounding_box()
            self.assertGreaterEqual(box["height"], 40, target.inner_text())
