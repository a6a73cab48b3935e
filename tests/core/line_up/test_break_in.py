"""Putting back, torque, balance, line-up, break-in and close, against published factors and plane geometry."""

import unittest

from jaxel.core.trade.line_up.break_in import BreakIn, HeatCycle, counted, lacks, phase, remarks
from jaxel.core.words import told as plain


class NewBelt(unittest.TestCase):
    def cycle(self, warm="12:17", cool="13:00", warm_c=62.0, cool_c=4.0):
        stamp = "2026-11-25T{}:00Z".format
        return HeatCycle(1, stamp("12:00"), stamp(warm) if warm else "", warm_c, stamp(cool) if cool else "", cool_c)

    def test_phases_by_the_clock(self):
        at = "2026-11-25T{}:00Z".format
        self.assertEqual(phase(self.cycle("", ""), at("12:10")), ("warming", 10.0))
        self.assertEqual(phase(self.cycle("", ""), at("12:16")), ("warm", 16.0))
        self.assertEqual(phase(self.cycle(cool=""), at("12:20")), ("cooling", 3.0))
        self.assertEqual(phase(self.cycle(), at("15:00"))[0], "done")

    def test_what_does_not_count(self):
        for cycle, words in (
            (self.cycle(), []), (self.cycle(warm="12:06"), ["warmed for 6 of 15 minutes"]),
            (self.cycle(warm_c=30.0), ["30 °C is not working temperature"]),
            (self.cycle(warm_c=95.0), ["95 °C scorches a new belt"]),
            (self.cycle(cool="12:22", cool_c=None), ["cooled for 5 of 20 minutes"]),
            (self.cycle(cool_c=15.0), ["15 °C is not cooled right down"]), (self.cycle(cool_c=4.9), []),
            (self.cycle(warm_c=None, cool_c=None), []),
        ):  # fmt: skip
            self.assertEqual([plain(each) for each in remarks(cycle, -5)], words)

    def test_released_or_overruled(self):
        done = self.cycle()
        self.assertEqual(remarks(self.cycle(cool_c=14.0), 5), [])
        self.assertEqual(counted([done, self.cycle(warm="12:03")], -5), 1)
        self.assertIn("1 of 2 heat cycles to go", lacks(BreakIn(), [done], 2, -5)[0][1])
        self.assertIn("not yet released", lacks(BreakIn(), [done, done], 2, -5)[0][1])
        self.assertEqual(lacks(BreakIn("released"), [done, done], 2, -5), [])
        self.assertEqual(len(lacks(BreakIn("released"), [done], 2, -5)), 1)  # said too early
        self.assertEqual(lacks(BreakIn("overruled"), [], 2, -5)[0][0], "break_in_reason")
        self.assertEqual(lacks(BreakIn("overruled", "race in an hour"), [], 2, -5), [])
