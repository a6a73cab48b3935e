"""What a hand says is found, and every word on screen that is not plain is in the glossary, once."""

import re
import unittest
from pathlib import Path
from typing import get_args

from jaxel.core.trade.kinds import guide
from jaxel.core.trade.kinds.glossary import glossary
from jaxel.core.trade.kinds.guide import Found
from jaxel.core.trade.record.said import Station
from jaxel.core.trade.strip.diagnosis import complaint_lines

FRONT_END = Path(__file__).parents[3] / "frontend" / "src"
COMPLAINTS = [Found("", "", "Complaint", name, text, "common practice") for name, text in complaint_lines()]


def found(words: str) -> set[tuple[str, str]]:
    return {(each.section, each.heading) for each in guide.search(words, COMPLAINTS)}


class HandWords(unittest.TestCase):
    def test_a_hand_s_words_find_what_the_guide_calls_it(self):
        for words, expected in (
            ("rattle", ("Complaint", "Rattles at idle")),
            ("it lurches", ("Complaint", "Jerky take-off")),
            ("won't come off", ("Tear-down", "Secondary bolt")),
            ("won’t come off", ("Tear-down", "Secondary bolt")),
            ("stuck", ("Tear-down", "Secondary bolt")),
            ("will not stop pulling", ("Complaint", "Creeps at idle, drags")),
            ("lot of revs", ("Complaint", "Takes off late, at high rpm")),
            ("as if in a higher gear", ("Complaint", "Starts as if in a higher gear")),
            ("missing washer", ("Wear", "Roller thrust washers")),
            ("doesn't line up", ("Rebuild", "Spider")),
            ("spider overhaul", ("Job", "Spider overhaul")),
            ("density altitude", ("Glossary", "Density altitude")),
        ):
            with self.subTest(words=words):
                self.assertIn(expected, found(words))

    def test_every_word_still_has_to_be_held(self):
        self.assertEqual(found("stuck clicker zebra"), set())
        self.assertIn(("Tear-down", "Secondary bolt"), found("stuck secondary"))
        self.assertNotIn(("Tear-down", "Retaining bolt"), found("stuck secondary"))
        self.assertEqual(guide.search("the of a"), [])

    def test_every_saying_finds_something(self):
        for saying in guide._sayings():
            for said in saying.says:
                self.assertTrue(guide.search(said, COMPLAINTS), said)


class Glossary(unittest.TestCase):
    def test_a_sentence_or_two_each_and_no_word_twice(self):
        names = [each.name.casefold() for each in glossary().values()]
        self.assertEqual(len(names), len(set(names)))
        self.assertGreaterEqual(len(names), 45)
        for each in glossary().values():
            self.assertTrue(each.text.endswith("."), each.key)
            self.assertLessEqual(each.text.count(". ") + 1, 2, each.key)

    def test_the_words_that_a_stranger_would_ask_about_are_there(self):
        said = {word.casefold() for each in glossary().values() for word in (each.name, *each.also)}
        for word in ("snap", "bite", "hit", "grip", "spread", "reach", "helix", "clicker", "torque owed", "odds"):
            self.assertIn(word, said)

    def test_every_screen_has_its_words(self):
        for screen in (*get_args(Station), "bring-in", "machines"):
            here = [each for each in glossary().values() if screen in each.at]
            self.assertTrue(here, screen)
        self.assertIn("band", [each.key for each in glossary().values() if "everywhere" in each.at])

    def test_every_word_explained_where_it_stands_is_known(self):
        used = {
            key
            for path in FRONT_END.rglob("*.tsx")
            for key in re.findall(r'\bterm="([a-z_]+)"', path.read_text(encoding="utf-8"))
        }
        self.assertLessEqual(used, set(glossary()))
        self.assertLessEqual({"engagement", "hit", "shift", "spread", "grip", "low_ratio", "window"}, used)
