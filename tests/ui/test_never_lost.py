"""Nothing typed, chosen or pressed is lost: a server that comes and goes, refusals, another hand."""

import json
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from tests.examples import changed, example
from tests.ui.browser import BrowserCase

AWAY = "Kept here; not on the server yet"


class Lost(BrowserCase):
    def away(self) -> None:
        """The server goes away; what fails to reach it is no fault."""
        self.page.context.set_offline(True)

    def back(self) -> None:
        self.page.context.set_offline(False)

    def tearDown(self):
        self.faults = [fault for fault in self.faults if "INTERNET_DISCONNECTED" not in fault]
        super().tearDown()

    def ride(self, visit_id: int, **measured: float) -> None:
        """A run on the set-up as left, by another hand."""
        body = {"revision_id": self.visit(visit_id)["left_revision_id"]}
        answer = self.client.post(f"/api/visits/{visit_id}/runs", json=body)
        run = answer.json["runs"][-1]["id"]
        self.other_hand(visit_id, f"/runs/{run}", **{name: {"was": None, "now": now} for name, now in measured.items()})

    def station(self, name: str) -> None:
        self.page.get_by_role("navigation", name="Stations").get_by_role("link", name=name).click()

    def unsaved(self):
        return self.page.get_by_role("banner").get_by_role("button", name="not saved")


class Refused(Lost):
    """What was refused is open until it is mended or dropped."""

    def setUp(self):
        super().setUp()
        self.refusals = {422}

    def put_back(self, visit_id: int) -> None:
        body = {"draft": self.visit(visit_id)["setup"]["draft"]}
        self.assertEqual(self.client.post(f"/api/visits/{visit_id}/setup/drop", json=body).status_code, 200)

    def spring(self):
        return self.page.get_by_role("group", name="Primary spring")

    def test_half_of_a_change_is_not_recorded(self):
        self.put_back(2)
        self.open("/visits/2/set-up")
        self.spring().get_by_label("start").fill("1500")
        self.spring().get_by_label("start").press("Enter")
        expect(self.page.get_by_text("Not saved: ")).to_be_visible()
        self.page.get_by_label("each of 3").fill("58.5")
        self.page.get_by_label("each of 3").press("Enter")
        self.page.get_by_label("Why this change?").fill("stiffer")
        self.page.get_by_role("button", name="Record as fitted").click()
        expect(self.page.get_by_text("Primary spring, start is not saved")).to_be_visible()
        self.assertEqual(set(self.visit(2)["setup"]["draft"]), {"arm_mass_g"})
        self.put_back(2)

    def test_both_ends_of_a_spring_move_together(self):
        self.put_back(2)
        self.open("/visits/2/set-up")
        self.spring().get_by_label("start").fill("1500")
        self.spring().get_by_label("start").press("Enter")
        expect(self.page.get_by_text("Not saved: ")).to_be_visible()
        self.spring().get_by_label("finish").fill("2200")
        self.spring().get_by_label("finish").press("Enter")
        # Its other end moved out of the way: what was refused fits now.
        self.wait_saved(2, lambda v: v["setup"]["draft"] == {"primary_start_n": 1500, "primary_finish_n": 2200})
        expect(self.page.get_by_role("alert")).to_be_hidden()
        self.put_back(2)

    def test_a_refused_width_is_open_and_holds_the_sign_off(self):
        self.open("/visits/4/belt")
        place = self.page.get_by_role("textbox", name="Place 2")
        before = self.visit(4)["belt"]["widths_mm"]["2"]
        place.fill("34.O")
        place.press("Enter")
        expect(self.page.get_by_text("Not saved: “O” is not a unit for mm")).to_be_visible()
        self.station("Hand-over")
        missing = self.page.get_by_role("region", name="Sign-off")
        expect(missing).to_contain_text("Belt width at place 2 “34.O”: refused")
        expect(self.page.get_by_role("button", name="Sign off", exact=True)).to_be_hidden()
        missing.get_by_role("link", name="34.O").click()
        expect(place).to_be_focused()
        expect(place).to_have_value("34.O")
        place.press("Escape")
        expect(place).to_have_value(f"{before:g}")
        expect(self.unsaved()).to_be_hidden()
        self.station("Hand-over")
        expect(missing).not_to_contain_text("34.O")


