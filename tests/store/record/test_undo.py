"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

from jaxel.store import db
from jaxel.store.edits import Edit, undo
from jaxel.store.run import road_tests
from jaxel.store.setup import fitting
from jaxel.store.visit import hand_over, intake, visit_log
from tests.store.cases.store_case import StoreCase


class Undo(StoreCase):
    def state(self):
        held = self.held()
        return {name: getattr(held, name) for name in ("intake", "belt", "set_up", "hand_over", "widths_mm", "runs",
                                                       "kinds")}  # fmt: skip

    def test_walks_back_through_every_kind_of_change(self):
        states = [self.state()]
        for change in (
            lambda: self.note(complaint="bogs", odometer_km=900),
            lambda: intake.state_kinds(self.db, self.visit, {"primary_kind": Edit(None, "shimmed-spider-primary")}),
            lambda: self.try_out("found", shim_mm=0.5),
            self.confirm,
            lambda: self.measure(1, 36.0),
            lambda: self.measure(1, 35.9),
            lambda: self.measure(1, None),
            lambda: self.decide(decision="discard", reason="burnt", next_width_mm=36.4),
            lambda: self.decide(decision=None),
            lambda: self.try_out(arm_mass_g=58.0),
            lambda: fitting.note_reason(self.db, self.visit, Edit("", "thin air")),
            lambda: fitting.drop(self.db, self.visit, self.held().set_up.left_draft),
            lambda: self.try_out(primary_start_n=640.0),
            lambda: self.record("a stiffer start"),
            lambda: road_tests.begin(self.db, self.visit, self.held().set_up.left_revision_id),
            lambda: road_tests.change(self.db, self.visit, self.held().runs[0].id, {"shift_rpm": Edit(None, 7800.0)}),
            lambda: road_tests.remove(self.db, self.visit, self.held().runs[0].id,
                                      {"engagement_rpm": None, "shift_rpm": 7800.0, "note": ""}),
            lambda: hand_over.change(self.db, self.visit, {"watch": Edit("", "the belt")}),
        ):  # fmt: skip
            change()
            states.append(self.state())
        for expected in reversed(states[:-1]):
            undo(self.db, self.visit, "Jo")
            self.assertEqual(self.state(), expected)
        with self.assertRaisesRegex(db.Conflict, "nothing to undo"):
            undo(self.db, self.visit, "Jo")
        self.assertEqual(self.db.execute("PRAGMA foreign_key_check").fetchall(), [])

    def test_is_of_the_change_that_was_shown(self):
        self.note(complaint="one")
        shown = visit_log.last(self.db, self.held())
        self.note(complaint="two")
        with self.assertRaisesRegex(db.Conflict, "something else was changed last"):
            undo(self.db, self.visit, "Jo", shown.edit)
        undo(self.db, self.visit, "Jo", shown.edit + 1)
        self.assertEqual(self.held().intake.complaint, "one")

    def test_says_whose_change_it_was(self):
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs")}, "Jörn")
        found = undo(self.db, self.visit, "Jo")
        self.assertEqual(
            [(each.by, each.place, each.was, each.now) for each in found], [("Jörn", "intake", "", "bogs")]
        )

    def test_a_change_after_an_undo_can_be_undone_again(self):
        self.note(complaint="one")
        undo(self.db, self.visit, "Jo")
        self.note(complaint="two")
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().intake.complaint, "")
        self.assertRaises(db.Conflict, undo, self.db, self.visit, "Jo")

    def test_a_signed_visit_is_not_undone(self):
        self.complete()
        self.sign()
        with self.assertRaisesRegex(db.Conflict, "signed off"):
            undo(self.db, self.visit, "Jo")
