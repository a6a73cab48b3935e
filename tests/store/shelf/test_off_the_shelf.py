"""The store of the set-up bench: parts on the tray and off the shelf, calibrations of their day, sheets, lives."""

from jaxel.core.errors import InvalidValue
from jaxel.store.db import Conflict, NotFound
from jaxel.store.edits import Edit, undo
from jaxel.store.setup import fitting
from jaxel.store.setup.fitting import Fill
from jaxel.store.shelf import parts, shelf
from jaxel.store.visit import visits
from tests.store.cases.set_up_bench_case import Bench


class OffTheShelf(Bench):
    def test_recording_takes_every_piece_and_undoing_returns_it(self):
        self.fill("arms", "A-57")
        self.fill("load:middle", "L-15")
        before = self.here()
        self.assertEqual((before["A-57"], before["L-15"]), (6, 7))
        self.record("lighter")
        self.assertEqual((self.here()["A-57"], self.here()["L-15"]), (3, 4))
        self.assertEqual(shelf.held_by(self.db, self.held().set_up.left_revision_id),
                         {"arms": (self.parts["A-57"], 3), "load:middle": (self.parts["L-15"], 3)})  # fmt: skip
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.here(), before)
        self.assertEqual(set(self.held().tray), {"arms", "load:middle"})

    def test_what_a_change_takes_off_goes_back(self):
        self.fill("arms", "A-57")
        self.record("lighter")
        self.fill("primary_spring", "PS-1")
        self.record("a stiffer start")
        self.assertEqual((self.here()["A-57"], self.here()["PS-1"]), (3, 0))  # the arms stayed in
        self.fill("arms", "A-58")
        self.record("heavier again")
        self.assertEqual((self.here()["A-57"], self.here()["A-58"]), (6, 0))
        self.try_out(arm_mass_g=60)
        self.record("the rider's own arms")
        self.assertEqual((self.here()["A-58"], self.here()["PS-1"]), (3, 0))

    def test_a_kit_is_taken_once_and_comes_back_once(self):
        self.fill("kit", "KT-1")
        self.record("for thin air")
        self.assertEqual((self.here()["KT-1"], self.here()["A-57"]), (0, 6))
        self.try_out(arm_mass_g=60)
        self.record("its spring stays")
        self.assertEqual(self.here()["KT-1"], 0)
        self.try_out(primary_start_n=755, primary_finish_n=1400)
        self.record("all of it off")
        self.assertEqual(self.here()["KT-1"], 1)

    def test_another_hand_took_the_last_one(self):
        self.fill("primary_spring", "PS-1")
        other = self.another_visit()
        fitting.fill(self.db, other, [Fill("primary_spring", self.parts["PS-1"])], {})
        fitting.record(self.db, other, "first there", visits.get(self.db, other).set_up.left_draft)
        revision = self.held().set_up.left_revision_id
        with self.assertRaisesRegex(InvalidValue, "PS-1: 1 needed, 0 on the shelf: another hand took it") as caught:
            self.record("too late")
        self.assertEqual(caught.exception.field, "slots")
        self.assertEqual((self.held().set_up.left_revision_id, self.here()["PS-1"]), (revision, 0))
        self.assertEqual(set(self.held().tray), {"primary_spring"})

    def test_what_nobody_counted_is_never_short(self):
        part = parts.add(self.db, "PS-9", "primary spring")
        spec = {"force_start_n": 600.0, "force_finish_n": 1300.0, "travel_mm": 30.0}
        parts.change(self.db, part, {"spec": Edit(None, spec)})
        fitting.fill(self.db, self.visit, [Fill("primary_spring", part)], {})
        self.record("one from the drawer")
        self.assertIsNone(shelf.at_hand(self.db).get(part))

    def test_counting_says_what_it_replaces(self):
        part = self.parts["PS-1"]
        shelf.count(self.db, part, Edit(1, 4))
        self.assertEqual(self.here()["PS-1"], 4)
        with self.assertRaises(Conflict) as caught:
            shelf.count(self.db, part, Edit(1, 3))
        self.assertEqual((caught.exception.field, caught.exception.theirs), ("pieces", 4))
        for bad in (-1, 2.5, None, 10_001):
            with self.assertRaises(InvalidValue):
                shelf.count(self.db, part, Edit(4, bad))
        with self.assertRaises(NotFound):
            shelf.count(self.db, 99, Edit(None, 1))
