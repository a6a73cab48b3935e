"""A belt's wear by its widths: against a plain Monte Carlo, by simulated belts, and what is said of it."""

import unittest
from math import exp, log

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.belt.trend import USUAL_RATE, Typical, trend_of, typical_of

NEW, LIMIT = 36.5, 35.0
RATE = 0.4 / 1000


def wear(use, rate, bend=0.0, bedding=0.0):
    """Width lost, by the formula."""
    bent = bend * rate / (NEW - LIMIT)
    steady = rate * use if bent == 0 else rate * np.expm1(bent * use) / bent
    return bedding * -np.expm1(-use / 200.0) + steady


def told(use, widths, **others):
    return trend_of(list(use), list(widths), NEW, LIMIT, **others)


class Posterior(unittest.TestCase):
    def test_against_a_plain_monte_carlo(self):
        # A hundred thousand belts drawn from the priors, each weighed by how well it fits: no grid, no quadrature; the
        # rate drawn about the readings' own, as the grid is laid.
        rng = np.random.default_rng(11)
        count = 400_000
        use, width = np.array([0.0, 700.0, 1500.0, 2200.0]), np.array([36.5, 36.2, 35.95, 35.62])
        own = log((width[0] - width[-1]) / use[-1])
        rate = np.exp(rng.uniform(own - 2.2, own + 2.2, count))
        bend = rng.uniform(-0.925, 2.325, count)
        bed = np.array([0.0, 0.08, 0.16, 0.24])[rng.integers(0, 4, count)]
        sd = np.array([0.05, 0.10])[rng.integers(0, 2, count)]
        bent = bend * rate / (NEW - LIMIT)
        lost = bed[:, None] * -np.expm1(-use / 200) + rate[:, None] * np.expm1(bent[:, None] * use) / bent[:, None]
        begun = width + lost
        start = begun.mean(axis=1) + rng.normal(size=count) * sd / 2
        misses = ((begun - begun.mean(axis=1)[:, None]) ** 2).sum(axis=1)
        weight = np.exp(
            -0.5 * ((np.log(rate) - log(RATE)) / 0.5) ** 2 - 0.5 * ((bend - 0.4) / 0.9) ** 2 - 0.5 * (bed / 0.1) ** 2
            - 0.5 * misses / sd**2
        ) * sd**-3.0  # fmt: skip
        grown = 1 + bent * (start - bed - LIMIT) / rate
        with np.errstate(invalid="ignore", divide="ignore"):
            left = np.maximum(0, np.where(grown > 0, np.log(grown) / bent, np.inf) - use[-1])
        order = np.argsort(left)
        summed = np.cumsum(weight[order]) / weight.sum()
        expected = left[order][np.searchsorted(summed, [0.05, 0.5, 0.95])]
        found = told(use, width, typical=Typical(RATE))
        np.testing.assert_allclose([found.left_from, found.left, found.left_to], expected, rtol=0.04)

    def test_a_straight_belt_is_told_near_its_line(self):
        found = told([0, 1000, 2000], [36.5, 36.1, 35.7])
        self.assertTrue(found.left_from < 1750 < found.left_to, found)
        self.assertTrue(0.35 < found.wear_mm_per_1000 < 0.55, found)

    def test_the_plot_shows_the_bend(self):
        use = np.linspace(0, 2400, 7)
        fast = told(use, NEW - wear(use, 0.3 / 1000, bend=1.6))
        middles = np.array([each.width_mm for each in fast.band])
        self.assertLess(np.diff(middles)[-1], 1.25 * np.diff(middles)[2])  # steeper at the end
        self.assertTrue(all(each.low_mm <= each.width_mm <= each.high_mm for each in fast.band))
        self.assertEqual(fast.band[0].use, 0.0)
        self.assertGreater(fast.bend, told(use, NEW - wear(use, RATE)).bend)
        self.assertGreater(fast.wear_mm_per_1000, 1000 * fast.rate)

    def test_hours(self):
        found = trend_of([0, 40, 80], [36.5, 35.9, 35.3], NEW, 34.5, "h")
        self.assertTrue(found.left_from < 53 < found.left_to, found)
        self.assertEqual(USUAL_RATE["h"], 0.016)


