"""Putting back, torque, balance, line-up, break-in and close, against published factors and plane geometry."""

import itertools
import math
import random
import unittest
from dataclasses import replace

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.line_up.line_up import LineUp, belt_lie, from_gaps, from_points, out_of, shim_stack, within
from jaxel.core.trade.line_up.line_up import lacks as not_lined_up
from jaxel.core.trade.setup.lie import lie_of_belt
from jaxel.core.words import told as plain
from tests.examples import example, read


class InLine(unittest.TestCase):
    def test_gaps_against_plane_trigonometry(self):
        # A face 200 mm across, 36 mm from the bar at its middle, turned by a known angle about it.
        for turned in (-1.0, -0.2, 0.0, 0.45):
            half, way = 100.0, math.radians(turned)
            front, rear = 36 + half * math.sin(way), 36 - half * math.sin(way)
            found = from_gaps(front, rear, 200 * math.cos(way), 35.2)
            self.assertAlmostEqual(found.toe_deg, turned)
            self.assertAlmostEqual(found.offset_mm, 0.8)

    def test_two_points_carried_to_the_centre(self):
        # A straight line: y = 0.4 + x·tan 0.3°, read at 180 and 300, wanted at 262 mm.
        slope = math.tan(math.radians(0.3))
        found = from_points(0.4 + 180 * slope, 180, 0.4 + 300 * slope, 300, 262, 1.0)
        self.assertAlmostEqual(found.toe_deg, 0.3)
        self.assertAlmostEqual(found.gap_mm, 0.4 + 262 * slope)
        self.assertAlmostEqual(found.offset_mm, 0.4 + 262 * slope - 1.0)

    def test_readings_that_cannot_be(self):
        for attempt, field in (
            (lambda: from_gaps(36, 35, 0), "base_mm"), (lambda: from_gaps(36, 35, -10), "base_mm"),
            (lambda: from_gaps(-1, 35, 200), "front_mm"), (lambda: from_gaps(36, -0.1, 200), "rear_mm"),
            (lambda: from_points(1, 200, 2, 200, 260), "far_at_mm"),
        ):  # fmt: skip
            with self.subTest(field), self.assertRaises(InvalidValue) as caught:
                attempt()
            self.assertEqual(caught.exception.field, field)

    def test_which_way_it_must_move(self):
        read = LineUp("gaps", 37.6, 35.4, 210.0, nominal_mm=35.0)
        words = out_of(read, from_gaps(37.6, 35.4, 210, 35.0))
        told = [plain(each) for each in words]
        self.assertEqual(told, ["offset out by 1.5 mm: the secondary must move in, toward the chassis",
                                 "not parallel by 0.6°: the front of the primary must come out"])  # fmt: skip
        other = out_of(read, from_gaps(32.2, 34.4, 210, 35.0))
        self.assertIn("must move out, away from the chassis", other[0])
        self.assertIn("the rear of the primary must come out", other[1])
        self.assertEqual(out_of(read, from_gaps(35.6, 35.2, 210, 35.0)), [])
        manual = replace(read, offset_tolerance_mm=2.0, origin="manual")
        offset, toe = within(manual, from_gaps(37.6, 35.4, 210, 35.0))
        # Each tolerance says its own origin.
        self.assertEqual((offset.value, offset.origin, offset.out), (2.0, "manual", False))
        self.assertEqual((toe.value, toe.origin, toe.out), (0.3, "from memory", True))

    def test_shims_against_brute_force(self):
        rng = random.Random(4)
        for _ in range(40):
            stock = {rng.choice((0.25, 0.5, 0.8, 1.0, 1.5, 2.0)): rng.randint(1, 2) for _ in range(3)}
            behind = [rng.choice((0.5, 1.0, 1.2)) for _ in range(rng.randint(0, 2))]
            offset = round(rng.uniform(-4, 3), 2)
            found = shim_stack(offset, behind, stock)
            there = [*behind, *(thick for thick, count in stock.items() for _ in range(count))]
            wanted_mm = sum(behind) - offset
            every = [
                (round(abs(sum(pick) - wanted_mm), 6), len(pick))
                for count in range(len(there) + 1)
                for pick in itertools.combinations(there, count)
            ]
            self.assertAlmostEqual(abs(found.remains_mm), min(every)[0], places=6)
            self.assertEqual(len(found.shims), min(every)[1], (offset, behind, stock))
            self.assertAlmostEqual(found.remains_mm, offset - (sum(behind) - found.total_mm), places=6)

    def test_the_fewest_shims_do_it(self):
        # Thickest first would take three of 0.5; as near from either side, one is less than two.
        self.assertEqual(shim_stack(-1.5, [], {1.4: 1, 0.5: 3, 0.1: 1}).shims, (1.4, 0.1))
        self.assertEqual(shim_stack(-1.5, [], {2.0: 1, 0.5: 2}).shims, (2.0,))

    def test_nothing_behind_it_moves_nothing_in(self):
        # A secondary too far out with no shim behind it: no shim brings it in.
        found = shim_stack(1.5, [], {1.0: 4})
        self.assertEqual((found.shims, found.remains_mm), ((), 1.5))
        self.assertEqual(shim_stack(1.5, [1.0, 1.0], {0.5: 2}).shims, (0.5,))

    def test_the_adjuster_that_puts_the_deflection_right(self):
        worn = read(example("mountain-sled")).with_belt_width(35.2)
        model = lie_of_belt(worn)
        self.assertGreater(model.deflection_mm, 20)
        read_at = LineUp(
            deflection_mm=model.deflection_mm, wanted_deflection_mm=model.deflection_mm / 2, per_turn_mm=0.5
        )
        found = belt_lie(read_at, worn)
        self.assertFalse(found.right)
        self.assertAlmostEqual(found.off_mm, model.deflection_mm / 2)
        self.assertGreater(found.turns, 0)  # less slack: the secondary closes further
        geometry = worn.geometry
        stop = geometry.secondary.model_copy(update={"adjuster_mm": found.turns * 0.5})
        moved = worn.model_copy(update={"geometry": geometry.model_copy(update={"secondary": stop})})
        self.assertAlmostEqual(lie_of_belt(moved).deflection_mm, model.deflection_mm / 2, places=2)
        self.assertTrue(belt_lie(LineUp(deflection_mm=model.deflection_mm + 1), worn).right)

    def test_what_it_lacks(self):
        blank = [field for field, _ in not_lined_up(LineUp(), 260)]
        self.assertEqual(blank, ["way", "deflection_mm", "seated"])
        whole = LineUp("gaps", 35.2, 35.0, 200.0, nominal_mm=35.0, deflection_mm=30.0, seated=True)
        self.assertEqual(not_lined_up(whole, 260), [])
        self.assertFalse(whole.remembered.begun)
        self.assertTrue(whole.begun)
        self.assertEqual([field for field, _ in not_lined_up(LineUp("gaps", 39.0, 35.0, 200.0, nominal_mm=35.0,
                                                                    deflection_mm=30.0, seated=True), 260)],
                         ["reason", "reason"])  # fmt: skip
        kept = LineUp("gaps", 39.0, 35.0, 200.0, nominal_mm=35.0, deflection_mm=30.0, seated=True, reason="bent mount")
        self.assertEqual(not_lined_up(kept, 260), [])
