"""Odds against outcomes, riders' words against directions, and what predictions are known from."""

import unittest
from typing import Any

import numpy as np
from pydantic import ValidationError
from scipy.stats import binomtest

from jaxel.core.formats.run.runs import RunPart
from jaxel.core.trade.run.odds import AnswerTaken, known_from, odds_groups
from jaxel.core.trade.run.rider_word import (
    Place,
    Predicted,
    RiderWord,
    Word,
    direction,
    direction_scores,
    word_evidence,
)


def taken(**values: Any) -> AnswerTaken:
    usual: dict[str, Any] = {
        "probability": 0.8, "engagement_window": (4000.0, 100.0), "shift_window": (7900.0, 100.0),
        "engagement_rpm": 3990.0, "engagement_sd_rpm": 50.0, "shift_rpm": 7890.0, "shift_sd_rpm": 40.0,
        "known_from": "2 runs",
    }  # fmt: skip
    return AnswerTaken(**usual | values)


class Odds(unittest.TestCase):
    def test_landed_is_inside_both(self):
        answer = taken()
        self.assertTrue(answer.landed(3900.0, 8000.0))
        self.assertFalse(answer.landed(3899.0, 7900.0))
        self.assertFalse(answer.landed(4000.0, 8001.0))

    def test_no_answer_without_a_window_or_with_odds_beyond_one(self):
        for wrong in ({"probability": 1.2}, {"shift_window": (7900.0, 0.0)}, {"shift_sd_rpm": -1.0}):
            with self.assertRaises((ValidationError, ValueError)):
                taken(**wrong)

    def test_a_group_is_shown_from_five_on(self):
        outcomes = [(0.3, False)] * 4 + [(0.5, True), (0.8, True), (0.81, False)]
        low, middle, high = odds_groups(outcomes)
        self.assertEqual((low.count, low.landed), (5, 1))
        self.assertAlmostEqual(low.odds, 0.34)
        self.assertEqual((middle.count, middle.landed, middle.odds), (1, None, None))
        self.assertEqual((high.count, high.landed), (1, None))

    def test_its_interval_is_the_exact_one(self):
        for count, landed in ((5, 0), (6, 6), (20, 13), (100, 81)):
            group = odds_groups([(0.9, place < landed) for place in range(count)])[2]
            wanted = binomtest(landed, count).proportion_ci(0.95, method="exact")
            self.assertAlmostEqual(group.landed_low, wanted.low, places=3)
            self.assertAlmostEqual(group.landed_high, wanted.high, places=3)

    def test_simulated_workshops(self):
        """Of workshops whose odds are true the interval covers the mean odds as often as it says, and of those whose
        odds are too modest by a fifth it does not."""
        rng, covered, found_out, shown = np.random.default_rng(5), 0, 0, 0
        for _ in range(200):
            odds = rng.uniform(0.05, 0.98, 60)
            for modest in (0.0, 0.35):
                outcomes = [(float(each), bool(rng.random() < min(1.0, each + modest))) for each in odds]
                for group in odds_groups(outcomes):
                    if group.landed is None:
                        continue
                    inside = group.landed_low <= group.odds <= group.landed_high
                    if modest:
                        found_out += group.low < 0.5 and not inside
                    else:
                        shown, covered = shown + 1, covered + inside
        self.assertGreater(covered / shown, 0.93)
        self.assertGreater(found_out, 150)

    def test_known_from(self):
        runs = [RunPart(shift_mean_rpm=7900.0, note="2026-11-27, as found"),
                RunPart(shift_mean_rpm=7910.0, note="2026-11-28, road test")]  # fmt: skip
        self.assertEqual(known_from(runs), "2 runs, the last 2026-11-28, road test")
        self.assertEqual(known_from(()), "no run of this machine")


class Words(unittest.TestCase):
    def test_the_direction_predicted(self):
        low, high = Predicted(3900.0, 7700.0), Predicted(4150.0, 7880.0)
        aims = (4000.0, 7900.0)
        self.assertEqual(direction(low, high, "top", *aims), "better")
        self.assertEqual(direction(high, low, "top", *aims), "worse")
        self.assertEqual(direction(low, high, "mid", *aims), "better")
        self.assertEqual(direction(low, high, "take-up", *aims), "worse")
        self.assertEqual(direction(low, Predicted(3910.0, 7705.0), "top", *aims), "no change")
        self.assertIsNone(direction(low, high, "back-shift", *aims))
        self.assertIsNone(direction(Predicted(None, None), high, "top", *aims))

    def test_scored_as_a_direction(self):
        rows: list[tuple[Place, Word, Word | None]] = [
            ("top", "better", "better"),
            ("top", "no change", "better"),
            ("take-up", "worse", "worse"),
        ]
        found = {each.place: (each.agreed, each.count) for each in direction_scores(rows)}
        self.assertEqual(found, {"take-up": (1, 1), "top": (1, 2)})

    def test_the_last_word_of_a_place_counts(self):
        words = [RiderWord(1, "take-up", "better"), RiderWord(2, "take-up", "worse"), RiderWord(2, "mid", "better")]
        self.assertEqual(word_evidence(words), {"word:take-up": True, "word:mid": False})
