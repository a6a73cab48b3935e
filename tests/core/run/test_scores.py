"""The set-up bench's core: the picture at every place, answers in words, what to measure next, scores, what-if."""

import unittest
from math import sqrt

from jaxel.core.trade.run.scores import PredictedFigures, score_card


class Scores(unittest.TestCase):
    def test_misses_and_the_band_with_the_runs_own_noise(self):
        told = PredictedFigures(2, 4000.0, 60.0, 7900.0, 40.0)

        # 90 % of a normal lies within 1.645 deviations; a shift's is √(40² + 50²) = 64.03: 105.3 rpm either side.
        def run(engagement, shift):
            figures = {"engagement_rpm": (engagement, 75.0), "shift_mean_rpm": (shift, 50.0)}
            return told, {name: each for name, each in figures.items() if each[0] is not None}

        rows = [run(4100.0, 8005.0), run(None, 8006.0), run(3900.0, 7890.0)]
        engagement, shift = score_card(rows)
        self.assertEqual((engagement.runs, engagement.inside, engagement.mean_miss_rpm, engagement.rms_miss_rpm),
                         (2, 2, 0.0, 100.0))  # fmt: skip
        self.assertEqual((shift.runs, shift.inside), (3, 2))
        self.assertEqual(shift.mean_miss_rpm, round((105 + 106 - 10) / 3, 1))
        self.assertEqual(shift.rms_miss_rpm, round(sqrt((105**2 + 106**2 + 10**2) / 3), 1))
        self.assertEqual(score_card([]), [])
