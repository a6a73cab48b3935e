"""The set-up bench's core: the picture at every place, answers in words, what to measure next, scores, what-if."""

import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.runs import RunPart
from jaxel.core.trade.run.calibration_file import calibrated, from_document
from jaxel.core.trade.setup.elsewhere.what_if import Elsewhere, elsewhere, what_if
from jaxel.core.trade.setup.prediction import predicted
from tests.core.cases.set_up_bench_case import SLED
from tests.examples import changed, example, read


class WhatIfs(unittest.TestCase):
    def test_power_and_height_at_the_crank(self):
        # U.S. Standard Atmosphere 1976 and SAE J1349 as in the prediction's own power factor.
        here, high = what_if(SLED, Elsewhere()), what_if(SLED, Elsewhere(elevation_m=3000, temperature_c=-12))
        there = read(changed(changed(example("mountain-sled"), "conditions.elevation_m", 3000.0),
                             "conditions.temperature_c", -12.0))  # fmt: skip
        self.assertEqual(high.power_factor, round(predicted(there, banded=False).power_factor, 4))
        self.assertAlmostEqual(high.power_kw / here.power_kw, high.power_factor / here.power_factor, delta=0.01)
        self.assertLess(high.shift_rpm, here.shift_rpm - 200)
        stronger = what_if(SLED, Elsewhere(power=1.1))
        self.assertAlmostEqual(stronger.power_kw / here.power_kw, 1.1, delta=0.01)
        self.assertGreater(stronger.shift_rpm, here.shift_rpm)

    def test_gearing_and_tyre_change_the_road_and_not_the_clutch(self):
        here = what_if(SLED, Elsewhere())
        short = what_if(SLED, Elsewhere(drive_ratio=SLED.vehicle.drive_ratio * 1.1))
        self.assertAlmostEqual(short.top_kph, here.top_kph / 1.1, delta=0.2)
        self.assertAlmostEqual(short.overall_gearing / here.overall_gearing, 1.1, places=3)
        self.assertAlmostEqual(short.shift_rpm, here.shift_rpm, delta=0.2)
        tall = what_if(SLED, Elsewhere(rolling_radius_mm=SLED.vehicle.rolling_radius_mm * 1.05))
        self.assertAlmostEqual(tall.top_kph, here.top_kph * 1.05, delta=0.2)

    def test_more_air_keeps_the_belt_cooler_and_nothing_else(self):
        here, more = what_if(SLED, Elsewhere()), what_if(SLED, Elsewhere(airflow=3))
        self.assertLess(more.belt_max_c, here.belt_max_c - 1)
        self.assertEqual((more.shift_rpm, more.to_20_m_s), (here.shift_rpm, here.to_20_m_s))

    def test_on_a_calibration_it_is_anchored(self):
        known = from_document(calibrated(SLED, [RunPart(engagement_rpm=4100.0, shift_mean_rpm=8100.0)]))
        self.assertAlmostEqual(what_if(SLED, Elsewhere(), known).shift_rpm, 8100, delta=0.5)

    def test_what_cannot_be_is_refused_by_its_field(self):
        for tried, field in (
            (Elsewhere(elevation_m=9000), "elevation_m"),
            (Elsewhere(temperature_c=90), "temperature_c"),
            (Elsewhere(drive_ratio=-1), "drive_ratio"),
            (Elsewhere(rolling_radius_mm=0), "rolling_radius_mm"),
            (Elsewhere(power=0.1), "power"),
            (Elsewhere(airflow=-1), "airflow"),
        ):
            with self.subTest(field=field), self.assertRaises(InvalidValue) as caught:
                elsewhere(SLED, tried)
            self.assertEqual(caught.exception.field, field)

    def test_a_barometer_says_nothing_of_another_height(self):
        read_here = read(changed(example("mountain-sled"), "conditions.barometer_hpa", 850.0))
        self.assertIsNone(elsewhere(read_here, Elsewhere(elevation_m=0)).conditions.barometer_hpa)
        self.assertEqual(elsewhere(read_here, Elsewhere(power=1)).conditions.barometer_hpa, 850.0)
