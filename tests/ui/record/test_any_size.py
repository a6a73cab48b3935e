"""Everything is in reach: in one view, by key, read aloud, at any size, with words of any length, and on paper."""

from contextlib import closing
from pathlib import Path

from playwright.sync_api import expect

from jaxel.store.db import connect
from jaxel.store.visit import visits
from tests.ui import checks
from tests.ui.cases.reach_case import DESK, KEYBOARD_UP, PAGES, PHONE, TABLET, ZOOMED, Sized

LONG = "Überlandschneefahrt" * 26


class AnySize(Sized):
    """Two themes, five sizes, every page and every state of it."""

    def whole(self, where: object) -> None:
        """Nothing cut, sideways or too small."""
        for check in (checks.sideways, checks.small_words, checks.small_targets, checks.cut_words):
            with self.subTest(where, check=check.__name__):
                self.assertEqual(check(self.page), [])

    def accessible(self, where: object) -> None:
        with self.subTest(where):
            self.assertEqual(checks.violations(self.page), [])

    def test_every_page(self):
        self.at(DESK, color_scheme="light")
        for path in PAGES:
            self.page.set_viewport_size({"width": DESK[0], "height": DESK[1]})
            self.open(path)
            self.settle()
            # Colours and names do not hang on the size.
            for theme in ("dark", "light"):
                self.page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")
                self.accessible((path, theme))
            # With the keyboard up the width stays: only the page that fits its height looks another way.
            for size in (DESK, TABLET, *((KEYBOARD_UP,) if path.endswith("set-up") else ()), PHONE, ZOOMED):
                self.page.set_viewport_size({"width": size[0], "height": size[1]})
                self.settle()
                self.whole((path, size))

    def test_dialogs_errors_questions_and_conflicts(self):
        self.refusals = {409, 422}
        for size, theme in ((DESK, "dark"), (PHONE, "light")):
            self.at(size, color_scheme=theme)
            page = self.page
            self.open("/")
            page.get_by_role("link", name="Bring in a machine").click()
            page.get_by_role("button", name="from a file").click()
            page.get_by_role("button", name="Bring it in").click()
            expect(page.get_by_role("alert")).to_be_visible()
            self.accessible(("bring in", size, theme))
            self.open("/visits/2/belt")
            for place, text in (("Place 1", "wide"), ("Place 2", "12")):
                page.get_by_role("textbox", name=place).fill(text)
                page.get_by_role("textbox", name=place).press("Enter")
            expect(page.get_by_role("alert")).to_have_count(2)
            self.whole(("refused and asked", size))
            self.accessible(("refused and asked", size, theme))
            page.get_by_role("banner").get_by_role("button", name="2 entries not saved").click()
            self.accessible(("what is not saved", size, theme))
            page.keyboard.press("Escape")
            for place in ("Place 1", "Place 2"):
                page.get_by_role("textbox", name=place).press("Escape")
            self.open("/visits/2/intake")
            complaint = page.get_by_label("Complaint")
            expect(complaint).not_to_have_value("")
            self.other_intake(2, "complaint", f"other hand {size} {theme}")
            complaint.fill(f"this hand {size} {theme}")
            expect(page.get_by_text("Changed elsewhere to")).to_be_visible()
            self.accessible(("conflict", size, theme))
            page.get_by_role("button", name="Take it").click()
            page.get_by_role("button", name="things open").click()
            self.accessible(("open things", size, theme))

    def test_words_of_any_length(self):
        self.other_intake(2, "complaint", (LONG + " " + "bogs and smells of rubber " * 80)[:2000])
        self.other_hand(2, "/belt", reason={"was": self.visit(2)["belt"]["reason"], "now": LONG[:494]})
        self.other_hand(2, "/hand-over", watch={"was": self.visit(2)["hand_over"]["watch"], "now": LONG[:494]})
        workshop = self.client.get("/api/workshop").json["name"]
        self.client.patch("/api/workshop/name", json={"was": workshop, "now": "W" * 120})
        self.client.post("/api/workshop/people", json={"name": "N" * 120})
        with closing(connect(Path(self.client.application.config["DATABASE"]))) as db:
            for _ in range(60):
                visit = visits.open_visit(db, 2)
                db.execute("UPDATE visit SET signed_off_at = opened_at, signed_off_by = 'Jo' WHERE id = ?", (visit,))
        self.at(DESK)
        for path in (*PAGES, "/machines/2"):
            self.open(path)
            for size in (ZOOMED, PHONE, DESK):
                self.page.set_viewport_size({"width": size[0], "height": size[1]})
                self.settle()
                with self.subTest(path=path, size=size):
                    self.assertEqual(checks.sideways(self.page), [])
