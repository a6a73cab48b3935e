"""Parts swapped whole, and what each does of the difference."""

import unittest
from dataclasses import replace
from itertools import permutations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import with_value
from jaxel.core.formats.setup.primary import Load
from jaxel.core.trade.setup.discrepancy import FIGURES, Discrepancy, Score, estimated, kind_of
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


STUDY = Discrepancy.of_the_study()


class Estimated(unittest.TestCase):
    """The study's factors and shares against a workshop's own scores."""

    def test_the_study_says(self):
        # Factor and share of shift, end of shift and engagement; from the study, and 0.12 of every factor but the
        # primary's 0.05.
        for part, shift, end, bite in (
            ("arms", (1.0, 0.05), (1.0, 0.05), (1.0, 0.05)), ("load:heel", (1.0, 0.05), (1.0, 0.05), (1.0, 0.05)),
            ("air", (1.13, 0.11), (1.10, 0.11), (1.0, 0.20)), ("helix", (0.75, 0.15), (0.79, 0.15), (1.0, 0.35)),
            ("secondary_spring", (0.62, 0.15), (0.67, 0.15), (1.0, 0.35)),
            ("holes", (0.62, 0.15), (0.67, 0.15), (1.0, 0.35)),
            ("belt_width", (1.0, 0.0), (1.0, 0.0), (1.0, 1.0)), ("tyre", (1.0, 0.2), (1.0, 0.2), (1.0, 0.2)),
        ):  # fmt: skip
            for figure, expected in zip(FIGURES, (bite, shift, end), strict=True):
                told = STUDY.of([part], figure)
                sd = 0.05 if part in ("arms", "load:heel") else 0.12
                self.assertEqual((told.factor, told.rel, told.factor_sd), (*expected, sd), (part, figure))
        whole = STUDY.of(["arms", "holes", "air"], "shift")
        self.assertAlmostEqual(whole.factor, (1.0 + 0.62 + 1.13) / 3)
        self.assertEqual(whole.rel, 0.15)

    def test_a_factor_by_hand(self):
        # One score: b = (0.75/0.12² + wΔt)/(1/0.12² + wΔ²) with w = 1/(v + rel²Δ²), t the measured change.
        score = Score("shift", {"helix": -200.0}, -150.0, -200.0, 1000.0)
        w = 1 / (1000 + (0.15 * 200) ** 2)
        expected = (0.75 / 0.12**2 + w * 200 * 200) / (1 / 0.12**2 + w * 200**2)
        told = estimated([score]).of(["helix"], "shift")
        self.assertAlmostEqual(told.factor, expected, places=9)
        self.assertAlmostEqual(told.factor_sd, (1 / 0.12**2 + w * 200**2) ** -0.5, places=9)
        # The other figures keep theirs, and what other kinds tell of it is taken off first.
        self.assertEqual(estimated([score]).of(["helix"], "full_shift").factor, 0.79)
        both = Score("shift", {"helix": -200.0, "arms": 100.0}, -50.0, -100.0, 1000.0)
        w = 1 / (1000 + (0.15 * 200) ** 2 + (0.05 * 100) ** 2)
        expected = (0.75 / 0.12**2 + w * 200 * 200) / (1 / 0.12**2 + w * 200**2)
        self.assertAlmostEqual(estimated([both]).of(["helix"], "shift").factor, expected, places=9)

    def test_a_factor_is_held_within_its_bounds(self):
        for change, bound in ((900.0, 1.5), (-900.0, 0.3)):
            scores = [Score("shift", {"helix": 100.0}, 75.0, change, 1.0, str(n)) for n in range(500)]
            self.assertEqual(estimated(scores).of(["helix"], "shift").factor, bound)

    def test_the_same_two_parts_are_one_score_whichever_way(self):
        to, back = (Score("shift", {"helix": by}, 0.75 * by, 0.5 * by, 900.0, "44/46") for by in (100.0, -100.0))
        once = estimated([to])
        self.assertEqual(estimated([to, back, to, back]), once)
        self.assertEqual(once.scored, {"helix": 1})
        apart = estimated([to, replace(back, swap="44/48")])
        self.assertLess(apart.of(["helix"], "shift").factor_sd, once.of(["helix"], "shift").factor_sd)

    def test_of_your_own_from_three_scores(self):
        for count, own in ((2, False), (3, True)):
            found = estimated([Score("shift", {"helix": 100.0}, 75.0, 60.0, 900.0, str(n)) for n in range(count)])
            self.assertEqual(found.own("helix"), own)
            origin = "of your own, 3 scores" if own else "from a simulation study, moved by 2 scores"
            self.assertTrue(found.words("helix").endswith(f"; {origin}"), found.words("helix"))
        self.assertEqual(STUDY.words("arms"), "as predicted; from a simulation study")

    def test_a_change_within_a_readings_error_is_no_score(self):
        small = [Score("shift", {"belt_width": by, "helix": 100.0}, 75.0 + by, 80.0, 900.0, str(by))
                 for by in (-19.9, 3.0, 20.0)]  # fmt: skip
        self.assertEqual(estimated(small).scored, {"helix": 3, "belt_width": 1})

    def test_simulated_workshops_halve_the_error_and_s_covers(self):
        # 12 scores of helix changes of 150 rpm and more, read to 20 rpm, the true factors drawn from the prior.
        rng = np.random.default_rng(4)
        before, after, inside = [], [], []
        for _ in range(300):
            true = rng.normal(0.75, 0.12)
            scores = []
            for n in range(12):
                change = float(rng.choice([-1, 1]) * rng.uniform(150, 300))
                measured = true * change + rng.normal(0, 0.15 * abs(change)) + rng.normal(0, 20)
                scores.append(Score("shift", {"helix": change}, 0.75 * change, measured, 20.0**2, str(n)))
            told = estimated(scores).of(["helix"], "shift")
            before.append(0.75 - true)
            after.append(told.factor - true)
            inside.append(abs(told.factor - true) <= 1.6449 * told.factor_sd)
        self.assertLess(np.std(after), np.std(before) / 2)
        self.assertTrue(0.86 <= np.mean(inside) <= 0.94, np.mean(inside))

    def test_misses_as_large_as_the_study_says_move_nothing(self):
        rng = np.random.default_rng(2)
        scores = [Score("shift", {"helix": 200.0}, 150.0, 150 + float(rng.normal(0, 30)), 0.0, str(n))
                  for n in range(4000)]  # fmt: skip
        found = estimated(scores).of(["helix"], "shift")
        self.assertAlmostEqual(found.rel, 0.15, delta=0.01)
        self.assertAlmostEqual(found.factor, 0.75, delta=0.01)

    def test_many_scores_win_and_few_hardly_count(self):
        # One kind changed, nothing else in doubt, the mean miss nought: EM settles at √((ν·rel₀² + Σmiss²/Δ²)/(ν + n)).
        for count in (2, 400):
            scores = [Score("shift", {"secondary_spring": 200.0}, 124.0, 124 + 20.0 * (-1) ** n, 0.0, str(n))
                      for n in range(count)]  # fmt: skip
            expected = np.sqrt((12 * 0.15**2 + count * 0.1**2) / (12 + count))
            self.assertAlmostEqual(estimated(scores).of(["holes"], "shift").rel, expected, places=9)
        found = estimated(scores)
        self.assertEqual(found.scored, {"secondary_spring": 400})
        self.assertEqual(found.of(["helix"], "shift").rel, 0.15)
        self.assertAlmostEqual(found.of(["holes"], "engagement").rel / 0.35, found.of(["holes"], "shift").rel / 0.15)

    def test_noise_is_not_taken_for_discrepancy(self):
        # The miss is as large as the noise alone: the share falls below the study's.
        scores = [Score("shift", {"helix": 100.0}, 75.0, 75 + 50.0 * (-1) ** n, 50.0**2, str(n)) for n in range(200)]
        self.assertLess(estimated(scores).of(["helix"], "shift").rel, 0.145)

    def test_without_a_change_there_is_nothing_to_learn(self):
        self.assertEqual(estimated([Score("shift", {}, 0.0, 300.0, 10.0)]), STUDY)
