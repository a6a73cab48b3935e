"""A belt's life by value: trend and band against NIST and SciPy, wear, marks, and when things are due."""

import math
import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.belt.wear import assess, compare_belts, standing_start, width_costs, width_from_gap, with_belt
from jaxel.core.trade.setup.lie import lie_of_belt
from jaxel.core.words import told as plain
from jaxel.demo.workshop import document


class Worn(unittest.TestCase):
    def test_even_local_and_tapered_are_told_apart(self):
        for widths, form, words in (
            ([31.0, 31.1, 31.0], "even", "even all round, 0.1 mm"),
            ([31.0, 30.4, 31.0], "local", "at place 2: a local burn"),
            ([31.2, 30.9, 30.5, 30.8], "tapered", "from place 1 to place 3"),
            ([31.0], "one place", "one place measured"),
        ):
            found = assess(widths, 31.5, 29.0)
            self.assertEqual(found.form, form)
            self.assertIn(words, plain(found.reason))
            self.assertEqual(found.finding, "keep" if form in ("even", "one place") else "watch")

    def test_a_belt_wider_than_the_new_one_is_watched_whatever_came_to_be_known_of_it(self):
        found = assess([31.5, 31.6, 31.5], 30.5, 29.0)
        self.assertEqual((found.finding, found.form, found.narrow), ("watch", "even", False))
        self.assertIn("31.6 mm it is more than 1 mm wider than the new belt, 30.5 mm", plain(found.reason))
        self.assertEqual(assess([31.5, 31.4, 31.5], 30.5, 29.0).finding, "keep")

    def test_a_narrow_belt_is_narrow_however_it_is_worn(self):
        self.assertTrue(assess([29.6, 28.9, 29.6], 31.5, 29.0).narrow)
        self.assertFalse(assess([31.0, 30.4, 31.0], 31.5, 29.0).narrow)

    def test_the_gap_tells_the_width(self):
        self.assertAlmostEqual(width_from_gap(2.4, 1.2, 36.5).width_mm, 35.3)
        self.assertTrue(width_from_gap(2.4, 1.2, 36.5, 35.0).agrees)
        self.assertFalse(width_from_gap(2.4, 1.2, 36.5, 34.9).agrees)
        self.assertIsNone(width_from_gap(2.4, 1.2, 36.5).agrees)
        with self.assertRaises(InvalidValue) as raised:
            width_from_gap(-0.1, 1.2, 36.5)
        self.assertEqual(raised.exception.field, "side_gap_mm")

    def test_what_a_width_costs(self):
        worn = document("mountain-sled").with_belt_width(35.0)
        costs = {row.name: row for row in width_costs(worn)}
        self.assertLess(costs["Starting ratio"].now, costs["Starting ratio"].new)
        self.assertGreater(costs["Top ratio"].now, costs["Top ratio"].new)
        self.assertGreater(costs["Hit"].now, costs["Hit"].new)
        self.assertAlmostEqual(costs["Side gap at rest"].now - costs["Side gap at rest"].new, 36.5 - 35.0)
        # A worn belt never makes a standing start quicker (common practice).
        new = worn.with_belt_width(36.5)
        self.assertGreaterEqual(standing_start(worn).to_20_m, 0.98 * standing_start(new).to_20_m)

    def test_a_worn_belt_lies_lower_and_slacker(self):
        new, worn = (document("mountain-sled").with_belt_width(width) for width in (36.5, 35.5))
        self.assertAlmostEqual(lie_of_belt(new).ride_mm, 0)
        # One face moves: 1 mm of width is 1/(2·tan 13°) of radius.
        self.assertAlmostEqual(lie_of_belt(worn).ride_mm, 1 / (2 * math.tan(math.radians(13))))
        self.assertGreater(lie_of_belt(worn).deflection_mm, lie_of_belt(new).deflection_mm)
        self.assertIsNone(lie_of_belt(document("mountain-sled").with_belt_width(12.0)))

    def test_a_substitute_that_is_longer_lies_slacker(self):
        fitted = document("mountain-sled")
        longer = with_belt(fitted, None, fitted.belt.outer_circumference_mm + 6)
        rows = {row.name: row for row in compare_belts(fitted, longer)}
        wider = {row.name: row for row in compare_belts(fitted, with_belt(fitted, 37.0, None))}
        self.assertAlmostEqual(wider["Side gap at rest"].new, wider["Side gap at rest"].now - 0.5)
        self.assertGreater(rows["Deflection"].new, rows["Deflection"].now)
        self.assertAlmostEqual(rows["Side gap at rest"].new, rows["Side gap at rest"].now)
        self.assertLess(rows["Starting ratio"].new, rows["Starting ratio"].now)
