"""Back together on screen: four mistakes caught on the way, lined up, broken in across a reload, handed over."""

import re
from functools import partial
from typing import Any

from playwright.sync_api import expect

from tests.ui.test_belt_and_strip import OnScreen

FARM, TOURING, SPARE = 4, 9, 10
KINDS = {"primary_kind": "loaded-arm-primary", "secondary_kind": "bolt-in-helix-secondary"}


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


class FourMistakes(BackTogether):
    """A side-by-side stripped to the last part: wound wrong, no wrench for it, arms no set, a screw short."""

    at = FARM

    def setUp(self):
        super().setUp()
        held = self.visit(self.at)
        if held["scope"] == "tune":
            self.other_hand(self.at, "/scope", was="tune", now="rebuild")
            self.other_hand(self.at, "/kinds", **{name: {"was": None, "now": kind} for name, kind in KINDS.items()})
            self.other_hand(self.at, "/strip", depth={"was": None, "now": "full strip"})
            stated = {"fastener": "spider", "kind": "loaded-arm-primary", "tightness": "torque", "torque": 390,
                      "origin": "manual"}  # fmt: skip
            self.client.post(f"/api/visits/{self.at}/rebuild/torques", json=stated)

    def test_each_is_caught(self):
        page = self.page
        # A spring wound the wrong way: said at once, and no reason lets it go.
        self.step("secondary.spring")
        self.pick("The sheave closes turning", "↺ Anticlockwise")
        self.pick("The top was turned", "↻ Clockwise")
        amiss = page.locator("[data-amiss]")
        expect(amiss).to_contain_text("spring wound the wrong way: it pulls the helix off its followers.")
        expect(amiss.get_by_label("Left so because")).to_have_count(0)
        expect(page.get_by_role("img", name=re.compile("the wrong way"))).to_be_visible()
        self.accessible()
        # A wrench out of range: none fits, and what then.
        self.step("primary.spider")
        expect(page.locator("[data-wanted]")).to_have_text("390.0")
        wrench = page.locator("[data-fastener=spider] [data-wrench]")
        expect(wrench).to_contain_text("None here fits. Through Four-to-one, 4 to 1: Long click set to 97.5 N·m")
        page.get_by_text("Through a crow-foot or an extension").click()
        page.get_by_label("From square to fastener, mm").fill("51")
        expect(page.locator("[data-setting]")).to_contain_text("No wrench here reaches it like that.")
        page.get_by_role("button", name="Torque owed").click()
        expect(page.locator("[data-tightened=owed]")).to_be_visible()
        self.accessible()
        # Arms that are no set.
        self.step("primary.arms")
        for letter, mass in zip("ABC", ("48.1", "48.0", "46.9"), strict=True):
            self.typed(letter, mass)
        expect(page.locator("[data-spread]")).to_contain_text("Not alike, 1.2 g from lightest to heaviest")
        force = self.visit(self.at)["rebuild"]["balance"]
        expect(page.locator("[data-force]")).to_contain_text("it pulls round with")
        self.wait_saved(self.at, lambda visit: bool(visit["rebuild"]["balance"]))
        force = self.visit(self.at)["rebuild"]["balance"][0]["force_n"]
        expect(page.locator("[data-balance]")).to_contain_text(f"{force:.0f} N at")
        # Twelve of thirteen screws back.
        self.open(f"/visits/{self.at}/hand-over")
        self.typed("Cover bolts, primary, out", "13")
        self.typed("Cover bolts, primary, back", "12")
        expect(page.locator("[data-count='primary.cover_bolts']")).to_contain_text("12 of 13 back")
        self.accessible()
        self.wait_saved(self.at, lambda visit: "primary.cover_bolts" in visit["close"]["missing"])
        caught = self.waits()
        for words in (
            "spring wound the wrong way: it pulls the helix off its followers",
            "torque owed: spider on its shaft, primary",
            "arms with their loads: 1.2 g apart, 0.2 g is allowed",
            "cover bolts, primary: 12 of 13 back",
        ):
            self.assertIn(words, caught)
        # Put right, each goes.
        self.step("secondary.spring")
        self.pick("The top was turned", "↺ Anticlockwise")
        expect(amiss).to_have_count(0)
        self.step("primary.arms")
        self.typed("C", "48.0")
        expect(page.locator("[data-spread]")).to_contain_text("All alike")
        self.open(f"/visits/{self.at}/hand-over")
        self.typed("Cover bolts, primary, back", "13")
        self.wait_saved(self.at, lambda visit: "primary.cover_bolts" not in visit["close"]["missing"])
        self.assertFalse({"wound", "apart", "of 13"} & set(re.findall(r"wound|apart|of 13", " ".join(self.waits()))))

    def test_a_torque_in_the_wrong_unit_is_asked_about(self):
        page = self.page
        self.refusals = {422}
        self.step("secondary.helix")
        expect(page.locator("[data-conflict=true]")).to_contain_text("Sources differ")
        page.get_by_role("button", name=re.compile("Go by the part maker's sheet")).click()
        expect(page.locator("[data-wanted]")).to_have_text("11.5")
        page.get_by_text("State what the manual or a sheet says").click()
        page.get_by_label("Torque, N·m").fill("60 ft-lb")
        page.get_by_role("button", name="State it").click()
        expect(page.get_by_role("alert").filter(has_text="far from what such a fastener takes")).to_be_visible()
        page.get_by_role("button", name="60 in-lb, which is 6.8 N·m").click()
        page.get_by_label("Said by").select_option("common practice")
        page.get_by_role("button", name="State it").click()
        expect(page.locator("[data-statement='common practice']")).to_contain_text("6.8 N·m")
        page.get_by_role("button", name=re.compile("On the thread now")).click()
        expect(page.locator("[data-compound]").get_by_role("timer")).to_be_visible()
        page.get_by_role("button", name="Clicked at 11.5 N·m").click()
        expect(page.locator("[data-tightened=done]")).to_contain_text("Bench click")
        page.get_by_label("Clicked at", exact=True).fill("60 ft-lb")
        page.get_by_label("Clicked at", exact=True).press("Enter")
        expect(page.get_by_text("is not the 11.5 N·m it is to be")).to_be_visible()
        page.get_by_role("button", name="Drop it").click()
        self.wait_saved(self.at, lambda _: True)
        done = next(each["done"] for step in self.visit(self.at)["rebuild"]["steps"] for each in step["fasteners"]
                    if each["key"] == "helix_screws")  # fmt: skip
        self.assertEqual((done["torque_nm"], done["means"], done["wrench"]), (11.5, "wrench", "Bench click"))


