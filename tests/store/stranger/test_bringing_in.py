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

    def test_no_reading_is_dropped_unseen(self):
        both = {"helix_stamp": {"stamp": "38"}, "helix_lift": {"lift_mm": "30", "turn_deg": "60"}}
        before = len(machines.all_machines(self.db))
        for readings, field, reason in (
            (both, "readings.helix_", "say which holds"),
            ({"belt_round": {"round_mm": "950"}}, "readings.belt_round.round_mm", "far from"),
            ({"belt_width": {"width_mm": "32.5"}}, "readings.belt_width.width_mm", "wider than the new belt"),
            ({"hub": {"hub_mm": "44"}}, "readings.hub.thick_mm", "still needs: belt, thick"),
        ):
            with self.subTest(readings), self.assertRaises(InvalidValue) as caught:
                self.stranger(readings=readings)
            self.assertIn(field, caught.exception.field)
            self.assertIn(reason, caught.exception.reason)
        self.assertEqual(len(machines.all_machines(self.db)), before)
        held = visits.get(self.db, self.stranger(readings=both, prefer={"secondary.helix.angles": "helix_stamp"}))
        self.assertEqual(held.found.secondary.helix.angles[0].deg, 38)
        far = visits.get(self.db, self.stranger(readings={"belt_round": {"round_mm": "905"}}, sure=["belt_round"]))
        self.assertEqual(far.found.belt.outer_circumference_mm, 905)

    def test_a_machine_nobody_named_is_asked_for(self):
        with self.assertRaisesRegex(InvalidValue, "machine: say first what stands on the lift"):
            self.stranger(machine=None)
        clutch = visits.get(self.db, self.stranger(machine=None, bare=True))
        self.assertEqual(machines.get(self.db, clutch.machine_id).kind, "bare clutch")

    def test_a_target_is_typical_until_a_hand_states_it(self):
        visit = self.stranger()
        self.assertTrue(visits.get(self.db, visit).intake.target_typical)
        self.assertIsNone(visits.get(self.db, visit).intake.stated_windows)
        held = visits.get(self.db, visit).intake.target_shift_rpm
        intake.change(self.db, visit, {"target_shift_rpm": Edit(held, held + 50)})
        now = visits.get(self.db, visit).intake
        self.assertEqual(now.stated_windows[1], (held + 50, now.target_shift_tolerance_rpm))

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
