"""Belt, strip and inspect on screen: a cocked arm, a belt's forecast, a belt that broke, cups on both flanks."""

import re

from playwright.sync_api import expect

from tests.ui.cases.belt_and_strip_case import TOURING, OnScreen


class CockedArm(OnScreen):
    """A tower-and-button primary and a bolt-in helix secondary: from the rocked arm to what is ordered."""

    def chance(self, cause: str) -> int:
        told = self.page.locator(f"[data-cause={cause}] summary").inner_text()
        return int(re.search(r"(\d+) %", told)[1])

    def test_from_the_finding_to_the_parts_list(self):
        page = self.page
        self.open(f"/visits/{TOURING}/strip")
        self.take("Arm bushings")
        before = self.chance("cocked_arm")
        first = page.get_by_label("side play A")
        first.fill("0.2")
        first.press("Enter")
        expect(page.get_by_label("side play B")).to_be_focused()
        page.keyboard.insert_text("0.6")
        page.keyboard.press("Enter")
        expect(page.get_by_label("side play C")).to_be_focused()
        self.pick("Arm bushings, primary: looked at", "Assembled")
        self.pick("Arm bushings, primary: grade", "cocked")
        decided = page.locator("[data-decision=replace]")
        expect(decided).to_contain_text("B: 0.6 mm is 0.2 mm past the limit 0.4 mm, this machine's manual.")
        expect(decided).to_contain_text("Arms are a set: all three.")
        expect(decided).to_contain_text("its cause may be spider rollers: not looked at yet")
        expect(page.locator("[data-cause=cocked_arm]")).to_be_visible()
        self.wait_saved(TOURING, lambda visit: visit["strip"]["causes"][0]["key"] == "cocked_arm")
        self.assertGreater(self.chance("cocked_arm"), 2 * before)
        # What each way costs: a pack and a driver bought once, or three arms.
        press, arms = (page.get_by_role("radio", name=name) for name in ("Press in bushings", "Three new arms"))
        expect(press).to_contain_text("83.00")
        expect(press).to_contain_text("next time 38.00")
        expect(arms).to_contain_text("186.00")
        press.click()
        expect(page.locator("[data-order='arm bushing']")).to_contain_text("FB-AB3")
        expect(page.locator("[data-follows]")).to_contain_text("arm bushing ×3 · 38.00")
        self.take("Spider rollers")
        self.pick("Spider rollers, primary: looked at", "Assembled")
        self.pick("Spider rollers, primary: grade", "free")
        expect(page.locator("[data-decision=keep]")).to_be_visible()
        self.take("Arm bushings")
        expect(page.locator("[data-decision=replace]")).not_to_contain_text("Open:")
        lines = self.client.get(f"/api/visits/{TOURING}/strip/parts.csv").text.splitlines()
        self.assertEqual(lines[2], "arm bushing,FB-AB3,Brackholm,3,3,1,38.00,,")
        self.accessible()
        # What it came to, said where the cause stands.
        page.locator("[data-cause=cocked_arm] summary").click()
        page.get_by_role("button", name="That was it").first.click()
        expect(page.locator("[data-first-ranked]")).to_contain_text("1 of 1 here")
        expect(page.locator("[data-cause=cocked_arm] summary")).to_contain_text("that was it")
        # Everything of it outlives a reload, and can be overruled with both kept.
        page.reload()
        page.locator("summary", has_text="Beside a new one").click()
        self.pick("Arm bushings, primary: decision", "Watch")
        expect(page.locator("[data-decision=watch]")).to_contain_text("Open: why it was overruled")
        page.get_by_label("Because").fill("one more weekend")
        expect(page.locator("[data-decision=watch]")).to_contain_text("Jaxel says replace; overruled: one more weekend")

    def test_a_groove_says_where_it_is_felt(self):
        page = self.page
        self.open(f"/visits/{TOURING}/strip#secondary_secondary_moving_face")
        self.pick("Moving half's face, secondary: looked at", "Assembled")
        self.pick("rim of the face", "groove")
        expect(page.locator("[data-decision=watch]")).to_contain_text("A groove at the rim.")
        rim = self.client.get(f"/api/visits/{TOURING}/strip/felt").json["secondary"][4]
        expect(page.get_by_role("article").locator("li", has_text="rim")).to_contain_text(f"–{rim['kph_to']:.0f} km/h")
        # Pressed again it is cleared.
        self.pick("rim of the face", "groove")
        self.wait_saved(TOURING, lambda visit: not any(item["rings"] for item in visit["strip"]["items"]))

    def test_in_one_view(self):
        self.open(f"/visits/{TOURING}/strip#primary_buttons")
        expect(self.page.get_by_role("article")).to_contain_text("Buttons in their towers")
        self.assertEqual(self.page.evaluate("document.documentElement.scrollHeight"), 800)
        for what in ("[data-follows]", "article [data-walk]"):
            box = self.page.locator(what).first.bounding_box()
            self.assertLessEqual(box["y"] + box["height"], 728, what)
        scrolled = """() => [...document.querySelectorAll('body *')].filter(e =>
            e.scrollHeight > e.clientHeight + 4 && ['auto', 'scroll'].includes(getComputedStyle(e).overflowY)).length"""
        self.assertEqual(self.page.evaluate(scrolled), 1)
        rows, article = self.page.locator("[data-items] button"), self.page.get_by_role("article")
        for row in (rows.last, rows.first):
            row.click()
            expect(article.get_by_role("heading").first).to_have_text(re.compile("Fixed sheave face|Cover bushing"))
            self.page.wait_for_timeout(200)
            begins = article.bounding_box()["y"]
            self.assertTrue(200 < begins < 560, begins)
