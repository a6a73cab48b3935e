"""The workshop's page, and who is at the browser."""

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase


class Workshop(BrowserCase):
    def test_who_is_at_the_browser_stands_in_what_is_written(self):
        page = self.page
        self.open("/workshop")
        page.get_by_label("Name", exact=True).fill("Tove")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Archive Tove")).to_be_visible()
        page.get_by_label("at this browser").select_option("Tove")
        self.open("/visits/2/intake")
        expect(page.get_by_label("at this browser")).to_have_value("Tove")
        with page.expect_request(lambda request: request.method == "PATCH") as sent:
            page.get_by_role("radio", name="Trail").click()
        self.assertEqual(sent.value.headers["jaxel-hand"], "Tove")
        self.wait_saved(2, lambda v: v["intake"]["riding"] == "trail")

    def test_a_name_and_people_who_go_and_come_back(self):
        page = self.page
        self.open("/workshop")
        page.get_by_label("Name of the workshop").fill("Scree Lane Clutches")
        page.keyboard.press("Enter")
        expect(page.get_by_role("banner").get_by_role("link", name="Scree Lane Clutches")).to_be_visible()
        page.get_by_role("button", name="Archive Ebba").click()
        page.get_by_role("button", name="Bring back Ebba").click()
        expect(page.get_by_role("button", name="Archive Ebba")).to_be_visible()

    def test_a_refusal_stays_with_its_reason(self):
        self.refusals = {422}
        page = self.page
        self.open("/workshop")
        page.get_by_label("Name", exact=True).fill("bench")
        page.get_by_role("button", name="Add").click()
        expect(page.get_by_role("alert")).to_contain_text("nobody has claimed")
        expect(page.get_by_label("Name", exact=True)).to_have_value("bench")

    def test_a_name_typed_while_another_hand_gave_one_stays(self):
        self.refusals = {409}
        page = self.page
        self.open("/workshop")
        name = page.get_by_label("Name of the workshop")
        held = name.input_value()
        name.fill("Typed here")
        self.client.patch("/api/workshop/name", json={"was": held, "now": "Given elsewhere"})
        expect(page.get_by_role("alert")).to_contain_text("Changed elsewhere to Given elsewhere")
        expect(name).to_have_value("Typed here")
        page.get_by_role("button", name="Keep mine").click()
        expect(page.get_by_role("banner").get_by_role("link", name="Typed here")).to_be_visible()
