"""The smooth curve among a table's points: its properties, SciPy's own spline, and tables too rough for it."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import make_lsq_spline

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import warnings
from jaxel.core.mechanism.clutch.primary import RampRoller
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.mechanism.numerics.tables import SmoothCurve, curve_directions, most_pieces, usual_pieces
from jaxel.core.words import told
from tests.examples import changed, example, read

AT = [0.0, 1.0, 2.0, 3.0, 4.5, 6.0, 8.0, 10.5, 13.5, 16.0, 18.5, 21.5, 24.0, 26.5, 29.5, 32.0]
WITHIN = np.linspace(0.0, 32.0, 257)


class Smooth(unittest.TestCase):
    def test_is_scipys_least_squares_spline(self):
        # scipy.interpolate.make_lsq_spline with the knots of the rule, written out: places 3, 7 and 11 of 0 to 15.
        values = np.sin(np.array(AT) / 9) + 0.01 * np.cos(7 * np.array(AT))
        spline = make_lsq_spline(AT, values, [0.0] * 4 + [3.0, 10.5, 21.5] + [32.0] * 4)
        found = SmoothCurve(AT, values)
        np.testing.assert_allclose(found(WITHIN), spline(WITHIN), atol=1e-12)
        np.testing.assert_allclose(found.slope(WITHIN), spline.derivative()(WITHIN), atol=1e-12)
        np.testing.assert_allclose(found.off, values - spline(np.array(AT)), atol=1e-12)

    @settings(max_examples=100, deadline=None, derandomize=True)
    @given(st.integers(2, 40), st.integers(0, 9999))
    def test_any_line_and_any_cubic_go_through(self, points, seed):
        rng = np.random.default_rng(seed)
        at = np.cumsum(rng.uniform(0.3, 3.0, points))
        cubic = np.polynomial.Polynomial(rng.normal(size=min(4, points)))
        for pieces in (None, 1, min(9, most_pieces(points))):
            found = SmoothCurve(at, cubic(at), pieces)
            np.testing.assert_allclose(found.off, 0, atol=1e-6 * (1 + np.abs(cubic(at)).max()))
            middle = (at[0] + at[-1]) / 2
            self.assertAlmostEqual(float(found.slope(middle) / (cubic.deriv()(middle) or 1)), 1, places=4)

    def test_is_linear_in_its_values(self):
        rng = np.random.default_rng(5)
        one, other = rng.normal(size=16), rng.normal(size=16)
        both = SmoothCurve(AT, 3 * one - 2 * other)(WITHIN)
        np.testing.assert_allclose(
            both, 3 * SmoothCurve(AT, one)(WITHIN) - 2 * SmoothCurve(AT, other)(WITHIN), atol=1e-9
        )

    def test_its_slope_has_no_kink(self):
        found = SmoothCurve(AT, np.random.default_rng(1).normal(size=16))
        for knot in (3.0, 10.5, 21.5):
            left, right = (found.slope(knot + by) for by in (-1e-7, 1e-7))
            self.assertAlmostEqual(float(left), float(right), places=5)

    def test_holds_its_ends(self):
        found = SmoothCurve(AT, np.array(AT) ** 2)
        for outside, end in ((-3.0, 0.0), (40.0, 32.0)):
            self.assertEqual(float(found(outside)), float(found(end)))
            self.assertEqual(float(found.slope(outside)), float(found.slope(end)))

    def test_pieces(self):
        self.assertEqual([usual_pieces(n) for n in (2, 3, 7, 10, 13, 16, 200)], [1, 1, 2, 3, 4, 4, 4])
        self.assertEqual([most_pieces(n) for n in (2, 3, 4, 5, 16)], [1, 1, 1, 2, 13])
        rough = np.random.default_rng(2).normal(size=16)
        np.testing.assert_allclose(SmoothCurve(AT, rough, 13).off, 0, atol=1e-9)  # as many as there are: every point
        self.assertGreater(np.abs(SmoothCurve(AT, rough).off).max(), 0.1)

    def test_directions_are_all_that_moves_it(self):
        along = curve_directions(tuple(AT))
        self.assertEqual(along.shape, (7, 16))
        np.testing.assert_allclose(along @ along.T, np.eye(7), atol=1e-12)
        # Independent errors of one size: the curve's variance at any place is that along the directions.
        place = np.array([5.3])
        each = sum(SmoothCurve(AT, row)(place) ** 2 for row in np.eye(16))
        few = sum(SmoothCurve(AT, row)(place) ** 2 for row in along)
        np.testing.assert_allclose(each, few, rtol=1e-9)


class Rough(unittest.TestCase):
    def words(self, document):
        return [told(each) for each in warnings(predict(read(document).core()))]

    def test_a_point_off_the_curve_is_said(self):
        sled = example("sled")
        self.assertEqual(self.words(sled), [])
        sled["primary"]["profile"]["swing"][8]["deg"] += 0.6
        said = self.words(sled)
        self.assertEqual(len(said), 1)
        self.assertEqual(said[0], "the point at 13.5 mm does not fit a smooth arm: read it again, or set pieces")
        rough = np.linspace(0.03, 0.06, 16)
        rough[8] += 0.8e-3
        at = np.array(AT) / 1e3
        self.assertEqual(RampRoller(SmoothCurve(at, rough), 0.02).misfits, [at[8]])
        self.assertEqual(RampRoller(SmoothCurve(at, rough, 13), 0.02).misfits, [])
        quad = example("quad")
        quad["primary"]["profile"]["path"][9]["radius_mm"] += 0.7
        self.assertIn("does not fit a smooth arm", self.words(quad)[0])

    def test_what_is_no_profile_is_refused(self):
        swing = example("sled")["primary"]["profile"]["swing"]
        for at, value, field in (
            ("pieces", 14, "primary.profile.pieces"), ("pieces", 0, "primary.profile.pieces"),
            ("pieces", 2.5, "primary.profile.pieces"), ("swing", swing[:1], "primary.profile.swing"),
            ("swing", [swing[0], swing[1], swing[1]], "primary.profile.swing[2].travel_mm"),
            ("swing", [*swing[:5], swing[4] | {"travel_mm": 3.9}], "primary.profile.swing[5].travel_mm"),
        ):  # fmt: skip
            with self.subTest(at=at, value=value), self.assertRaises(InvalidValue) as refusal:
                read(changed(example("sled"), f"primary.profile.{at}", value)).core()
            self.assertEqual(refusal.exception.field, field)
        # Two points are a straight line: an arm that swings evenly.
        straight = [{"travel_mm": 0, "deg": 8}, {"travel_mm": 32, "deg": 50}]
        found = predict(read(changed(example("sled"), "primary.profile.swing", straight)).core())
        self.assertGreater(found.shift.mean, 0)

    def test_a_falling_radius_and_a_notch_close_nothing(self):
        path = example("quad")["primary"]["profile"]["path"]
        falling = [point | {"radius_mm": 80 - point["travel_mm"] / 2} for point in path]
        notch = [point | {"radius_mm": point["radius_mm"] - (6 if 5 < point["travel_mm"] < 8 else 0)} for point in path]
        for table, pieces in ((falling, None), (notch, 12)):
            document = changed(example("quad"), "primary.profile.path", table)
            document["primary"]["profile"]["pieces"] = pieces or 4
            with self.subTest(pieces), self.assertRaises(InvalidValue) as refusal:
                read(document).core()
            self.assertEqual(refusal.exception.field, "primary.profile")
            self.assertIn("do not push the sheave closed", refusal.exception.reason)


if __name__ == "__main__":
    unittest.main()
