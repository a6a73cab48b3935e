"""The set-up bench and the parts room in the browser: dragged, swapped by key, asked, undone, printed, taken in."""

import tempfile
from pathlib import Path

from playwright.sync_api import expect

from tests.ui.cases.set_up_bench_case import Case


class PartsRoom(Case):
    def test_a_sheet_with_three_bad_rows(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        sheet = Path(folder.name) / "stock.csv"
        sheet.write_text(
            "number,kind,make,pieces,base_mass_g,force_start_lbf,force_finish_lbf,travel_in\n"
            "UI-A1,arm,Brackholm,3,58.5,,,\n"
            "UI-A2,arm,Brackholm,three,58.5,,,\n"
            "UI-S1,primary spring,Ravnsete,2,,140,315,1.18\n"
            "UI-S2,primary spring,Ravnsete,2,,315,140,1.18\n"
            "UI-X1,steam valve,Ravnsete,2,,,,\n",
            encoding="utf-8",
        )
        page = self.page
        self.open("/parts")
        page.get_by_role("button", name="Sheet in").click()
        page.get_by_label("Stock sheet", exact=True).set_input_files(sheet)
        became = page.get_by_label("What became of it")
        expect(became).to_contain_text("2 added, 0 changed, 0 stood so already, 3 refused")
        refused = page.locator("[data-refused]")
        expect(refused).to_have_count(3)
        for line, words in (
            (3, "pieces"),
            (5, "must not be below the starting force"),
            (6, "“steam valve” is no kind"),
        ):
            expect(page.locator(f"[data-refused='{line}']")).to_contain_text(words)
        self.accessible()
        page.get_by_role("button", name="Close").click()
        expect(page.locator("[data-part='UI-S1']")).to_contain_text("622.8 / 1,401.2 N")
        sheet.write_text("number,colour\nA,red\n", encoding="utf-8")
        self.refusals = {422}
        page.get_by_role("button", name="Sheet in").click()
        page.get_by_label("Stock sheet", exact=True).set_input_files(sheet)
        expect(page.get_by_role("alert")).to_contain_text("a column “colour” that is not known here")

    def test_a_part_is_described_counted_and_flagged(self):
        page = self.page
        self.open("/parts")
        expect(page.locator("[data-part='FB-A48']")).to_contain_text("out of balance by 1.2 g")
        expect(page.locator("[data-part='FB-PS72']")).to_contain_text("has lost 7.7 % of its rated force")
        page.get_by_label("New part number").fill("UI-H1")
        page.locator("form select").first.select_option("helix")
        page.get_by_role("button", name="Add it").click()
        row = page.locator("[data-part='UI-H1']")
        row.get_by_label("angles").fill("0:47; 22:41")
        page.reload()
        page.locator("[data-part='UI-H1']").get_by_role("button", name="more").click()
        expect(row.get_by_label("angles")).to_have_value("0:47; 22:41")  # half-typed, it outlives a reload
        row.get_by_role("button", name="Save what it is").click()
        expect(row).to_contain_text("47° / 41°")
        row.get_by_label("pieces at hand").fill("2")
        row.get_by_label("pieces at hand").press("Tab")
        for _ in range(60):
            if (held := self.part("UI-H1"))["pieces"] == 2:
                break
            page.wait_for_timeout(100)
        self.assertEqual((held["pieces"], held["spec"]["angles"][1]), (2, {"travel_mm": 22.0, "deg": 41.0}))
        self.refusals = {422}
        row.get_by_label("angles").fill("steep")
        row.get_by_role("button", name="Save what it is").click()
        expect(row.get_by_role("alert")).to_contain_text("“steep” is no pair")
        self.accessible()

    def test_how_long_belts_lasted_stands_beside_their_makers_word(self):
        # Of a belt that came on its machine nobody knows when its life began: only the new one is followed.
        visit = self.client.post("/api/machines/2/visits", json={"scope": "belt"}).json["id"]
        self.other_hand(visit, "/intake", odometer_km={"was": None, "now": 3600})
        self.open("/parts")
        expect(self.page.locator("[data-lasted='belt'] [data-survival]")).to_have_count(1)
        made = self.page.locator("[data-lasted='belt']").filter(has_text="Ravnsete")
        expect(made).to_contain_text("Its maker says 3,200 km: none has come so far here.")
