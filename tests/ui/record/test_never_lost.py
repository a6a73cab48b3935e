"""Nothing typed, chosen or pressed is lost: a server that comes and goes, refusals, another hand."""

from playwright.sync_api import expect

from tests.ui.cases.never_lost_case import Lost

AWAY = "Kept here; not on the server yet"


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
        missing = self.page.get_by_role("region", name="May it leave?")
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
        count = len(self.visit(2)["open"]) + 1  # what is not saved is one of them
        expect(self.page.get_by_role("button", name=f"{count} things open")).to_be_visible()
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
