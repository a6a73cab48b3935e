"""Nothing typed, chosen or pressed is lost: a server that comes and goes, refusals, another hand."""

from tests.ui.browser import BrowserCase


class Lost(BrowserCase):
    sparing = False

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
