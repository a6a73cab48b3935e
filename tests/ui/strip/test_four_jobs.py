"""Four jobs of hands, each with one mistake that is seen: what came off is what has to go back, and nothing else."""

from typing import Any

from playwright.sync_api import expect

from tests.ui.cases.back_together_case import SPARE, TOURING, BackTogether

MOUNTAIN, QUAD = 2, 5


def fasteners(visit: dict[str, Any]) -> list[str]:
    return [each["key"] for step in visit["rebuild"]["steps"] for each in step["fasteners"]]


class FourJobs(BackTogether):
    def kinds(self, **kinds: str) -> None:
        held = self.visit(self.at)["kinds"]
        self.other_hand(
            self.at, "/kinds", **{name: {"was": held.get(name), "now": kind} for name, kind in kinds.items()}
        )

    def steps(self, side: str = "primary") -> list[str]:
        """What goes back of a clutch, in its order, as the page lists it."""
        self.open(f"/visits/{self.at}/rebuild")
        expect(self.page.locator("[data-steps]").first).to_be_visible()
        return [each["key"] for each in self.visit(self.at)["rebuild"]["steps"] if each["side"] == side]

    def recorded(self, **numbers: str) -> None:
        """A change of set-up, tried and recorded as another hand does it."""
        at = f"/api/visits/{self.at}"
        slots = self.visit(self.at)["setup"]["slots"]
        held = {number["key"]: number["left"] for slot in slots for number in slot["numbers"]}
        changes = {key: {"was": held[key], "now": value} for key, value in numbers.items()}
        tried = self.client.patch(f"{at}/setup/slots", json={"which": "left", "numbers": changes})
        self.assertEqual(tried.status_code, 200, tried.text)
        body = {"reason": "towards the target", "draft": tried.json["setup"]["draft"]}
        done = self.client.post(f"{at}/setup/record", json=body)
        self.assertEqual(done.status_code, 200, done.text)

    def short(self, count: str, name: str, out: int) -> None:
        """One piece fewer comes back than went out: it is said at once, and named at sign-off."""
        self.open(f"/visits/{self.at}/hand-over")
        self.typed(f"{name}, back", str(out - 1))
        row = self.page.locator(f"[data-count='{count}']")
        expect(row).to_contain_text(f"{out - 1} of {out} back")
        self.wait_saved(self.at, lambda visit: count in visit["close"]["missing"])
        self.assertIn(f"{name[:1].lower()}{name[1:]}: {out - 1} of {out} back", self.waits())

    def looked(self, side: str, item: str, **values: Any) -> None:
        body = {name: {"was": "", "now": value} for name, value in values.items()}
        self.other_hand(self.at, f"/strip/items/{side}/{item}", **body)


class RollerService(FourJobs):
    at = TOURING

    def test_on_the_machine_with_the_clip_forgotten(self):
        page = self.page
        self.kinds(primary_kind="adjustable-cam-primary")
        self.open(f"/visits/{self.at}/strip#primary_needle_roller")
        panel = page.get_by_label("Needle rollers and axles, how it comes off")
        expect(panel).to_contain_text("spacers fall inside: a magnet held there, and counted")
        self.pick("Needle rollers, primary: looked at", "Removed")
        self.pick("Needle rollers, primary: grade", "free")
        self.wait_saved(self.at, lambda visit: any(
            each["key"] == "primary.roller_spacers" for each in visit["close"]["counts"]))  # fmt: skip
        # What falls out is counted where it falls.
        panel.locator("summary").click()
        self.typed("Spacers of the rollers", "6")
        self.accessible()
        self.assertEqual(self.steps(), ["rollers", "spring", "cup", "clip", "damper", "checks"])
        self.step("primary.clip")
        expect(page.get_by_role("article")).to_contain_text("the clip lies on the post before the compressor does")
        self.accessible()
        self.short("primary.clip", "C-clip, primary", 1)


