"""Gain or noise: Student's t with days, Holm, and two sets of runs against each other."""

import unittest
from dataclasses import replace
from math import inf, sqrt

import numpy as np
from scipy import stats

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.log import log_columns
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.core.trade.run.compare.difference import (
    USUAL,
    Sample,
    Spread,
    between_of,
    difference,
    holm,
    judged,
    within_of,
)
from jaxel.core.trade.run.compare.overlay import laid_over
from jaxel.core.trade.run.compare.sets import SetRun, compare_sets
from jaxel.core.trade.run.road_test import Measured
from jaxel.core.trade.setup.figures import MEAN, figures_of
from jaxel.core.trade.visit.run_rows import NAMES
from jaxel.core.units import IMPERIAL
from jaxel.core.words import told
from jaxel.instruments.logger import Logger
from tests.core.run.logs import logged, reader, setup


def samples(*values, day="2026-11-28"):
    return [Sample(value, day) for value in values]


class Student(unittest.TestCase):
    def test_the_sleep_data(self):
        """Student, "The probable error of a mean", Biometrika 6 (1908) 20: hours of sleep gained by ten patients on
        each of two drugs. With equal variances t = 1.8608 at 18 degrees of freedom, p = 0.07919, 95 % from −0.204 to
        3.364: the figures R's handbook gives for this table, from memory."""
        a = samples(0.7, -1.6, -0.2, -1.2, -0.1, 3.4, 3.7, 0.8, 0.0, 2.0)
        b = samples(1.9, 0.8, 1.1, 0.1, -0.1, 4.4, 5.5, 1.6, 4.6, 3.4)
        found = difference("to_30_mph_s", a, b)
        self.assertAlmostEqual(found.difference, 1.58, places=9)
        self.assertAlmostEqual(found.p, 0.07919, places=5)
        self.assertAlmostEqual(found.half, (3.363874 + 0.203874) / 2, places=5)
        self.assertIsNone(found.between)

    def test_as_scipy_has_it(self):
        rng = np.random.default_rng(7)
        for count_a, count_b in ((3, 3), (1, 3), (5, 2), (8, 8)):
            a, b = rng.normal(7700, 20, count_a), rng.normal(7730, 20, count_b)
            found = difference("shift_mean_rpm", samples(*a), samples(*b))
            if count_a > 1:
                wanted = stats.ttest_ind(b, a, equal_var=True)
                interval = wanted.confidence_interval(0.95)
                self.assertAlmostEqual(found.p, wanted.pvalue, places=10)
                self.assertAlmostEqual(found.half, (interval.high - interval.low) / 2, places=6)
            else:  # one pull alone repeats as the others do
                error = float(np.std(b, ddof=1)) * sqrt(1 + 1 / 3)
                self.assertAlmostEqual(found.half, float(stats.t.ppf(0.975, 2)) * error, places=6)
                self.assertEqual(found.within.freedom, 2)

    def test_what_else_was_repeated_says_how_far_pulls_repeat(self):
        found = difference("shift_mean_rpm", samples(7700.0), samples(7740.0), [samples(7500.0, 7510.0, 7520.0)])
        self.assertAlmostEqual(found.within.sd, 10.0)
        self.assertAlmostEqual(found.half, stats.t.ppf(0.975, 2) * 10 * sqrt(2), places=6)

    def test_one_against_one_stands_on_the_usual(self):
        found = difference("shift_mean_rpm", samples(7700.0), samples(7740.0))
        self.assertEqual(found.within, Spread(USUAL["shift_mean_rpm"][0], inf))
        self.assertAlmostEqual(found.half, 1.959964 * 20 * sqrt(2), places=3)

    def test_the_variance_of_a_day(self):
        groups = [samples(0.0, 2.0, day="1") + samples(10.0, 12.0, day="2")]
        within = within_of(groups, "shift_mean_rpm")
        self.assertAlmostEqual(within.sd, sqrt(2.0))
        # MS between 100, n₀ 2: (100 − 2)/2 = 49.
        self.assertEqual(between_of(groups, within, "shift_mean_rpm"), Spread(7.0, 1))
        quiet = [samples(0.0, 20.0, day="1") + samples(9.0, 11.0, day="2")]
        self.assertEqual(between_of(quiet, within_of(quiet, "shift_mean_rpm"), "shift_mean_rpm").sd, 0.0)

    def test_days_apart_hold_what_a_day_makes(self):
        a, b = samples(7700.0, 7710.0, 7720.0, day="1"), samples(7740.0, 7750.0, 7760.0, day="2")
        found = difference("shift_mean_rpm", a, b)
        self.assertEqual(found.between, Spread(USUAL["shift_mean_rpm"][1], inf))
        parts = [100 * 2 / 3, 2 * 15**2]
        freedom = sum(parts) ** 2 / (parts[0] ** 2 / 4)
        self.assertAlmostEqual(found.half, stats.t.ppf(0.975, freedom) * sqrt(sum(parts)), places=6)
        one_day = difference("shift_mean_rpm", a, [Sample(each.value, "1") for each in b])
        self.assertLess(one_day.half, found.half)

    def test_a_day_that_both_have_cancels(self):
        a = samples(7700.0, 7710.0, day="1") + samples(7720.0, 7730.0, day="2")
        b = samples(7750.0, 7760.0, day="1") + samples(7770.0, 7780.0, day="2")
        found = difference("shift_mean_rpm", a, b)
        # Both days half and half in both sets: what a day makes is no part of the difference.
        within = sqrt(4 * 50 / 4)
        self.assertAlmostEqual(found.half, float(stats.t.ppf(0.975, 4)) * within * sqrt(1 / 2), places=6)

    def test_air_is_taken_out_and_its_doubt_added(self):
        a, b = samples(7700.0, 7710.0, 7720.0), samples(7600.0, 7610.0, 7620.0)
        plain, there = difference("shift_mean_rpm", a, b), difference("shift_mean_rpm", a, b, (), (-100.0, 15.0))
        self.assertAlmostEqual(plain.difference, -100.0)
        self.assertAlmostEqual(there.difference, 0.0)
        self.assertAlmostEqual(there.b, 7710.0)
        self.assertGreater(there.half, plain.half)


