"""A kit from a box is fitted: its sheet's numbers on the tray, a spring without numbers, what is asked and told."""

from dataclasses import replace

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.visit.stations import open_items
from jaxel.core.words import told as plain
from jaxel.store.edits import Edit, undo
from jaxel.store.machine import upkeep
from jaxel.store.setup import fitting
from jaxel.store.setup.fitting import Fill
from jaxel.store.shelf import parts, shelf
from jaxel.store.visit import floor, pages, visits
from tests.store.cases.set_up_bench_case import Bench

KIT = {
    "members": ["KS-2", "L-15", "B-7", "NOT-HERE"],
    "sheet": "the middle hole",
    "starts": [{"key": "load_g.tip", "value": 2.5}],
    "omits": ["cover bushing"],
    "not_used": ["the six short bolts"],
    "decal": "on the guard",
}


class Kits(Bench):
    def setUp(self):
        super().setUp()
        spring = parts.add(self.db, "KS-2", "primary spring")
        parts.change(self.db, spring, {"spec": Edit(None, {"mark": "paint stripe"})})
        parts.add(self.db, "B-7", "belt")
        self.kit = parts.add(self.db, "BX-1", "kit")
        parts.change(self.db, self.kit, {"spec": Edit(None, KIT)})
        shelf.count(self.db, self.kit, Edit(None, 1))
        upkeep.change(self.db, self.held().machine_id, {"primary_kind": Edit(None, "tower-and-button-primary")})

    def take(self):
        fitting.fill(self.db, self.visit, [Fill("kit", self.kit)], self.held().set_up.left_draft)

    def asks(self) -> list[str]:
        visit = self.held()
        return [ask.key for step in visit.bench.steps(visit.inspection) for ask in step.asks]

    def rows(self) -> dict[str, list[str]]:
        page = pages.page(self.db, self.held())
        return {row.key: [plain(line.words) for line in row.lines] for row in page.rows}

    def test_its_members_and_its_sheet_s_numbers_lie_on_the_tray(self):
        known = shelf.stocked(self.db)[self.kit]
        self.assertEqual([each.number for each in known.members], ["KS-2", "L-15"])
        self.assertEqual(known.besides, ("B-7, belt", "NOT-HERE, not in the parts room"))
        self.take()
        draft = self.held().set_up.left_draft
        self.assertEqual(draft["load_g.tip"], 2.5)
        self.assertEqual(draft["part.primary_spring"], float(self.kit))

    def test_a_spring_without_numbers_is_fitted_though_no_figure_changes(self):
        before = self.held().left.primary.spring
        alone = parts.add(self.db, "KS-3", "primary spring")
        parts.change(self.db, alone, {"spec": Edit(None, {"mark": "green"})})
        fitting.fill(self.db, self.visit, [Fill("primary_spring", alone)], self.held().set_up.left_draft)
        self.record("the green one, to see")
        visit = self.held()
        self.assertEqual(visit.left.primary.spring, before)
        self.assertEqual(visit.set_up.changed, ("primary_spring",))
        self.assertIn("cover", [step.key for step in visit.bench.steps(visit.inspection)])
        self.assertIn("Primary spring: KS-3, green, not measured: its figures stay typical", self.rows()["changed"])

    def test_what_may_not_be_used_and_the_decal_are_asked_where_it_was_fitted(self):
        self.assertNotIn("kit_decal", self.asks())
        self.take()
        self.assertNotIn("kit_decal", self.asks())  # tried is not fitted
        self.record("the kit")
        self.assertEqual([key for key in self.asks() if key.startswith("kit")], ["kit_not_used", "kit_decal"])
        # The shop floor counts what is open as the visit itself does.
        found = {each.visit.id: each.visit for each in floor.machines_on_floor(self.db) if each.visit}[self.visit]
        self.assertEqual(open_items(found.record), open_items(self.held().record()))
        changed = self.rows()["changed"]
        self.assertIn("Kit BX-1: KS-2; L-15; B-7, belt; NOT-HERE, not in the parts room", changed)
        self.assertIn("Not to be used of BX-1: the six short bolts", changed)
        self.assertIn("Primary spring: KS-2, paint stripe, not measured: its figures stay typical", changed)
        undo(self.db, self.visit, "Jo")
        self.assertEqual([key for key in self.asks() if key.startswith("kit")], [])

    def test_a_kit_that_came_with_the_machine_is_not_asked_of_again(self):
        self.take()
        self.record("the kit")
        visit = replace(self.held())
        self.assertEqual([each.number for each in visit.kits], ["BX-1"])
        self.db.execute("UPDATE set_up SET found_revision_id = left_revision_id WHERE visit_id = ?", (self.visit,))
        self.assertEqual(visits.get(self.db, self.visit).kits, ())

    def test_a_sheet_that_begins_with_what_this_clutch_has_not_is_refused_whole(self):
        spec = {**KIT, "starts": [{"key": "load_g.nowhere", "value": 2.5}]}
        parts.change(self.db, self.kit, {"spec": Edit(KIT, spec)})
        with self.assertRaisesRegex(InvalidValue, "which this clutch has not"):
            self.take()
        self.assertEqual(dict(self.held().set_up.left_draft), {})