class LinedUp(BackTogether):
    at = TOURING

    def test_lined_up_broken_in_across_a_reload_and_handed_over(self):
        page = self.page
        self.other_hand(self.at, "/belt", decision={"was": None, "now": "discard"}, reason={"was": "", "now": "narrow"},
                        next_width_mm={"was": None, "now": 35})  # fmt: skip
        self.open(f"/visits/{self.at}/line-up")
        self.refusals = {422}
        self.typed("Between them", "0")
        expect(page.get_by_text("Not saved:")).to_contain_text("must be above 0")
        page.get_by_role("button", name="Drop it").click()
        self.typed("Front gap", "-2")
        expect(page.get_by_text("Not saved:")).to_contain_text("must be 0 or more")
        page.get_by_role("button", name="Drop it").click()
        self.typed("Front gap", "37.6")
        self.typed("Rear gap", "35.4")
        verdict = page.locator("[data-verdict]")
        expect(verdict).to_contain_text("offset out by 1.5 mm: the secondary must move in, toward the chassis.")
        expect(page.get_by_role("img", name=re.compile("the primary in by 1.50 mm, toe 0.60°"))).to_be_visible()
        page.get_by_label("Shims behind the secondary now, mm").fill("1.5 + 1")
        page.get_by_label("Shims behind the secondary now, mm").press("Tab")
        expect(page.locator("[data-stack]")).to_contain_text(
            "Put behind it 1.00, together 1.00 mm; offset 0.00 mm remains."
        )
        self.accessible()
        self.typed("Front gap", "35.3")
        self.typed("Rear gap", "35.1")
        expect(page.locator("[data-out]")).to_have_count(0)
        self.typed("Deflection", "4")
        page.get_by_role("checkbox", name=re.compile("The belt rides at the rim")).click()
        # The heat cycle runs on the server's clock, whatever becomes of this page.
        page.get_by_role("button", name="Begin the first heat cycle").click()
        expect(page.locator("[data-cycle=warming]").get_by_role("timer")).to_be_visible()
        began = self.visit(self.at)["break_in"]["cycles"][0]["began_at"]
        again = self.client.post(f"/api/visits/{self.at}/break-in/heats", json={})
        self.assertEqual((again.status_code, again.json["error"]["field"]), (409, "break_in"))
        page.reload()
        expect(page.locator("[data-cycle=warming]").get_by_role("timer")).to_be_visible()
        self.assertEqual(self.visit(self.at)["break_in"]["cycles"][0]["began_at"], began)
        page.get_by_label("Belt now, °C").fill("30")
        page.get_by_role("button", name="Warmed through").click()
        expect(page.locator("[data-cycle]")).to_contain_text("Does not count: warmed for 0 of 15 minutes; 30 °C")
        page.wait_for_timeout(600)  # a bounced finger's second press is none
        page.get_by_role("button", name="Cooled right down").click()
        expect(page.locator("[data-cycle=done]")).to_be_visible()
        self.pick("Break-in", "Overruled")
        page.get_by_label("Overruled because").fill("race in an hour, the rider is told")
        page.get_by_label("Overruled because").press("Tab")
        self.wait_saved(self.at, lambda visit: not [each for each in visit["open"] if each["station"] == "line-up"])
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Hand-over").click()
        sheet = page.get_by_role("article")
        expect(sheet).to_contain_text("offset +0.20 mm, toe +0.05°")
        expect(sheet).to_contain_text("overruled: race in an hour, the rider is told")


