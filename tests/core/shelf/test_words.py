"""The set-up bench's core: the picture at every place, answers in words, what to measure next, scores, what-if."""

import unittest

from jaxel.core.formats.plan.plan import Answer, PlannedChange
from jaxel.core.trade.shelf.answers import TuningOrder, behind, for_rider, tuning_rank
from jaxel.core.trade.shelf.planner import plan
from tests.core.cases.set_up_bench_case import SLED
from tests.core.shelf.test_planner import spring, stock, weights
from tests.examples import changed, example, read


def change(slot, was, becomes):
    return PlannedChange.model_validate(
        {"slot": slot, "from": was, "to": becomes, "engagement_rpm": 1.0, "shift_mean_rpm": 1.0}
    )


def answer(probability=0.8, changes=1, depth=3, price=10.0, minutes=30.0, grip=1.3, blemishes=0):
    return Answer(
        changes=[change("arms", "60 g", "58 g")] * changes, engagement_rpm=4000, engagement_sd_rpm=50,
        shift_mean_rpm=7850, shift_sd_rpm=50, spread_rpm=90, full_shift_rpm=7900, least_grip=grip,
        probability=probability, merit=probability - 0.15 * blemishes, inside=True, depth=depth,
        teardown="cover off", price=price, minutes=minutes, why="",
    )  # fmt: skip


class Words(unittest.TestCase):
    def test_one_sentence_for_whoever_rides_it(self):
        for changes, odds, words in (
            ([change("arms", "60 g", "58 g")], 0.62,
             "Lighter weights: it takes up near 4,020 and pulls near 7,850 rpm, 6 in 10."),
            ([change("primary_spring", "610 / 1,380 N", "640 / 1,390 N"), change("clicker", "3", "4")], 0.97,
             "A stiffer primary spring and the clickers turned up: it takes up near 4,020 and pulls near 7,850 rpm, "
             "as good as sure."),
            ([change("load:tip", "2 × 1.5 g", "2.5 g"), change("helix", "45°", "42°"), change("holes", "B–2", "A–1")],
             0.02, "Less weight in the arms, a shallower helix and the secondary spring moved: it takes up near 4,020 "
             "and pulls near 7,850 rpm, hardly right yet."),
            ([change("helix", "44° / 40°", "46°")], 0.5,
             "A steeper helix: it takes up near 4,020 and pulls near 7,850 rpm, 5 in 10."),
        ):  # fmt: skip
            self.assertEqual(for_rider(changes, 4021.0, 7854.0, odds), words)

    def test_why_an_answer_stands_behind_another(self):
        first = answer()
        for other, words in (
            (answer(probability=0.78), "as good as alike: the order of tuning decides"),
            (answer(probability=0.7), "less likely, 70% against 80%"),
            (answer(changes=2), "2 changes instead of 1: cause and effect are harder to tell apart"),
            (answer(depth=7), "goes deeper: cover off"),
            (answer(price=12.5, minutes=45.0), "costs 2.5 more; takes 15 min more"),
            (answer(blemishes=1), "less straight, spread 90 rpm"),
            (answer(grip=1.02, blemishes=1), "nearer to slipping, least grip 1.02"),
        ):
            self.assertEqual(behind(other, first), words)

    def test_the_order_of_tuning_decides_between_answers_otherwise_alike(self):
        self.assertEqual([tuning_rank("weights", slot) for slot in ("load:tip", "shim", "primary_spring", "holes")],
                         [0, 0, 1, 9])  # fmt: skip
        # A wide window that both a spring and a set of arms land in for sure: alike but for the order.
        wide = read(changed(changed(example("mountain-sled"), "target.shift_tolerance_rpm", 2500.0),
                            "target.engagement_tolerance_rpm", 2000.0))  # fmt: skip
        shelf = stock(weights=weights(59.0), primary_springs=[spring(615.0, 1382.0)])
        orders: tuple[tuple[TuningOrder, str], ...] = (("spring", "primary_spring"), ("weights", "arms"))
        for order, first in orders:
            found = plan(wide, shelf, order=order).answers
            self.assertEqual([each.probability > 0.97 for each in found[:2]], [True, True])
            self.assertEqual(found[0].changes[0].slot, first)
            self.assertEqual(found[1].behind, "as good as alike: the order of tuning decides")

    def test_an_answer_names_the_numbers_of_its_slots(self):
        shelf = stock(weights=weights(57.5), limiters_mm=[2.0])
        for each in plan(SLED, shelf, top=10).answers:
            for changed_slot in each.changes:
                wanted = {"arms": {"arm_mass_g": 57.5}, "limiter": {"limiter_mm": 2.0}}[changed_slot.slot]
                self.assertEqual(changed_slot.numbers, wanted)

    def test_a_search_tells_how_far_it_is_and_can_be_given_up(self):
        shelf = stock(weights=weights(*[50.0 + i / 4 for i in range(40)]), limiters_mm=[0.5, 1.0])
        told: list[float] = []
        plan(SLED, shelf, watch=told.append)
        self.assertEqual(told, sorted(told))
        self.assertAlmostEqual(told[-1], 0.8)
        self.assertGreaterEqual(len(told), 3)

        def enough(share):
            raise KeyboardInterrupt

        with self.assertRaises(KeyboardInterrupt):
            plan(SLED, shelf, watch=enough)

    def test_nothing_on_the_shelf_leaves_what_would_do_it(self):
        found = plan(read(changed(example("mountain-sled"), "target.shift_rpm", 8200.0)), None)
        self.assertEqual((found.answers, found.combinations), ([], 1))
        self.assertTrue(found.reach)
        for line in found.reach:
            self.assertAlmostEqual(line.shift_mean_rpm, 8200, delta=2)