class Holm(unittest.TestCase):
    def test_a_published_example(self):
        """S. Holm's procedure on 0.01, 0.04, 0.03 and 0.005: the first and the last are rejected at 0.05, the others
        are not; the worked example of handbooks and encyclopedias, from memory."""
        adjusted = holm([0.01, 0.04, 0.03, 0.005])
        for found, wanted in zip(adjusted, [0.03, 0.06, 0.06, 0.02], strict=True):
            self.assertAlmostEqual(found, wanted)

    def test_it_stops_at_the_first_that_is_not(self):
        rng = np.random.default_rng(3)
        for _ in range(50):
            chances = rng.uniform(0, 0.2, 6)
            rejected, order = set(), np.argsort(chances)
            for rank, place in enumerate(order):
                if chances[place] > 0.05 / (6 - rank):
                    break
                rejected.add(int(place))
            self.assertEqual({place for place, each in enumerate(holm(chances.tolist())) if each <= 0.05}, rejected)

    def test_false_gains_are_one_in_twenty_at_most(self):
        """Two sets of one machine, ten figures looked at: in how many afternoons is anything called real?"""
        rng, wrong = np.random.default_rng(11), 0
        for _ in range(400):
            sides = rng.normal(0, 10, (2, 10, 3))
            found = [difference("spread_rpm", samples(*a), samples(*b)) for a, b in zip(*sides, strict=True)]
            wrong += any(each.real for each in judged(found))
        # 400 at 5 %: 20 expected, one in a thousand beyond 34.
        self.assertLess(wrong, 35)


AIRS = {"elevation_m": 1500.0, "temperature_c": -5.0}


