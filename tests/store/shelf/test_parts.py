"""The store of belts and strips: a life through visits, a belt that broke, looks, limits, parts, what is due."""

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.strip.inspection import Check
from jaxel.store.db import Conflict
from jaxel.store.edits import Edit
from jaxel.store.machine import upkeep
from jaxel.store.shelf import parts
from jaxel.store.strip import strip
from jaxel.store.visit import dues, hand_over
from jaxel.store.visit.hand_over import NotReady
from tests.store.cases.belt_and_strip_case import Stripped


class Parts(Stripped):
    def add(self, number, kind, price, pack, **more):
        part = parts.add(self.db, number, kind)
        values = {"price": (None, price), "pack": (1, pack)} | {name: ("", value) for name, value in more.items()}
        parts.change(self.db, part, {name: Edit(*pair) for name, pair in values.items() if pair[0] != pair[1]})
        return part

    def test_the_cheapest_piece_that_is_not_superseded(self):
        self.add("A", "arm bushing", 38.0, 3)
        self.add("B", "arm bushing", 20.0, 1)
        self.add("C", "arm bushing", 12.0, 3, superseded_by="A")
        self.assertEqual(parts.offers(self.db)["arm bushing"].number, "A")

    def test_bad_numbers(self):
        first = self.add("A", "arm bushing", 38.0, 3)
        for attempt, field in (
            (lambda: parts.add(self.db, "a", "arm"), "number"),
            (lambda: parts.add(self.db, "B", "teapot"), "kind"),
            (lambda: parts.change(self.db, first, {"superseded_by": Edit("", "a")}), "superseded_by"),
            (lambda: parts.say_tool(self.db, "hammer", {"owned": Edit(False, True)}), "name"),
        ):
            with self.assertRaises(InvalidValue) as raised:
                attempt()
            self.assertEqual(raised.exception.field, field)
        with self.assertRaises(Conflict):
            parts.change(self.db, first, {"price": Edit(1.0, 2.0)})

    def test_what_is_put_in_is_recorded_with_its_odometer_and_wears_from_new(self):
        self.add("FB-3", "arm bushing", 38.0, 3)
        self.complete()
        self.reads("primary", "arm_bushing", 0.6)
        self.look("primary", "arm_bushing", looked="assembled", remedy="bushings")
        with self.assertRaises(NotReady):  # a seized roller may have cocked the arm
            self.sign()
        self.look("primary", "arm_roller", looked="assembled", grade="free")
        self.did("primary", "arm_bushing", how="new", number="fb-3", price=38.0)
        self.sign()
        rows = self.db.execute("SELECT side, kind, number, pieces, way, odometer_km FROM part_event").fetchall()
        taken, put = (
            ("primary", "arm bushing", number, 3, way, 900.0) for number, way in (("", "out"), ("fb-3", "in"))
        )
        self.assertEqual([tuple(row) for row in rows], [taken, put])
        (due,) = (each.due for each in dues.of_workshop(self.db) if each.due.key == "primary.arm_bushing")
        self.assertEqual((due.check, due.why.split(":")[0]), (Check(1800, None, True), "new fitted, usual check"))
        # What the old ones read is no trend of the new ones.
        self.again()
        self.note(odometer_km=1200)
        self.reads("primary", "arm_bushing", 0.15)
        self.assertEqual(self.held().inspection.before, {})

    def test_a_later_look_replaces_what_was_due(self):
        self.complete()
        self.look("primary", "buttons", looked="assembled", grade="loose")
        self.sign()
        keys = [(each.due.key, each.due.check.km) for each in dues.of_workshop(self.db)]
        self.assertEqual(keys, [("primary.buttons", 1700)])
        self.again("tune")
        self.complete_again(2000)
        self.look("primary", "buttons", looked="assembled", grade="free")
        self.sign()
        found = {each.due.key: each.due.check.km for each in dues.of_workshop(self.db)}
        self.assertEqual(found["primary.buttons"], 3600)
        upkeep.archive(self.db, self.machine, Edit(False, True))
        self.assertEqual(dues.of_workshop(self.db), [])

    def test_what_was_not_reached_and_no_service_stay_due(self):
        self.complete()
        self.look("primary", "buttons", looked="assembled", grade="loose")
        hand_over.change(self.db, self.visit, {"next_service_km": Edit(None, 2000.0)})
        self.sign()
        self.again("tune")
        self.complete_again(1200)
        strip.change(self.db, self.visit, {"depth": Edit(None, "on machine")})
        for side in ("primary", "secondary"):
            strip.rest(self.db, self.visit, side)
        self.sign()
        found = {each.due.key: each.due.check.km for each in dues.of_workshop(self.db)}
        self.assertEqual((found["primary.buttons"], found["service"]), (1700, 2000))

    def complete_again(self, km):
        self.note(odometer_km=km, complaint="again")
        self.confirm()
        for place in (1, 2, 3):
            self.measure(place, 36.0)
        self.decide(decision="run on")
        self.ride(engagement_rpm=4000.0, shift_rpm=7800.0)