class Away(Lost):
    def test_typed_and_left_at_once(self):
        self.open("/")
        self.page.get_by_role("link", name="Tarnhowe 840 mountain sled ·").click()
        self.station("Intake")
        self.page.get_by_label("Complaint").fill("typed, then Back")
        self.page.go_back()
        self.page.go_back()
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "typed, then Back")

    def test_typed_at_one_station_saved_from_another(self):
        self.open("/visits/2/intake")
        expect(self.page.get_by_label("Complaint")).not_to_have_value("")
        self.away()
        self.page.get_by_label("Complaint").fill("typed while it was away")
        self.page.get_by_label("Complaint").blur()
        expect(self.page.get_by_text(AWAY)).to_be_visible()
        expect(self.page.get_by_role("button", name="No connection · 1 entry not saved")).to_be_visible()
        self.station("Belt")
        expect(self.page.get_by_role("button", name="5 things open")).to_be_visible()
        self.back()
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "typed while it was away")
        expect(self.unsaved()).to_be_hidden()

    def test_choices_lists_and_buttons_wait_in_sight(self):
        page = self.page
        self.open("/visits/2/intake")
        expect(page.get_by_role("radio", name="Towing")).to_be_visible()
        self.away()
        page.get_by_role("radio", name="Towing").click()
        expect(page.get_by_role("radio", name="Towing")).to_be_checked()
        expect(page.get_by_text(AWAY)).to_be_visible()
        page.get_by_label("Kind of primary").select_option(label="kind not stated")
        expect(page.get_by_text(AWAY)).to_have_count(2)
        self.station("Road test")
        page.get_by_role("button", name="Begin a run").click()
        expect(page.get_by_text("is not saved: mend it or drop it first")).to_be_visible()
        self.back()
        self.wait_saved(2, lambda v: v["intake"]["riding"] == "towing" and v["kinds"]["primary_kind"] is None)
        expect(self.unsaved()).to_be_hidden()
        self.away()
        page.get_by_role("button", name="Begin a run").click()
        expect(page.get_by_text("Kept here; done as soon as the server is back")).to_be_visible()
        self.station("Belt")
        self.back()
        self.wait_saved(2, lambda v: len(v["runs"]) == 1)
        expect(page.get_by_role("status").get_by_text("Begin a run: done")).to_be_visible()

    def test_what_waits_outlives_a_reload(self):
        self.open("/visits/2/belt")
        expect(self.page.get_by_role("radio", name="Discard")).to_be_visible()
        self.page.route("**/api/visits/2/belt", lambda route: route.abort("internetdisconnected"))
        self.page.get_by_role("radio", name="Discard").click()
        expect(self.page.get_by_text(AWAY)).to_be_visible()
        self.page.reload()
        expect(self.page.get_by_role("radio", name="Discard")).to_be_checked()
        self.page.unroute("**/api/visits/2/belt")
        self.wait_saved(2, lambda v: v["belt"]["decision"] == "discard")

    def test_a_visit_is_opened_and_a_workshop_named_when_the_server_is_back(self):
        page = self.page
        self.open("/")
        expect(page.get_by_role("button", name="Open a visit for Hollinbeck")).to_be_visible()
        page.get_by_role("link", name="Fellside").click()
        expect(page.get_by_label("Name of the workshop")).not_to_have_value("")
        self.away()
        page.get_by_label("Name of the workshop").fill("Cold Shed Clutches")
        page.get_by_role("link", name="Jaxel").click()
        page.get_by_role("button", name="Open a visit for Hollinbeck").click()
        expect(page.get_by_text("Kept here; done as soon as the server is back")).to_be_visible()
        self.back()
        page.wait_for_url("**/intake")
        self.assertEqual(self.client.get("/api/workshop").json["name"], "Cold Shed Clutches")

    def test_a_server_that_never_answers_is_away(self):
        self.page.clock.install()
        self.open("/visits/2/intake")
        self.page.route("**/api/visits/2/intake", lambda route: None)
        self.page.get_by_label("Complaint").fill("into the void")
        self.page.get_by_label("Complaint").blur()
        self.page.clock.run_for(11_000)
        self.page.unroute("**/api/visits/2/intake")
        expect(self.page.get_by_label("Complaint")).to_have_value("into the void")
        self.page.clock.run_for(6_000)
        self.wait_saved(2, lambda v: v["intake"]["complaint"] == "into the void")
        self.faults = [fault for fault in self.faults if "TIMED_OUT" not in fault]


