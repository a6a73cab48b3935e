"""Belt geometry against a handbook drive, and what wear does to it."""

import unittest
from dataclasses import replace
from math import asin, cos, pi, tan

import numpy as np
from scipy.optimize import brentq

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.mechanism.clutch.geometry import BeltDrive, open_belt_length, radius_for_length
from jaxel.core.mechanism.errors import Impossible
from jaxel.core.words import told as plain
from tests.examples import drivetrain

MM = 1e-3


def drive(**change: float) -> BeltDrive:
    return replace(drivetrain("mountain-sled").drive, **change)


class OpenBelt(unittest.TestCase):
    def test_handbook_drive(self):
        # Open belt, D = 400 mm, d = 200 mm, C = 1000 mm: the approximation of machine-design handbooks,
        # L = 2C + π/2·(D + d) + (D − d)²/(4C) = 2952.48 mm (Shigley, Mechanical Engineering Design, flexible
        # elements), agrees with the exact form to its next term, (D − d)⁴/(64·C³)… below 0.03 mm.
        approximate = 2000 + pi / 2 * 600 + 200**2 / 4000
        self.assertAlmostEqual(float(open_belt_length(100.0, 200.0, 1000.0)), approximate, delta=0.03)

    def test_wraps_of_the_handbook_drive(self):
        # Same source: θ_d = π − 2·asin((D − d)/2C) = 2.941 rad, θ_D = 3.342 rad.
        path = BeltDrive(1.0, 0.24, 0.1, 0.0, 0.06, 0.2, 0.08, float(open_belt_length(0.1, 0.2, 1.0)), 0.0).at(0.0)
        self.assertAlmostEqual(float(path.primary_wrap), 2.941, places=3)
        self.assertAlmostEqual(float(path.secondary_wrap), 3.342, places=3)

    def test_equal_pulleys(self):
        self.assertAlmostEqual(float(open_belt_length(80.0, 80.0, 300.0)), 600 + 160 * pi, places=9)

    def test_radius_closes_the_belt_as_a_root_finder_does(self):
        # SciPy's brentq as the independent route.
        for other in (0.036, 0.06, 0.098):

            def gap(r: float, other: float = other) -> float:
                lean = asin((r - other) / 0.27)
                return 0.54 * cos(lean) + pi * (r + other) + 2 * lean * (r - other) - 1.08

            self.assertAlmostEqual(float(radius_for_length(1.08, other, 0.27)), brentq(gap, 0.001, 0.29), places=10)


