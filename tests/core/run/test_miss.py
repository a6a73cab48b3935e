"""The rules of the job: typed numbers, belt wear, what a visit still lacks, predicted against measured."""

import unittest

import numpy as np

from jaxel.core.formats.prediction import prediction_document
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.mechanism.numerics.uncertainty import Band
from jaxel.core.trade.run.scores import compare, predicted_figures
from tests.examples import drivetrain


class Miss(unittest.TestCase):
    def test_measured_less_predicted(self):
        core = drivetrain()
        document = prediction_document(predict(core), Band(10.0, 30.0, 30.0, np.full(41, 30.0)))
        bite, mean = document.engagement.bite_rpm, document.shift.mean_rpm
        rows = compare(predicted_figures(document), bite - 60, mean + 2000, (bite, 100), (mean, 100))
        self.assertEqual([(row.figure, row.miss_rpm, row.sure, row.in_target) for row in rows],
                         [("Engagement", -60, True, True), ("Shift", 2000, False, False)])  # fmt: skip
        self.assertEqual(compare(predicted_figures(document), None, None, (1, 1), (1, 1)), [])
        (bare,) = compare(None, None, 7850, (1, 1), (7900, 100))
        self.assertEqual((bare.measured_rpm, bare.predicted_rpm, bare.miss_rpm, bare.sure, bare.in_target),
                         (7850, None, None, None, True))  # fmt: skip
        # Either side of the window, and its edge.
        for measured, inside in ((7799, False), (7800, True), (7900, True), (8000, True), (8001, False)):
            (row,) = compare(predicted_figures(document), None, measured, (1, 1), (7900, 100))
            self.assertEqual((row.figure, row.measured_rpm, row.in_target), ("Shift", measured, inside))
        for off, sure in ((1.99, True), (-1.99, True), (2.01, False), (-2.01, False)):
            (row,) = compare(predicted_figures(document), bite + off * document.band.bite_rpm, None, (1, 1), (1, 1))
            self.assertEqual(row.sure, sure)
