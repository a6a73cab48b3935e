"""What a part would need where nothing at hand lands in the window."""

import unittest

from jaxel.core.formats.paths import with_value
from jaxel.core.trade.shelf.planner import plan
from tests.core.shelf.test_planner import HIGH, MEASURED, spring, stock, weights


class OutOfReach(unittest.TestCase):
    def test_says_what_a_part_would_need_and_it_lands(self):
        weak = stock(primary_springs=[spring(420.0, 950.0)])
        found = plan(HIGH, weak, MEASURED)
        self.assertFalse(any(each.inside for each in found.answers))
        self.assertGreaterEqual(len(found.reach), 2)
        for each in found.reach:
            setup = HIGH
            for value in each.values:
                setup = with_value(setup, value.field, value.needed)
            (there,) = MEASURED.estimates([setup], 41)
            self.assertAlmostEqual(each.engagement_rpm, HIGH.target.engagement_rpm, delta=1)
            self.assertAlmostEqual(there.engagement, HIGH.target.engagement_rpm, delta=4)
            self.assertAlmostEqual(there.mean, HIGH.target.shift_rpm, delta=4)
            self.assertNotEqual([value.now for value in each.values], [value.needed for value in each.values])

    def test_nothing_is_out_of_reach_where_an_answer_lands(self):
        self.assertEqual(
            plan(HIGH, stock(weights=weights(56.0), primary_springs=[spring(640.0, 1390.0)]), MEASURED).reach, []
        )
