"""Parts swapped whole, and what each does of the difference."""

import unittest
from itertools import permutations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import with_value
from jaxel.core.formats.setup.primary import Load
from jaxel.core.trade.setup.discrepancy import Discrepancy, Score, estimated, kind_of
from jaxel.core.trade.setup.figures import figures_of
from jaxel.core.trade.setup.parts import coalitions, differing, grouped, shapley, with_load, with_parts
from tests.examples import example, read


class Swapped(unittest.TestCase):
    def setUp(self):
        self.one = read(example("side-by-side"))
        other = with_value(self.one, "primary.weights.base_mass_g", 47.0)
        other = with_value(other, "secondary.spring.force_start_n", 900.0)
        self.station = other.primary.stations[0].name
        self.other = with_load(other, self.station, Load(station=self.station, mass_g=3.0))

    def test_what_differs_is_named_by_what_a_hand_swaps(self):
        self.assertEqual(differing(self.one, self.one), [])
        self.assertEqual(differing(self.one, self.other), [f"load:{self.station}", "arms", "secondary_spring"])

    def test_every_selection_from_none_to_all(self):
        groups = grouped(differing(self.one, self.other), kind_of)
        made = coalitions(self.one, self.other, groups)
        self.assertEqual((len(made), made[0]), (8, self.one))
        self.assertEqual(made[-1], self.other)
        self.assertEqual(differing(self.one, made[0b010]), ["arms"])

    def test_a_load_keeps_the_others_in_their_places(self):
        before = [load.station for load in self.one.primary.weights.loads]
        gone = with_load(self.one, before[0], None)
        self.assertEqual([load.station for load in gone.primary.weights.loads], before)
        self.assertEqual(gone.primary.weights.loads[0].mass_g, 0)
        self.assertEqual(with_parts(gone, self.one, [f"load:{before[0]}"]), self.one)

    def test_a_load_where_there_was_none_stands_behind_the_others(self):
        sled = read(example("sled"))
        first = with_load(sled, "tip", Load(station="tip", mass_g=2.0))
        both = with_load(first, "heel", Load(station="heel", mass_g=1.0))
        self.assertEqual(
            [(load.station, load.mass_g) for load in both.primary.weights.loads], [("tip", 2), ("heel", 1)]
        )
        again = with_load(both, "tip", Load(station="tip", mass_g=3.0))
        self.assertEqual(
            [(load.station, load.mass_g) for load in again.primary.weights.loads], [("tip", 3), ("heel", 1)]
        )
        self.assertEqual(with_load(sled, "tip", None), sled)

    def test_a_selection_that_is_no_clutch_is_refused_not_a_crash(self):
        # Arms of another shape without the pocket that a load of the other sits in.
        cam = read(example("adjustable-cam"))
        half = with_parts(cam, read(example("sled")), ["arms"])
        with self.assertRaisesRegex(InvalidValue, "which these arms have not"):
            half.core()
        self.assertTrue(np.isnan(figures_of([half, cam]).values[0]).all())

    def test_more_than_eight_are_taken_together_by_kind(self):
        parts = ["arms", "load:a", "load:b", "shim", "clicker", "helix", "holes", "air", "gearing", "belt_width"]
        groups = grouped(parts, kind_of)
        self.assertEqual(groups[0], ("arms", "load:a", "load:b", "shim", "clicker"))
        self.assertEqual(sorted(part for group in groups for part in group), sorted(parts))


class Shapley(unittest.TestCase):
    @settings(max_examples=40, deadline=None, derandomize=True)
    @given(st.integers(1, 5), st.integers(0, 10_000))
    def test_is_the_mean_over_every_order(self, count, seed):
        # Brute force over all orders.
        worth = np.random.default_rng(seed).normal(size=2**count)
        expected = np.zeros(count)
        orders = list(permutations(range(count)))
        for order in orders:
            have = 0
            for member in order:
                expected[member] += (worth[have | 1 << member] - worth[have]) / len(orders)
                have |= 1 << member
        np.testing.assert_allclose(shapley(worth), expected, atol=1e-12)


class Estimated(unittest.TestCase):
    """The study's shares against a workshop's own scores."""

    def test_the_study_says(self):
        study = Discrepancy()
        for part, engagement, shift in (
            ("arms", 0.12, 0.12), ("load:heel", 0.12, 0.12), ("air", 0.20, 0.20), ("helix", 0.35, 0.35),
            ("secondary_spring", 0.55, 0.55), ("holes", 0.55, 0.55), ("belt_width", 1.0, 0.0),
        ):  # fmt: skip
            self.assertEqual((study.rel(part, engagement=True), study.rel(part, engagement=False)), (engagement, shift))
        self.assertEqual(study.rel("arms", "holes", "air", engagement=False), 0.55)
        self.assertEqual(study.rel(engagement=True), 0)

    def test_misses_as_large_as_the_study_says_move_nothing(self):
        rng = np.random.default_rng(2)
        scores = [Score(False, {"helix": 100.0}, float(rng.normal(0, 35)), 0.0) for _ in range(4000)]
        self.assertAlmostEqual(estimated(scores).shift["helix"], 0.35, delta=0.02)

    def test_many_scores_win_and_few_hardly_count(self):
        # With nothing else in doubt and one kind changed, EM settles at √((ν·rel₀² + Σmiss²/Δ²)/(ν + n)), ν = 12.
        for count in (3, 400):
            scores = [Score(False, {"secondary_spring": 200.0}, 20.0, 0.0)] * count
            expected = np.sqrt((12 * 0.55**2 + count * 0.1**2) / (12 + count))
            self.assertAlmostEqual(estimated(scores).shift["secondary_spring"], expected, places=9)
        found = estimated(scores)
        self.assertEqual((found.origin, found.scored), ("workshop", 400))
        self.assertEqual(found.shift["helix"], 0.35)
        self.assertAlmostEqual(found.engagement["secondary_spring"], found.shift["secondary_spring"])

    def test_noise_is_not_taken_for_discrepancy(self):
        # The miss is as large as the noise alone: the share falls below the study's.
        scores = [Score(False, {"helix": 100.0}, 50.0 * (-1) ** i, 50.0**2) for i in range(200)]
        self.assertLess(estimated(scores).shift["helix"], 0.3)

    def test_without_a_change_there_is_nothing_to_learn(self):
        self.assertEqual(estimated([Score(False, {}, 300.0, 10.0)]), Discrepancy())
