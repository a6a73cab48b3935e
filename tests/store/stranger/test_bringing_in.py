"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.visit.stations import stations_of
from jaxel.store.edits import Edit
from jaxel.store.machine import limits, machines
from jaxel.store.setup import revisions
from jaxel.store.stranger import bringing_in
from jaxel.store.visit import intake, visits
from tests.store.cases.any_machine_case import MASS, Case


class BringingIn(Case):
    def test_a_stranger_has_a_visit_its_kinds_and_what_was_read(self):
        visit = visits.get(self.db, self.stranger(complaint="Slow", readings={"belt_width": {"width_mm": "30.4"}}))
        machine = machines.get(self.db, visit.machine_id)
        self.assertEqual(
            (machine.name, machine.kind, machine.primary_kind), ("Quad", "quad", "roller-variator-primary")
        )
        self.assertEqual((visit.intake.complaint, visit.fitted_belt.width_mm), ("Slow", 30.4))
        self.assertEqual(visit.found.evidence["belt.top_width_mm"].origin, "measured")
        self.assertEqual(limits.in_force(self.db, machine.id, "belt_width_min_mm").origin, "from memory")

    def test_weights_found_unequal_are_a_fault_of_the_visit(self):
        visit = visits.get(self.db, self.stranger(machine="sled", primary="tower-and-button-primary",
                                                  readings={"weights": {"mass_g": "48.1/48.0/46.9"}}))  # fmt: skip
        self.assertEqual([each.fault.name for each in visit.faults], ["Weights unequal, 48.1 / 48 / 46.9 g"])

    def test_what_contradicts_settles_nothing(self):
        both = {"helix_stamp": {"stamp": "38"}, "helix_lift": {"lift_mm": "40", "turn_deg": "60"}}
        visit = visits.get(self.db, self.stranger(readings=both))
        self.assertEqual(visit.found.evidence["secondary.helix.angles"].origin, "typical")

    def test_a_bare_clutch_has_an_identity_and_no_machine(self):
        visit = visits.get(self.db, self.stranger(bare=True, identity=machines.Identity("30 mm", 12.0, "K7")))
        machine = machines.get(self.db, visit.machine_id)
        self.assertTrue(machine.bare)
        self.assertEqual((machine.name, machine.taper, machine.offset_mm), ("Clutch K7", "30 mm", 12.0))
        self.assertEqual(
            (visit.scope, stations_of(visit.record())), ("bench", ["intake", "strip", "set-up", "rebuild", "hand-over"])
        )
        with self.assertRaises(InvalidValue):
            intake.set_scope(self.db, visit.id, Edit("bench", "tune"))

    def test_a_copy_is_typical_of_the_other(self):
        machine = bringing_in.copy(self.db, self.machine, "Twin", "Ida")
        document = revisions.newest(self.db, machine).document
        self.assertEqual(document.belt.top_width_mm, document.belt.top_width_new_mm)
        self.assertEqual(document.evidence[MASS].origin, "typical")
        with self.assertRaises(InvalidValue):
            bringing_in.copy(self.db, self.machine, " ", "")

    def test_a_kind_that_does_not_fit_writes_nothing(self):
        before = len(machines.all_machines(self.db))
        with self.assertRaises(InvalidValue):
            self.stranger(secondary="steam")
        self.assertEqual(len(machines.all_machines(self.db)), before)
