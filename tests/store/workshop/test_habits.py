"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

from jaxel.core.errors import InvalidValue
from jaxel.core.units import IMPERIAL, Units
from jaxel.store import db
from jaxel.store.edits import Edit
from jaxel.store.workshop import stamps, workshop
from tests.store.cases.any_machine_case import Case


class Habits(Case):
    def test_a_person_s_units_win_over_the_workshop_s(self):
        person = workshop.add_person(self.db, "Ebba")
        workshop.read_in(self.db, None, Edit(workshop.get(self.db).units, IMPERIAL))
        self.assertEqual(workshop.get(self.db).units_of("Ebba"), IMPERIAL)
        mixed = Units(force="lbf")
        workshop.read_in(self.db, person, Edit(None, mixed))
        held = workshop.get(self.db)
        self.assertEqual((held.units_of("ebba"), held.units_of("bench")), (mixed, IMPERIAL))
        with self.assertRaises(db.Conflict):
            workshop.read_in(self.db, person, Edit(None, IMPERIAL))
        with self.assertRaises(db.NotFound):
            workshop.read_in(self.db, 99, Edit(None, IMPERIAL))

    def test_a_stamp_is_weighed_again_and_forgotten(self):
        stamps.note(self.db, " k7 ", 49.0)
        stamps.note(self.db, "K7", 49.2)
        self.assertEqual(stamps.masses(self.db), {"K7": 49.2})
        for stamp, mass in (("", 49), ("K" * 21, 49), ("K", 0), ("K", 2000)):
            with self.assertRaises(InvalidValue):
                stamps.note(self.db, stamp, mass)
        stamps.forget(self.db, stamps.all_stamps(self.db)[0].id)
        self.assertEqual(stamps.masses(self.db), {})
        with self.assertRaises(db.NotFound):
            stamps.forget(self.db, 1)
