"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

import sqlite3

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.store import db
from jaxel.store.edits import Edit, undo
from jaxel.store.machine import machines
from jaxel.store.visit import addenda, hand_over, intake, visits
from tests.store.back_together import back_together
from tests.store.cases.any_machine_case import Case


class Scope(Case):
    def test_widened_and_narrowed_keeps_what_was_typed(self):
        self.note(baseline_shift_rpm=7900.0)
        intake.set_scope(self.db, self.visit, Edit("tune", "belt"))
        self.assertEqual(self.lacking()[:2], ["odometer_km", "complaint"])
        self.assertNotIn("fitted", self.lacking())
        intake.set_scope(self.db, self.visit, Edit("belt", "rebuild"))
        self.assertEqual(self.held().intake.baseline_shift_rpm, 7900.0)
        self.assertIn("fitted", self.lacking())
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().scope, "belt")
        with self.assertRaises(db.Conflict):
            intake.set_scope(self.db, self.visit, Edit("tune", "service"))

    def test_a_belt_only_visit_closes_without_an_rpm(self):
        intake.set_scope(self.db, self.visit, Edit("tune", "belt"))
        self.note(odometer_km=900.0, complaint="Belt broke")
        for place in (1, 2, 3):
            self.measure(place, 36.0)
        self.decide(decision="discard", reason="cord out", next_width_mm=36.5)
        back_together(self.db, self.visit)
        hand_over.sign_off(self.db, self.visit, self.held().edit, "Jo")
        self.assertEqual(machines.fitted_belt(self.db, self.machine).number, 2)

    def test_hours_running_backwards_are_asked_about(self):
        self.note(odometer_h=210.0)
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "no parts", "Jo")
        self.visit = visits.open_visit(self.db, self.machine)
        with self.assertRaises(Implausible) as caught:
            self.note(odometer_h=190.0)
        self.assertIn("less than at the last visit, 210 h", caught.exception.reason)
        self.note(odometer_h=230.0)

    def test_closed_unrepaired_with_a_reason_and_amended_by_an_addendum(self):
        with self.assertRaises(InvalidValue):
            hand_over.close_unrepaired(self.db, self.visit, self.held().edit, " ", "Jo")
        self.decide(decision="discard", reason="worn", next_width_mm=36.5)
        with self.assertRaises(db.Conflict):
            addenda.add(self.db, self.visit, "late news", "Jo")
        shown = self.held().edit
        self.note(complaint="said meanwhile")
        for edit in (shown, shown + 2):
            with self.assertRaisesRegex(db.Conflict, "changed elsewhere: look at it again before it is closed"):
                hand_over.close_unrepaired(self.db, self.visit, edit, "Rider sells it", "Jo")
        self.assertIsNone(self.held().signed_off_at)
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "Rider sells it", "Jo")
        signed = self.held()
        self.assertEqual((signed.unrepaired, signed.signed_off_by), ("Rider sells it", "Jo"))
        self.assertEqual([each.state for each in machines.belts(self.db, self.machine)], ["fitted"])
        addenda.add(self.db, self.visit, "Sold on the 3rd", "Ebba")
        (added,) = addenda.of_visit(self.db, self.visit)
        self.assertEqual((added.text, added.added_by), ("Sold on the 3rd", "Ebba"))
        self.assertEqual(self.held(), signed)
        for change in ("UPDATE addendum SET text = ''", "DELETE FROM addendum"):
            with self.assertRaises(sqlite3.IntegrityError):
                self.db.execute(change)
