"""A calibration as a document: written, read back, made by an older model, refused; and what its scores say."""

import json
import unittest

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import with_value
from jaxel.core.formats.run.calibration import ScorePart, read_calibration, write_calibration
from jaxel.core.formats.run.runs import read_runs
from jaxel.core.trade.run.calibration_file import calibrated, current, from_document
from jaxel.core.trade.run.fit import calibrate, counted
from jaxel.core.trade.setup.figures import MEAN, figures_of
from jaxel.core.trade.setup.prediction import predicted
from tests.core.run.test_calibration import BASE, LIGHTER, STEEPER, run, truth
from tests.examples import changed, example, read


class Documents(unittest.TestCase):
    def setUp(self):
        self.document = calibrated(BASE, [run(**truth(BASE)), run(LIGHTER, engagement_rpm=4040.0, note="two pulls")])

    def refused(self, field, **changes):
        value = json.loads(write_calibration(self.document)) | changes
        with self.assertRaises(InvalidValue) as refusal:
            from_document(read_calibration(json.dumps(value).encode()))
        self.assertEqual(refusal.exception.field, field)

    def test_read_back_it_predicts_the_same(self):
        again = read_calibration(write_calibration(self.document).encode())
        self.assertEqual(again, self.document)
        _, fresh = calibrate(BASE, self.document.runs)
        one, other = (each.estimates([STEEPER])[0] for each in (fresh, from_document(again)))
        self.assertAlmostEqual(one.mean, other.mean, delta=0.01)
        self.assertAlmostEqual(one.mean_sd, other.mean_sd, delta=0.01)

    def test_says_what_moved_and_what_it_stands_on(self):
        self.assertIn("gain_scale", self.document.moved)
        self.assertEqual(len(self.document.residuals), 7)
        first = self.document.residuals[1]
        self.assertEqual((first.run, first.figure), (1, "shift_mean_rpm"))
        self.assertAlmostEqual(first.z, (first.measured - first.predicted) / np.hypot(50, 15), delta=0.01)
        for name, sd in self.document.sd.items():
            place = self.document.order.index(name)
            self.assertAlmostEqual(self.document.covariance[place][place] ** 0.5, sd, delta=1e-4 * sd)
        self.assertLess(self.document.sd["torque_scale"], 0.05)

    def test_a_stored_set_up_is_not_changed_by_it(self):
        self.assertEqual(self.document.setup, BASE)
        self.assertNotEqual(from_document(self.document).applied(BASE), BASE)

    def test_what_is_no_calibration_is_refused(self):
        self.refused("order", order=["gain_scale", "gain_tilt", "torque_scale", "seating_primary", "colour"])
        self.refused("covariance", covariance=[[1.0]])
        upside_down = (-np.array(self.document.covariance)).tolist()
        self.refused("covariance", covariance=upside_down)
        told = json.loads(write_calibration(self.document))["discrepancy"]
        self.refused("discrepancy.shift", discrepancy=told | {"shift": {"helix": told["shift"]["helix"]}})
        self.refused(
            "discrepancy.shift.helix.factor",
            discrepancy=told | {"shift": told["shift"] | {"helix": {"factor": 0, "factor_sd": 0, "rel": 0}}},
        )

    def test_another_machine_is_refused(self):
        others = {
            "kind": example("quad"),
            "number": changed(example("mountain-sled"), "primary.weights.count", 4),
            "half-angle": changed(example("mountain-sled"), "geometry.sheave_half_angle_deg", 12.5),
            "centre distance": changed(example("mountain-sled"), "geometry.centre_distance_mm",
                                       BASE.geometry.centre_distance_mm + 6),
        }  # fmt: skip
        for word, other in others.items():
            with self.subTest(word), self.assertRaisesRegex(InvalidValue, f"another machine.*{word}"):
                predicted(read(other), from_document(self.document))
            with self.subTest(word), self.assertRaises(InvalidValue) as refusal:
                calibrate(BASE, [run(shift_mean_rpm=7850.0), run(read(other), shift_mean_rpm=7800.0)])
            self.assertEqual(refusal.exception.field, "runs[1].setup")

    def test_bad_runs_are_refused_by_field(self):
        for runs, field in (
            ([], "runs"),
            ([{}], "runs[0]"),
            ([{"note": "rainy"}], "runs[0]"),
            ([{"shift_mean_rpm": 7800, "sd": {"shift_mean_rpm": 0}}], "runs[0].sd.shift_mean_rpm"),
            ([{"shift_mean_rpm": 7800, "sd": {"shift_mean_rpm": -5}}], "runs[0].sd.shift_mean_rpm"),
            ([{"shift_mean_rpm": 7800, "sd": {"engagement_rpm": 5}}], "runs[0].sd.engagement_rpm"),
            ([{"shift_mean_rpm": 7800}, {"shift_mean_rpm": -1}], "runs[1].shift_mean_rpm"),
            ([{"shift_mean_rpm": 7800, "setup": {"format": "jaxel-setup"}}], "runs[0].setup.name"),
        ):
            data = json.dumps({"format": "jaxel-runs", "version": 1, "runs": runs}).encode()
            with self.subTest(runs), self.assertRaises(InvalidValue) as refusal:
                read_runs(data)
            self.assertEqual(refusal.exception.field, field)

    def test_scores_of_the_runs_move_the_study(self):
        # Helix changes of the model's own size: more than the study tells, and one pair of parts is one score.
        off = float(figures_of([STEEPER]).values[0, MEAN] - figures_of([BASE]).values[0, MEAN])
        here = float(figures_of([BASE]).values[0, MEAN])
        back = [run(shift_mean_rpm=here)] + [run(STEEPER, shift_mean_rpm=here + off), run(shift_mean_rpm=here)] * 3
        document = calibrated(BASE, back)
        self.assertEqual([each.figure for each in document.scores], ["shift"] * 6)
        self.assertEqual(len({each.swap for each in document.scores if each.changes}), 1)
        first = document.scores[0]
        self.assertEqual(list(first.changes), ["helix"])
        self.assertAlmostEqual(first.changes["helix"], off, delta=1)
        self.assertAlmostEqual(first.told, 0.75 * off, delta=1)
        self.assertAlmostEqual(first.measured, off, delta=0.1)
        told = document.discrepancy
        self.assertEqual(told.scored, {"helix": 1})
        self.assertTrue(0.76 < told.shift["helix"].factor < 0.9, told.shift["helix"])
        self.assertLess(told.shift["helix"].factor_sd, 0.12)
        self.assertEqual((told.shift["arms"].factor, told.shift["arms"].rel), (1.0, 0.05))
        self.assertEqual(told.engagement["helix"].factor, 1.0)

    def test_scores_of_other_machines_count_too(self):
        off = float(figures_of([STEEPER]).values[0, MEAN] - figures_of([BASE]).values[0, MEAN])
        others = [ScorePart(figure="shift", changes={"helix": off}, told=0.75 * off, measured=0.4 * off,
                            variance=50.0**2, swap=f"other {n}") for n in range(9)]  # fmt: skip
        alone, among = (calibrated(BASE, [run(shift_mean_rpm=7850.0)], each) for each in ((), others))
        self.assertEqual(alone.discrepancy.shift["helix"].factor, 0.75)
        self.assertLess(among.discrepancy.shift["helix"].factor, 0.6)
        percent = round(among.discrepancy.shift["helix"].factor * 100)
        words = f"shift at {percent} %; of your own, 9 scores"
        self.assertEqual(from_document(among).discrepancy.words("helix"), words)
        # Only the changed part's figure moves: its told change by the quotient of the factors.
        one, two = (from_document(each).changes(BASE, [STEEPER])[0] for each in (alone, among))
        self.assertAlmostEqual(two[MEAN] / one[MEAN], among.discrepancy.shift["helix"].factor / 0.75, places=3)

    def test_one_made_by_an_older_model_is_fitted_anew(self):
        value = json.loads(write_calibration(self.document))
        del value["model_version"]
        value["discrepancy"] = {"origin": "study", "scored": 0, "engagement": {"helix": 0.35}, "shift": {"helix": 0.35}}
        value["model"]["gain_scale"] = 1.5
        old = read_calibration(json.dumps(value).encode())
        self.assertEqual(old.model_version, 2)
        fresh, today = from_document(old), from_document(self.document)
        self.assertEqual([each.value for each in fresh.fitted], [each.value for each in today.fitted])
        self.assertEqual(fresh.discrepancy, today.discrepancy)
        self.assertEqual(current(self.document), self.document)

    def test_a_run_whose_window_slipped_gives_no_shift(self):
        soft = with_value(BASE, "secondary.spring.force_start_n", 60.0)
        soft = with_value(with_value(soft, "secondary.spring.force_finish_n", 90.0), "secondary.torque_share", 0.1)
        self.assertTrue(figures_of([soft]).slips[0])
        runs = [run(soft, engagement_rpm=3900.0, shift_mean_rpm=8400.0), run(shift_mean_rpm=7850.0)]
        slipped, held = counted(BASE, runs)
        self.assertEqual((slipped.measured, held.measured), ({"engagement_rpm": 3900.0}, {"shift_mean_rpm": 7850.0}))
        found = from_document(calibrated(BASE, runs))
        self.assertEqual([(each.run, each.figure) for each in found.anchors],
                         [(1, "engagement_rpm"), (2, "shift_mean_rpm")])  # fmt: skip
        self.assertEqual(calibrated(BASE, runs[:1]).contradicts, [])
