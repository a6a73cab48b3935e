"""The store of belts and strips: a life through visits, a belt that broke, looks, limits, parts, what is due."""

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.trade.rebuild.done import rightings
from jaxel.core.trade.visit.stations import stations_of
from jaxel.store.db import Conflict
from jaxel.store.edits import Edit, undo
from jaxel.store.strip import strip
from tests.store.cases.belt_and_strip_case import Stripped


class Looks(Stripped):
    def test_what_is_said_of_an_item_is_kept_and_undone(self):
        self.reads("primary", "arm_bushing", 0.2, 0.6)
        self.look("primary", "arm_bushing", looked="assembled", grade="cocked")
        found = self.held().inspection.looks["primary", "arm_bushing"]
        self.assertEqual((found.readings, found.looked, found.grade), ((0.2, 0.6), "assembled", "cocked"))
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "replace")
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.said("primary", "arm_bushing", "grade"), "")
        for _ in range(2):
            undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().inspection.looks, {})

    def test_another_hand_is_not_overwritten(self):
        self.reads("primary", "arm_bushing", 0.2)
        with self.assertRaises(Conflict) as raised:
            strip.read(self.db, self.visit, "primary", "arm_bushing", "readings", 0, Edit(None, 0.3))
        self.assertEqual((raised.exception.field, raised.exception.theirs), ("primary_arm_bushing_0", 0.2))

    def test_what_cannot_be_of_it_is_refused_and_nothing_is_written(self):
        for attempt, field in (
            (lambda: self.look("primary", "slide_guide", grade="worn"), "item"),
            (lambda: self.look("secondary", "arm_bushing", grade="snug"), "item"),
            (lambda: self.look("primary", "arm_bushing", grade="purple"), "grade"),
            (lambda: self.reads("primary", "arm_bushing", 0.1, 0.1, 0.1, 0.1), "place"),
            (lambda: self.reads("primary", "moving_face", 9, field="rings"), "primary_moving_face_0"),
            (lambda: self.reads("primary", "moving_face", 0.5), "primary_moving_face_0"),
            (lambda: strip.mark(self.db, self.visit, "primary.bolt", Edit(False, True)), "marked"),
        ):
            with self.subTest(field), self.assertRaises(InvalidValue) as raised:
                attempt()
            self.assertEqual(raised.exception.field, field)
        self.assertEqual(set(self.held().inspection.looks), {("primary", "arm_bushing")})
        self.assertEqual(self.held().inspection.looks["primary", "arm_bushing"].readings, (0.1, 0.1, 0.1))

    def test_depth_chooses_and_the_rest_is_said_at_once(self):
        self.again_in_service()
        self.assertEqual(self.waits("strip"), [("depth", "how far the clutches are opened, or which job it is")])
        strip.change(self.db, self.visit, {"depth": Edit(None, "on machine")})
        self.assertEqual([what for _, what in self.waits("strip")],
                         ["primary: 6 items not looked at", "secondary: 4 items not looked at"])  # fmt: skip
        self.look("primary", "buttons", looked="assembled", grade="loose")
        strip.rest(self.db, self.visit, "primary")
        strip.rest(self.db, self.visit, "secondary")
        self.assertEqual(self.waits("strip"), [])
        looks = self.held().inspection.looks
        self.assertEqual(looks["primary", "buttons"].looked, "assembled")
        self.assertEqual(looks["primary", "moving_face"].looked, "not reached")
        undo(self.db, self.visit, "Jo")
        self.assertEqual([what for _, what in self.waits("strip")], ["secondary: 4 items not looked at"])

    def test_each_clutch_is_asked_as_far_as_it_is_opened(self):
        self.again_in_service()
        strip.change(self.db, self.visit, {"depth": Edit(None, "full strip")})
        strip.change(self.db, self.visit, {"secondary_depth": Edit(None, "on machine")})
        words = [what for _, what in self.waits("strip")]
        self.assertEqual(words[1], "secondary: 4 items not looked at")
        self.assertEqual(words[0], "primary: 15 items not looked at")
        undo(self.db, self.visit, "Jo")
        self.assertNotEqual([what for _, what in self.waits("strip")][1], words[1])

    def again_in_service(self):
        self.complete()
        self.sign()
        self.again()

    def test_a_reading_far_beyond_its_limit_is_asked_about(self):
        self.reads("primary", "arm_bushing", 3.2)  # eight times the limit of 0.4: as far as it is believed
        for value in (3.3, 6.0):
            with self.assertRaises(Implausible) as raised:
                strip.read(self.db, self.visit, "primary", "arm_bushing", "readings", 1, Edit(None, value))
            self.assertEqual(raised.exception.field, "primary_arm_bushing_1")
        strip.read(self.db, self.visit, "primary", "arm_bushing", "readings", 1, Edit(None, 6.0, sure=True))
        self.assertEqual(self.held().inspection.looks["primary", "arm_bushing"].readings, (3.2, 6.0))
        # A spring of 755 N reads no 60 N, and no 1,280; 500 it may.
        rated = self.held().inspection.rated["primary", "primary_spring"]
        for value, taken in ((60.0, False), (rated * 1.7, False), (500.0, True)):
            try:
                strip.read(self.db, self.visit, "primary", "primary_spring", "readings", 0, Edit(None, value))
                self.assertTrue(taken, value)
            except Implausible:
                self.assertFalse(taken, value)

    def test_what_is_overruled_is_evidence_still_and_not_ordered(self):
        self.look("primary", "buttons", looked="assembled", grade="worn")
        self.look("primary", "arm_roller", looked="assembled", grade="free")
        self.assertEqual([each.place for each in rightings(self.held().inspection)], [("primary", "buttons")])
        self.look("primary", "buttons", overruled="watch", reason="one more weekend")
        self.assertEqual(rightings(self.held().inspection), [])
        self.assertEqual(self.held().inspection.evidence(), {"buttons": True, "arm_roller": False})

    def test_marks_and_holes(self):
        strip.mark(self.db, self.visit, "primary.cover", Edit(False, True))
        strip.change(self.db, self.visit, {"spring_note": Edit("", "sheave 3, helix B, 80°")})
        held = self.held().inspection.strip
        self.assertEqual((held.marked, held.spring_note), (("primary.cover",), "sheave 3, helix B, 80°"))
        self.assertIn("strip", stations_of(self.held().record()))  # a hand has been at it, in a tune too
        strip.mark(self.db, self.visit, "primary.cover", Edit(True, False))
        self.assertEqual(self.held().inspection.strip.marked, ())

    def test_looked_over_is_no_measurement_and_no_evidence(self):
        strip.change(self.db, self.visit, {"depth": Edit(None, "cover off")})
        self.look("primary", "buttons", looked="assembled", grade="worn")
        strip.rest(self.db, self.visit, "primary", "looked over")
        held = self.held().inspection
        self.assertEqual(held.evidence(), {"buttons": True})  # only what was found counts
        found = self.verdict("primary", "arm_face")
        self.assertEqual((found.decision, found.sentences[0]), ("keep", "Looked over, nothing seen."))
        self.assertEqual(held.look("primary", next(i for _, i in held.items() if i.key == "arm_face")).readings, ())
        # Deeper than it was opened nothing was looked over.
        self.assertNotIn(("primary", "sheave_bushing"), held.looks)
