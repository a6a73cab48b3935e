"""Whole jobs by their trade names, each with one mistake that is seen; an order is left, and taken up again."""

import re

from playwright.sync_api import expect

from tests.ui.cases.back_together_case import FARM, SPARE
from tests.ui.strip.test_four_jobs import MOUNTAIN, FourJobs


class WholeJobs(FourJobs):
    def begin(self, name: str) -> None:
        """Choose a job at the strip, by its name."""
        page = self.page
        self.open(f"/visits/{self.at}/strip")
        page.locator("[data-place='job']").click()
        page.get_by_label("Whole jobs").get_by_role("checkbox", name=name, exact=True).click()
        self.wait_saved(self.at, lambda visit: any(each["chosen"] for each in visit["strip"]["jobs"]))
        page.keyboard.press("Escape")

    def seen_but(self, place: str, words: str) -> None:
        """Everything asked at a step is ticked but what holds these words."""
        self.step(place)
        for box in self.page.get_by_role("article").get_by_role("checkbox").all():
            if words not in box.inner_text() and "did not come off" not in box.inner_text().lower():
                box.click()
        self.wait_saved(self.at, lambda visit: len(self.unseen(visit, place)) == 1)

    def unseen(self, visit, place: str) -> list[str]:
        step = next(each for each in visit["rebuild"]["steps"] if each["place"] == place)
        return [each["key"] for each in step["asks"] if not each["seen"]]


class RollersOfAnotherMake(WholeJobs):
    at = FARM

    def test_one_washer_more_and_the_order_taken_up_again(self):
        page = self.page
        self.kinds(secondary_kind="jackshaft-roller-secondary")
        self.other_hand(self.at, "/strip/variants", side="secondary", variant="roller_washers", was="", now="both")
        self.begin("Roller service, secondary")
        laid = page.locator("[data-lay-out]")
        expect(laid).to_contain_text("May need")
        expect(laid).to_contain_text("×3")
        self.accessible()
        page.get_by_role("button", name="Begins with: helix").click()
        page.get_by_role("checkbox", name="Helix: off").click()
        job = page.locator("[data-job]")
        expect(job).to_contain_text("Roller service: 1 of 4 off")
        # Left, and taken up again where it was left.
        page.reload()
        expect(page.locator("[data-job]")).to_contain_text("1 of 4 off")
        page.get_by_role("button", name=re.compile("^Next: ")).click()
        expect(page.get_by_role("checkbox", name="Secondary spring: off")).to_be_visible()
        self.assertEqual(self.steps("secondary"), ["followers", "spring_guides", "spring", "helix", "checks"])
        self.step("secondary.followers")
        row = page.locator("[data-goes-back='secondary.flat_washers']")
        row.get_by_role("button", name="wants another number").click()
        row.get_by_label("go in", exact=True).fill("4")
        row.get_by_label("go in", exact=True).press("Enter")
        expect(row).to_contain_text("3 out, 4 go in")
        row.get_by_label("By whose sheet").fill("sheet of roller RB-4")
        counted = row.get_by_label("Flat washers, secondary, counted in", exact=True)
        counted.fill("3")
        counted.press("Enter")
        expect(row).to_contain_text("3 of 4 in, by sheet of roller RB-4")
        self.assertIn("flat washers, secondary: 3 of 4 in, by sheet of roller RB-4", self.waits())
        self.accessible()
        counted.fill("4")
        counted.press("Enter")
        self.wait_saved(self.at, lambda visit: "secondary.flat_washers" not in visit["close"]["missing"])
        # Its page, with its own name, to print.
        self.open(f"/visits/{self.at}/strip")
        page.get_by_role("link", name="Its page, to print").click()
        expect(page.get_by_role("heading", name="Roller service", exact=True)).to_be_visible()
        expect(page.locator("main")).to_contain_text("Jackshaft roller secondary")
        self.accessible()


class RingNotSeen(WholeJobs):
    at = MOUNTAIN

    def test_the_ring_and_the_driver(self):
        self.kinds(primary_kind="shimmed-spider-primary", secondary_kind="bolt-in-helix-secondary")
        self.begin("Secondary overhaul")
        self.seen_but("secondary.ring", "the ring seen in its groove")
        self.assertEqual(self.unseen(self.visit(self.at), "secondary.ring"), ["stop"])
        self.seen_but("secondary.followers", "pin driver tried")
        self.assertEqual(self.unseen(self.visit(self.at), "secondary.followers"), ["dry_run"])
        self.accessible()
        self.assertTrue(any(re.search(r"^putting back the \w+: \d+ steps", each) for each in self.waits()))


class MagnetsTurned(WholeJobs):
    at = SPARE

    def test_a_bushing_service_finds_them(self):
        self.kinds(primary_kind="loaded-arm-primary")
        self.begin("Bushing service, primary")
        self.client.post(f"/api/visits/{self.at}/faults", json={"kind": "magnets-turned", "note": "two of three"})
        self.assertTrue(any("put right: magnets" in each.lower() for each in self.waits()), self.waits())
        self.open(f"/visits/{self.at}/hand-over")
        expect(self.page.get_by_role("article")).to_contain_text("Bushing service, primary")
        expect(self.page.get_by_role("article")).to_contain_text("not put right")