class Travel(unittest.TestCase):
    def test_belt_climbs_by_half_the_travel_over_the_slope(self):
        d = drive()
        path = d.at(np.array([d.contact_travel, d.contact_travel + 10 * MM]))
        self.assertAlmostEqual(np.diff(path.primary_radius)[0], 10 * MM / (2 * tan(d.half_angle)), places=12)

    def test_shift_is_monotone_and_keeps_the_belt_length(self):
        d = drive()
        path = d.at(d.nodes(200))
        self.assertTrue(np.all(np.diff(path.ratio) < 0))
        taut = path.secondary_opening > 1e-9
        length = open_belt_length(path.primary_radius, path.secondary_radius, d.centre_distance)
        np.testing.assert_allclose(length[taut], d.pitch_length, rtol=1e-9)
        self.assertTrue(np.all(length <= d.pitch_length + 1e-12))

    def test_secondary_stop_can_end_the_shift_first(self):
        short = drive(secondary_travel=20 * MM)
        self.assertLess(short.end_travel, short.primary_travel)
        self.assertAlmostEqual(float(short.at(short.end_travel).secondary_opening), 20 * MM, places=9)

    def test_wear_delays_the_belt_and_narrows_the_ratios(self):
        # Common practice: a narrow belt loses low ratio and top ratio.
        new, worn = drive(), drive(wear=1.2 * MM)
        self.assertAlmostEqual(worn.contact_travel - new.contact_travel, 1.2 * MM)
        self.assertGreater(worn.engagement_travel - new.engagement_travel, 1.2 * MM)
        self.assertLess(worn.at(worn.engagement_travel).ratio, new.at(new.engagement_travel).ratio)
        self.assertGreater(worn.at(worn.end_travel).ratio, new.at(new.end_travel).ratio)

    def test_the_belt_pulls_where_its_slack_is_taken_up(self):
        # By SciPy's brentq on the loop's length, sharing no code: the radius at which it is taut, closed to.
        for wear in (0.0, 0.6 * MM, 1.5 * MM):
            d = drive(wear=wear)

            def short(r1, stop=d.secondary_stop_radius, d=d):
                lean = asin((stop - r1) / d.centre_distance)
                return 2 * d.centre_distance * cos(lean) + pi * (r1 + stop) + 2 * lean * (stop - r1) - d.pitch_length

            taut = brentq(short, 0.01, 0.1)
            self.assertAlmostEqual(d.engagement_travel, 1.2 * MM + wear + 2 * tan(d.half_angle) * (taut - d.hub_radius))
            gripped = d.at(d.engagement_travel)
            self.assertAlmostEqual(float(gripped.secondary_opening), 0, places=9)
            self.assertAlmostEqual(float(gripped.ratio), d.secondary_stop_radius / taut, places=7)

    def test_a_short_belt_pulls_where_it_is_met(self):
        d = drive()
        taut = drive(pitch_length=d.pitch_length - d.low_slack - 1 * MM)
        self.assertEqual(taut.engagement_travel, taut.contact_travel)

    def test_an_adjuster_takes_up_what_wear_gave(self):
        worn, taken_up = drive(wear=1 * MM), drive(wear=1 * MM, adjuster=1 * MM)
        self.assertAlmostEqual(taken_up.secondary_stop_radius, drive().secondary_stop_radius, places=12)
        self.assertLess(taken_up.engagement_travel, worn.engagement_travel)
        self.assertAlmostEqual(taken_up.contact_travel, worn.contact_travel, places=12)

    def test_a_limiter_ends_the_shift_early(self):
        d = drive()
        self.assertAlmostEqual(
            d.end_travel - drive(limiter=d.primary_travel - d.end_travel + 2 * MM).end_travel, 2 * MM
        )

    def test_slack_and_deflection(self):
        # A triangle over the straight span: 2·√((s/2)² + d²) = s + slack.
        d = drive()
        span = (d.centre_distance**2 - (d.secondary_stop_radius - d.hub_radius) ** 2) ** 0.5
        self.assertGreater(d.low_slack, 0)
        self.assertAlmostEqual(2 * ((span / 2) ** 2 + d.deflection**2) ** 0.5, span + d.low_slack, places=12)
        taut = drive(pitch_length=d.pitch_length - d.low_slack - 1 * MM)
        self.assertEqual((taut.low_slack, taut.deflection), (0, 0))


class Refused(unittest.TestCase):
    def test_each_with_its_field(self):
        cases = {
            "belt.top_width_mm": {"wear": 29 * MM},
            "belt.outer_circumference_mm": {"pitch_length": 0.6},
            "geometry.centre_distance_mm": {"centre_distance": 0.15},
            "geometry.secondary.travel_mm": {"secondary_travel": 80 * MM},
        }
        for field, change in cases.items():
            with self.subTest(field), self.assertRaises(InvalidValue) as caught, in_document_terms():
                drive(**change)
            self.assertEqual(caught.exception.field, field)
        with self.assertRaisesRegex(Impossible, "^wear: the belt is too narrow.*taken up at 0.03"):
            drive(wear=12.8 * MM)
        with self.assertRaisesRegex(Impossible, "^limiter: leaves no shift"):
            drive(limiter=29 * MM)
        with self.assertRaisesRegex(Impossible, "^wear: .*meet it at 0.0302 m, past its 0.03 m"):
            drive(wear=29 * MM)
        with self.assertRaises(InvalidValue) as caught, in_document_terms():
            drive(wear=29 * MM)
        self.assertIn("meet it at 30.2 mm, past its 30 mm", plain(caught.exception.reason))