def done(visit: dict[str, Any], place: str) -> bool:
    """Whether a step lacks nothing any more."""
    return not next(each["open"] for each in visit["rebuild"]["steps"] if each["place"] == place)


class InInches(BackTogether):
    at = TOURING

    def test_a_line_up_is_told_as_the_hand_reads(self):
        units = self.client.get("/api/workshop").json
        inches = {"was": units["units"], "now": units["presets"][1]["units"]}
        self.client.patch("/api/workshop/units", json=inches)
        gaps = {"front_mm": {"was": None, "now": 37.54}, "rear_mm": {"was": None, "now": 37.54}}
        self.other_hand(self.at, "/line-up", **gaps)
        self.open(f"/visits/{self.at}/line-up")
        # 2.54 mm too large a gap: a tenth of an inch.
        verdict = self.page.locator("[data-verdict]")
        expect(verdict).to_contain_text("Offset, in+0.1000")
        expect(verdict).to_contain_text("offset out by 0.1 in: the secondary must move in, toward the chassis.")
        expect(self.page.locator("[data-stack]")).to_contain_text("offset +0.1000 in remains")


class OnTheBench(BackTogether):
    """A spare clutch that came without its machine is rebuilt and handed over."""

    at = SPARE

    def test_a_bare_clutch_goes_back_together(self):
        page = self.page
        self.step("primary.arms")
        self.typed("C", "48.0")
        expect(page.locator("[data-spread]")).to_contain_text("All alike")
        page.get_by_label("Left so because").fill("lighter set, the set-up follows")
        for place in ("primary.arms", "primary.spring", "primary.cover", "primary.checks", "primary.bolt"):
            self.step(place)
            for box in page.get_by_role("article").get_by_role("checkbox").all():
                if "did not come off" not in box.inner_text().lower() and box.get_attribute("aria-checked") != "true":
                    box.click()
            for button in page.get_by_role("button", name=re.compile("^Clicked at|^Seen: ")).all():
                button.click()
            self.wait_saved(self.at, partial(done, place=place))
        self.assertFalse([each for each in self.visit(self.at)["open"] if each["station"] == "rebuild"])
        states = {each["station"]: each["state"] for each in self.visit(self.at)["stations"]}
        self.assertEqual((states["rebuild"], "line-up" in states, "belt" in states), ("done", False, False))
        self.open(f"/visits/{self.at}/hand-over")
        for each in self.visit(self.at)["close"]["counts"]:
            page.get_by_role("button", name=f"All {each['out']} back: {each['name']}", exact=True).click()
        self.wait_saved(self.at, lambda visit: visit["close"]["missing"] == {})
        sheet = page.get_by_role("article")
        expect(sheet).to_contain_text("Cover bolts ×6, primary: 16.0 N·m")
        expect(sheet).to_contain_text("11 of 11 fasteners and small parts")
        expect(page.get_by_label("Guard and duct are back on")).to_have_count(0)

    def test_in_one_view_and_on_a_phone(self):
        page = self.page
        self.step("primary.cover")
        self.assertEqual(page.evaluate("document.documentElement.scrollHeight"), 800)
        for what in ("[data-steps]", "[data-follows]", "[data-wanted]", "[data-fastener] button"):
            box = page.locator(what).first.bounding_box()
            self.assertLessEqual(box["y"] + box["height"], 728, what)
        for size in ((820, 1180), (390, 844)):
            page.set_viewport_size({"width": size[0], "height": size[1]})
            for path in ("rebuild#primary.cover", "hand-over"):
                self.open(f"/visits/{self.at}/{path}")
                expect(page.locator("[data-steps], [data-counts]").first).to_be_visible()
                self.accessible()
        self.open(f"/visits/{TOURING}/line-up")
        expect(page.locator("[data-plan]")).to_be_visible()
        self.accessible()
        self.open("/workshop")
        long = page.locator("[data-wrench='Long click']")
        expect(long).to_contain_text("overdue for checking since 2026-09-30")
        self.accessible()
        long.get_by_label("To be checked on").fill("2099-09-30")  # back from its checking
        expect(long).not_to_contain_text("overdue")
        page.get_by_role("button", name="Retire Long click").click()
        expect(page.get_by_role("button", name="Bring back Long click")).to_be_visible()
        expect(page.get_by_label("Name of the workshop")).to_have_value("Fellside Clutch Bench")
