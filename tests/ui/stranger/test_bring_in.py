"""A stranger with gloves brings in what stands on the lift, and works any visit with it."""

import re

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase
from tests.ui.checks import sideways, small_words, violations


class Stranger(BrowserCase):
    def sd(self, figure):
        return float(self.page.locator(f"[data-sd={figure}]").inner_text().replace(",", ""))

    def promised(self):
        """What the reading in hand would take off both deviations, each with its sign, and what they are now."""
        words = self.page.locator("[data-in-hand] [data-worth]").inner_text()
        signs = re.findall(r"[−+]?\d+", words.replace(",", ""))
        return -sum(float(each.replace("−", "-")) for each in signs), self.sd("engagement") + self.sd("shift")

    def bring_in_quad(self):
        self.open("/")
        expect(self.page.get_by_role("heading", name="In the building")).to_be_visible()
        self.page.keyboard.press("n")
        self.page.get_by_role("radio", name="Quad").click()
        self.page.get_by_role("radio", name="Roller variator").click()
        self.page.get_by_label("Complaint, in the rider's words").fill("Slow off the line with the trailer")
        self.page.get_by_label("Belt as fitted, width").fill("30.6")
        expect(self.page.locator("[data-known]")).to_contain_text("1 measured")

    def opened(self):
        self.page.keyboard.press("Control+Enter")
        self.page.wait_for_url(re.compile(r"/visits/\d+/intake"))
        return int(self.page.url.split("/visits/")[1].split("/")[0])

    def test_a_quad_from_kind_complaint_and_belt(self):
        self.bring_in_quad()
        self.assertEqual(violations(self.page), [])
        self.assertEqual(sideways(self.page), [])
        self.assertEqual(small_words(self.page), [])
        # The first reading it asks for, at the typical value: exactly what was promised.
        expect(self.page.locator("[data-in-hand]")).to_have_attribute("data-in-hand", "weights")
        off, before = self.promised()
        self.page.get_by_label("Weights, weighed, mass").fill("20")
        expect(self.page.locator("[data-known]")).to_contain_text("2 measured")
        self.assertAlmostEqual(before - (self.sd("engagement") + self.sd("shift")), off, delta=2)
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_label("Helix, by stamp, stamp")).to_be_focused()
        # The second, at another value: within a quarter.
        expect(self.page.locator("[data-in-hand]")).to_have_attribute("data-in-hand", "helix_stamp")
        off, before = self.promised()
        self.page.get_by_label("Helix, by stamp, stamp").fill("39")
        expect(self.page.locator("[data-known]")).to_contain_text("2 measured · 1 stamped")
        took = before - (self.sd("engagement") + self.sd("shift"))
        self.assertLess(abs(took - off), off / 4 + 1)
        # A reload loses nothing.
        self.page.reload()
        expect(self.page.locator("[data-known]")).to_contain_text("2 measured · 1 stamped")
        visit = self.visit(self.opened())
        self.assertEqual(visit["intake"]["complaint"], "Slow off the line with the trailer")
        self.assertEqual(visit["kinds"]["primary_kind"], "roller-variator-primary")
        self.assertEqual(visit["belt"]["last_known_mm"], 30.6)
        helix = next(slot for slot in visit["setup"]["found_slots"] if slot["name"] == "Helix")
        self.assertEqual((helix["numbers"][0]["left"], helix["parts"][0]["origin"]), (39, "stamped"))

    def test_readings_that_contradict_are_asked_about(self):
        self.bring_in_quad()
        self.page.locator("[data-reading=helix_stamp]").click()
        self.page.get_by_label("Helix, by stamp, stamp").fill("38")
        self.page.locator("[data-reading=helix_lift]").click()
        self.page.get_by_label("Helix, lift over a turn, lift").fill("30")
        self.page.get_by_label("Helix, lift over a turn, turn").fill("60")
        question = self.page.get_by_role("alert").filter(has_text="contradict each other")
        expect(question).to_be_visible()
        question.get_by_role("button", name="Helix, lift over a turn: 43.7°").click()
        expect(question).to_be_hidden()
        expect(self.page.locator("[data-known]")).to_contain_text("2 measured")

    def test_nonsense_is_refused_where_it_stands(self):
        self.bring_in_quad()
        self.page.get_by_label("Weights, weighed, mass").fill("heavy")
        expect(self.page.locator("[data-in-hand]")).to_contain_text("Weights, weighed “heavy” is not a number")
        # It is named where the visit is opened, and nothing is opened without it.
        expect(self.page.locator("[data-not-taken]")).to_have_text("Not taken: Weights, weighed")
        self.page.keyboard.press("Control+Enter")
        expect(self.page.get_by_role("contentinfo")).to_contain_text("Put it right, say it is so, or leave it out.")
        expect(self.page.get_by_label("Weights, weighed, mass")).to_be_focused()
        self.page.get_by_label("Weights, weighed, mass").press("Escape")
        expect(self.page.get_by_label("Weights, weighed, mass")).to_have_value("")

    def test_a_caliper_does_not_write_over_a_reading(self):
        self.bring_in_quad()
        mass = self.page.get_by_label("Weights, weighed, mass")
        mass.fill("20")
        self.page.get_by_label("Belt as fitted, width").focus()
        mass.focus()
        self.bursts("19.4")
        expect(self.page.get_by_text("A reading of 19.4 came in where 20 stands already.")).to_be_visible()
        expect(mass).to_have_value("20")

    def test_what_is_typed_outlives_a_server_that_is_away(self):
        self.bring_in_quad()
        self.page.route("**/api/bring-in", lambda route: route.abort())
        self.page.keyboard.press("Control+Enter")
        expect(self.page.get_by_text("Not done: no connection to the server.")).to_be_visible()
        self.faults.clear()
        self.page.unroute("**/api/bring-in")
        self.page.reload()
        expect(self.page.get_by_label("Complaint, in the rider's words")).to_have_value(
            "Slow off the line with the trailer"
        )
        self.assertEqual(self.visit(self.opened())["belt"]["last_known_mm"], 30.6)

    def test_a_bare_clutch_comes_to_the_bench(self):
        page = self.page
        self.open("/bring-in")
        page.get_by_role("button", name="a bare clutch").click()
        page.get_by_role("radio", name="Tower-and-button").click()
        page.get_by_label("Stamp on it").fill("K7")
        page.get_by_label("Taper").fill("30 mm, 1 in 10")
        page.get_by_label("What is wrong with it, in their words").fill("Rattles on the shelf")
        visit_id = self.opened()
        stations = page.get_by_role("navigation", name="Stations").get_by_role("link")
        expect(stations).to_have_count(5)
        expect(page.get_by_label("Odometer", exact=True)).to_have_count(0)
        page.get_by_role("button", name="Looked at, matches").click()
        page.get_by_role("link", name="Strip & inspect").click()
        page.get_by_role("radio", name="Unopened").click()
        page.get_by_role("button", name="Rest not reached").click()
        self.wait_saved(visit_id, lambda visit: visit["open"] == [])
        page.get_by_role("link", name="Clutch K7").click()
        expect(page.locator("[data-cover-label]")).to_contain_text("taper 30 mm, 1 in 10 · stamp K7")
        self.assertEqual(violations(page), [])

    def test_like_one_the_workshop_knows(self):
        page = self.page
        self.open("/bring-in")
        page.get_by_role("button", name="like one we know").click()
        page.get_by_label("Like", exact=True).select_option(index=1)
        page.get_by_label("Its own name").fill("Twin of it")
        page.get_by_role("button", name="Bring it in").click()
        expect(page.get_by_text("Set-ups through time")).to_be_visible()
        expect(page.get_by_role("banner")).to_contain_text("Twin of it")