def run(number, log=None, *, revision=1, day="2026-11-28", name="sled", **other):
    values = {"rider": "Ada", "strip": "lake"} | other
    read = reader(log, name) if log else None
    return SetRun(number, revision, f"run {number}", day, setup(name), values["rider"], values["strip"], read,
                  values.get("typed", Measured()))  # fmt: skip


def pulls(first, *, revision=1, count=3, **other):
    model = {key: other.pop(key) for key in ("gain_scale",) if key in other}
    return [
        run(first + each, logged("sled", "full", Logger(), first + each, **model), revision=revision, **other)
        for each in range(count)
    ]


class Sets(unittest.TestCase):
    as_found: list[SetRun]
    again: list[SetRun]
    lighter: list[SetRun]

    @classmethod
    def setUpClass(cls):
        cls.as_found, cls.again = pulls(1), pulls(4)
        cls.lighter = pulls(7, revision=2, gain_scale=0.97)

    def of(self, found, figure):
        return next(each for each in found.differences if each.figure == figure)

    def test_noise_is_not_called_gain(self):
        found = compare_sets(self.as_found, self.again)
        self.assertEqual([each.figure for each in found.differences if each.real], [])
        self.assertEqual(next(each.state for each in found.same if each.what == "set-up"), "same")
        self.assertEqual((self.of(found, "shift_mean_rpm").count_a, self.of(found, "shift_mean_rpm").count_b), (3, 3))

    def test_a_gain_is(self):
        found = compare_sets(self.as_found, self.lighter)
        shift = self.of(found, "shift_mean_rpm")
        self.assertTrue(shift.real)
        # As the model at rest has it, which knows no pull.
        rest = figures_of([setup("sled"), setup("sled", gain_scale=0.97)]).values[:, MEAN]
        self.assertAlmostEqual(shift.difference, rest[1] - rest[0], delta=15)
        self.assertFalse(self.of(found, "high_ratio").real)
        self.assertIn("gains of separate pairs are not added up", found.limits)

    def test_all_pulls_are_read_over_the_part_they_share(self):
        """A pull that ends early covers less of the shift, where the speed is another."""
        short = simulate(setup("quad").core(), Strip(duration=4), 50)
        early = run(30, Logger().written(log_columns(short), 30), name="quad")
        whole = run(31, logged("quad", "full", Logger(), 31), name="quad")
        (covered,) = [each.shift.covered for each in early.pulls]
        self.assertLess(covered[1], 0.8)
        shift = self.of(compare_sets([whole], [early]), "shift_mean_rpm")
        self.assertAlmostEqual(shift.difference, 0, delta=6)
        alone = self.of(compare_sets([whole], [replace(whole, run_id=32)]), "shift_mean_rpm")
        self.assertAlmostEqual(shift.a - alone.a, 60, delta=6)

    def test_turned_round_it_is_a_loss(self):
        there, back = (self.of(compare_sets(*pair), "shift_mean_rpm").difference
                       for pair in ((self.as_found, self.lighter), (self.lighter, self.as_found)))  # fmt: skip
        self.assertAlmostEqual(there, -back)

    def test_another_strip_or_rider_leaves_the_road_out(self):
        elsewhere = [replace(each, strip="field track") for each in self.lighter]
        found = compare_sets(self.as_found, elsewhere)
        self.assertEqual({each.state for each in found.same if each.what == "strip"}, {"different"})
        self.assertNotIn("to_30_mph_s", [each.figure for each in found.differences])
        why = dict(found.left_out)["to_30_mph_s"]
        self.assertEqual(why, "another strip: it says nothing of the clutch")
        self.assertTrue(self.of(found, "shift_mean_rpm").real)
        unsaid = [replace(each, rider="") for each in self.lighter]
        states = {each.what: each.state for each in compare_sets(self.as_found, unsaid).same}
        self.assertEqual((states["rider"], states["strip"]), ("not said", "same"))

    def test_another_belt_is_said(self):
        narrow = [
            replace(each, setup=each.setup.with_belt_width(each.setup.belt.top_width_mm - 1)) for each in self.again
        ]
        belt = next(each for each in compare_sets(self.as_found, narrow).same if each.what == "belt")
        self.assertEqual(belt.state, "different")
        self.assertIn("part of what differs", belt.words)

    def test_thin_air_is_taken_out(self):
        air = setup("sled").conditions.model_copy(update=AIRS)
        high = [replace(each, setup=each.setup.model_copy(update={"conditions": air})) for each in self.again]
        (words,) = [each.words for each in compare_sets(self.as_found, high).same if each.what == "air"]
        self.assertEqual(told(words, IMPERIAL), "air 18 °F and 23 °F, 1,969 ft and 4,921 ft: taken out by the model")
        shift = self.of(compare_sets(self.as_found, high), "shift_mean_rpm")
        # The same figures up there are a gain: thinner air alone would have lowered them.
        self.assertLess(shift.air, -50)
        self.assertAlmostEqual(shift.air_sd, 0.11 / 1.13 * abs(shift.air), delta=0.06 * abs(shift.air))
        self.assertAlmostEqual(shift.difference, shift.b - shift.a)
        self.assertGreater(shift.difference, 40)

    def test_a_set_up_that_cannot_work_is_compared_all_the_same(self):
        useless = setup("sled").with_belt_width(setup("sled").belt.top_width_new_mm - 25)
        with self.assertRaises(InvalidValue):
            useless.core()
        air = useless.conditions.model_copy(update=AIRS)
        a, b = (replace(run(number, typed=Measured(shift_rpm=rpm)), setup=each) for number, rpm, each in
                ((40, 7700.0, useless), (41, 7760.0, useless.model_copy(update={"conditions": air}))))  # fmt: skip
        found = compare_sets([a], [b])
        self.assertEqual((found.differences[0].difference, found.differences[0].air), (60.0, 0.0))
        self.assertIsNone(found.told_rpm)

    def test_the_page_names_figures_in_the_hands_units(self):
        self.assertEqual(told(NAMES["to_30_mph_s"][0], IMPERIAL), "time to 30 mph")
        self.assertEqual(told(NAMES["to_200_m_s"][0]), "time to 200 m")

    def test_typed_runs_and_one_against_three(self):
        typed = [run(20, typed=Measured(3900.0, 3940.0, 3920.0, 7700.0), revision=3)]
        found = compare_sets(self.as_found, typed)
        self.assertEqual([each.figure for each in found.differences], ["shift_mean_rpm"])
        self.assertIn("B is one pull: how far it repeats is taken from the rest", found.limits)
        self.assertEqual(dict(found.left_out)["engagement_rpm"], "only B gives it")

    def test_what_limits_it_is_said(self):
        apart = [replace(each, day="2026-11-30", corrected=True) for each in self.lighter]
        limits = compare_sets(self.as_found, apart).limits
        self.assertIn("no set-up was ridden on two days: what a day makes is the usual, from memory", limits)
        self.assertIn("the set-up of B was put right since: it is compared as it is recorded now", limits)

    def test_what_is_no_set(self):
        for a, b, words in (
            ([], self.again, "holds no run"),
            ([*self.as_found, *self.lighter], self.again, "holds runs of two set-ups"),
            (self.as_found, self.as_found[:1], "as the other set does"),
        ):
            with self.assertRaisesRegex(InvalidValue, words):
                compare_sets(a, b)

    def test_laid_over_each_other(self):
        for axis in ("time", "speed", "distance"):
            laid = laid_over(self.as_found, self.lighter, axis)
            self.assertEqual((len(laid.a), len(laid.b), len(laid.at)), (3, 3, 90))
            middle = np.mean(laid.difference[40:60])
            self.assertAlmostEqual(middle, 84, delta=25)
            self.assertLess(laid.half[0], 40)
        self.assertIsNone(laid_over(self.as_found, [run(20, typed=Measured(3900.0))], "speed"))
