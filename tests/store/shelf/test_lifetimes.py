"""The store of the set-up bench: parts on the tray and off the shelf, calibrations of their day, sheets, lives."""

from jaxel.core.trade.shelf.lifetimes import SurvivalStep
from jaxel.store.belt import belts
from jaxel.store.edits import Edit
from jaxel.store.shelf import lifetimes, parts
from tests.store.cases.set_up_bench_case import Bench


class Lives(Bench):
    def test_each_make_beside_its_makers_word(self):
        parts.add(self.db, "AB-1", "arm bushing")
        part = {each.number: each.id for each in parts.all_parts(self.db)}["AB-1"]
        parts.change(self.db, part, {"make": Edit("", "Brackholm"), "life_km": Edit(None, 3000)})
        for number, way, km in (("AB-1", "in", 500.0), ("", "out", 3100.0), ("AB-1", "in", 3100.0)):
            parts.event(self.db, self.visit, self.machine, "primary", "arm bushing", 3, way, km, None, number=number)
        self.note(odometer_km=3900)
        (lasted,) = lifetimes.lasted(self.db)
        self.assertEqual((lasted.kind, lasted.make, lasted.unit, lasted.said), ("arm bushing", "Brackholm", "km", 3000))
        self.assertEqual((lasted.survival.lives, lasted.survival.running, lasted.share_at_said), (2, 1, None))
        self.assertEqual([(s.use, s.share, s.at_risk) for s in lasted.survival.steps], [(800, 1, 2), (2600, 0, 1)])
        self.assertIsInstance(lasted.survival.steps[0], SurvivalStep)

    def test_a_belt_on_the_shelf_still_runs(self):
        spare = belts.put_on_shelf(self.db, self.machine, 35.9)
        self.db.execute("UPDATE belt SET used_km = 900, removed_at_km = 1000 WHERE id = ?", (spare,))
        belts.change(self.db, spare, {"make_number": Edit("", "B 7")})
        (lasted,) = [each for each in lifetimes.lasted(self.db) if each.make == "B 7"]
        self.assertEqual((lasted.survival.lives, lasted.survival.running), (1, 1))
        belts.discard(self.db, spare)
        (lasted,) = [each for each in lifetimes.lasted(self.db) if each.make == "B 7"]
        self.assertEqual((lasted.survival.running, lasted.survival.median), (0, 900))

    def test_spares_are_listed_the_widest_first(self):
        for width in (35.2, 36.1):
            belts.put_on_shelf(self.db, self.machine, width)
        found = belts.spares(self.db)
        self.assertEqual([(each.width_mm, each.limit_mm) for each in found], [(36.1, 35.0), (35.2, 35.0)])
