"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

from jaxel.core.errors import InvalidValue
from jaxel.store import db
from jaxel.store.machine import machines
from jaxel.store.visit import hand_over, visits
from tests.store.cases.store_case import StoreCase


class SignOff(StoreCase):
    def test_names_what_is_missing(self):
        with self.assertRaises(hand_over.NotReady) as caught:
            self.sign()
        self.assertIn("odometer reading, distance or hours", [item.what for item in caught.exception.items])
        self.assertIsNone(self.held().signed_off_at)

    def test_closes_the_visit(self):
        self.complete()
        self.assertRaises(InvalidValue, self.sign, " ")
        self.sign()
        with self.assertRaisesRegex(db.Conflict, "signed off"):
            self.note(complaint="late")
        (belt,) = machines.belts(self.db, self.machine)
        self.assertEqual((belt.state, belt.width_mm), ("fitted", 36.0))

    def test_is_of_what_was_shown(self):
        self.complete()
        shown = self.held().edit
        self.note(complaint="another hand")
        with self.assertRaisesRegex(db.Conflict, "look at it again") as caught:
            hand_over.sign_off(self.db, self.visit, shown, "Jo")
        self.assertEqual(caught.exception.field, "edit")
        self.assertIsNone(self.held().signed_off_at)

    def test_a_new_belt_goes_on_and_the_spare_can_come_back(self):
        self.complete(decision="spare", reason="narrow", next_width_mm=36.4)
        self.assertAlmostEqual(self.held().as_left().belt.top_width_mm, 36.4)
        self.sign()
        old, new = machines.belts(self.db, self.machine)
        self.assertEqual((old.state, new.state, new.width_mm, new.fitted_at_km), ("spare", "fitted", 36.4, 900))

        self.visit = visits.open_visit(self.db, self.machine)
        self.complete(decision="discard", reason="burnt", next_belt_id=old.id)
        self.sign()
        old, new = machines.belts(self.db, self.machine)
        self.assertEqual((old.state, old.width_mm, new.state), ("fitted", 36.0, "discarded"))
