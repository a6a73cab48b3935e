"""The store of the set-up bench: parts on the tray and off the shelf, calibrations of their day, sheets, lives."""

import json
from unittest import mock

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.run.scores import score_card
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.store.edits import undo
from jaxel.store.run import calibrations, road_tests
from jaxel.store.setup import predictions
from jaxel.store.stranger import faults
from jaxel.store.visit import visits
from tests.examples import changed, example, read
from tests.store.cases.set_up_bench_case import Bench


class Calibrations(Bench):
    def test_a_visit_stands_on_what_the_machine_did_before(self):
        self.assertIsNone(self.held().calibration)
        self.ready()
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        bare = predictions.kept(self.db, self.held().as_left())
        self.assertIsNone(bare.anchor)
        self.sign()
        self.visit = visits.open_visit(self.db, self.machine)
        known = self.held().calibration
        self.assertEqual([run.shift_mean_rpm for run in known.document.runs], [7700])
        anchored = predictions.kept(self.db, self.held().as_left(), known)
        self.assertAlmostEqual(anchored.shift.mean_rpm, 7700, delta=0.5)
        self.assertAlmostEqual(anchored.engagement.bite_rpm, 3900, delta=0.5)
        self.assertLess(anchored.band.mean_rpm, bare.band.mean_rpm / 3)
        self.assertNotEqual(anchored.key, bare.key)

    def test_the_newest_visits_runs_are_known_whatever_the_clock_said(self):
        self.ready()
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        self.sign()
        self.visit = visits.open_visit(self.db, self.machine)
        self.note(odometer_km=200, complaint="again")
        with mock.patch("jaxel.store.run.road_tests.now", lambda: "2001-01-01T00:00:00Z"):  # its battery was out
            self.ride(shift_rpm=7650)
        with mock.patch.object(calibrations, "MOST_RUNS", 1):
            (known,) = calibrations.runs_of(self.db, self.machine)
        self.assertEqual(known.shift_mean_rpm, 7650)

    def ready(self):
        self.note(odometer_km=100, complaint="new")
        self.confirm()
        self.measure(1, 36.4)
        self.measure(2, 36.4)
        self.measure(3, 36.4)
        self.decide(decision="run on")

    def test_this_visits_runs_join_on_demand_and_undoing_lets_them_go(self):
        self.ready()
        self.note(baseline_shift_rpm=7750)
        self.ride(engagement_rpm=3900)
        self.assertEqual(calibrations.fresh(self.db, self.machine, None), 2)
        calibrations.calibrate(self.db, self.visit)
        known = self.held().calibration
        self.assertEqual([(run.engagement_rpm, run.shift_mean_rpm) for run in known.document.runs],
                         [(None, 7750), (3900, None)])  # fmt: skip
        self.assertEqual(calibrations.fresh(self.db, self.machine, known), 0)
        self.assertEqual(len(known.core.anchors), 2)
        undo(self.db, self.visit, "Jo")
        self.assertIsNone(self.held().calibration)
        self.assertEqual(len(calibrations.history(self.db, self.machine)), 1)  # the fact of its day stays

    def test_a_baseline_with_a_fault_says_nothing_of_the_set_up(self):
        self.ready()
        self.note(baseline_shift_rpm=7200)
        faults.record(self.db, self.visit, "primary-spring-broken", "", "")
        with self.assertRaisesRegex(InvalidValue, "none that the model can be fitted to"):
            calibrations.calibrate(self.db, self.visit)

    def test_the_same_runs_make_one_calibration(self):
        self.ready()
        self.ride(shift_rpm=7700)
        calibrations.calibrate(self.db, self.visit)
        calibrations.calibrate(self.db, self.visit)
        self.assertEqual(len(calibrations.history(self.db, self.machine)), 1)

    def test_a_run_keeps_its_own_set_up_and_air(self):
        self.ready()
        self.ride(shift_rpm=7700)
        self.note(elevation_m=1500, temperature_c=-20)
        self.try_out(arm_mass_g=58)
        self.record("lighter")
        self.ride(shift_rpm=7760)
        first, second = calibrations.runs_of(self.db, self.machine)
        self.assertEqual((first.setup.primary.weights.base_mass_g, second.setup.primary.weights.base_mass_g), (60, 58))
        self.assertEqual(second.setup.conditions.elevation_m, 1500)
        self.assertNotEqual(first.setup.conditions.elevation_m, 1500)

    def test_a_calibration_of_another_clutch_is_left_out(self):
        self.ready()
        self.ride(shift_rpm=7700)
        calibrations.calibrate(self.db, self.visit)
        known = self.held().calibration
        moved = read(changed(example("mountain-sled"), "geometry.centre_distance_mm", 279.0))
        self.assertIsNone(json.loads(predictions.work_out(moved, known).document)["anchor"])
        quick = predictions.work_out_quickly(moved, moved, known)
        shifts = [json.loads(each.figures)["shift"]["mean_rpm"] for each in (quick, predictions.work_out(moved))]
        self.assertAlmostEqual(*shifts, delta=0.2)

    def test_runs_that_cannot_be_fitted_leave_the_sign_off_alone(self):
        self.ready()
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        good = calibrations.runs_of(self.db, self.machine)
        wide = read(changed(example("mountain-sled"), "geometry.sheave_half_angle_deg", 13.5))
        self.assertEqual(calibrations.usable(wide, good), [])
        self.assertIsNone(calibrations.make(self.db, self.machine, wide, None))
        self.sign()
        self.assertEqual(self.held().signed_off_by, "Jo")

    def test_the_workshops_scores_are_of_the_day(self):
        self.ready()
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        (row,) = road_tests.scored(self.db)
        bare = Calibration.none(self.held().as_left()).estimates([self.held().as_left()], 41)[0]
        self.assertAlmostEqual(row.row[0].shift_rpm, bare.mean, delta=0.1)
        calibrations.calibrate(self.db, self.visit)
        self.assertEqual(road_tests.scored(self.db), [row])  # a later calibration never rewrites a past miss
        self.assertEqual([each.runs for each in score_card([row.row])], [1, 1])
