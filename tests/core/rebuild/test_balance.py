"""Putting back, torque, balance, line-up, break-in and close, against published factors and plane geometry."""

import itertools
import math
import unittest

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.rebuild.balance import (
    Turning,
    alike,
    balanced,
    best_pairing,
    mid_shift_radius,
    pictured,
    rotating_force,
    unbalance,
)
from jaxel.core.words import told as plain
from tests.examples import example, read


class Balance(unittest.TestCase):
    def test_force_by_the_field_rule(self):
        # Vibration handbooks, from memory: 1 oz·in at 1000 rpm pulls with 1.77 lbf.
        ounce_inch = 28.349523125 * 25.4
        self.assertAlmostEqual(rotating_force(ounce_inch, 1000) / 4.4482216152605, 1.77, delta=0.01)
        self.assertAlmostEqual(rotating_force(75, 8000), 75e-6 * (8000 * 2 * math.pi / 60) ** 2)
        self.assertEqual(plain(pictured(98.0665)), "like 10 kg hung on one side")

    def test_the_vector_sum(self):
        for masses in ([48.1, 48.0, 46.9], [17, 17.2, 16.9, 17, 17.1, 17], [10, 11]):
            turns = np.arange(len(masses)) * 2 * math.pi / len(masses)
            x, y = np.dot(masses, np.cos(turns)), np.dot(masses, np.sin(turns))
            self.assertAlmostEqual(abs(unbalance(masses, 65)), 65 * math.hypot(x, y))
        self.assertAlmostEqual(abs(unbalance([48.1, 48.0, 46.9], 1)), 1.15326, places=5)  # by hand

    def test_the_least_pairing_beats_every_other(self):
        for arms, rollers in (
            ([48.1, 48.0, 46.9], [12.0, 12.3, 13.1]),
            ([20.0, 20.4, 19.8, 20.1], [5.0, 5.3, 5.1, 5.2]),
        ):
            best = best_pairing(arms, 62, rollers, 55)
            every = [
                abs(unbalance([arms[a] for a in order], 62) + unbalance([rollers[r] for r in rolling], 55))
                for order in itertools.permutations(range(len(arms)))
                for rolling in itertools.permutations(range(len(arms)))
            ]
            self.assertAlmostEqual(best.unbalance_gmm, min(every))
            there = unbalance([arms[a] for a in best.arms], 62) + unbalance([rollers[r] for r in best.rollers], 55)
            self.assertAlmostEqual(abs(there), best.unbalance_gmm)
        eight = [17.0, 17.0, 17.0, 17.0, 17.4, 17.4, 17.4, 17.4]
        self.assertLess(best_pairing(eight, 40).unbalance_gmm, abs(unbalance(eight, 40)))
        self.assertRaises(InvalidValue, best_pairing, [1.0, 2.0, 3.0], 60, [1.0], 50)
        self.assertRaises(InvalidValue, best_pairing, [1.0] * 9, 60)
        self.assertRaises(InvalidValue, best_pairing, [1.0] * 5, 60, [1.0] * 5, 50)

    def test_a_set_is_alike_within_what_is_allowed(self):
        found = alike([48.1, 48.0, 46.9], 3, 0.2)
        self.assertEqual((found.spread_g, found.alike, found.missing), (1.2, False, 0))
        self.assertTrue(alike([48.1, 48.0, 47.9], 3, 0.2).alike)
        self.assertEqual(alike([48.1, None], 3, 0.2).missing, 2)


class OnTheBench(unittest.TestCase):
    def test_half_way_through_the_shift(self):
        document = read(example("mountain-sled"))
        half = document.geometry.primary.travel_mm / 2000
        self.assertAlmostEqual(mid_shift_radius(document), float(document.primary.profile_core().radius(half)) * 1e3,
                               delta=0.05)  # fmt: skip

    def test_a_piece_not_weighed_counts_nothing_and_rollers_count_with_the_arms(self):
        # Vectors a third of a turn apart: 48 and 48 without the third leave 48·55 g·mm.
        lone = balanced(Turning((48.0, 48.0, None), 55.0), None, 8000.0)
        self.assertAlmostEqual(lone.unbalance_gmm, 48 * 55)
        # Rollers a gram too heavy where the arms are a gram too light, on the same circle: nothing is left.
        both = balanced(Turning((47.0, 48.0, 48.0), 55.0), Turning((13.0, 12.0, 12.0), 55.0), 8000.0)
        self.assertAlmostEqual(both.unbalance_gmm, 0.0)
        self.assertIsNone(balanced(Turning((48.0,) * 9, 55.0), None, 8000.0))
