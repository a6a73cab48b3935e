"""Putting back, torque, balance, line-up, break-in and close, against published factors and plane geometry."""

import math
import unittest
from datetime import date

import numpy as np

from jaxel.core.errors import Expected, Implausible, InvalidValue
from jaxel.core.trade.kinds.kind_file import Compound, Fastener, Plausible, Tightness
from jaxel.core.trade.rebuild.tightening import (
    Stated,
    Tightened,
    ask_about,
    compound_phase,
    sequence,
    settled,
    wanted,
)
from jaxel.core.trade.rebuild.torque import Wrench, check_wrench, choose_wrench, means_for, reach, set_torque
from jaxel.core.trade.record.plausible import read_otherwise
from jaxel.core.units import FOOT_POUND, parse_quantity
from jaxel.core.words import told as plain

TODAY = date(2026, 11, 25)
SCREW = Fastener(
    key="helix_screws", part="helix", place="Helix screws", count=3, tightness="torque", origin="common practice",
    plausible=Plausible(low=6, high=20, unit="N·m"),
)  # fmt: skip


class Torque(unittest.TestCase):
    def test_units_are_exact(self):
        # NIST SP 811 (2008), B.8: 1 lbf·ft = 1.355 818 N·m, 1 lbf·in = 0.112 984 8 N·m.
        self.assertAlmostEqual(parse_quantity("1 ft-lb", "N·m"), 1.355818, places=6)
        self.assertAlmostEqual(parse_quantity("1 in-lb", "N·m"), 0.1129848, places=7)
        self.assertAlmostEqual(parse_quantity("48 in-lb", "N·m"), parse_quantity("4 ft-lb", "N·m"), places=12)

    def test_an_adapter_by_a_textbooks_example(self):
        # FAA AC 43.13-1B, chapter 7, from memory: 30 ft-lb through a 3 in adapter on a 1 ft wrench reads 24 ft-lb.
        self.assertAlmostEqual(set_torque(30, 304.8, 76.2), 24.0)
        # Turned back over the grip it shortens the lever; across it changes nothing.
        self.assertAlmostEqual(set_torque(30, 304.8, -76.2), 40.0)
        self.assertAlmostEqual(set_torque(30, 304.8, 76.2, 90), 30.0)
        self.assertAlmostEqual(set_torque(30, 304.8, 76.2, 45), 30 * 12 / (12 + 3 * math.sqrt(0.5)))

    def test_moments_balance_about_the_fastener(self):
        # The hand's force times its true distance to the fastener, across that line, is the torque that was wanted.
        for length, far, angle in ((350, 80, 0), (350, -60, 0), (510, 120, 30), (340, 50, 135)):
            setting = set_torque(90.0, length, far, angle)
            force = setting / (length / 1000)
            grip = np.array([-length, 0.0]) / 1000
            fastener = np.array([far * math.cos(math.radians(angle)), far * math.sin(math.radians(angle))]) / 1000
            arm = grip - fastener
            moment = arm[0] * -force  # a force across the grip, along −y
            self.assertAlmostEqual(moment, 90.0)

    def test_adapters_that_cannot_be(self):
        for length, far, field in ((0, 50, "length_mm"), (-300, 50, "length_mm"), (300, -290, "extension_mm")):
            with self.subTest(field), self.assertRaises(InvalidValue) as caught:
                set_torque(50, length, far)
            self.assertEqual(caught.exception.field, field)

    def test_a_wrench_is_overdue_from_the_day_after(self):
        bench = Wrench("bench", low_nm=10, high_nm=80, step_nm=0.5, due_on="2026-11-29")
        for day, words in (
            (28, "due for checking on"),
            (29, "due for checking on"),
            (30, "overdue for checking since"),
        ):
            self.assertEqual(reach(bench, 40, date(2026, 11, day)).words, f"{words} 2026-11-29")

    def test_the_ends_of_a_wrench_are_its_own(self):
        bench = Wrench("bench", low_nm=10, high_nm=80, step_nm=0.5)
        fits = [reach(bench, torque, TODAY).fits for torque in (9.99, 10, 80, 80.01)]
        self.assertEqual(fits, [False, True, True, False])

    def test_a_torque_is_asked_about_beyond_a_tenth_of_what_it_is_to_be(self):
        for torque, asked in ((10.0, False), (9.99, True), (12.1, False), (12.11, True)):
            with self.subTest(torque):
                if asked:
                    self.assertRaises(Implausible, ask_about, "torque", SCREW, torque, wanted_nm=11)
                else:
                    ask_about("torque", SCREW, torque, wanted_nm=11)

    def test_which_wrench_fits(self):
        small = Wrench("small", low_nm=1, high_nm=6, step_nm=0.1)
        bench = Wrench("bench", low_nm=10, high_nm=80, step_nm=0.5, length_mm=340, due_on="2027-02-04")
        long = Wrench("long", low_nm=12, high_nm=200, step_nm=2, length_mm=510, due_on="2026-09-30")
        times = Wrench("times four", "multiplier", ratio=4, high_nm=800)
        own = [small, bench, long, times]
        found = choose_wrench(16, own, TODAY)
        self.assertEqual((found.best.wrench.name, found.best.words), ("bench", "due for checking on 2027-02-04"))
        self.assertEqual({each.wrench.name: each.words for each in found.others},
                         {"long": "cannot resolve it", "small": "does not reach it"})  # fmt: skip
        self.assertEqual(choose_wrench(120, own, TODAY).best.words, "overdue for checking since 2026-09-30")
        self.assertEqual(choose_wrench(40, own, TODAY).best.wrench.name, "bench")  # not overdue goes first
        none = choose_wrench(390, own, TODAY)
        self.assertIsNone(none.best)
        self.assertEqual(plain(none.instead[0]), "through times four, 4 to 1: long set to 97.5 N·m")
        self.assertEqual(len(choose_wrench(900, own, TODAY).instead), 2)  # beyond the multiplier: borrowed or marked
        # Through an adapter the setting decides, not the torque.
        self.assertAlmostEqual(reach(bench, 90, TODAY, 85).setting_nm, 72.0)
        self.assertTrue(reach(bench, 90, TODAY, 85).fits)
        self.assertIn("length is not known", reach(small, 5, TODAY, 20).words)
        self.assertEqual(reach(bench, 9, TODAY).words, "begins above it")
        fresh = Wrench("fresh", low_nm=5, high_nm=200, step_nm=1)
        self.assertEqual(choose_wrench(106, [long, fresh], TODAY).best.wrench.name, "fresh")
        weak = Wrench("weak", "multiplier", ratio=4, high_nm=300)
        self.assertTrue(choose_wrench(390, [long, weak], TODAY).instead[0].startswith("borrow"))

    def test_wrenches_that_cannot_be(self):
        for wrench, field in (
            (Wrench(" ", low_nm=1, high_nm=5, step_nm=1), "name"),
            (Wrench("a", low_nm=5, high_nm=5, step_nm=1), "high"),
            (Wrench("a", low_nm=80, high_nm=10, step_nm=1), "high"), (Wrench("a", high_nm=10, step_nm=0), "step"),
            (Wrench("a", high_nm=10, step_nm=11), "step"), (Wrench("a", "multiplier", high_nm=500), "ratio"),
            (Wrench("a", "multiplier", ratio=4), "high"),
            (Wrench("a", "multiplier", ratio=1, high_nm=9), "ratio"),
            (Wrench("a", high_nm=9, step_nm=1, ratio=2), "ratio"),
        ):  # fmt: skip
            with self.subTest(field), self.assertRaises(InvalidValue) as caught:
                check_wrench(wrench)
            self.assertEqual(caught.exception.field, field)

    def test_an_implausible_unit_is_asked_about(self):
        with self.assertRaises(Implausible) as caught:
            ask_about("torque", SCREW, 60 * FOOT_POUND)
        self.assertEqual(caught.exception.meant, {})  # what was typed is the web's to know
        expected = caught.exception.expected
        assert expected is not None
        words, meant = read_otherwise("60 ft-lb", expected)
        self.assertEqual((plain(words), meant), ("60 in-lb, which is 6.78 N·m", "60 in-lb"))
        # The number stays the hand's own: 48 in-lb is never offered as what it comes to in another unit.
        for typed, offered in (
            ("48 in-lb", ""),
            ("48 N·m", "48 in-lb"),
            ("1.4 N·m", "14 N·m"),
            ("140 N·m", "140 in-lb"),
        ):
            self.assertEqual(read_otherwise(typed, Expected("N·m", 5.0, 20.0, 0.0))[1], offered, typed)
        for torque in (6, 14, 20):
            ask_about("torque", SCREW, torque)
        with self.assertRaises(Implausible):
            ask_about("torque", SCREW, 14, wanted_nm=11)
        for torque in (0, -3):
            self.assertRaises(InvalidValue, ask_about, "torque", SCREW, torque)

    def test_sources_that_differ(self):
        manual, sheet = (
            Stated(1, "torque", 14, "manual", own=True),
            Stated(2, "torque", 11.5, "part maker's sheet", own=True),
        )
        found = wanted(SCREW, [sheet, manual], None)
        self.assertEqual((found.torque_nm, found.source, found.conflict), (14, "manual", True))
        chosen = wanted(SCREW, [sheet, manual], 2)
        self.assertEqual((chosen.torque_nm, chosen.conflict), (11.5, False))
        same = Stated(3, "torque", 14.1, "common practice", own=True)  # the same value, rounded in another unit
        self.assertFalse(wanted(SCREW, [manual, same], None).conflict)
        shoulder = Stated(4, "to the shoulder", None, "from memory", own=True)
        self.assertTrue(wanted(SCREW, [manual, shoulder], None).conflict)
        elsewhere = Stated(9, "torque", 12, "manual")  # another machine's, or nobody knows whose: it holds nowhere
        self.assertEqual(wanted(SCREW, [manual, elsewhere], 9).torque_nm, 14)
        self.assertIsNone(wanted(SCREW, [elsewhere], 9).by)
        self.assertEqual(elsewhere.words.split(", ", 1)[1], "machine and manual not recorded")
        self.assertEqual(wanted(SCREW, [], None).torque_nm, None)
        late = Stated(7, "torque", 13, "manual", own=True)  # of two words of one source the latest
        self.assertEqual(wanted(SCREW, [manual, late], None).torque_nm, 13)
        self.assertFalse(wanted(SCREW, [manual, sheet, shoulder], 2).conflict)

    def test_criss_cross_is_every_place_once_and_opposite_next(self):
        self.assertEqual(sequence(5), [0, 2, 4, 1, 3])
        for count in range(1, 25):
            order = sequence(count)
            self.assertEqual(sorted(order), list(range(count)))
            if count % 2 == 0 and count > 2:
                self.assertTrue(
                    all((b - a) % count == count // 2 for a, b in zip(order[::2], order[1::2], strict=True))
                )

    def test_a_compound_by_its_minutes(self):
        lock = Compound(kind="threadlocker", where="thread", working_min=10, cure_min=1440, origin="from memory")
        for minutes, told in ((None, ""), (9.9, "working"), (10.0, "setting"), (1439.0, "setting"), (1440.0, "cured")):
            self.assertEqual(compound_phase(lock, minutes), told)

    def test_what_a_fastener_lacks(self):
        cases: tuple[tuple[Tightened, Tightness, str], ...] = (
            (Tightened(), "torque", "not tightened"), (Tightened("owed"), "torque", "torque owed"),
            (Tightened("done"), "torque", "the torque it was given"), (Tightened("done", 14.0, "wrench"), "torque", ""),
            (Tightened("done", None, "index mark"), "torque", ""), (Tightened("done"), "to the shoulder", ""),
        )  # fmt: skip
        for done, tightness, words in cases:
            self.assertEqual(settled(done, tightness), words)


class ByWhat(unittest.TestCase):
    def test_what_a_fastener_is_likely_tightened_by(self):
        bench = Wrench("bench", low_nm=10, high_nm=80, step_nm=0.5)
        times = Wrench("times four", "multiplier", ratio=4, high_nm=800)
        today = date(2026, 11, 29)
        self.assertEqual(means_for("to the shoulder", None), "by hand")
        self.assertEqual(means_for("torque", None), "")
        self.assertEqual(means_for("torque", choose_wrench(40, [bench, times], today)), "wrench")
        self.assertEqual(means_for("torque", choose_wrench(300, [bench, times], today)), "multiplier")
        self.assertEqual(means_for("torque", choose_wrench(300, [bench], today)), "")
