"""The physics of a log: an even clock, lines through noise, force, power and gearing at the wheel, by hand-worked
numbers; spikes and lines against scipy.signal on its own ground."""

import unittest
from dataclasses import replace
from typing import Any, cast

import numpy as np
from scipy.signal import medfilt, savgol_filter

from jaxel.core.mechanism.run.clock import straightened
from jaxel.core.mechanism.run.grid import gridded
from jaxel.core.mechanism.run.log import Log
from jaxel.core.mechanism.run.pulls import find_pulls
from jaxel.core.mechanism.run.pyramid import FACTOR, pyramid
from jaxel.core.mechanism.run.reading import Reading, Unread
from jaxel.core.mechanism.run.road import hauled, overall_gearing, time_to_distance, time_to_speed, wheel_force
from jaxel.core.mechanism.run.smooth import Smooths, level, level_noise, rate, rate_noise
from jaxel.core.mechanism.run.take_off import engagement, motion_of
from tests.examples import drivetrain


def log(time, **channels):
    channels = {name: np.asarray(values, float) for name, values in channels.items()}
    return Log(np.asarray(time, float), cast(Any, channels))


def read(found):
    """A figure that was read."""
    assert isinstance(found, Reading), found
    return found


class Clocks(unittest.TestCase):
    TIME = np.arange(0, 20, 0.02)

    def test_a_good_clock_is_left_as_it_is(self):
        found = straightened(log(self.TIME + 700, engine=self.TIME))
        np.testing.assert_allclose(found.time, self.TIME)
        np.testing.assert_allclose(found.stamped, self.TIME + 700)

    def test_rows_out_of_order_repeated_and_wild(self):
        order = np.arange(1000)
        order[[100, 102]] = order[[102, 100]]
        time = self.TIME[order]
        time[500] = 1e6
        time = np.insert(time, 300, time[300])
        found = straightened(log(time, engine=np.arange(1001)))
        self.assertEqual((found.repeated, found.wild), (1, 1))
        self.assertGreater(found.disordered, 0)
        self.assertTrue(np.all(np.diff(found.time) > 0))
        self.assertEqual(len(found.time), 999)

    def test_a_clock_that_was_set_runs_on(self):
        for off in (-900.0, 3600.0):
            time = self.TIME + np.where(np.arange(1000) < 500, 2000.0, 2000.0 + off)
            found = straightened(log(time, engine=100 + self.TIME))
            with self.subTest(off):
                self.assertEqual(found.jumps, 1)
                self.assertAlmostEqual(found.time[-1], 19.98, places=6)
                self.assertEqual(found.stamped[-1], time[-1])  # told by its own stamps all the same

    def test_rows_that_are_missing_stay_missing(self):
        kept = (self.TIME < 5) | (self.TIME > 7)
        found = straightened(log(self.TIME[kept], engine=300 * self.TIME[kept]))
        self.assertEqual(found.jumps, 0)
        self.assertAlmostEqual(found.time[-1], 19.98, delta=0.001)

    def test_a_coarse_clock_is_spread(self):
        found = straightened(log(np.floor(self.TIME), engine=self.TIME))
        np.testing.assert_allclose(found.time, self.TIME, atol=1e-9)


