"""A stranger with gloves brings in what stands on the lift, and works any visit with it."""

import re

from playwright.sync_api import expect

from tests.store.cases.any_machine_case import picture
from tests.ui.browser import BrowserCase
from tests.ui.checks import violations


class AnyVisit(BrowserCase):
    def stranger(self, **said):
        body = {"machine": "side-by-side", "primary_kind": "loaded-arm-primary", "complaint": "Slow"} | said
        return self.client.post("/api/bring-in", json=body).json

    def test_a_belt_only_visit_is_closed_without_an_rpm(self):
        page, visit_id = self.page, self.stranger()["visit_id"]
        self.open(f"/visits/{visit_id}/intake")
        page.get_by_role("radio", name="Belt only").click()
        expect(page.get_by_role("navigation", name="Stations").get_by_role("link")).to_have_count(3)
        page.get_by_label("or hours").fill("212")
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Belt").click()
        for place in (1, 2, 3):
            page.get_by_label(f"Place {place}").fill("32.6")
            page.get_by_label(f"Place {place}").press("Enter")
        page.get_by_role("radio", name="Run on").click()
        self.belt_back_on()
        self.wait_saved(visit_id, lambda visit: {each["station"] for each in visit["open"]} == {"hand-over"})
        page.keyboard.press("h")
        self.close_up()
        page.get_by_label("Technician").fill("Ebba")
        page.get_by_role("button", name="Sign off").click()
        expect(page.get_by_text("Signed off by Ebba,")).to_be_visible()
        expect(page.get_by_role("article")).not_to_contain_text("Predicted")
        # What is learnt later stands beside the page, which stays as it was signed.
        page.get_by_label("Add to this page").fill("Rider rang: runs well")
        page.get_by_role("button", name="Add, with date and name").click()
        expect(page.get_by_label("Addenda")).to_contain_text("Rider rang: runs well")
        self.assertEqual(violations(page), [])

    def test_a_visit_is_closed_unrepaired_with_a_reason(self):
        page, visit_id = self.page, self.stranger()["visit_id"]
        self.open(f"/visits/{visit_id}/hand-over")
        page.get_by_text("It leaves unrepaired").click()
        page.get_by_label("Why").fill("No arms to be had before spring")
        page.get_by_label("Closed by").fill("Ebba")
        page.get_by_role("button", name="Close unrepaired").click()
        expect(page.get_by_text("Closed unrepaired by Ebba")).to_be_visible()
        expect(page.get_by_role("article")).to_contain_text("No arms to be had before spring")

    def test_a_secondary_found_wound_backwards_is_refused_as_left(self):
        page, visit_id = self.page, self.stranger()["visit_id"]
        self.open(f"/visits/{visit_id}/intake")
        page.keyboard.press("Escape")
        page.get_by_label("Fault found").select_option("wound-backwards")
        page.get_by_role("button", name="Record it").click()
        fault = page.locator("[data-fault=wound-backwards]")
        expect(fault).to_contain_text("Secondary spring wound backwards")
        self.assertEqual(violations(page), [])
        # As found nothing is predicted, and it says why; as left it is.
        held = self.visit(visit_id)
        self.assertIsNone(held["found"])
        self.assertIsNotNone(held["left"])
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Hand-over").click()
        lacking = page.get_by_role("link", name="found, and not put right: secondary spring wound backwards")
        expect(lacking).to_be_visible()
        lacking.click()
        page.get_by_label("As left: what was done about it").fill("Wound so that it loads the helix")
        page.get_by_label("As left: what was done about it").press("Enter")
        self.wait_saved(visit_id, lambda visit: visit["faults"][0]["put_right"] != "")
        self.assertFalse([item for item in self.visit(visit_id)["open"] if item["field"].startswith("fault")])

    def test_unknown_is_an_answer(self):
        page, visit_id = self.page, self.stranger()["visit_id"]
        self.open(f"/visits/{visit_id}/intake")
        page.get_by_label("Helix, how it is known").select_option("unknown")
        self.wait_saved(visit_id, lambda visit: visit["setup"]["found_slots"][3]["parts"][0]["origin"] == "unknown")

    def test_a_mistyped_weight_is_put_right_and_is_no_change(self):
        page, brought = self.page, self.stranger()
        self.open(f"/machines/{brought['machine_id']}")
        page.get_by_role("button", name=re.compile("each of 3 .*Arms, put right")).click()
        page.get_by_label("Recorded 50.5 g; it is").fill("49.5")
        page.get_by_role("button", name="Put it right").click()
        expect(page.get_by_text("put right, no change:")).to_be_visible()
        visit = self.visit(brought["visit_id"])
        self.assertEqual(visit["setup"]["changes"], [])
        self.assertEqual(visit["setup"]["found_slots"][0]["numbers"][0]["left"], 49.5)
        self.assertEqual(violations(page), [])

    def test_upkeep_photo_limit_and_shelf(self):
        page, brought = self.page, self.stranger(name="Brackenthwaite")
        machine = f"/api/machines/{brought['machine_id']}"
        edit = self.visit(brought["visit_id"])["edit"]
        closing_words = {"edit": edit, "by": "Jo", "reason": "no parts"}
        self.client.post(f"/api/visits/{brought['visit_id']}/unrepaired", json=closing_words)
        self.open(f"/machines/{brought['machine_id']}")
        page.get_by_label("Add a photo").set_input_files(
            {"name": "one.jpg", "mimeType": "image/jpeg", "buffer": picture((400, 300))}
        )
        expect(page.get_by_role("img", name="Photo of")).to_be_visible()
        page.get_by_label("Tyre or track").fill("27 × 11 front and rear")
        page.get_by_text("state a limit").click()
        page.get_by_label("Its value, mm").fill("31")
        page.get_by_role("button", name="State it").click()
        expect(page.get_by_text("holds; others differ")).to_be_visible()
        page.get_by_role("button", name="Archive").click()
        expect(page.get_by_role("button", name="Restore")).to_be_visible()
        self.assertEqual(self.client.get(machine).json["said"]["tyre"], "27 × 11 front and rear")
        self.open("/")
        expect(page.get_by_text("Brackenthwaite")).to_have_count(0)
        page.get_by_role("button", name="archived: 1").click()
        expect(page.get_by_text("Brackenthwaite")).to_be_visible()
