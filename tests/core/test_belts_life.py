"""A belt's life by value: trend and band against NIST and SciPy, wear, marks, and when things are due."""

import math
import unittest
from datetime import date

from scipy import stats

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.belt_look import Mark, check_mark, look_finding, patterns
from jaxel.core.trade.belt_wear import (
    assess,
    compare_belts,
    lie_of_belt,
    standing_start,
    width_costs,
    width_from_gap,
    with_belt,
)
from jaxel.core.trade.due import Due, Use, due_on, in_order, next_season, urgency, use_of
from jaxel.core.trade.inspection import Check, Odometer
from jaxel.core.trade.trend import WIDTH_SD_MM, forecast, line_through
from jaxel.demo.workshop import document

# NIST Statistical Reference Datasets, linear regression: Norris, with its certified values.
NORRIS_X = [
    0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6,
    775.5, 666.9, 338.0, 447.5, 11.6, 556.0, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8,
    339.1, 887.2, 999.0, 779.0, 11.1, 118.3, 229.2, 669.1, 448.9, 0.5,
]  # fmt: skip
NORRIS_Y = [
    0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1,
    778.1, 668.8, 339.3, 448.9, 10.8, 557.7, 228.3, 998.0, 888.8, 119.6, 0.3, 0.6, 557.6,
    339.3, 888.0, 998.5, 778.9, 10.2, 117.6, 228.9, 668.4, 449.2, 0.2,
]  # fmt: skip


class Trend(unittest.TestCase):
    USE, WIDTH = [0.0, 640.0, 1300.0, 1910.0, 2310.0], [36.5, 36.28, 36.02, 35.66, 35.43]

    def test_nist_norris(self):
        line = line_through(NORRIS_X, NORRIS_Y)
        self.assertAlmostEqual(line.slope, 1.00211681802045, places=13)
        self.assertAlmostEqual(line.intercept, -0.262323073774029, places=12)
        self.assertAlmostEqual(line.sd, 0.884796396144373, places=11)
        self.assertAlmostEqual(line.slope_sd, 0.000429796848199937, places=14)
        self.assertAlmostEqual(line.intercept_sd, 0.232818234301152, places=12)
        self.assertEqual(line.freedom, 34)

    def test_scipy_linregress_and_its_band(self):
        use, width = [0.0, 500.0, 1000.0, 1500.0], [36.6, 36.1, 36.2, 35.6]
        line, found = line_through(use, width), stats.linregress(use, width)
        self.assertAlmostEqual(line.slope, found.slope, places=15)
        self.assertAlmostEqual(line.slope_sd, found.stderr, places=15)
        self.assertAlmostEqual(line.intercept_sd, found.intercept_stderr, places=12)
        # At use 0 the band is that of the intercept.
        self.assertAlmostEqual(line.half_band(0.0, 0.95), stats.t.ppf(0.975, 2) * found.intercept_stderr, places=12)

    def test_the_range_is_where_the_bands_edges_meet_the_limit(self):
        line = line_through([0.0, 500.0, 1000.0, 1500.0], [36.6, 36.1, 36.2, 35.6])
        found = forecast(line, 35.0)
        self.assertAlmostEqual(line.at(found.use), 35.0)
        self.assertAlmostEqual(line.at(found.soonest) - line.half_band(found.soonest), 35.0)
        self.assertAlmostEqual(line.at(found.latest) + line.half_band(found.latest), 35.0)
        self.assertLess(found.soonest, found.use)
        wider = forecast(line, 35.0, 0.9)
        self.assertLess(wider.soonest, found.soonest)

    def test_points_closer_than_a_caliper_tells_do_not_make_it_certain(self):
        line = line_through([0.0, 1000.0, 2000.0], [36.5, 36.1, 35.7])
        self.assertEqual((line.sd, line.freedom), (WIDTH_SD_MM, None))
        self.assertAlmostEqual(line.quantile(0.8), 1.2815515655446004)
        found = forecast(line, 35.0)
        self.assertAlmostEqual(found.use, 3750.0)
        self.assertGreater(found.latest - found.soonest, 500)

    def test_a_belt_that_hardly_wears_has_no_latest(self):
        found = forecast(line_through([0.0, 100.0], [36.5, 36.4]), 35.0)
        self.assertAlmostEqual(found.use, 1500.0)
        self.assertIsNotNone(found.soonest)
        self.assertIsNone(found.latest)
        growing = forecast(line_through([0.0, 100.0], [36.4, 36.5]), 35.0)
        self.assertIsNone(growing.use)

    def test_one_place_on_the_axis_is_no_trend(self):
        for use in ([], [100.0], [100.0, 100.0]):
            with self.assertRaises(InvalidValue):
                line_through(use, [36.0] * len(use))


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
            self.assertIn(words, found.reason)
            self.assertEqual(found.finding, "keep" if form in ("even", "one place") else "watch")

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
        self.assertGreater(costs["Harshness"].now, costs["Harshness"].new)
        self.assertAlmostEqual(costs["Side gap at rest"].now - costs["Side gap at rest"].new, 36.5 - 35.0)
        # A worn belt never makes a standing start quicker (common practice).
        new = worn.with_belt_width(36.5)
        self.assertGreaterEqual(standing_start(worn), standing_start(new) - 0.02)

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


class DueDates(unittest.TestCase):
    READ = date(2026, 11, 25)

    def on(self, check: Check, now: Odometer, use: Use | None = None) -> date | None:
        return due_on(check, now, self.READ, use or Use(10.0, 0.5), "sled", self.READ)

    def test_whichever_comes_first(self):
        now = Odometer(km=2300, h=100)
        self.assertEqual(self.on(Check(km=2500), now), date(2026, 12, 15))
        self.assertEqual(self.on(Check(km=2500, h=105), now), date(2026, 12, 5))
        self.assertEqual(self.on(Check(km=9000, season=True), now), date(2027, 11, 15))
        self.assertEqual(self.on(Check(km=2300), now), self.READ)
        self.assertIsNone(self.on(Check(km=2500), Odometer(h=100)))
        self.assertIsNone(self.on(Check(km=2500), now, Use()))
        self.assertEqual(self.on(Check(km=2300), now, Use()), self.READ)

    def test_use_of_first_and_last_reading(self):
        found = use_of([(date(2026, 1, 1), Odometer(100, 10)), (date(2026, 2, 1), Odometer(None, 20)),
                        (date(2026, 4, 11), Odometer(1100, 30))])  # fmt: skip
        self.assertEqual(found, Use(10.0, 0.2))
        self.assertEqual(use_of([(date(2026, 1, 1), Odometer(100))]), Use())
        self.assertEqual(use_of([(date(2026, 1, 1), Odometer(100)), (date(2026, 1, 1), Odometer(200))]), Use())

    def test_seasons(self):
        self.assertEqual(next_season("sled", date(2026, 11, 14)), date(2026, 11, 15))
        self.assertEqual(next_season("sled", date(2026, 11, 15)), date(2027, 11, 15))
        self.assertEqual(next_season("quad", date(2026, 11, 25)), date(2027, 4, 1))

    def test_urgency_and_order(self):
        today = date(2026, 11, 25)
        dues = [
            Due(name, "item", name, "", Check(), on, urgency(on, today))
            for name, on in (("c", None), ("b", date(2027, 1, 1)), ("a", today), ("d", date(2026, 12, 25)))
        ]
        self.assertEqual([each.name for each in in_order(dues)], ["a", "d", "b", "c"])
        self.assertEqual([each.urgency for each in in_order(dues)], ["overdue", "soon", "later", "undated"])