class Grids(unittest.TestCase):
    def test_a_thousand_rows_a_second_are_averaged(self):
        time = np.arange(0, 4, 0.001)
        noise = np.random.default_rng(1).normal(0, 3, len(time))
        grid = gridded(log(time, engine=500 + noise))
        self.assertAlmostEqual(grid.step, 0.01)
        self.assertAlmostEqual(np.std(grid["engine"]), 3 / np.sqrt(10), delta=0.15)
        self.assertAlmostEqual(grid.noise["engine"], 3 / np.sqrt(10), delta=0.15)

    def test_a_slower_instrument_is_read_where_it_read(self):
        time = np.arange(0, 20, 0.01)
        rng = np.random.default_rng(2)
        speed = np.repeat(10 + 0.5 * time[::10] + rng.normal(0, 0.05, 200), 10)
        grid = gridded(log(time, engine=500 + time, speed=speed))
        self.assertAlmostEqual(grid.every["speed"], 0.1, delta=0.02)
        off = grid["speed"] - (10 + 0.5 * time)
        self.assertLess(abs(np.mean(off[100:-100])), 0.01)  # a staircase lies a quarter of a step behind: 0.02

    def test_spikes_as_a_median_filter_finds_them(self):
        # scipy.signal.medfilt, five wide: what lies further off it than the threshold is a spike.
        rng = np.random.default_rng(3)
        time = np.arange(0, 20, 0.02)
        engine = 400 + 200 * np.sin(time) + rng.normal(0, 1.2, len(time))
        at = rng.choice(np.arange(5, 995, 6), 30, replace=False)
        engine[at] += rng.choice([-1, 1], 30) * rng.uniform(80, 400, 30)
        self.assertEqual(set(np.flatnonzero(np.abs(engine - medfilt(engine, 5)) > 30)), set(at))
        grid = gridded(log(time, engine=engine))
        self.assertEqual(grid.dropped["spike"], 30)
        self.assertLess(np.abs(grid["engine"] - (400 + 200 * np.sin(time))).max(), 8)

    def test_lost_readings_of_a_running_engine(self):
        time = np.arange(0, 10, 0.02)
        engine = np.full(500, 700.0) + np.sin(time)
        engine[200:210] = 0
        self.assertGreater(gridded(log(time, engine=engine))["engine"].min(), 690)


class Lines(unittest.TestCase):
    def test_as_savitzky_and_golay(self):
        # scipy.signal.savgol_filter, degree 1, inside the ends.
        values = np.random.default_rng(4).normal(0, 1, 200).cumsum()
        for seconds, size in ((0.2, 11), (0.5, 25)):
            inside = slice(size, -size)
            np.testing.assert_allclose(level(values, 0.02, seconds)[inside], savgol_filter(values, size, 1)[inside])
            slope = savgol_filter(values, size, 1, deriv=1, delta=0.02)
            np.testing.assert_allclose(rate(values, 0.02, seconds)[inside], slope[inside])
        kept = Smooths(values, 0.02)
        self.assertIs(kept.level(0.2), kept.level(0.2))

    def test_noise_left_of_a_level_and_a_slope(self):
        # σ/√n of a mean; σ·√(12/n)/T of a slope (least squares on n even points over T): against 4,000 draws.
        draws = np.random.default_rng(5).normal(0, 2.0, (4000, 51))
        levels, slopes = draws.mean(axis=1), draws @ (np.arange(51) - 25) / np.sum((np.arange(51) - 25) ** 2) / 0.02
        self.assertAlmostEqual(level_noise(2.0, 0.02, 1.0), levels.std(), delta=0.02)
        self.assertAlmostEqual(rate_noise(2.0, 0.02, 1.0), slopes.std(), delta=0.05)


class TakeOffs(unittest.TestCase):
    def test_a_roll_on_is_readable_up_to_150_rpm_a_second(self):
        for gain, readable in ((100, True), (140, True), (160, False), (600, False)):
            time = np.arange(0, 40, 0.02)
            begins = 5 + 1000 / gain
            engine = (3000 + gain * np.clip(time - 5, 0, None)) * np.pi / 30
            speed = np.clip(time - begins, 0, None)  # 1 m/s² once the engine passes 4,000 rpm
            throttle = np.clip((time - 1) / 38, 0, 1)
            grid = gridded(log(time, engine=engine, speed=speed, throttle=throttle))
            motion = motion_of(grid, None)
            (pull,) = find_pulls(grid, motion.values)
            found = engagement(grid, motion, pull)
            at_motion = (4000 + 0.4 * gain) * np.pi / 30  # it moves at 0.4 m/s, 0.4 s on
            with self.subTest(gain):
                self.assertEqual(isinstance(found, Reading), readable)
                value = found.value if isinstance(found, Reading) else found.bound
                self.assertAlmostEqual(value, at_motion, delta=0.04 * gain * np.pi / 30)

    def test_a_vehicle_that_was_moving_shows_no_engagement(self):
        time = np.arange(0, 20, 0.02)
        grid = gridded(log(time, engine=300 + 10 * time, speed=5 + time, throttle=np.clip((time - 3) / 15, 0, 1)))
        motion = motion_of(grid, None)
        (pull,) = find_pulls(grid, motion.values)
        self.assertEqual(engagement(grid, motion, pull), Unread("moving"))


