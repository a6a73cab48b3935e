"""The rules of the job: typed numbers, belt wear, what a visit still lacks, predicted against measured."""

import unittest
from dataclasses import replace

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import prediction_document
from jaxel.core.mechanism.shift import predict
from jaxel.core.mechanism.uncertainty import Band
from jaxel.core.trade.belt_wear import assess, width_costs
from jaxel.core.trade.break_in import BreakIn
from jaxel.core.trade.cautions import cautions
from jaxel.core.trade.close_out import Count
from jaxel.core.trade.scores import compare, predicted_figures
from jaxel.core.trade.stations import (
    STATIONS,
    BeltCheck,
    HandOver,
    Intake,
    Ride,
    SetUp,
    VisitRecord,
    open_items,
    station_states,
)
from jaxel.core.units import INCH, MILE, parse_quantity
from tests.examples import drivetrain, example, read


class TypedNumbers(unittest.TestCase):
    def test_as_they_are_typed_at_a_bench(self):
        # Exact factors: NIST SP 811.
        for text, unit, value in (
            ("35.4", "mm", 35.4), ("35,4", "mm", 35.4), (" 35.4 mm ", "mm", 35.4), ("1.4 in", "mm", 35.56),
            ('1 3/8"', "mm", 34.925), ("7/8 in", "mm", 22.225), ("7,900", "rpm", 7900), ("-8", "°C", -8),
            ("14 °F", "°C", -10), ("100 lbf", "N", 444.82216152605), ("1,435 mi", "km", 2309.40864),
            ("3000 ft", "m", 914.4), ("2.2 oz", "g", 62.368950875), ("−5", "°C", -5),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(parse_quantity(text, unit), value, places=9)
        self.assertEqual((INCH, MILE), (0.0254, 1609.344))

    def test_what_is_no_number(self):
        for text in ("abc", "35.4.1", "1/0", "35 36", "", "--3", "1e5x", "35 kg", "9" * 60, "nan", "∞"):
            with self.subTest(text):
                self.assertRaises(InvalidValue, parse_quantity, text, "mm")


class BeltWear(unittest.TestCase):
    def test_an_even_belt(self):
        # 31.0 / 31.1 / 31.0 mm is an even belt (common practice).
        found = assess([31.0, 31.1, 31.0], 31.5, 30.0)
        self.assertEqual((found.finding, found.spread_mm), ("keep", 0.1))
        self.assertAlmostEqual(found.wear_used, (31.5 - 93.1 / 3) / 1.5)

    def test_findings(self):
        for widths, finding, word in (
            ([36.5, 36.5, 36.5], "keep", "0%"), ([35.4, 35.4, 35.4], "watch", "73%"),
            ([36.3, 35.8, 36.2], "watch", "local burn"), ([35.0, 35.2, 35.1], "replace", "reached the limit"),
            ([36.0], "keep", "one place"), ([37.0, 37.0, 37.0], "keep", "0%"),
        ):  # fmt: skip
            found = assess(widths, 36.5, 35.0)
            self.assertEqual(found.finding, finding, widths)
            self.assertIn(word, found.reason)

    def test_costs_compare_two_predictions(self):
        worn = read(example("mountain-sled")).with_belt_width(35.4)
        costs = {row.name: row for row in width_costs(worn)}
        self.assertAlmostEqual(costs["Starting ratio"].now, predict(worn.core()).low_ratio)
        self.assertAlmostEqual(costs["Starting ratio"].new, predict(drivetrain()).low_ratio)
        self.assertAlmostEqual(costs["Side gap at rest"].now - costs["Side gap at rest"].new, 1.1)


INTAKE = Intake(
    elevation_m=600, temperature_c=-8, humidity_pct=60, target_engagement_rpm=3950,
    target_engagement_tolerance_rpm=100, target_shift_rpm=7900, target_shift_tolerance_rpm=100, odometer_km=2310.0,
    complaint="bogs", fitted_confirmed=True,
)  # fmt: skip


SPREADER = Count("spreader", "Belt spreader or jack bolts", "tool", 1, 1)


def visit(**change) -> VisitRecord:
    complete = VisitRecord(
        scope="tune", faults=(), intake=INTAKE, belt=BeltCheck(1, "run on"), set_up=SetUp(1, 2),
        hand_over=HandOver(guard_on=True), counts=(SPREADER,), break_in=BreakIn("overruled", "easy first ride"),
        widths_mm={1: 35.4, 2: 35.5, 3: 35.4}, belt_limits_mm=(36.5, 35.0), rides=(Ride(2, 4100.0, 7880.0),),
    )  # fmt: skip
    return replace(complete, **change)


class OpenItems(unittest.TestCase):
    def fields(self, **change):
        return [(item.station, item.field) for item in open_items(visit(**change))]

    def test_nothing_lacks(self):
        self.assertEqual(open_items(visit()), [])

    def test_each_gap_by_name(self):
        for change, gap in (
            ({"intake": replace(INTAKE, odometer_km=None)}, ("intake", "odometer_km")),
            ({"intake": replace(INTAKE, complaint="  ")}, ("intake", "complaint")),
            ({"intake": replace(INTAKE, fitted_confirmed=False)}, ("intake", "fitted")),
            ({"set_up": SetUp(1, 2, found_draft={"shim_mm": 1.0})}, ("intake", "fitted")),
            ({"widths_mm": {1: 35.4, 3: 35.4}}, ("belt", "place_2")),
            ({"belt": BeltCheck(1)}, ("belt", "decision")),
            ({"belt": BeltCheck(1, "discard", next_width_mm=36.5)}, ("belt", "reason")),
            ({"belt": BeltCheck(1, "spare", "narrow")}, ("belt", "next_width_mm")),
            ({"widths_mm": {1: 35.0, 2: 35.1, 3: 35.1}}, ("belt", "reason")),
            ({"set_up": SetUp(1, 2, left_draft={"shim_mm": 1.0})}, ("set-up", "reason")),
            ({"rides": (Ride(2, None, 7880.0),)}, ("road-test", "engagement_rpm")),
            ({"rides": (Ride(2, 4100.0, None),)}, ("road-test", "shift_rpm")),
            ({"counts": ()}, ("hand-over", "count_spreader")),
            ({"counts": (replace(SPREADER, back=0),)}, ("hand-over", "count_spreader")),
            ({"hand_over": HandOver()}, ("hand-over", "guard_on")),
            (
                {"belt": BeltCheck(1, "discard", "cord", next_width_mm=36.5), "break_in": BreakIn()},
                ("hand-over", "break_in"),
            ),
        ):
            with self.subTest(gap):
                self.assertEqual(self.fields(**change), [gap])

    def test_a_run_on_an_earlier_setup_does_not_count(self):
        self.assertEqual(len(self.fields(rides=(Ride(1, 4100.0, 7880.0),))), 2)

    def test_states(self):
        states = station_states(visit(widths_mm={1: 35.4}, rides=()), signed_off=False)
        self.assertNotIn("strip", states)  # of no part in a tune nobody stripped for
        shown = [states[s] for s in STATIONS if s in states]
        self.assertEqual(shown, ["done", "attention", "done", "to do", "done"])
        self.assertEqual(set(station_states(visit(), signed_off=True).values()), {"done"})
        fresh = visit(widths_mm={}, rides=(), belt=BeltCheck(1), set_up=SetUp(1, 1), hand_over=HandOver(), counts=())
        blank = replace(INTAKE, odometer_km=None, complaint="", fitted_confirmed=False)
        states = station_states(replace(fresh, intake=blank), signed_off=False)
        self.assertEqual(set(states.values()), {"to do"})


class Miss(unittest.TestCase):
    def test_measured_less_predicted(self):
        core = drivetrain()
        document = prediction_document(predict(core), Band(10.0, 30.0, 30.0, np.full(41, 30.0)))
        bite, mean = document.engagement.bite_rpm, document.shift.mean_rpm
        rows = compare(predicted_figures(document), bite - 60, mean + 2000, (bite, 100), (mean, 100))
        self.assertEqual([(row.figure, row.miss_rpm, row.sure, row.in_target) for row in rows],
                         [("Engagement", -60, True, True), ("Shift", 2000, False, False)])  # fmt: skip
        self.assertEqual(compare(predicted_figures(document), None, None, (1, 1), (1, 1)), [])
        (bare,) = compare(None, None, 7850, (1, 1), (7900, 100))
        self.assertEqual((bare.measured_rpm, bare.predicted_rpm, bare.miss_rpm, bare.sure, bare.in_target),
                         (7850, None, None, None, True))  # fmt: skip
        # Either side of the window, and its edge.
        for measured, inside in ((7799, False), (7800, True), (7900, True), (8000, True), (8001, False)):
            (row,) = compare(predicted_figures(document), None, measured, (1, 1), (7900, 100))
            self.assertEqual((row.figure, row.measured_rpm, row.in_target), ("Shift", measured, inside))
        for off, sure in ((1.99, True), (-1.99, True), (2.01, False), (-2.01, False)):
            (row,) = compare(predicted_figures(document), bite + off * document.band.bite_rpm, None, (1, 1), (1, 1))
            self.assertEqual(row.sure, sure)


class Cautions(unittest.TestCase):
    def test_every_station_has_one_that_defers(self):
        self.assertEqual(set(cautions()), set(STATIONS))
        for text in cautions().values():
            self.assertIn("manufacturer's manual, local rules and a qualified technician", text)