class Together(Lost):
    """Another hand, and oneself on another page."""

    def test_a_reload_right_after_enter_is_no_conflict(self):
        self.open("/visits/2/intake")
        odometer = self.page.get_by_label("Odometer")
        for wait in (0, 20, 45):
            reading = str(2411 + wait)
            odometer.fill(reading)
            odometer.press("Enter")
            self.page.wait_for_timeout(wait)
            self.page.reload()
            expect(odometer).to_have_value(reading)
            self.wait_saved(2, lambda v: v["intake"]["odometer_km"] == 2411 + wait)  # noqa: B023
        expect(self.page.get_by_text("Changed elsewhere")).to_be_hidden()

    def test_a_choice_over_another_hands_is_asked(self):
        self.refusals = {409}
        page = self.page
        self.open("/visits/4/belt")
        expect(page.get_by_role("radio", name="Discard")).to_be_visible()
        held = self.visit(4)["belt"]["decision"]
        self.other_hand(4, "/belt", decision={"was": held, "now": "spare"})
        page.get_by_role("radio", name="Discard").click()
        expect(page.get_by_text("Changed elsewhere to spare")).to_be_visible()
        page.get_by_role("radio", name="Discard").click()
        self.assertEqual(self.visit(4)["belt"]["decision"], "spare")
        page.get_by_role("button", name="Keep mine").click()
        self.wait_saved(4, lambda v: v["belt"]["decision"] == "discard")

    def test_a_sign_off_is_of_what_was_seen(self):
        page = self.page
        self.ride(2, engagement_rpm=4150, shift_rpm=7880)
        self.counted_in(2)
        self.open("/visits/2/hand-over")
        page.get_by_label("Technician").fill("Tove")
        self.other_intake(2, "odometer_km", 3333)
        self.refusals = {409}
        page.get_by_role("button", name="Sign off", exact=True).click()
        # The Undo button comes to name the same change as soon as the page looks again.
        changes = page.get_by_role("listitem").filter(has_text="odometer: ")
        expect(changes).to_contain_text("3,333 km")
        self.assertIsNone(self.visit(2)["signed_off_at"])
        page.get_by_role("button", name="Looked at").click()
        expect(page.get_by_label("Technician")).to_have_value("Tove")
        page.get_by_role("button", name="Sign off", exact=True).click()
        expect(page.get_by_text("Signed off by Tove, ")).to_be_visible()
        expect(page.get_by_role("button", name="Print this page")).to_be_focused()


