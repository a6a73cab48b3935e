"""The set-up bench's core: the picture at every place, answers in words, what to measure next, scores, what-if."""

import unittest
from math import sqrt

from jaxel.core.formats.run.runs import RunPart
from jaxel.core.trade.run.calibration_file import calibrated, from_document
from jaxel.core.trade.run.next_reading import next_readings
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.discrepancy import floor_rpm
from jaxel.core.trade.setup.evidence import inputs
from tests.core.cases.set_up_bench_case import LIGHTER, SLED
from tests.examples import example, read


class NextReadings(unittest.TestCase):
    def test_a_run_takes_off_what_two_estimates_of_one_number_do(self):
        known = from_document(calibrated(SLED, [RunPart(engagement_rpm=3900.0, shift_mean_rpm=7700.0)]))
        (now,) = known.estimates([LIGHTER])
        run = next(each for each in next_readings(LIGHTER, known) if each.name == "a run on this set-up")
        noise = 50.0**2 + floor_rpm() ** 2
        self.assertAlmostEqual(run.shift_off_rpm, now.mean_sd - 1 / sqrt(1 / now.mean_sd**2 + 1 / noise))

    def test_a_reading_takes_off_what_the_same_machine_without_its_doubt_has_less(self):
        # Against the estimate of a document whose evidence says the number was measured.
        data = example("mountain-sled") | {"evidence": {}}
        loose = read(data)
        known = Calibration.none(loose)
        (before,) = known.estimates([loose])
        found = {each.name: each for each in next_readings(loose, known, most=30)}
        name = max(
            (each for each in found if each != "a run on this set-up"), key=lambda each: found[each].shift_off_rpm
        )
        path = next(each.path for each in inputs(loose) if each.name == name)
        measured = read(data | {"evidence": {path: {"origin": "measured"}}})
        (after,) = Calibration.none(measured).estimates([measured])
        self.assertGreater(found[name].shift_off_rpm, 10)
        self.assertAlmostEqual(found[name].shift_off_rpm, before.mean_sd - after.mean_sd, delta=0.5)

    def test_the_one_worth_most_a_minute_stands_first(self):
        loose = read(example("mountain-sled") | {"evidence": {}})
        worths = [each.worth for each in next_readings(loose, Calibration.none(loose), most=30)]
        self.assertEqual(worths, sorted(worths, reverse=True))
