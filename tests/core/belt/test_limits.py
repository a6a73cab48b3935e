"""The rules of the job: typed numbers, belt wear, what a visit still lacks, predicted against measured."""

import unittest

from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.belt.wear import assess, width_costs
from tests.examples import drivetrain, example, read


class BeltWear(unittest.TestCase):
    def test_an_even_belt(self):
        # 31.0 / 31.1 / 31.0 mm is an even belt (common practice).
        found = assess([31.0, 31.1, 31.0], 31.5, 30.0)
        self.assertEqual((found.finding, found.spread_mm), ("keep", 0.1))
        self.assertAlmostEqual(found.wear_used, (31.5 - 93.1 / 3) / 1.5)

    def test_findings(self):
        for widths, finding, word in (
            ([36.5, 36.5, 36.5], "keep", "0%"), ([35.4, 35.4, 35.4], "watch", "73%"),
            ([36.3, 35.8, 36.2], "watch", "local burn"), ([35.0, 35.2, 35.1], "replace", "reached the limit"),
            ([36.0], "keep", "one place"), ([37.0, 37.0, 37.0], "keep", "0%"),
        ):  # fmt: skip
            found = assess(widths, 36.5, 35.0)
            self.assertEqual(found.finding, finding, widths)
            self.assertIn(word, found.reason)

    def test_costs_compare_two_predictions(self):
        worn = read(example("mountain-sled")).with_belt_width(35.4)
        costs = {row.name: row for row in width_costs(worn)}
        self.assertAlmostEqual(costs["Starting ratio"].now, predict(worn.core()).low_ratio, delta=6e-5)
        self.assertAlmostEqual(costs["Starting ratio"].new, predict(drivetrain()).low_ratio, delta=6e-5)
        self.assertAlmostEqual(costs["Side gap at rest"].now - costs["Side gap at rest"].new, 1.1)
