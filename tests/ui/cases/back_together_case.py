"""Back together on screen: four mistakes caught on the way, lined up, broken in across a reload, handed over."""

from typing import Any

from playwright.sync_api import expect

from tests.ui.cases.belt_and_strip_case import OnScreen

FARM, TOURING, SPARE = 4, 9, 10


class BackTogether(OnScreen):
    at: int

    def step(self, place: str) -> None:
        """Take a step in hand, by its place in the address."""
        self.open(f"/visits/{self.at}/rebuild#{place}")
        expect(self.page.locator(f"[data-inhand='{place}']")).to_be_visible()

    def waits(self) -> list[str]:
        return [each["what"] for each in self.visit(self.at)["open"]]

    def typed(self, label: str, text: str) -> None:
        field = self.page.get_by_label(label, exact=True)
        field.fill(text)
        field.press("Enter")


def done(visit: dict[str, Any], place: str) -> bool:
    """Whether a step lacks nothing any more."""
    return not next(each["open"] for each in visit["rebuild"]["steps"] if each["place"] == place)
