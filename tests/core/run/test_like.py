"""Like with like: what a log counts as, against the figures of the machine it was simulated from."""

import unittest

from jaxel.core.trade.run.like import REPEAT, Like, compared, repeats
from jaxel.core.trade.run.road_test import Measured, counted_text, read_counted, run_figures, typed_figures
from jaxel.core.trade.setup.figures import FIGURES, figures_of
from jaxel.instruments.logger import Logger
from tests.core.run.logs import logged, reader, setup

HIDDEN = {"gain_scale": 1.03, "torque_scale": 0.96}
"""What the technician's model does not know of the machine."""


def figures(document):
    return dict(zip(FIGURES, figures_of([document]).values[0], strict=True))


class Counted(unittest.TestCase):
    def test_measured_less_simulated_brings_the_hidden_figures(self):
        for machine, ride in (("sled", "full"), ("side-by-side", "full"), ("quad", "full"), ("sled", "roll-on"),
                              ("side-by-side", "roll-on"), ("quad", "roll-on")):  # fmt: skip
            document, hidden = setup(machine), setup(machine, **HIDDEN)
            read = reader(logged(machine, ride, Logger(), 1, **HIDDEN), machine)
            known, truth = figures(document), figures(hidden)
            found = {str(each.figure): each for each in compared(read, document)}
            wanted = "engagement_rpm" if ride == "roll-on" else "shift_mean_rpm"
            with self.subTest(machine, ride=ride):
                self.assertIn(wanted, found)
                self.assertGreater(abs(known[wanted] - truth[wanted]), 30)
                self.assertAlmostEqual(found[wanted].counted, truth[wanted], delta=30)
                self.assertAlmostEqual(found[wanted].counted - known[wanted], found[wanted].miss, places=6)

    def test_the_same_machine_misses_nothing(self):
        read = reader(logged("sled", "full", Logger(noise={})), "sled")
        for each in compared(read, setup("sled")):
            with self.subTest(each.figure):
                self.assertAlmostEqual(each.miss, 0, delta=2 if each.figure.endswith("rpm") else 0.002)

    def test_a_stab_says_nothing_of_the_engagement(self):
        found = compared(reader(logged("sled", "full", Logger()), "sled"), setup("sled"))
        self.assertNotIn("engagement_rpm", [each.figure for each in found])

    def test_a_roll_on_without_its_throttle_corrects_nothing(self):
        read = reader(logged("sled", "roll-on", Logger().styled("tabs")), "sled")
        self.assertIsNotNone(read.of_engagement.engagement)
        self.assertEqual(compared(read, setup("sled")), [])

    def test_without_a_throttle_full_throttle_is_simulated_within_the_pull(self):
        read = reader(logged("quad", "full", Logger().styled("tabs"), 1, **HIDDEN), "quad")
        found = {each.figure: each.counted for each in compared(read, setup("quad"))}
        self.assertAlmostEqual(found["shift_mean_rpm"], figures(setup("quad", **HIDDEN))["shift_mean_rpm"], delta=25)

    def test_a_part_of_the_shift_is_set_beside_the_same_part(self):
        read = reader(logged("sled", "full", Logger(), 1, **HIDDEN), "sled")
        start = read.readings[0].marks["shift_start"]
        part = {each.figure: each for each in compared(read, setup("sled"), {0: {"shift_start": start + 2}})}
        whole = {each.figure: each for each in compared(read, setup("sled"))}
        self.assertNotAlmostEqual(part["shift_mean_rpm"].read, whole["shift_mean_rpm"].read, delta=2)
        self.assertAlmostEqual(part["shift_mean_rpm"].counted, whole["shift_mean_rpm"].counted, delta=4)


class Doubt(unittest.TestCase):
    LOGGED = Like("shift_mean_rpm", 7900.0, 15.0, 7890.0, 7850.0)

    def test_read_and_repeat_add_as_squares(self):
        self.assertAlmostEqual(self.LOGGED.sd(), 25.0)  # √(15² + 20²)
        self.assertAlmostEqual(self.LOGGED.sd({"shift_mean_rpm": 36.0}), 39.0)  # √(15² + 36²)

    def test_the_good_log_repeats_are_the_model_papers(self):
        self.assertEqual([REPEAT[figure] for figure in FIGURES], [40.0, 20.0, 40.0, 30.0, 0.05, 0.01])

    def test_own_repeats_from_three_runs_on(self):
        two = [(7900.0, 3.0), (7960.0, 3.0)]
        self.assertEqual(repeats([two, two], "shift_mean_rpm"), (20.0, 0))
        # Of 7900, 7930, 7960 the variance is 900; less 3² read.
        value, known = repeats([[*two, (7930.0, 3.0)], two], "shift_mean_rpm")
        self.assertAlmostEqual(value, (900 - 9) ** 0.5)
        self.assertEqual(known, 3)
        # Two set-ups: pooled, (1800 + 200)/4.
        pooled, known = repeats(
            [[*two, (7930.0, 0.0)], [(8000.0, 0.0), (8010.0, 0.0), (8020.0, 0.0)]], "shift_mean_rpm"
        )
        self.assertAlmostEqual(pooled, (500 - 3) ** 0.5)
        self.assertEqual(known, 6)
        self.assertEqual(repeats([[(7900.0, 2.0)] * 3], "shift_mean_rpm"), (5.0, 3))

    def test_typed_numbers_keep_theirs_three_roll_ons_count_as_their_mean(self):
        self.assertEqual(typed_figures(Measured(3900.0, shift_rpm=7850.0)),
                         {"engagement_rpm": (3900.0, 75.0), "shift_mean_rpm": (7850.0, 50.0)})  # fmt: skip
        value, sd = typed_figures(Measured(3900.0, 3930.0, 3990.0))["engagement_rpm"]
        self.assertAlmostEqual(value, 3940)
        self.assertAlmostEqual(sd, 75 / 3**0.5)
        self.assertAlmostEqual(typed_figures(Measured(None, 3930.0, 3990.0))["engagement_rpm"][1], 75 / 2**0.5)
        self.assertEqual(typed_figures(Measured()), {})

    def test_the_log_goes_before_what_was_typed_figure_by_figure(self):
        found = run_figures(Measured(3900.0, shift_rpm=7700.0), [self.LOGGED])
        self.assertEqual(found["engagement_rpm"], (3900.0, 75.0))
        self.assertEqual(found["shift_mean_rpm"], (7850.0, 25.0))

    def test_what_counts_is_kept_whole(self):
        self.assertEqual(read_counted(counted_text([self.LOGGED])), (self.LOGGED,))
        self.assertEqual(read_counted(None), ())
