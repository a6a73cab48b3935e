"""Few questions: what a hand that knows the job commits from the shop floor to the signed page, counted."""

from playwright.sync_api import expect

from tests.ui.cases.acts_case import ActsCase

TRAIL_SLED = 2
"""The demo's trail sled: its kinds are known, its belt is new since its last visit."""


class FewActs(ActsCase):
    def told(self, job: str, most: int) -> None:
        print(f"{job}: {self.acts} acts, at most {most}")
        self.assertLessEqual(self.acts, most)

    def came_in(self, km: str) -> None:
        self.go("intake")
        self.choose("Nothing wrong", "None: routine")
        self.type("Odometer", km)

    def belt_on(self, way_round: str) -> None:
        self.choose("Which way round it went on", way_round)
        self.tick("^Stop: tool out")
        # Until that has arrived its tool is still on the list of what is out.
        self.wait_saved(self.at, lambda now: now["belt"]["risen"] and now["belt"]["went_on"] != "")

    def test_a_belt_swap(self):
        self.begin(TRAIL_SLED, "belt")
        self.came_in("3500")
        self.go("belt")
        self.choose("Belt decision", "Discard")
        self.type("Reason", "cut")
        self.choose("New, or used elsewhere", "New")
        self.choose("Number, from the shelf", "FB-BELT")
        self.tick("^Not measured: its width is as its number says")
        self.belt_on("By its arrow or lettering")
        self.go("hand-over")
        self.choose("Break-in", "To be done by the rider")
        self.sign("Ebba")
        self.told("belt swap", 15)
        sheet = self.page.get_by_role("article")
        expect(sheet).to_contain_text("new one fitted, FB-BELT, width as its number says, not measured")
        expect(sheet).to_contain_text("to be done by the rider: no full throttle")
        expect(sheet).not_to_contain_text("Set-up changed")

    def test_a_service_by_rest_fine(self):
        self.begin(TRAIL_SLED, "service")
        self.came_in("4100")
        self.choose("Tachometer", "No tachometer")
        self.go("belt")
        for place in (1, 2, 3):
            self.type(f"Place {place}", "34.6")
        self.choose("Belt decision", "Run on")
        self.belt_on("As it came off")
        self.go("strip")
        self.choose("How far the primary is opened", "Cover off")
        self.press("^Rest fine$")
        self.wait_saved(self.at, lambda now: all(i["looked"] for i in now["strip"]["items"] if i["side"] == "primary"))
        self.act(self.page.get_by_role("tab", name="secondary"))
        self.press("^Rest fine$")
        self.wait_saved(self.at, lambda now: all(item["looked"] for item in now["strip"]["items"]))
        self.put_all_back()
        self.go("line-up")
        self.choose("Not measured because", "Not disturbed")
        self.sign("Ebba")
        self.told("service at cover off", 70)
        sheet = self.page.get_by_role("article")
        expect(sheet).to_contain_text("Looked over, nothing seen: ")
        expect(sheet).to_contain_text("not disturbed")
        expect(sheet).to_contain_text("no tachometer")
        expect(sheet).not_to_contain_text("Sound: ")

    def test_a_rebuild(self):
        self.begin(TRAIL_SLED, "rebuild")
        self.came_in("3900")
        self.choose("Tachometer", "No tachometer")
        self.press("^Looked at, matches$")
        # What was looked at is said of the page as it stands: it does not outlive the page.
        self.wait_saved(self.at, lambda now: now["intake"]["fitted_confirmed"])
        self.go("belt")
        self.choose("Not measured because", "Not measured: no caliper")
        self.choose("Belt decision", "Run on")
        self.belt_on("As it came off")
        self.go("strip")
        self.choose("How far the primary is opened", "Full strip")
        self.press("^Rest fine$")
        self.wait_saved(self.at, lambda now: all(i["looked"] for i in now["strip"]["items"] if i["side"] == "primary"))
        self.act(self.page.get_by_role("tab", name="secondary"))
        self.press("^Rest fine$")
        self.wait_saved(self.at, lambda now: all(item["looked"] for item in now["strip"]["items"]))
        self.put_all_back()
        self.go("line-up")
        self.choose("Not measured because", "Not measured: no bar")
        self.sign("Ebba")
        self.told("rebuild", 100)
