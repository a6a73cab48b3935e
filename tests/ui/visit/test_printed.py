"""Everything is in reach: in one view, by key, read aloud, at any size, with words of any length, and on paper."""

from playwright.sync_api import expect

from tests.ui.cases.reach_case import DESK, Sized


class Printed(Sized):
    def test_white_from_any_theme_on_one_page_with_a_line_to_sign(self):
        for theme in ("light", "dark"):
            self.at(DESK, color_scheme=theme)
            page = self.page
            self.open("/visits/6/hand-over")
            self.settle()
            page.emulate_media(media="print", color_scheme=theme)
            sheet = page.get_by_role("region", name="Rider's sheet")
            for words in (
                "Fellside Clutch Bench",
                "It may leave.",
                "What to look at, and when",
                "signed, ",
                "Received by",
            ):
                expect(sheet).to_contain_text(words)
            expect(page.get_by_role("article")).to_be_hidden()
            expect(page.get_by_text("print the record")).to_be_hidden()
            expect(sheet.get_by_text("Received by")).to_be_visible()
            ground = "e => getComputedStyle(e).backgroundColor"
            self.assertEqual(
                page.evaluate("getComputedStyle(document.documentElement).backgroundColor"), "rgb(255, 255, 255)"
            )
            self.assertEqual(sheet.evaluate(ground), "rgb(255, 255, 255)")
            self.assertEqual(sheet.evaluate("e => getComputedStyle(e).color"), "rgb(0, 0, 0)")
            self.assertEqual(page.pdf(format="A4").count(b"/Type /Page\n"), 1)

    def test_ten_parts_with_long_names_are_one_page(self):
        def long(route):
            told = route.fetch().json()
            part = {"part": "new fitted FB-114-LONG-NUMBER-OF-ANOTHER-MAKER", "price": 123.4}
            names = [f"{number} Moving sheave bushing, primary" for number in range(10)]
            told["page"]["rider"]["done"] = [part | {"what": name} for name in names]
            route.fulfill(json=told)

        self.at(DESK)
        self.page.route("**/api/visits/6/page", long)
        self.open("/visits/6/hand-over")
        self.settle()
        expect(self.page.get_by_text("9 Moving sheave")).to_be_visible()
        self.assertEqual(self.page.pdf(format="A4").count(b"/Type /Page\n"), 1)
