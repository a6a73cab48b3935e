"""The store of belts and strips: a life through visits, a belt that broke, looks, limits, parts, what is due."""

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.belt.look import Mark
from jaxel.store.belt import belt_checks
from jaxel.store.db import NotFound
from jaxel.store.edits import undo
from jaxel.store.machine import machines
from jaxel.store.visit.hand_over import NotReady
from tests.store.cases.belt_and_strip_case import Stripped


class Failed(Stripped):
    """A belt that broke, a new one on, and out of the door."""

    def test_each_search_is_asked_before_it_leaves(self):
        self.note(odometer_km=900, complaint="belt broke")
        self.db.execute("UPDATE visit SET scope = 'belt' WHERE id = ?", (self.visit,))
        self.decide(no_width="in pieces")
        self.assertEqual([field for field, _ in self.waits("belt")],
                         ["failure", "pieces", "ducts", "clutches", "seals", "faces", "cause", "decision"])  # fmt: skip
        with self.assertRaises(NotReady):
            self.sign()
        self.decide(failure="burnt", pieces="found", ducts="clear", clutches="found", seals="clear", faces="found")
        self.decide(decision="discard", next_width_mm=36.5, next_is="new", next_number="B-7", cause="not looked for")
        self.assertEqual([field for field, _ in self.waits("belt")], ["went_on", "risen"])
        self.sign()
        old, new = machines.belts(self.db, self.machine)
        self.assertEqual((old.state, old.width_mm, new.state), ("discarded", 36.5, "fitted"))

    def test_no_width_and_a_width_exclude_each_other(self):
        self.decide(no_width="broke")
        with self.assertRaises(InvalidValue) as raised:
            self.measure(1, 36.0)
        self.assertEqual(raised.exception.field, "place_1")
        with self.assertRaises(InvalidValue) as raised:
            self.decide(decision="run on")
        self.assertEqual(raised.exception.field, "decision")
        self.decide(no_width=None)
        self.measure(1, 36.0)
        with self.assertRaises(InvalidValue) as raised:
            self.decide(no_width="broke")
        self.assertEqual(raised.exception.field, "no_width")
        with self.assertRaises(InvalidValue) as raised:
            self.decide(failure="bored")
        self.assertEqual(raised.exception.field, "failure")

    def test_marks_are_found_and_taken_back(self):
        mark = belt_checks.found_mark(self.db, self.visit, Mark("cup", 0.3, "both"))
        self.assertEqual([each.mark.kind for each in self.held().marks], ["cup"])
        belt_checks.take_back_mark(self.db, self.visit, mark)
        self.assertEqual(self.held().marks, ())
        undo(self.db, self.visit, "Jo")
        self.assertEqual([each.id for each in self.held().marks], [mark])
        with self.assertRaises(NotFound):
            belt_checks.take_back_mark(self.db, self.visit, 99)
        for kind, length, field in (("rust", None, "kind"), ("cup", 9000.0, "length_mm")):
            with self.assertRaises(InvalidValue) as raised:
                belt_checks.found_mark(self.db, self.visit, Mark(kind, 0.3, "both", length))
            self.assertEqual(raised.exception.field, field)
