"""What predictions stand on: the calibration, else the set-up the machine came in with; scores of all machines."""

import json

from jaxel.core.formats.run.calibration import write_calibration
from jaxel.core.formats.run.runs import RunPart
from jaxel.core.trade.run.calibration_file import calibrated
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.figures import MEAN, figures_of
from jaxel.store.machine import machines
from jaxel.store.run import calibrations
from jaxel.store.setup import predictions
from jaxel.store.stranger import faults
from tests.examples import example, read
from tests.store.cases.set_up_bench_case import Bench


class Ground(Bench):
    def test_another_set_up_is_the_found_one_and_the_change_told(self):
        before = self.held()
        here = before.as_left().secondary.helix.angles[0].deg
        self.try_out(**{"helix_deg.0": here + 3})
        visit = self.held()
        self.assertIsNone(visit.calibration)
        bare = figures_of([visit.as_it_works(), visit.as_left()], 41).values[:, MEAN]
        told = predictions.kept(self.db, visit.as_left(), visit.ground)
        # The study tells a helix at three quarters.
        self.assertAlmostEqual(told.shift.mean_rpm, bare[0] + 0.75 * (bare[1] - bare[0]), delta=1.5)
        alone = predictions.kept(self.db, visit.as_left())
        self.assertAlmostEqual(alone.shift.mean_rpm, bare[1], delta=0.1)
        self.assertNotEqual(told.key, alone.key)
        # The set-up found stands on itself: bare, and under the key it always had.
        found = visit.as_it_works()
        self.assertEqual(predictions.key_of(found, visit.ground), predictions.key_of(found, None))

    def test_a_fault_that_leaves_nothing_to_predict_is_no_ground(self):
        faults.record(self.db, self.visit, "primary-spring-broken", "", "")
        visit = self.held()
        self.assertIsNone(visit.ground)
        self.assertEqual(predictions.key_of(visit.as_left(), visit.ground), predictions.key_of(visit.as_left(), None))

    def test_scores_of_the_workshops_other_machines_count(self):
        made = calibrations.make(self.db, self.machine, self.held().as_left(), None)
        self.assertIsNone(made)  # never run
        other = machines.bring_in(self.db, read(example("trail-sled")), "sled", "Edvin L.")
        score = {"figure": "shift", "changes": {"helix": 100.0}, "told": 75.0, "measured": 40.0, "variance": 900.0}
        scores = [score | {"swap": f"{n}"} for n in range(5)]
        text = json.dumps(json.loads(self.calibrated()) | {"scores": scores})
        self.db.execute(
            "INSERT INTO calibration (machine_id, key, document, made_at, made_by) VALUES (?, ?, ?, ?, 'Jo')",
            (other, "0" * 64, text, "2026-11-01T10:00:00Z"),
        )
        found = calibrations.scores_of_others(self.db, self.machine)
        self.assertEqual([(each.measured, each.swap) for each in found], [(40.0, f"{n}") for n in range(5)])
        self.assertEqual(calibrations.scores_of_others(self.db, other), [])
        self.note(odometer_km=100, complaint="new")
        self.confirm()
        self.measure(1, 36.4)
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        calibrations.calibrate(self.db, self.visit)
        known = self.held().calibration.core.discrepancy
        self.assertTrue(known.own("helix"))
        self.assertLess(known.of(["helix"], "shift").factor, 0.7)
        self.assertEqual(known.of(["holes"], "shift").factor, 0.62)
        self.assertEqual(Calibration.none(self.held().as_left()).discrepancy.of(["helix"], "shift").factor, 0.75)

    def calibrated(self) -> str:
        """A calibration's text, of this machine on a run made up."""
        return write_calibration(calibrated(self.held().as_left(), [RunPart(shift_mean_rpm=7800.0)]))
