"""Stand-ins for the bench's devices, over many seeds.

Each bound holds but for one chance in a million: a normal mean within 4.9 of its deviations, a variance within the
chi-square distribution's 5·10⁻⁷ quantiles (scipy.stats); twelve such checks a run.
"""

import unittest
from datetime import UTC, datetime, timedelta
from math import exp, sqrt

import numpy as np
from scipy.stats import chi2

from jaxel.core.formats.device_reading import DEVICES
from jaxel.instruments.stand_in import BUILDS, OTHER_UNIT, WRONG_UNIT, StandIn

SEEDS = 1500
SURE = 4.9
HALF = 5e-7
TRUE = {
    "caliper": 35.4,
    "feeler gauge": 1.3,
    "scale": 62.3,
    "spring tester": 770.0,
    "torque wrench": 68.0,
    "tachometer": 7900.0,
    "thermometer": 41.0,
    "alignment bar": 35.2,
    "angle gauge": 45.0,
}


def spread(key):
    build = BUILDS[key]
    return sqrt(build.noise**2 + (build.relative * TRUE[key]) ** 2 + build.hand**2 + build.resolution**2 / 12)


class Readings(unittest.TestCase):
    def read(self, key, **how):
        values = []
        for seed in range(SEEDS):
            held = StandIn(key, TRUE[key], np.random.default_rng(seed), unit=DEVICES[key].unit, **how)
            values.append(held.read().value)
        return np.array(values)

    def assert_about(self, values, mean, sd, msg):
        self.assertAlmostEqual(float(values.mean()), mean, delta=SURE * sd / sqrt(SEEDS), msg=msg)
        low, high = (float(chi2.ppf(each, SEEDS - 1)) for each in (HALF, 1 - HALF))
        ratio = float(values.var(ddof=1)) * (SEEDS - 1) / sd**2
        # A display's steps are not normal: its own variance is in `sd`, its shape widens the bound by a fifth.
        self.assertTrue(low * 0.8 <= ratio <= high * 1.2, (msg, float(values.std()), sd))

    def test_a_device_set_to_zero_reads_what_is_there_with_its_noise(self):
        for key in BUILDS:
            self.assert_about(self.read(key), TRUE[key], spread(key), key)

    def test_a_zero_that_is_off_stays_off_until_it_is_set(self):
        self.assert_about(self.read("caliper", zero_off=0.2), TRUE["caliper"] + 0.2, spread("caliper"), "off")
        off = np.array([StandIn.picked_up("caliper", 0.0, seed).zero_off for seed in range(SEEDS)])
        self.assert_about(off, 0.0, BUILDS["caliper"].zero, "zeros as they are left")
        set_again = [StandIn.picked_up("caliper", 0.0, seed).zeroed().zero_off for seed in range(SEEDS)]
        self.assertLessEqual(max(map(abs, set_again)), BUILDS["caliper"].resolution / 2)

    def test_it_shows_its_zero_when_it_holds_nothing(self):
        self.assertEqual(StandIn("caliper", 35.0, np.random.default_rng(1), zero_off=-0.03, unit="mm").at_rest(), -0.03)

    def test_one_that_warms_up_drifts_and_settles(self):
        build = BUILDS["scale"]
        for seconds in (0.0, 90.0, 900.0):
            drift = build.warm_up * exp(-seconds / build.warm_s)
            self.assert_about(self.read("scale", on_for=seconds), TRUE["scale"] + drift, spread("scale"), str(seconds))

    def test_every_display_has_its_steps(self):
        for key, build in BUILDS.items():
            steps = self.read(key)[:50] / build.resolution
            np.testing.assert_allclose(steps, np.round(steps), atol=1e-6, err_msg=key)

    def test_the_other_unit_shows_the_same_thing(self):
        caliper = StandIn("caliper", 25.4, np.random.default_rng(3), unit="mm").switched("in")
        found = caliper.read()
        self.assertEqual(found.unit, "in")
        self.assertAlmostEqual(found.value, 1.0, delta=5 * 0.042 / 25.4)
        self.assertAlmostEqual(found.sd, BUILDS["caliper"].sd(25.4) / 25.4, places=9)
        cold = StandIn("thermometer", 0.0, np.random.default_rng(3), unit="°C").switched("°F").read()
        self.assertAlmostEqual(cold.value, 32.0, delta=5 * 1.05 * 1.8)
        with self.assertRaises(ValueError):
            caliper.switched("N")

    def test_a_switch_is_seldom_left_on_the_other_unit(self):
        left = sum(StandIn.picked_up("scale", 60.0, seed).unit == OTHER_UNIT["g"] for seed in range(SEEDS))
        self.assertAlmostEqual(left / SEEDS, WRONG_UNIT, delta=SURE * sqrt(WRONG_UNIT * (1 - WRONG_UNIT) / SEEDS))

    def test_the_deviation_it_states_is_the_one_it_has(self):
        for key in BUILDS:
            stated = StandIn(key, TRUE[key], np.random.default_rng(0), unit=DEVICES[key].unit).read().sd
            self.assertAlmostEqual(stated, spread(key), places=9, msg=key)

    def test_when_is_its_clock_s(self):
        noon = datetime(2026, 11, 30, 12, tzinfo=UTC)
        read = StandIn("scale", 60.0, np.random.default_rng(0), unit="g", clock=lambda: noon).read()
        self.assertEqual(read.when, noon)
        self.assertLess(datetime.now(UTC) - StandIn("scale", 60.0, np.random.default_rng(0), unit="g").read().when,
                        timedelta(seconds=5))  # fmt: skip

    def test_every_device_of_a_reading_has_its_stand_in(self):
        self.assertEqual(set(BUILDS), set(DEVICES))
