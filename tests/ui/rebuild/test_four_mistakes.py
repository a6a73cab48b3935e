"""Back together on screen: four mistakes caught on the way, lined up, broken in across a reload, handed over."""

import re

from playwright.sync_api import expect

from tests.ui.cases.back_together_case import FARM, BackTogether

KINDS = {"primary_kind": "loaded-arm-primary", "secondary_kind": "bolt-in-helix-secondary"}


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
            screws = {"fastener": "helix_screws", "kind": "bolt-in-helix-secondary", "tightness": "torque"}
            for said in (stated, screws | {"torque": 14, "origin": "manual"},
                         screws | {"torque": 11.5, "origin": "part maker's sheet"}):  # fmt: skip
                self.client.post(f"/api/visits/{self.at}/rebuild/torques", json=said)

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
        expect(page.locator("[data-fastener=spider] [data-wanted]")).to_have_text("390.0")
        wrench = page.locator("[data-fastener=spider] [data-wrench]")
        expect(wrench).to_contain_text("None here fits. Through Four-to-one, 4 to 1: Long click set to 97.5 N·m")
        page.get_by_text("Through a crow-foot or an extension").click()
        page.get_by_label("From square to fastener, mm").fill("51")
        expect(page.locator("[data-setting]")).to_contain_text("No wrench here reaches it like that.")
        page.locator("[data-fastener=spider]").get_by_role("button", name="Torque owed").click()
        expect(page.locator("[data-fastener=spider] [data-tightened=owed]")).to_be_visible()
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
        page.get_by_text("State what this machine’s manual or a sheet says").click()
        page.get_by_label("Torque, N·m").fill("60 ft-lb")
        page.get_by_label("Said by").select_option("common practice")
        page.get_by_role("button", name="State it").click()
        expect(page.get_by_role("alert").filter(has_text="far from what such a fastener takes")).to_be_visible()
        expect(page.get_by_role("button", name="Keep 60 ft-lb")).to_be_visible()
        page.get_by_role("button", name="I meant 60 in-lb, which is 6.78 N·m").click()  # it acts
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
