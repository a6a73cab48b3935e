"""A ride of the other machine: what its log gives is what the machine does with the throttle held open."""

import unittest
from typing import ClassVar

import numpy as np

from jaxel.core.formats.run.log_file import read_log
from jaxel.core.trade.run.reader import RunReader
from jaxel.core.trade.run.summary import summary
from jaxel.instruments.logger import Logger
from jaxel.instruments.machine import ride
from jaxel.instruments.machine.hidden import drawn
from jaxel.instruments.machine.machine import Machine
from jaxel.instruments.machine.ride import AFTERNOON, Ground, ridden
from tests.examples import example, read

SEED = 3


def mountain_sled():
    return drawn(read(example("mountain-sled")).model_dump(mode="json", exclude_none=True), SEED)


class Ride(unittest.TestCase):
    machine: ClassVar[Machine]
    columns: ClassVar[dict[str, np.ndarray]]

    @classmethod
    def setUpClass(cls):
        cls.machine = mountain_sled()
        cls.columns = ridden(cls.machine)

    def at(self, seconds, column):
        return float(np.interp(seconds, self.columns["time_s"], self.columns[column]))

    def test_a_log_of_it_gives_its_shift_and_its_ratios(self):
        data = Logger(spikes=0.001, lost=0.005).written(self.columns, 1)
        found = summary(RunReader.of(read_log(data), read(example("mountain-sled")).core()))
        true = self.machine.figures
        self.assertAlmostEqual(found.shift.mean_rpm.value, true.mean, delta=60)
        self.assertAlmostEqual(found.shift.full_shift_rpm.value, true.full_shift, delta=40)
        self.assertAlmostEqual(found.high_ratio.value, true.high, delta=0.01)
        # The engine dips as the belt takes hold: a log reads where the vehicle moves, some hundreds below the release.
        self.assertAlmostEqual(found.engagement_rpm.value, true.engagement, delta=400)

    def test_it_stands_until_the_belt_bites_and_stands_again(self):
        self.assertEqual(self.at(10.0, "speed_kph"), 0.0)
        self.assertGreater(self.at(32.0, "speed_kph"), 10.0)
        self.assertEqual(self.at(43.5, "speed_kph"), 0.0)

    def test_the_secondary_turns_with_the_road_at_every_moment(self):
        vehicle = self.machine.document["vehicle"]
        gear = vehicle["drive_ratio"] / (vehicle["rolling_radius_mm"] / 1e3)
        road = self.columns["speed_kph"] / 3.6 * gear * 30 / np.pi
        np.testing.assert_allclose(self.columns["secondary_rpm"], road, rtol=1e-9)

    def test_it_never_turns_faster_than_its_limiter_lets_it(self):
        limit = self.machine.document["engine"]["rev_limit_rpm"]
        self.assertLess(float(self.columns["engine_rpm"].max()), limit + 150)
        self.assertLess(self.at(62.0, "engine_rpm"), limit)

    def test_the_limiter_takes_a_spark_after_the_other(self):
        under_way = ride._Ride(self.machine, Ground())
        under_way.speed = under_way.engine.rev_limit
        whole = under_way._engine(1.0)
        under_way.speed = under_way.engine.rev_limit + ride.LIMITER / 2
        self.assertAlmostEqual(under_way._engine(1.0) / whole, 0.5, delta=0.05)

    def test_shut_it_slows_and_the_belt_warms_only_with_work(self):
        self.assertLess(self.at(66.4, "speed_kph"), self.at(65.0, "speed_kph"))
        self.assertAlmostEqual(self.at(15.0, "belt_temp_c"), 35.0, delta=0.5)
        self.assertGreater(self.at(53.0, "belt_temp_c"), 50.0)

    def test_finer_steps_are_the_same_ride(self):
        step = ride.STEP
        try:
            ride.STEP = step / 2
            finer = ridden(self.machine, AFTERNOON, Ground(hz=50.0))
        finally:
            ride.STEP = step
        for seconds in (48.0, 53.0, 58.0, 63.0):
            fine = float(np.interp(seconds, finer["time_s"], finer["engine_rpm"]))
            self.assertAlmostEqual(fine, self.at(seconds, "engine_rpm"), delta=25, msg=str(seconds))