class Undone(Lost):
    def test_undo_by_button_and_by_key_says_what_it_undid(self):
        page = self.page
        self.open("/visits/2/intake")
        odometer = page.get_by_label("Odometer")
        before = odometer.input_value()
        odometer.fill("2500")
        odometer.press("Enter")
        self.wait_saved(2, lambda v: v["intake"]["odometer_km"] == 2500)
        page.get_by_role("button", name="Undo: odometer").click()
        expect(page.get_by_role("status").get_by_text("Undone: odometer:")).to_be_visible()
        expect(odometer).to_have_value(before)
        before = self.visit(2)["intake"]["riding"]
        page.get_by_role("radio", name="Dune").click()
        self.wait_saved(2, lambda v: v["intake"]["riding"] == "dune")
        page.keyboard.press("Control+z")
        self.wait_saved(2, lambda v: v["intake"]["riding"] == before)
        expect(page.get_by_role("status").get_by_text("→ “dune”")).to_contain_text("Undone: riding: ")

    def test_a_run_taken_back_and_a_bench_put_back_return(self):
        page = self.page
        self.other_hand(4, "/setup/slots", which="left", numbers={"arm_mass_g": {"was": self.arms(), "now": 44}})
        self.open("/visits/4/set-up")
        page.get_by_role("button", name="Put back").click()
        expect(page.get_by_role("status").get_by_text("Put back to what was last recorded")).to_be_visible()
        self.assertEqual(self.visit(4)["setup"]["draft"], {})
        page.locator("[data-notices]").get_by_role("button", name="Undo").click()
        self.wait_saved(4, lambda v: v["setup"]["draft"].get("arm_mass_g") == 44)
        expect(page.get_by_role("button", name="Put back")).to_be_visible()
        page.wait_for_timeout(600)  # a press sooner than this is a bounced finger's
        page.get_by_role("button", name="Put back").click()
        self.wait_saved(4, lambda v: v["setup"]["draft"] == {})

        self.ride(2, shift_rpm=7880)
        self.open("/visits/2/road-test")
        runs = self.visit(2)["runs"]
        page.get_by_role("button", name=f"Take back run {len(runs)}").click()
        self.wait_saved(2, lambda v: len(v["runs"]) == len(runs) - 1)
        page.locator("[data-notices]").get_by_role("button", name="Undo").click()
        self.wait_saved(2, lambda v: v["runs"] == runs)

    def arms(self) -> float:
        numbers = [number for slot in self.visit(4)["setup"]["slots"] for number in slot["numbers"]]
        return next(number["left"] for number in numbers if number["key"] == "arm_mass_g")

    def test_a_decision_is_cleared(self):
        self.open("/visits/2/belt")
        expect(self.page.get_by_role("radio", name="Run on")).to_be_checked()
        self.page.get_by_role("button", name="Clear the decision").click()
        self.wait_saved(2, lambda v: v["belt"]["decision"] is None)
        expect(self.page.get_by_role("radio", name="Run on")).not_to_be_checked()
        self.page.keyboard.press("Control+z")
        self.wait_saved(2, lambda v: v["belt"]["decision"] == "run on")

    def test_ctrl_z_in_a_field_that_is_being_typed_in_is_the_fields_own(self):
        self.open("/visits/2/intake")
        complaint = self.page.get_by_label("Complaint")
        before = complaint.input_value()
        complaint.press("End")
        complaint.press_sequentially(" x")
        complaint.press("Control+z")
        self.page.wait_for_timeout(900)
        self.assertEqual(self.visit(2)["intake"]["complaint"].rstrip(), before)


class Twice(Lost):
    def test_a_double_click_makes_one_run(self):
        self.open("/visits/2/road-test")
        before = len(self.visit(2)["runs"])
        self.page.get_by_role("button", name="Begin a").dblclick()
        self.wait_saved(2, lambda v: len(v["runs"]) == before + 1)
        self.page.wait_for_timeout(400)
        self.assertEqual(len(self.visit(2)["runs"]), before + 1)

    def test_a_double_click_brings_in_one_machine(self):
        before = len(self.client.get("/api/floor").json["machines"])
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "twice.json"
            path.write_text(json.dumps(changed(example("mountain-sled"), "name", "Once 600")))
            self.open("/")
            self.page.get_by_role("link", name="Bring in a machine").click()
            self.page.get_by_role("button", name="from a file").click()
            self.page.get_by_label("Setup document").set_input_files(path)
            self.page.get_by_role("button", name="Bring it in").dblclick()
        expect(self.page.get_by_role("button", name="Open a visit")).to_be_focused()
        self.assertEqual(len(self.client.get("/api/floor").json["machines"]), before + 1)

    def test_an_answer_lost_on_its_way_does_nothing_twice(self):
        page = self.page
        self.open("/visits/2/road-test")
        before = len(self.visit(2)["runs"])
        lost: list[object] = []

        def lose(route):
            if lost:
                route.continue_()
                return
            lost.append(route.fetch())
            route.abort("connectionreset")

        page.route("**/api/visits/2/runs", lose)
        page.get_by_role("button", name="Begin a").click()
        expect(page.get_by_text("Kept here; done as soon as the server is back")).to_be_visible()
        expect(page.get_by_text("Kept here; done as soon as the server is back")).to_be_hidden()
        self.assertEqual(len(self.visit(2)["runs"]), before + 1)
        self.faults = [fault for fault in self.faults if "CONNECTION_RESET" not in fault]
