"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

from jaxel.core.errors import InvalidValue
from jaxel.store import db
from jaxel.store.edits import Edit, undo
from jaxel.store.setup import fitting
from jaxel.store.stranger import faults
from jaxel.store.visit import hand_over, intake, visit_log
from tests.store.cases.any_machine_case import MASS, Case


class Faults(Case):
    def setUp(self):
        super().setUp()
        self.visit = self.stranger()
        self.machine = self.held().machine_id

    def test_recorded_put_right_and_undone(self):
        fault = faults.record(self.db, self.visit, "wound-backwards", "", "top the wrong way", "Jo")
        self.assertIn(f"fault_{fault}", self.lacking())
        with self.assertRaises(InvalidValue):
            self.held().as_it_works()
        self.assertEqual(self.held().as_left().secondary.pretwist_deg, 60)  # as left it is predicted
        faults.put_right(self.db, self.visit, fault, Edit("", "wound as it should be"))
        self.assertNotIn(f"fault_{fault}", self.lacking())
        undo(self.db, self.visit, "Jo")
        self.assertIn(f"fault_{fault}", self.lacking())
        faults.remove(self.db, self.visit, fault, {"note": "top the wrong way", "put_right": ""})
        self.assertEqual(self.held().faults, ())
        self.assertIn("Secondary spring wound backwards", visit_log.last(self.db, self.held()).lines[0].now)
        undo(self.db, self.visit, "Jo")
        self.assertEqual([each.id for each in self.held().faults], [fault])

    def test_is_refused_as_left(self):
        fault = faults.record(self.db, self.visit, "wound-backwards", "", "", "Jo")
        with self.assertRaises(hand_over.NotReady) as caught:
            hand_over.sign_off(self.db, self.visit, self.held().edit, "Jo")
        self.assertIn(f"fault_{fault}", [item.field for item in caught.exception.items])
        with self.assertRaises(InvalidValue) as refused:
            fitting.try_numbers(self.db, self.visit, "left", {"pretwist_deg": Edit(60, "-60", sure=True)})
        self.assertIn("must be wound", refused.exception.reason)

    def test_of_clutches_that_cannot_have_it(self):
        with self.assertRaises(InvalidValue):
            faults.record(self.db, self.visit, "magnets-turned", "", "", "Jo")
        with self.assertRaises(db.NotFound):
            faults.put_right(self.db, self.visit, 99, Edit("", "x"))

    def test_how_a_slot_is_known_is_said_and_taken_up(self):
        intake.say_origin(self.db, self.visit, "arms", Edit(None, "unknown"))
        self.assertEqual(self.held().as_found().evidence[MASS].origin, "unknown")
        self.assertEqual(self.held().as_left().evidence[MASS].origin, "unknown")
        with self.assertRaises(InvalidValue):
            intake.say_origin(self.db, self.visit, "arms", Edit("unknown", "hearsay"))
        with self.assertRaises(InvalidValue):
            intake.say_origin(self.db, self.visit, "wings", Edit(None, "typical"))
        intake.confirm_fitted(self.db, self.visit, {}, "Jo")
        self.assertEqual((self.held().found.evidence[MASS].origin, self.held().set_up.found_origins), ("unknown", {}))
