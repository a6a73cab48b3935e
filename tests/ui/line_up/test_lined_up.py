"""Back together on screen: four mistakes caught on the way, lined up, broken in across a reload, handed over."""

import re

from playwright.sync_api import expect

from tests.ui.cases.back_together_case import TOURING, BackTogether


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
        expect(page.get_by_text("Not saved:")).to_contain_text("must be at least 0")
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
        expect(sheet).to_contain_text("offset +0.2 mm, toe +0.05°")
        expect(sheet).to_contain_text("overruled: race in an hour, the rider is told")


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
