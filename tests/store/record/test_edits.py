"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

import sqlite3

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.store import db
from jaxel.store.belt import belt_checks
from jaxel.store.edits import Edit
from jaxel.store.machine import machines
from jaxel.store.run import road_tests
from jaxel.store.setup import fitting
from jaxel.store.visit import hand_over, intake, visits
from tests.examples import example, read
from tests.store.cases.store_case import StoreCase


class Edits(StoreCase):
    def test_a_field_changed_elsewhere_is_not_overwritten(self):
        self.note(complaint="theirs")
        with self.assertRaises(db.Conflict) as caught:
            intake.change(self.db, self.visit, {"odometer_km": Edit(None, 900), "complaint": Edit("", "mine")})
        self.assertEqual((caught.exception.field, caught.exception.theirs), ("complaint", "theirs"))
        self.assertEqual((self.held().intake.complaint, self.held().intake.odometer_km), ("theirs", None))

        self.measure(1, 36.1)
        self.try_out(arm_mass_g=58.0, primary_start_n=640.0)
        run = self.held().set_up.left_revision_id
        for field, theirs, write in (
            ("place_1", 36.1, lambda: belt_checks.measure(self.db, self.visit, 1, Edit(None, 36.0))),
            ("arm_mass_g", 58.0, lambda: fitting.try_numbers(self.db, self.visit, "left",
                                                             {"arm_mass_g": Edit(60, "57.5")})),
            ("slots", self.held().set_up.left_draft, lambda: fitting.record(self.db, self.visit, "why", {})),
            ("slots", self.held().set_up.left_draft, lambda: fitting.drop(self.db, self.visit, {"shim_mm": 1.0})),
            ("fitted", {}, lambda: intake.confirm_fitted(self.db, self.visit, {"shim_mm": 1.0})),
        ):  # fmt: skip
            with self.subTest(field), self.assertRaises(db.Conflict) as caught:
                write()
            self.assertEqual((caught.exception.field, caught.exception.theirs), (field, theirs))
        self.record("thin air")
        with self.assertRaises(db.Conflict) as caught:
            road_tests.begin(self.db, self.visit, run)
        self.assertEqual(caught.exception.field, "run")

    def test_another_field_changed_elsewhere_does_not_stand_in_the_way(self):
        before = self.held().intake
        self.note(complaint="theirs")
        intake.change(self.db, self.visit, {"odometer_km": Edit(before.odometer_km, 900)})
        self.assertEqual((self.held().intake.complaint, self.held().intake.odometer_km), ("theirs", 900))

    def test_equal_values_settle(self):
        # The same hand sends the same twice, a reload between: no conflict with oneself, and nothing logged again.
        self.note(complaint="bogs")
        logged = len(self.log())
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs")})
        self.assertEqual((self.held().intake.complaint, len(self.log())), ("bogs", logged))

    def log(self):
        rows = self.db.execute("SELECT * FROM visit_log WHERE visit_id = ? ORDER BY id", (self.visit,))
        return [dict(row) for row in rows]

    def test_a_refused_write_does_not_count_as_an_edit(self):
        before = self.held().edit
        for place, width in ((1, 38.0), (2, 0.0), (3, 5.0)):
            with self.assertRaises(InvalidValue) as caught:
                self.measure(place, width)
            self.assertEqual(caught.exception.field, f"place_{place}")
        for write, values in (
            (belt_checks.change, {"next_belt_id": Edit(None, 77)}), (belt_checks.change, {"belt_id": Edit(1, 2)}),
            (intake.change, {"fitted_confirmed": Edit(0, 1)}), (hand_over.change, {"signed_off_by": Edit("", "me")}),
            (intake.state_kinds, {"name": Edit("", "x")}), (fitting.try_numbers, None),
        ):  # fmt: skip
            if values is None:
                self.assertRaises(InvalidValue, write, self.db, self.visit, "left", {"elbow": Edit(1, 2)})
            else:
                self.assertRaises(InvalidValue, write, self.db, self.visit, values)
        for by in ("", "  ", "x" * 121):
            self.assertRaises(InvalidValue, intake.change, self.db, self.visit, {}, by)
        self.assertEqual((self.held().edit, self.log()), (before, []))

    def test_every_change_is_logged_with_its_hand(self):
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs"), "odometer_km": Edit(None, 900)}, "Jörn")
        self.try_out(primary_start_n=640)
        self.record("thin air")
        rows = self.log()
        self.assertEqual([(r["change"], r["by"], r["place"], r["field"], r["was"], r["now"]) for r in rows[:2]],
                         [(2, "Jörn", "intake", "complaint", '""', '"bogs"'),
                          (2, "Jörn", "intake", "odometer_km", None, "900")])  # fmt: skip
        self.assertEqual([(r["change"], r["field"]) for r in rows[2:]],
                         [(3, "left_draft"), (4, "changed"), (4, "left_revision_id"), (4, "left_draft")])  # fmt: skip
        self.assertEqual({r["by"] for r in rows[2:]}, {"bench"})
        for statement in ("UPDATE visit_log SET by = 'x'", "DELETE FROM visit_log"):
            with self.assertRaisesRegex(sqlite3.IntegrityError, "the log is never"):
                self.db.execute(statement)

    def test_one_open_visit_per_machine(self):
        self.assertRaises(db.Conflict, visits.open_visit, self.db, self.machine)

    def test_a_reading_can_be_taken_back(self):
        self.measure(1, 36.0)
        self.measure(1, None)
        self.assertEqual(self.held().widths_mm, {})

    def test_a_run_can_be_taken_back(self):
        run_id = self.ride(shift_rpm=7800.0)
        shown = {"engagement_rpm": None, "shift_rpm": 7800.0, "note": ""}
        with self.assertRaises(db.Conflict):
            road_tests.remove(self.db, self.visit, run_id, shown | {"shift_rpm": 7700.0})
        road_tests.remove(self.db, self.visit, run_id, shown)
        self.assertEqual(self.held().runs, ())
        self.assertRaises(db.NotFound, road_tests.remove, self.db, self.visit, run_id, shown)

    def test_a_run_keeps_its_air_and_what_was_predicted_that_day(self):
        self.note(elevation_m=1200.0, temperature_c=-5.0)
        run_id = self.ride(shift_rpm=7800.0)
        (run,) = self.held().runs
        expected = predict(self.held().as_left().core())
        self.assertAlmostEqual(run.predicted.shift_rpm, expected.shift.mean * 30 / np.pi, delta=0.06)
        self.assertAlmostEqual(run.predicted.engagement_rpm, expected.engagement.bite * 30 / np.pi, delta=0.06)
        self.assertEqual((run.elevation_m, run.temperature_c, run.predicted.model_version), (1200, -5, 4))
        self.assertGreater(run.predicted.shift_sd_rpm, 50)
        self.note(elevation_m=2400.0)
        road_tests.change(self.db, self.visit, run_id, {"shift_rpm": Edit(7800, 7790.0)})
        (later,) = self.held().runs
        self.assertEqual((later.predicted, later.elevation_m, later.shift_rpm), (run.predicted, 1200, 7790))
        with self.assertRaisesRegex(sqlite3.IntegrityError, "fact of its day"):
            self.db.execute("UPDATE road_test SET predicted_shift_rpm = 1")

    def test_a_run_waits_for_the_change_to_be_recorded(self):
        self.try_out(arm_mass_g=58.0)
        with self.assertRaisesRegex(InvalidValue, "record the set-up change"):
            self.ride()

    def test_a_run_of_another_visit_is_none_of_this_one(self):
        run_id = self.ride(shift_rpm=7800.0)
        other = machines.bring_in(self.db, read(example("trail-sled")), "sled")
        self.visit = visits.open_visit(self.db, other)
        self.assertRaises(db.NotFound, road_tests.change, self.db, self.visit, run_id, {"note": Edit("", "x")})