class Coverage(unittest.TestCase):
    """Belts of known wear, read with a caliper of known error, seeded: how often the range holds what was left."""

    def covered(self, bend, bedding, count, sd):
        rng, inside, of = np.random.default_rng(7), 0, 50
        far = np.linspace(0.0, 9000.0, 9001)
        for _ in range(of):
            rate = RATE * exp(rng.normal(0, 0.3))
            bed = rng.uniform(0.08, 0.2) if bedding else 0.0
            end = far[np.argmax(wear(far, rate, bend, bed) >= NEW - LIMIT)]
            use = np.linspace(0.0, end * rng.uniform(0.3, 0.8), count)
            found = told(use, NEW - wear(use, rate, bend, bed) + rng.normal(0, sd, count), typical=Typical(RATE))
            left = end - use[-1]
            inside += found.left_from <= left and (found.left_to is None or left <= found.left_to)
        return inside / of

    def test_linear_and_bedding_in(self):
        for count in (3, 4, 6):
            for sd in (0.05, 0.10):
                self.assertGreaterEqual(self.covered(0.0, False, count, sd), 0.85, (count, sd))
                self.assertGreaterEqual(self.covered(0.0, True, count, sd), 0.85, (count, sd))

    def test_accelerating(self):
        # The rate doubles over the belt's life: e^{κu} = 1 + h there.
        for count in (3, 4, 6):
            for sd in (0.05, 0.10):
                self.assertGreaterEqual(self.covered(1.0, False, count, sd), 0.75, (count, sd))


class Told(unittest.TestCase):
    def test_at_least_where_the_widths_say_no_more(self):
        # Nearly there, and a caliper's error is worth more than what is left.
        found = told([0, 3700], [36.5, 35.02], typical=Typical(RATE))
        self.assertIsNone(found.left_to)
        self.assertLess(found.left_from, found.left)

    def test_at_or_past_the_limit(self):
        self.assertTrue(told([0, 3000], [36.5, 35.0]).at_limit)
        past = told([0, 3000], [36.5, 34.8])
        self.assertEqual((past.at_limit, past.left_from), (True, 0.0))
        self.assertFalse(told([0, 3000], [36.5, 35.1]).at_limit)

    def test_widths_that_grow_are_refused(self):
        with self.assertRaises(InvalidValue) as refusal:
            told([0, 500, 900], [36.5, 36.0, 36.35])
        self.assertEqual(refusal.exception.field, "widths")
        self.assertIn("no belt grows", refusal.exception.reason)
        self.assertIsNotNone(told([0, 500, 900], [36.5, 36.0, 36.25]))  # a caliper's error

    def test_one_distance_is_no_trend(self):
        for use in ([], [100.0], [100.0, 100.0]):
            self.assertIsNone(told(use, [36.0] * len(use)))

    def test_one_that_ran_before_has_bedded_in(self):
        # The same widths from an odometer of 5,000: counted from there, and no bedding to come.
        known, strange = told([0, 1000], [36.2, 35.8]), told([5000, 6000], [36.2, 35.8], from_new=False)
        self.assertEqual(strange.band[0].use, 5000.0)
        self.assertLess(strange.left, known.left)  # none of its loss was bedding


class OthersOfItsKind(unittest.TestCase):
    def test_rate_and_bend_of_others(self):
        others = [told([0, 1000, 2000], [36.5, 36.5 - by, 36.5 - 2 * by]) for by in (0.6, 0.7)]
        known = typical_of(others, "km")
        self.assertAlmostEqual(known.rate, (others[0].rate * others[1].rate) ** 0.5, places=12)
        self.assertAlmostEqual(known.bend, (4 * 0.4 + others[0].bend + others[1].bend) / 6, places=12)
        one, usual = told([0, 500], [36.5, 36.3], typical=known), told([0, 500], [36.5, 36.3])
        self.assertLess(one.left, usual.left)  # belts of its kind wear fast here


if __name__ == "__main__":
    unittest.main()
