"""Searches in turn: no hand starves another, a changed question gives its old one up, and nobody's is thrown out."""

import threading
import time
import unittest

from jaxel.core.errors import InvalidValue
from jaxel.web.jobs import GivenUp
from jaxel.web.shelf.searches import MOST_A_HAND, Search, SearchRoom


def search():
    return Search(None, [], "spring", [], False, "")


class Turns(unittest.TestCase):
    def setUp(self):
        self.room, self.order, self.gate = SearchRoom(), [], threading.Event()

    def work(self, name):
        def do(found):
            self.gate.wait(5)
            found.watch(0.5)
            self.order.append(name)
            return f"plan of {name}"

        return do

    def ask(self, hand, visit, key=None):
        key = key or f"{hand}{visit}"
        return self.room.ask((hand, visit), key, search(), self.work(key))

    def wait(self, *searches):
        self.gate.set()
        for each in searches:
            self.assertTrue(each.ended.wait(5))

    def test_each_hands_next_before_anothers_second(self):
        first = self.ask("busy", 0)
        time.sleep(0.05)  # it is under way when the others come
        many = [self.ask("busy", visit) for visit in range(1, 6)]
        other, third = self.ask("Jo", 1), self.ask("Maren", 2)
        self.wait(first, *many, other, third)
        self.assertEqual(self.order, ["busy0", "busy1", "Jo1", "Maren2", "busy2", "busy3", "busy4", "busy5"])
        self.assertEqual(other.found, "plan of Jo1")

    def test_a_changed_question_gives_its_old_one_up(self):
        blocking = self.ask("Maren", 9)
        time.sleep(0.05)
        old = self.ask("Jo", 1, "old")
        new = self.ask("Jo", 1, "new")
        elsewhere = self.ask("Jo", 2, "elsewhere")
        self.wait(blocking, old, new, elsewhere)
        self.assertEqual((old.state, new.state, elsewhere.state), ("given up", "done", "done"))
        self.assertIs(self.room.get("old"), old)  # a page that still looks at it is told
        self.assertIs(self.room.get("new"), new)

    def test_what_was_found_stays_when_another_question_is_asked(self):
        old = self.ask("Jo", 1, "old")
        self.wait(old)
        self.wait(self.ask("Jo", 1, "new"))
        self.assertEqual((self.room.get("old"), old.state), (old, "done"))
        self.assertIs(self.ask("Jo", 1, "old"), old)

    def test_one_under_way_is_stopped_at_its_next_step(self):
        old = self.ask("Jo", 1, "old")
        time.sleep(0.05)
        self.ask("Jo", 1, "new")
        self.wait(old)
        self.assertEqual(old.state, "given up")
        self.assertNotIn("old", self.order)
        with self.assertRaises(GivenUp):
            old.watch(0.9)

    def test_what_two_hands_ask_is_one_and_one_giving_up_does_not_stop_it(self):
        mine, theirs = self.ask("Jo", 1, "same"), self.ask("Maren", 1, "same")
        self.assertIs(mine, theirs)
        self.room.give_up(("Jo", 1), "same")
        self.wait(mine)
        self.assertEqual((mine.state, self.order), ("done", ["same"]))
        self.ask("Jo", 1, "another")
        self.assertIs(self.room.get("same"), theirs)

    def test_given_up_by_all_it_can_be_asked_again(self):
        blocking = self.ask("Maren", 9)
        time.sleep(0.05)
        old = self.ask("Jo", 1, "same")
        self.room.give_up(("Jo", 1), "same")
        again = self.ask("Jo", 1, "same")
        self.assertIsNot(old, again)
        self.wait(blocking, old, again)
        self.assertEqual((old.state, again.state), ("given up", "done"))

    def test_seventy_questions_of_one_hand_keep_its_last_and_everybody_elses(self):
        self.gate.set()
        others = [self.ask(f"hand {number}", 1) for number in range(40)]
        mine = [self.ask("busy", visit) for visit in range(70)]
        self.wait(*others, *mine)
        self.assertEqual({each.state for each in others}, {"done"})
        self.assertTrue(all(self.room.get(f"hand {number}1") for number in range(40)))
        self.assertEqual(sum(self.room.get(f"busy{visit}") is not None for visit in range(70)), MOST_A_HAND)
        self.assertEqual(self.room.waiting, 0)

    def test_what_fails_is_refused_and_the_next_goes_on(self):
        def refused(_):
            raise InvalidValue("target", "cannot be")

        def broken(_):
            raise ZeroDivisionError

        one = self.room.ask(("Jo", 1), "a", search(), refused)
        with self.assertLogs(level="ERROR"):
            two = self.room.ask(("Jo", 2), "b", search(), broken)
            three = self.ask("Jo", 3)
            self.wait(one, two, three)
        self.assertEqual((one.refused.field, two.refused.field, three.state), ("target", "plan", "done"))
