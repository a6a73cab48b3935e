"""Readings far from what is typical are asked about; what to look at in the time there is."""

import unittest
from dataclasses import dataclass

from jaxel.core.trade.stranger.combination import combination
from jaxel.core.trade.stranger.look import look
from jaxel.core.trade.stranger.measure import chord
from jaxel.core.trade.stranger.packages import packages
from jaxel.core.words import told

from .test_strangers import line, quad, taken

CANNOT_BE = ("belt_round", "hub")


class FarFromTypical(unittest.TestCase):
    """Beyond three of its spread a reading is asked about, and taken once a hand says that it is so."""

    def test_asked_about_in_words_and_not_taken(self):
        for key, typed, field, words, meant in (
            # 897 ± 2.5: three are 7.5.
            ("belt_round", {"round_mm": "904.6"}, "round_mm", "is far from the 897 ± 2.5 mm that is typical: 3", ""),
            ("belt_round", {"round_mm": "35.3 mm"}, "round_mm", "typical: 345 times its ±", "35.3 in"),
            ("side_gap", {"gap_mm": "0"}, "gap_mm", "far from the 0.8 ± 0.5 mm", ""),
            ("helix_stamp", {"stamp": "5"}, "stamp", "comes to 5°, far from the 38°", ""),
            ("hub", {"across_mm": "6.44"}, "across_mm", "far from the 64.4 ± 2 mm", "6.44 cm"),
            ("centre_distance", {"outside_mm": "238", "shaft_1_mm": "20", "shaft_2_mm": "25"}, "outside_mm", "215", ""),
            ("power", {"power_kw": "40"}, "power_kw", "far from the 26 kW", ""),
        ):
            with self.subTest(key=key, typed=typed):
                found = look(quad(), {key: typed})
                asked = line(found, key)
                self.assertEqual((asked.state, asked.field, asked.meant[1]), ("far", field, meant))
                self.assertIn(words, told(asked.reason))
                self.assertEqual(found.document, quad())
                so = look(quad(), {key: typed}, sure=[key])
                # A hand is believed, as far as there can be such a clutch.
                self.assertEqual(line(so, key).state, "refused" if key in CANNOT_BE and meant else "taken")

    def test_within_its_spread_nobody_asks(self):
        for key, typed in (("belt_round", {"round_mm": "904.4"}), ("side_gap", {"gap_mm": "2.2"}),
                           ("helix_stamp", {"stamp": "44"}), ("altitude", {"altitude_m": "3000"})):  # fmt: skip
            with self.subTest(key):
                self.assertEqual(line(look(quad(), {key: typed}), key).state, "taken")

    def test_a_measured_number_is_asked_about_where_it_is_another_machine_s(self):
        once = look(quad(), taken(belt_round__round_mm="899")).document
        self.assertEqual(line(look(once, taken(belt_round__round_mm="894")), "belt_round").state, "taken")
        self.assertEqual(line(look(once, taken(belt_round__round_mm="89.9")), "belt_round").state, "far")

    def test_a_new_belt_s_width_moves_what_is_typical_of_the_fitted_one(self):
        found = look(quad(), taken(belt_new__width_mm="32"))
        self.assertEqual((found.document.belt.top_width_new_mm, found.document.belt.top_width_mm), (32, 32))
        self.assertEqual(line(found, "belt_width").origin, "typical")
        both = look(quad(), taken(belt_width__width_mm="31.4", belt_new__width_mm="32"))
        self.assertEqual(both.document.belt.top_width_mm, 31.4)
        # 30.1 is 3.2 of its spread under a belt of 32, and within it under one of 31.
        self.assertEqual(line(look(quad(), taken(belt_width__width_mm="30.1")), "belt_width").state, "taken")
        worn = look(quad(), taken(belt_width__width_mm="30.1", belt_new__width_mm="32"))
        self.assertEqual(line(worn, "belt_width").state, "far")

    def test_a_refusal_goes_when_its_cause_is_put_right(self):
        wide = taken(belt_width__width_mm="32.5")
        self.assertEqual(line(look(quad(), wide), "belt_width").state, "refused")
        self.assertEqual(line(look(quad(), wide | taken(belt_new__width_mm="32")), "belt_width").state, "taken")

    def test_one_that_another_stands_in_the_way_of_is_tried_again(self):
        # A gap of 27 mm in a travel of 26: the sheave would meet its end. With 40 of travel, typed after it, it fits.
        gap = taken(side_gap__gap_mm="27")
        self.assertEqual(line(look(quad(), gap, sure=["side_gap"]), "side_gap").state, "refused")
        both = look(quad(), gap | taken(primary_travel__open_mm="75", primary_travel__closed_mm="35"),
                    sure=["side_gap", "primary_travel"])  # fmt: skip
        self.assertEqual({line(both, key).state for key in ("side_gap", "primary_travel")}, {"taken"})

    def test_neighbouring_pins_by_how_many_there_are(self):
        # Two pins stand across, 2 r; three √3 r; four √2 r.
        sled = packages()["sled-tower-600"].document
        for count, expected in ((2, 2.0), (3, 3**0.5), (4, 2**0.5)):
            weights = sled.primary.weights.model_copy(update={"count": count})
            primary = sled.primary.model_copy(update={"weights": weights})
            self.assertAlmostEqual(chord(sled.model_copy(update={"primary": primary})), expected)


class InTheTimeThereIs(unittest.TestCase):
    def test_the_best_of_every_choice_by_hand(self):
        # Alone: a leaves 70, 60; b 64, 40; c 80, 80. a and c in 9 min: √(100² − 51·100 − 36·100) = 36.1 and
        # √(100² − 64·100 − 36·100) = 0. b and c take 11; a and b settle the same number; d is worth no walk.
        offers = [Offered("a", ("x",), 4, 30, 40), Offered("b", ("x", "y"), 6, 36, 60), Offered("c", ("z",), 5, 20, 20),
                  Offered("d", ("w",), 1, 0.4, 0.4)]  # fmt: skip
        found = combination(offers, (100.0, 100.0), 10)
        self.assertEqual((found.readings, found.minutes), (("a", "c"), 9))
        self.assertAlmostEqual(found.engagement_sd_rpm, 36.056, places=3)
        self.assertAlmostEqual(found.shift_sd_rpm, 0.0)
        self.assertEqual(combination(offers, (100.0, 100.0), 8).readings, ("b",))
        self.assertEqual(combination(offers, (100.0, 100.0), 3).readings, ())

    def test_it_leaves_what_it_said_it_would(self):
        typical = {"weights": {"mass_g": "20"}, "belt_width": {"width_mm": "31"}, "power": {"power_kw": "26"},
                   "side_gap": {"gap_mm": "0.8"}, "belt_new": {"width_mm": "31"}, "helix_stamp": {"stamp": "38"},
                   "altitude": {"altitude_m": "150"}}  # fmt: skip
        before = look(quad(), {}, minutes=10)
        self.assertLessEqual(before.best.minutes, 10)
        self.assertLessEqual(set(before.best.readings), set(typical))
        after = look(quad(), {key: typical[key] for key in before.best.readings})
        self.assertAlmostEqual(after.sd_rpm[0], before.best.engagement_sd_rpm, delta=4)
        self.assertAlmostEqual(after.sd_rpm[1], before.best.shift_sd_rpm, delta=8)


@dataclass(frozen=True)
class Offered:
    key: str
    paths: tuple[str, ...]
    minutes: float
    engagement_rpm: float
    shift_rpm: float
