"""The simulated logger: noise and faults of the size it says, the same for the same seed, written in its style."""

import csv
import io
import unittest
from collections.abc import Callable
from typing import Any

import numpy as np

from jaxel.instruments.logger import STYLES, Clock, Logger, Style

RUN = {
    "time_s": np.arange(0, 10, 0.01),
    "engine_rpm": np.linspace(2000, 8000, 1000),
    "secondary_rpm": np.linspace(0, 4000, 1000),
    "speed_kph": np.linspace(0, 100, 1000),
    "throttle_pct": np.full(1000, 100.0),
    "belt_temp_c": np.linspace(20, 60, 1000),
}


class Faults(unittest.TestCase):
    def test_the_same_seed_writes_the_same(self):
        one, same, other = (Logger(spikes=0.02, lost=0.02).written(RUN, seed) for seed in (4, 4, 5))
        self.assertEqual(one, same)
        self.assertNotEqual(one, other)

    def test_noise_has_its_size(self):
        # A standard deviation from 1,000 samples is good to 2 %: three of those.
        rows = Logger(noise={"engine_rpm": 20.0}).rows(RUN, 1)
        self.assertAlmostEqual(np.std(rows["engine_rpm"] - RUN["engine_rpm"]), 20, delta=1.4)
        np.testing.assert_array_equal(rows["speed_kph"], RUN["speed_kph"])

    def test_shares_lost_and_wild_are_those(self):
        # Of 1,000 a tenth is 100 ± 9.5: three of those.
        rows = Logger(noise={}, lost=0.1).rows(RUN, 2)
        self.assertAlmostEqual(np.isnan(rows["engine_rpm"]).sum(), 100, delta=29)
        self.assertAlmostEqual(len(Logger(dropout=0.1).rows(RUN, 2)["time_s"]), 900, delta=29)
        wild = Logger(noise={}, spikes=0.1).rows(RUN, 2)["engine_rpm"]
        self.assertAlmostEqual(np.sum(wild != RUN["engine_rpm"]), 100, delta=29)

    def test_a_gap_has_no_rows(self):
        time = Logger(gaps=1, gap_s=0.5).rows(RUN, 3)["time_s"]
        self.assertAlmostEqual(np.diff(time).max(), 0.5, delta=0.03)

    def test_a_slow_instrument_is_written_again(self):
        speed = Logger(noise={}, slow_hz={"speed_kph": 10}).rows(RUN, 1)["speed_kph"]
        self.assertEqual(len(np.unique(speed)), 100)
        self.assertEqual(len(np.unique(speed[:10])), 1)

    def test_clocks(self):
        clocks: tuple[tuple[Clock, Callable[[Any], Any]], ...] = (
            ("jitter", lambda t: np.diff(t).min() > 0 and np.ptp(np.diff(t)) > 0.005),
            ("repeats", lambda t: (np.diff(t) == 0).sum() > 10),
            ("disorder", lambda t: (np.diff(t) < 0).sum() > 10),
            ("set back", lambda t: np.isclose(np.diff(t).min(), -999.99, atol=0.1)),
            ("set ahead", lambda t: np.isclose(np.diff(t).max(), 3600.01, atol=0.1)),
            ("wild", lambda t: (t > 1e4).sum() == 3),
        )
        for clock, what in clocks:
            with self.subTest(clock):
                self.assertTrue(what(Logger(clock=clock).rows(RUN, 6)["time_s"]))

    def test_its_rate(self):
        self.assertEqual(len(Logger(hz=20).rows(RUN, 1)["time_s"]), 200)


class Styles(unittest.TestCase):
    def test_its_own_heads_are_fields_with_their_units(self):
        rows = list(csv.DictReader(io.StringIO(Logger(noise={}).written(RUN, 0).decode())))
        self.assertEqual(list(rows[0]), list(RUN))
        self.assertEqual((rows[500]["engine_rpm"], rows[-1]["speed_kph"]), ("5003", "100.00"))

    def test_units_are_converted_and_blanks_written(self):
        text = Logger(noise={}, lost=0.05).styled("bracketed").written(RUN, 1).decode().splitlines()
        self.assertEqual(text[:2], ["Log of the day", "channels 5"])
        self.assertTrue(text[3].startswith("Vehicle speed (mph),Elapsed (ms)"))
        last = text[-1].split(",")
        self.assertEqual((last[0], last[1]), ("62.14", "9990.0"))  # 100 km/h are 62.137 mph (NIST SP 811)
        self.assertIn("---", "".join(text))

    def test_a_decimal_comma_and_a_mark_of_order(self):
        data = Logger(noise={}).styled("semicolons").written(RUN, 1)
        self.assertTrue(data.startswith(b"\xef\xbb\xbf"))
        self.assertIn("9,9900;8000;100,00", data.decode("utf-8-sig"))

    def test_what_has_no_heading_is_not_written(self):
        self.assertEqual(Logger(style=Style({"time_s": "t"})).written(RUN, 1).decode().splitlines()[0], "t")
        self.assertEqual(len(STYLES), 6)