class Road(unittest.TestCase):
    def setUp(self):
        self.core = drivetrain("sled")
        time = np.arange(0, 16, 0.02)
        speed = np.clip(time - 1.0, 0, None) * 2.5  # from rest at 1 s, 2.5 m/s²
        self.grid = gridded(log(time, engine=700 + time, speed=speed, throttle=np.where(time > 1, 1.0, 0.0)))
        (self.pull,) = find_pulls(self.grid, motion_of(self.grid, None).values)

    def test_times_worked_by_hand(self):
        # Moving counts from 0.4 m/s: 0.16 s on. 13.41 m/s are reached 5.364 s after the start, 200 m after √(400/2.5).
        self.assertAlmostEqual(
            read(time_to_speed(self.grid, self.pull, 13.4112)).value, 13.4112 / 2.5 - 0.16, delta=0.02
        )
        self.assertAlmostEqual(read(time_to_distance(self.grid, self.pull, 200)).value, 12.649 - 0.16, delta=0.03)
        self.assertEqual(time_to_speed(self.grid, self.pull, 60), Unread("not reached"))

    def test_force_and_power_worked_by_hand(self):
        vehicle = self.core.vehicle
        bare = replace(self.core, vehicle=replace(vehicle, mass=300.0, drag_area=0.0, rolling_coefficient=0.0))
        # 300 kg at 2.5 m/s²: 750 N; at 35 m/s 26.25 kW. Rolling 0.02·300·9.80665 = 58.84 N.
        np.testing.assert_allclose(wheel_force(np.array([2.5]), np.array([35.0]), bare), 750)
        rolls = replace(bare, vehicle=replace(bare.vehicle, rolling_coefficient=0.02))
        np.testing.assert_allclose(wheel_force(np.array([2.5]), np.array([35.0]), rolls), 750 + 58.8399)
        drags = replace(bare, vehicle=replace(bare.vehicle, drag_area=0.8))
        np.testing.assert_allclose(
            wheel_force(np.array([0.0]), np.array([20.0]), drags), 0.5 * drags.conditions.density * 0.8 * 400
        )
        found = hauled(self.grid, self.pull, bare)
        self.assertAlmostEqual(read(found.torque).value, 750 * vehicle.rolling_radius, delta=1)
        self.assertAlmostEqual(read(found.power).value, 750 * self.grid["speed"][read(found.power).at], delta=60)

    def test_gearing_worked_by_hand(self):
        # Engine 0.711 turns a turn of the secondary, that 2.43 a turn of the axle: 1.728 in all.
        geared = replace(self.core, vehicle=replace(self.core.vehicle, drive_ratio=2.43))
        self.assertAlmostEqual(
            read(overall_gearing(self.grid, Reading(0.711, 0.001, 5), geared)).value, 1.72773, places=5
        )


class Pyramids(unittest.TestCase):
    def test_every_level_holds_the_least_and_the_most(self):
        values = np.random.default_rng(6).normal(0, 1, 9999)
        values[500:540] = np.nan
        for number, each in enumerate(pyramid(values)):
            size = FACTOR**number
            padded = np.concatenate([values, np.full(-len(values) % size, np.nan)]).reshape(-1, size)
            with np.errstate(all="ignore"), self.subTest(number):
                lone = np.all(np.isnan(padded), axis=1)
                np.testing.assert_array_equal(np.isnan(each.least), lone)
                np.testing.assert_array_equal(each.least[~lone], np.nanmin(padded[~lone], axis=1))
                np.testing.assert_array_equal(each.most[~lone], np.nanmax(padded[~lone], axis=1))
