"""The store of putting back, line-up, break-in and close: kept, undone, refused, and named at sign-off."""

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.rebuild.rebuild import WRONG_WAY
from jaxel.core.trade.visit.stations import stations_of
from jaxel.store.db import NotFound
from jaxel.store.edits import Edit, undo
from jaxel.store.rebuild import rebuild
from jaxel.store.setup import fitting
from jaxel.store.strip import strip
from jaxel.store.visit import close_out, intake
from tests.store.cases.back_together_case import Opened


class Closing(Opened):
    def test_twelve_of_thirteen_holds_the_sign_off(self):
        keys = {each["key"]: each for each in self.counts()}
        self.assertEqual(keys["primary.cover_bolts"]["out"], 6)
        close_out.count(self.db, self.visit, "primary.cover_bolts", {"out": Edit(6, 13), "back": Edit(None, 12)})
        self.assertIn("cover bolts, primary: 12 of 13 back", self.waits("hand-over"))
        close_out.count(self.db, self.visit, "primary.cover_bolts", {"back": Edit(12, 13.0)})
        self.assertNotIn("cover bolts, primary: 12 of 13 back", self.waits("hand-over"))

    def counts(self):
        return [vars(each) for each in self.held().record().to_count]

    def test_what_a_hand_adds(self):
        close_out.add(self.db, self.visit, "Front shock", "access", 1)
        self.assertIn("front shock: not refitted", self.waits("hand-over"))
        close_out.count(self.db, self.visit, "own.front_shock", {"back": Edit(None, 1), "note": Edit("", "47 N·m")})
        self.assertFalse(any("shock" in each for each in self.waits("hand-over")))
        for name, sort, out, field in ((" ", "tool", 1, "name"), ("Rag", "rag", 1, "sort"), ("Rag", "tool", 0, "out"),
                                       ("front SHOCK", "access", 1, "name")):  # fmt: skip
            with self.subTest(field), self.assertRaises(InvalidValue) as caught:
                close_out.add(self.db, self.visit, name, sort, out)
            self.assertEqual(caught.exception.field, field)
        close_out.remove(self.db, self.visit, "own.front_shock")
        self.assertRaises(NotFound, close_out.remove, self.db, self.visit, "own.front_shock")
        self.assertRaises(NotFound, close_out.count, self.db, self.visit, "elbow", {"back": Edit(None, 1)})

    def test_a_wrong_wind_is_named(self):
        torsion = {"closes": Edit("", "clockwise"), "wound": Edit("", "anticlockwise")}
        rebuild.change(self.db, self.visit, torsion)
        self.assertIn(WRONG_WAY, self.waits("rebuild"))
        # Looked at, its spring only pushes: there is no wind to be wrong.
        strip.answer(self.db, self.visit, "secondary", "spring_form", Edit("", "plain"))
        self.assertNotIn(WRONG_WAY, self.waits("rebuild"))

    def test_a_change_recorded_and_undone_closes_the_clutch_again(self):
        intake.set_scope(self.db, self.visit, Edit("service", "tune"))
        strip.change(self.db, self.visit, {"depth": Edit("full strip", None)})
        self.try_out(arm_mass_g=58.0)
        fitting.record(self.db, self.visit, "thin air", self.held().set_up.left_draft)
        undo(self.db, self.visit, "Jo")
        self.assertEqual((self.held().set_up.changed, "rebuild" in stations_of(self.held().record())), ((), False))
