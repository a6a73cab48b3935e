"""Nothing typed, chosen or pressed is lost: a server that comes and goes, refusals, another hand."""

import json
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from tests.examples import changed, example
from tests.ui.cases.never_lost_case import Lost


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
            # The browser reads the file as it sends it: it stays until the machine is there.
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
