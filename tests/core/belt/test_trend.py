"""A belt's life by value: trend and band against NIST and SciPy, wear, marks, and when things are due."""

import unittest
from math import sqrt

from scipy import stats

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.belt.trend import WIDTH_SD_MM, forecast, line_through

# NIST Statistical Reference Datasets, linear regression: Norris, with its certified values.
NORRIS_X = [
    0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6,
    775.5, 666.9, 338.0, 447.5, 11.6, 556.0, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8,
    339.1, 887.2, 999.0, 779.0, 11.1, 118.3, 229.2, 669.1, 448.9, 0.5,
]  # fmt: skip
NORRIS_Y = [
    0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1,
    778.1, 668.8, 339.3, 448.9, 10.8, 557.7, 228.3, 998.0, 888.8, 119.6, 0.3, 0.6, 557.6,
    339.3, 888.0, 998.5, 778.9, 10.2, 117.6, 228.9, 668.4, 449.2, 0.2,
]  # fmt: skip


def errors(line):
    """Standard errors of slope and intercept, from what a line keeps of its points."""
    return line.sd / sqrt(line.spread), line.sd * sqrt(1 / line.points + line.mean_use**2 / line.spread)


class Trend(unittest.TestCase):
    USE, WIDTH = [0.0, 640.0, 1300.0, 1910.0, 2310.0], [36.5, 36.28, 36.02, 35.66, 35.43]

    def test_nist_norris(self):
        line = line_through(NORRIS_X, NORRIS_Y)
        self.assertAlmostEqual(line.slope, 1.00211681802045, places=13)
        self.assertAlmostEqual(line.intercept, -0.262323073774029, places=12)
        self.assertAlmostEqual(line.sd, 0.884796396144373, places=11)
        self.assertAlmostEqual(errors(line)[0], 0.000429796848199937, places=14)
        self.assertAlmostEqual(errors(line)[1], 0.232818234301152, places=12)
        self.assertEqual(line.freedom, 34)

    def test_scipy_linregress_and_its_band(self):
        use, width = [0.0, 500.0, 1000.0, 1500.0], [36.6, 36.1, 36.2, 35.6]
        line, found = line_through(use, width), stats.linregress(use, width)
        self.assertAlmostEqual(line.slope, found.slope, places=15)
        self.assertAlmostEqual(errors(line)[0], found.stderr, places=15)
        self.assertAlmostEqual(errors(line)[1], found.intercept_stderr, places=12)
        # At use 0 the band is that of the intercept.
        self.assertAlmostEqual(line.half_band(0.0, 0.95), stats.t.ppf(0.975, 2) * found.intercept_stderr, places=12)

    def test_the_range_is_where_the_bands_edges_meet_the_limit(self):
        line = line_through([0.0, 500.0, 1000.0, 1500.0], [36.6, 36.1, 36.2, 35.6])
        found = forecast(line, 35.0)
        self.assertAlmostEqual(line.at(found.use), 35.0)
        self.assertAlmostEqual(line.at(found.soonest) - line.half_band(found.soonest), 35.0)
        self.assertAlmostEqual(line.at(found.latest) + line.half_band(found.latest), 35.0)
        self.assertLess(found.soonest, found.use)
        wider = forecast(line, 35.0, 0.9)
        self.assertLess(wider.soonest, found.soonest)

    def test_points_closer_than_a_caliper_tells_do_not_make_it_certain(self):
        line = line_through([0.0, 1000.0, 2000.0], [36.5, 36.1, 35.7])
        self.assertEqual((line.sd, line.freedom), (WIDTH_SD_MM, None))
        self.assertAlmostEqual(line.quantile(0.8), 1.2815515655446004)
        found = forecast(line, 35.0)
        self.assertAlmostEqual(found.use, 3750.0)
        self.assertGreater(found.latest - found.soonest, 500)

    def test_a_belt_that_hardly_wears_has_no_latest(self):
        found = forecast(line_through([0.0, 100.0], [36.5, 36.4]), 35.0)
        self.assertAlmostEqual(found.use, 1500.0)
        self.assertIsNotNone(found.soonest)
        self.assertIsNone(found.latest)
        growing = forecast(line_through([0.0, 100.0], [36.4, 36.5]), 35.0)
        self.assertIsNone(growing.use)

    def test_one_place_on_the_axis_is_no_trend(self):
        for use in ([], [100.0], [100.0, 100.0]):
            with self.assertRaises(InvalidValue):
                line_through(use, [36.0] * len(use))
