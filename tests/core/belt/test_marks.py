"""A belt's life by value: trend and band against NIST and SciPy, wear, marks, and when things are due."""

import math
import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.belt.look import Mark, check_mark, look_finding, patterns


class Marks(unittest.TestCase):
    def keys(self, *marks: Mark) -> list[str]:
        return [each.key for each in patterns(marks, 1140.0)]

    def test_cups_on_both_flanks_at_one_place(self):
        self.assertEqual(self.keys(Mark("cup", 0.30, "inner"), Mark("cup", 0.33, "outer")), ["cups"])
        self.assertEqual(self.keys(Mark("cup", 0.98, "inner"), Mark("cup", 0.01, "outer")), ["cups"])  # round the seam
        self.assertEqual(self.keys(Mark("cup", 0.30, "both")), ["cups"])
        self.assertEqual(self.keys(Mark("cup", 0.30, "inner"), Mark("cup", 0.40, "outer")), [])
        self.assertEqual(self.keys(Mark("cup", 0.30, "inner"), Mark("cup", 0.31, "inner")), [])
        means = patterns([Mark("cup", 0.3, "both")], 1140.0)[0]
        self.assertIn("held still while a sheave turned", means.means)
        self.assertEqual(means.shows, ("belt:cups",))

    def test_a_patch_of_glaze_and_glaze_all_round(self):
        self.assertEqual(self.keys(Mark("glaze", 0.1, "inner", 40.0)), [])
        self.assertEqual(self.keys(Mark("glaze", 0.1, "inner", 600.0)), ["glaze_round"])
        self.assertEqual(self.keys(*(Mark("glaze", place / 4, "both") for place in range(4))), ["glaze_round"])
        # Three close together speak for no more than their own stretch.
        self.assertEqual(self.keys(*(Mark("glaze", 0.1 + place / 100, "both") for place in range(3))), [])

    def test_cord_on_one_edge_only(self):
        self.assertEqual(self.keys(Mark("cord", 0.2, "outer"), Mark("cord", 0.7, "outer")), ["cord_edge"])
        self.assertEqual(self.keys(Mark("cord", 0.2, "outer"), Mark("cord", 0.7, "inner")), [])
        self.assertEqual(self.keys(Mark("cord", 0.2, "both")), [])

    def test_the_worst_decides(self):
        self.assertIsNone(look_finding([], 1140.0))
        self.assertEqual(look_finding([Mark("clip", 0.5, "back")], 1140.0), "keep")
        self.assertEqual(look_finding([Mark("clip", 0.5, "back"), Mark("cup", 0.3, "inner")], 1140.0), "watch")
        self.assertEqual(look_finding([Mark("cup", 0.3, "inner"), Mark("cog", 0.3, "back")], 1140.0), "replace")
        cracks = [Mark("crack", place / 5, "back") for place in range(5)]
        self.assertEqual(look_finding(cracks[:1], 1140.0), "watch")
        self.assertEqual(look_finding(cracks, 1140.0), "replace")

    def test_what_cannot_be(self):
        for mark, field in (
            (Mark("rust", 0.1, "inner"), "kind"),
            (Mark("cup", 1.0, "inner"), "place"),
            (Mark("cup", math.nan, "inner"), "place"),
            (Mark("cup", 0.1, "inner", 1141.0), "length_mm"),
        ):
            with self.assertRaises(InvalidValue) as raised:
                check_mark(mark, 1140.0)
            self.assertEqual(raised.exception.field, field)
