"""The rules of the job: typed numbers, belt wear, what a visit still lacks, predicted against measured."""

import unittest

import numpy as np

from jaxel.core.formats.prediction import prediction_document
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.mechanism.numerics.uncertainty import Band
from jaxel.core.trade.run.scores import PredictedFigures, compare, predicted_figures
from tests.examples import drivetrain


class Miss(unittest.TestCase):
    def test_measured_less_predicted(self):
        core = drivetrain()
        document = prediction_document(predict(core), Band(10.0, 30.0, 30.0, np.full(41, 30.0)))
        bite, mean = document.engagement.bite_rpm, document.shift.mean_rpm
        told = predicted_figures(document)
        rows = compare(told, {"engagement_rpm": (bite - 60, 0.0), "shift_mean_rpm": (mean + 2000, 20.0)}, ((bite, 100),
                       (mean, 100)))  # fmt: skip
        self.assertEqual([(row.figure, row.miss_rpm, row.sure, row.in_target) for row in rows],
                         [("Engagement", -60, True, True), ("Shift", 2000, False, False)])  # fmt: skip
        self.assertEqual(compare(told, {}, ((1, 1), (1, 1))), [])
        (bare,) = compare(None, {"shift_mean_rpm": (7850, 50.0)}, ((1, 1), (7900, 100)))
        self.assertEqual((bare.measured_rpm, bare.predicted_rpm, bare.miss_rpm, bare.sure, bare.in_target),
                         (7850, None, None, None, True))  # fmt: skip
        self.assertEqual(bare.measured_sd_rpm, 50.0)
        # Either side of the window, and its edge.
        for measured, inside in ((7799, False), (7800, True), (7900, True), (8000, True), (8001, False)):
            (row,) = compare(told, {"shift_mean_rpm": (measured, 50.0)}, ((1, 1), (7900, 100)))
            self.assertEqual((row.figure, row.measured_rpm, row.in_target), ("Shift", measured, inside))

    def test_of_a_target_nobody_stated_nothing_is_inside(self):
        told = PredictedFigures(3, 4000.0, 30.0, 7900.0, 30.0)
        rows = compare(told, {"engagement_rpm": (4000.0, 40.0), "shift_mean_rpm": (7900.0, 50.0)}, None)
        self.assertEqual([(row.figure, row.miss_rpm, row.in_target) for row in rows],
                         [("Engagement", 0.0, None), ("Shift", 0.0, None)])  # fmt: skip

    def test_the_runs_own_noise_stands_beside_the_predictions(self):
        # √(30² + 40²) = 50 rpm: twice that is 100.
        told = PredictedFigures(3, 4000.0, 30.0, 7900.0, 30.0)
        for off, sure in ((99, True), (-99, True), (101, False), (-101, False)):
            (row,) = compare(told, {"engagement_rpm": (4000.0 + off, 40.0)}, ((1, 1), (1, 1)))
            self.assertEqual(row.sure, sure)
