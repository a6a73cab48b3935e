"""Parts on a bench against statics and geometry worked by hand, and units against NIST SP 811."""

import unittest
from dataclasses import replace

from jaxel.core.mechanism.clutch import bench
from jaxel.core.mechanism.errors import Impossible
from jaxel.core.units import DEG
from tests.examples import drivetrain


class Statics(unittest.TestCase):
    def test_centre_of_an_arm_from_two_weighings(self):
        # By hand, moments about the pin: 63.1 g·d = 38.0 g·62 mm, d = 2356/63.1 = 37.337559 mm.
        self.assertAlmostEqual(bench.centre_from_tip(0.0631, 0.0380, 0.062) * 1000, 37.337559, places=6)
        # A uniform bar held at its ends carries half on each: its centre lies half way.
        self.assertAlmostEqual(bench.centre_from_tip(0.1, 0.05, 0.08), 0.04)

    def test_weighings_no_arm_gives(self):
        for mass, tip, span, part in ((0.06, 0.03, 0, "span"), (0.06, 0.061, 0.05, "tip_reading"),
                                      (0.06, 0.06, 0.05, "tip_reading"), (0, 0.03, 0.05, "mass"),
                                      (0.06, 0, 0.05, "tip_reading")):  # fmt: skip
            with self.subTest(mass=mass, tip=tip, span=span), self.assertRaises(Impossible) as caught:
                bench.centre_from_tip(mass, tip, span)
            self.assertEqual(caught.exception.field, part)

    def test_torsion_from_a_wrench_and_two_angles(self):
        # By hand: 4 N·m at 20°, 10 N·m at 80°: 6 N·m in 60° is 0.1 N·m/deg; slack 40° before the first, at −20°.
        line = bench.torsion_line([20 * DEG, 80 * DEG], [4.0, 10.0])
        self.assertAlmostEqual(line.rate * DEG, 0.1)
        self.assertAlmostEqual(line.free_angle / DEG, -20)
        self.assertAlmostEqual(line.wind(0.0) / DEG, 20)
        # Three readings on one line change nothing.
        three = bench.torsion_line([20 * DEG, 50 * DEG, 80 * DEG], [4.0, 7.0, 10.0])
        self.assertAlmostEqual(three.rate, line.rate)
        for degrees, torques in (([20], [4]), ([20, 20], [4, 5]), ([20, 80], [10, 4])):
            with self.subTest(degrees), self.assertRaises(Impossible):
                bench.torsion_line([each * DEG for each in degrees], torques)

    def test_helix_from_lift_over_turn(self):
        # By hand: 20 mm over a quarter turn at 30 mm: tan α = 20/(30·π/2) = 0.424413, α = 22.9970°.
        self.assertAlmostEqual(bench.helix_angle(0.020, 90 * DEG, 0.030) / DEG, 22.9970, places=4)
        with self.assertRaises(Impossible):
            bench.helix_angle(0.020, 0.0, 0.030)

    def test_ratio_from_turns_counted(self):
        self.assertEqual(bench.turns_ratio(31, 2.5), 12.4)
        for driving, driven in ((0, 1), (3, 0)):
            with self.assertRaises(Impossible):
                bench.turns_ratio(driving, driven)

    def test_a_length_from_a_ratio_counted(self):
        # Round trip through the belt's own geometry: the length found gives the ratio counted.
        drive = drivetrain("quad").drive
        for field, high in (("closed_radius", False), ("primary_travel", True)):
            ratios = drive.shift_path(2).ratio
            wanted = float(ratios[-1 if high else 0]) * 0.99
            length = bench.drive_with(drive, field, wanted, high=high)
            changed = replace(drive, **{field: length}).shift_path(2).ratio
            self.assertAlmostEqual(float(changed[-1 if high else 0]), wanted, places=6)
            self.assertNotAlmostEqual(length, getattr(drive, field), places=5)
        with self.assertRaises(Impossible):
            bench.drive_with(drive, "closed_radius", 9.0, high=False)

    def test_imbalance_is_the_vector_sum(self):
        # By hand, 120° apart: what one lacks, 1 g at 60 mm, is 6e-5 kg·m; at 800 rad/s it pulls with 38.4 N.
        lacking = bench.imbalance([0.048, 0.048, 0.047], 0.060)
        self.assertAlmostEqual(lacking, 6e-5)
        self.assertAlmostEqual(lacking * 800**2, 38.4)
        # 48.1/48.0/46.9: √(a²+b²+c²−ab−bc−ca) of the masses = 1.1533 g, times 60 mm.
        self.assertAlmostEqual(bench.imbalance([0.0481, 0.0480, 0.0469], 0.060), 1.15326e-3 * 0.060, places=9)
        self.assertAlmostEqual(bench.imbalance([0.05] * 3, 0.06), 0)

    def test_blocks_in_any_order_make_a_path(self):
        self.assertEqual(bench.path_from_blocks([10, 0, 5], [30, 10, 22]).tolist(), [[0, 10], [5, 22], [10, 30]])
        for blocks in ([0, 5], [0, 5, 5]):
            with self.assertRaises(Impossible):
                bench.path_from_blocks(blocks, range(len(blocks)))
