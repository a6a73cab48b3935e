"""The small pieces everything stands on: held curves, roots, unit factors."""

import unittest

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

from jaxel.core import units
from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.numerics.roots import first_rise
from jaxel.core.mechanism.numerics.tables import HeldCurve


class HeldCurves(unittest.TestCase):
    AT, VALUES = [0.0, 1.5, 3.0, 4.5, 9.0], [2.0, 3.0, 3.2, 7.0, 7.5]

    def setUp(self):
        self.curve = HeldCurve(self.AT, self.VALUES)

    def test_passes_through_its_points(self):
        np.testing.assert_allclose(self.curve(np.array(self.AT)), self.VALUES)

    def test_is_the_shape_preserving_cubic(self):
        # scipy.interpolate.PchipInterpolator; a rising table never falls between its points.
        at = np.linspace(0, 9, 200)
        np.testing.assert_allclose(self.curve(at), PchipInterpolator(self.AT, self.VALUES)(at))
        self.assertTrue(np.all(np.diff(self.curve(at)) >= 0))

    def test_holds_value_and_slope_outside(self):
        self.assertEqual((float(self.curve(-5.0)), float(self.curve(50.0))), (2.0, 7.5))
        self.assertEqual(float(self.curve.slope(50.0)), float(self.curve.slope(9.0)))

    def test_highest_is_never_exceeded(self):
        humped = HeldCurve([0, 1, 2, 3], [1, 5, 4.9, 0])
        self.assertEqual(humped.highest, 5)
        self.assertLessEqual(humped(np.linspace(-1, 4, 300)).max(), 5)


class Roots(unittest.TestCase):
    def test_agrees_with_brentq(self):
        # SciPy's brentq, one equation at a time.
        rng = np.random.default_rng(3)
        a, b, c = rng.uniform(1, 9, 60), rng.uniform(0.1, 2, 60), rng.uniform(-3, 3, 60)

        def excess(x):
            return a * x**3 - b * np.exp(0.3 * x) + c * x - 2

        found = first_rise(excess, np.zeros(60), np.full(60, 8.0))
        for i in range(60):
            step = np.linspace(0, 8, 13)
            values = a[i] * step**3 - b[i] * np.exp(0.3 * step) + c[i] * step - 2
            first = int(np.argmax(values >= 0))
            expected = brentq(lambda x, i=i: a[i] * x**3 - b[i] * np.exp(0.3 * x) + c[i] * x - 2,
                              step[first - 1], step[first])  # fmt: skip
            self.assertAlmostEqual(found[i], expected, places=7)

    def test_takes_the_first_of_several(self):
        # Rises at 1 and at 5, falls between: the first is what an engine coming up from idle meets.
        found = first_rise(lambda x: (x - 1) * (x - 3) * (x - 5), np.zeros(1), np.full(1, 8.0))
        self.assertAlmostEqual(found[0], 1)

    def test_a_root_on_a_step_is_exact(self):
        self.assertEqual(first_rise(lambda x: x - 2.0, np.zeros(1), np.full(1, 24.0))[0], 2.0)


class Factors(unittest.TestCase):
    def test_exact_factors(self):
        # NIST SP 811, Appendix B.8, bold (exact) entries.
        self.assertEqual(units.FOOT, 0.3048)
        self.assertEqual(units.POUND, 0.45359237)
        self.assertAlmostEqual(units.FOOT_POUND, 1.3558179483314004, places=15)
        self.assertAlmostEqual(units.MPH, 0.44704, places=15)
        self.assertAlmostEqual(units.RPM * 60 / 2, np.pi, places=15)

    def test_every_unit_that_may_be_typed(self):
        # NIST SP 811: kilogram-force 9.80665 N, grain 0.06479891 g, statute mile 1.609344 km, all exact.
        for text, unit, value in (
            ("10 kgf", "N", 98.0665), ("2 kn", "N", 2000), ("1 lb", "N", 4.4482216152605), ("100 gr", "g", 6.479891),
            ("0.25 kg", "g", 250), ("3 cm", "mm", 30), ('2"', "mm", 50.8), ("1.2 km", "m", 1200), ("10'", "m", 3.048),
            ("100 miles", "km", 160.9344), ("5 km", "km", 5), ("212 f", "°C", 100), ("60 mph", "km/h", 96.56064),
            ("14 deg", "deg", 14), ("14°", "deg", 14), ("3 hr", "h", 3), ("0.1 nm/deg", "N·m/deg", 0.1),
            ("120lbs", "N", 533.78659383126), ("14 deg F", "°C", -10), ("½ in.", "mm", 12.7), ("2½", "mm", 2.5),
            ("1⁄4 in", "mm", 6.35), ("1 435 mi", "km", 2309.40864), ("1\u202f435", "rpm", 1435),
            ("6 feet", "m", 1.8288),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(units.parse_quantity(text, unit), value, places=9)
        for text, unit in (
            ("1 435", "mm"),
            ("34.O", "mm"),
            ("1e6", "km"),
            ("12 furlong", "km"),
            ("1 2", "g"),
            ("½½", "mm"),
        ):
            with self.subTest(text), self.assertRaises(InvalidValue):
                units.parse_quantity(text, unit)
        self.assertAlmostEqual(units.DEG * 180, np.pi, places=15)
        self.assertEqual((units.MILE, units.KPH * 3.6, units.HPA, units.MM * 1000), (1609.344, 1, 100, 1))

    def test_groups_of_thousands_and_decimal_marks(self):
        # Common practice, no source: points, commas and spaces group where thousands are read.
        for text, unit, value in (
            ("1,435", "rpm", 1435), ("1.435,5", "km", 1435.5), ("1.234.567", "km", 1234567),
            ("12 435,5", "km", 12435.5),
            ("1,435", "mm", 1.435), ("35,4", "mm", 35.4), ("7.810", "rpm", 7.81), ("1,234.5", "N", 1234.5),
            ("-1 500", "m", -1500), ("−8", "°C", -8),
        ):  # fmt: skip
            with self.subTest(text=text, unit=unit):
                self.assertAlmostEqual(units.parse_quantity(text, unit), value, places=9)

    def test_as_it_is_said(self):
        for value, words in ((1e6, "1,000,000"), (0.25, "0.25"), (-3, "−3"), (-0.0001, "0"), (7.8104, "7.81")):
            self.assertEqual(units.said(value), words)

    def test_inch_pounds(self):
        # 48 in-lb = 4 ft-lb (the trade's own check).
        self.assertAlmostEqual(48 * units.INCH * units.POUND_FORCE, 4 * units.FOOT_POUND)