class HelixAlone(FourJobs):
    at = MOUNTAIN

    def test_a_quarter_turn_off(self):
        page = self.page
        self.kinds(primary_kind="shimmed-spider-primary", secondary_kind="bolt-in-helix-secondary")
        self.recorded(**{"helix_deg.0": "41"})
        # Helix and screws, nothing behind them.
        self.assertEqual(self.steps("secondary"), ["helix", "checks"])
        self.step("secondary.helix")
        article = page.get_by_role("article")
        expect(article).to_contain_text("a quarter turn off means apart again")
        for box in article.get_by_role("checkbox").all():
            words = box.inner_text()
            if "quarter turn" not in words and "did not come off" not in words.lower():
                box.click()
        stop = article.get_by_role("checkbox", name="quarter turn off means apart again")
        expect(stop).not_to_be_checked()
        self.accessible()

        def helix(visit: dict[str, Any]) -> dict[str, Any]:
            return next(each for each in visit["rebuild"]["steps"] if each["place"] == "secondary.helix")

        def seen(visit: dict[str, Any]) -> list[str]:
            return [each["key"] for each in helix(visit)["asks"] if not each["seen"]]

        self.wait_saved(self.at, lambda visit: seen(visit) == ["stop"])
        (left,) = (each for each in helix(self.visit(self.at))["open"] if "not seen" in each)
        self.assertIn("quarter turn off", left)
        self.assertTrue(any(each.startswith("putting back the") for each in self.waits()))
        stop.click()
        self.wait_saved(self.at, lambda visit: seen(visit) == [])


class SpiderOut(FourJobs):
    at = SPARE

    def test_one_washer_missing(self):
        page = self.page
        steps = self.steps()
        self.assertEqual(steps[:6], ["fixed", "moving", "spacer", "rollers", "buttons", "spider"])
        self.open(f"/visits/{self.at}/strip#primary_roller_washer")
        panel = page.get_by_label("Rollers and their pins, how it comes off")
        panel.locator("summary").click()
        expect(panel.get_by_label("Roller thrust washers")).to_have_value("6")
        self.open(f"/visits/{self.at}/strip#part_primary_spider")
        spider = page.get_by_label("Spider, how it comes off")
        expect(spider).to_contain_text("a taper-split spider is never heated")
        expect(spider).to_contain_text("Hub and nut only, evenly all round")
        # On a taper there is no nut and no torch: said once, everything follows.
        self.pick("How does the spider sit on its shaft?", "On an inner taper, split with a puller")
        expect(spider).not_to_contain_text("Hub and nut only")
        self.accessible()
        self.wait_saved(self.at, lambda visit: "spider_nut" not in fasteners(visit))
        self.short("primary.roller_washers", "Roller thrust washers, primary", 6)


class VariatorsWeights(FourJobs):
    at = QUAD

    def test_the_plate_not_held(self):
        page = self.page
        self.kinds(primary_kind="roller-variator-primary")
        mass = self.visit(self.at)["setup"]["slots"][0]["numbers"][0]["left"]
        self.recorded(arm_mass_g=f"{mass - 1:g}")
        self.assertEqual(
            self.steps(), ["weights", "plate", "pack_cover", "pack", "cup", "fixed", "nut", "case", "checks"]
        )
        self.step("primary.pack")
        article = page.get_by_role("article")
        held = article.get_by_role("checkbox", name="the plate is held pressed in while the pack goes on the shaft")
        article.get_by_role("checkbox", name="Onto the shaft as one").click()
        expect(held).not_to_be_checked()
        self.accessible()
        place = "primary.pack"

        def open_of(visit: dict[str, Any]) -> list[str]:
            return next(each["open"] for each in visit["rebuild"]["steps"] if each["place"] == place)

        self.wait_saved(self.at, lambda visit: len(open_of(visit)) == 2)
        self.assertIn("held pressed in", " ".join(open_of(self.visit(self.at))))
        held.click()
        self.wait_saved(self.at, lambda visit: "held pressed in" not in " ".join(open_of(visit)))
