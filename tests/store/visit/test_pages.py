"""The hand-over page: kept as it was signed, made anew while the visit is open, each figure with its ±."""

import json

from jaxel.core.words import told
from jaxel.store.edits import Edit
from jaxel.store.machine import limits, upkeep
from jaxel.store.visit import close_out, hand_over, intake, pages, visits
from jaxel.store.workshop import workshop
from tests.store.cases.store_case import StoreCase


class Pages(StoreCase):
    def row(self, key):
        page = pages.page(self.db, self.held())
        return next(each for each in page.rows if each.key == key)

    def words(self, key):
        return [told(line.words) for line in self.row(key).lines]

    def closed(self):
        for place, width in ((1, 36.2), (2, 36.1), (3, 36.0), (7, 35.9)):
            self.measure(place, width)
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "rider in a hurry", "Jo")

    def kept(self):
        return self.db.execute("SELECT document FROM hand_over_page WHERE visit_id = ?", (self.visit,)).fetchone()[0]

    def test_an_open_one_follows_its_visit(self):
        self.assertEqual(self.words("complaint"), ["–"])
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs")}, "Jo")
        self.assertEqual(self.words("complaint"), ["bogs"])
        self.assertEqual(pages.page(self.db, self.held()).closed, "")

    def test_a_brake_line_that_was_moved_and_the_brake_tried_after_it(self):
        close_out.add(self.db, self.visit, "Brake-line bracket", "brake line", 1, "hand tight, then the wrench", "Jo")
        key = "own.brake_line_bracket"
        told = self.words("counted")
        self.assertIn("Brake-line bracket: not refitted, hand tight, then the wrench", told)
        self.assertIn("a brake line was moved; the brake was not tried", told)
        close_out.count(self.db, self.visit, key, {"back": Edit(None, 1)}, "Jo")
        hand_over.change(self.db, self.visit, {"brake_held": Edit(False, True)}, "Jo")
        told = self.words("counted")
        self.assertIn("Brake-line bracket: refitted, hand tight, then the wrench", told)
        self.assertIn("brake tried and found holding", told)

    def test_every_place_and_every_figure_with_its_band(self):
        self.closed()
        self.assertTrue(
            self.words("belt")[0].startswith("36.2 / 36.1 / 36 / 35.9 mm at places 1, 2, 3, 7 (new 36.5 mm")
        )
        figures = {row[0]: row[1:] for row in self.row("predicted").table.rows}
        for name in ("Engagement, rpm", "Shift, rpm"):
            self.assertTrue(all(" ± " in each for each in figures[name]), figures[name])
        self.assertEqual(self.words("unrepaired"), ["rider in a hurry"])

    def test_a_signed_one_is_byte_for_byte_what_was_signed(self):
        self.closed()
        before, shown = self.kept(), pages.page(self.db, self.held())
        limits.state(self.db, self.machine, "belt_width_min_mm", 36.4, "manual", "Jo")
        upkeep.change(self.db, self.machine, {"name": Edit(self.held_machine().name, "Another name"),
                                              "primary_kind": Edit(None, "adjustable-cam-primary")})  # fmt: skip
        workshop.rename(self.db, Edit("", "Another workshop"))
        self.assertEqual(self.kept(), before)
        self.assertEqual(pages.page(self.db, self.held()), shown)
        self.assertNotIn("Another", json.dumps(json.loads(before)))

    def held_machine(self):
        from jaxel.store.machine import machines

        return machines.get(self.db, visits.get(self.db, self.visit).machine_id)
