"""The store of belts and strips: a life through visits, a belt that broke, looks, limits, parts, what is due."""

from datetime import UTC, date, datetime, timedelta

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.trade.belt_look import Mark
from jaxel.core.trade.inspection import Check
from jaxel.core.trade.stations import open_items, stations_of
from jaxel.store import (
    belt_checks,
    belts,
    choices,
    dues,
    hand_over,
    item_limits,
    machines,
    parts,
    strip,
    upkeep,
    visits,
)
from jaxel.store.db import Conflict, NotFound, at_moment
from jaxel.store.edits import Edit, undo
from jaxel.store.hand_over import NotReady
from tests.examples import example, read
from tests.store.test_store import StoreCase

KINDS = {
    "primary_kind": Edit(None, "tower-and-button-primary"),
    "secondary_kind": Edit(None, "bolt-in-helix-secondary"),
}


class Stripped(StoreCase):
    def setUp(self):
        super().setUp()
        upkeep.change(self.db, self.machine, KINDS)

    def again(self, scope="service"):
        self.visit = visits.open_visit(self.db, self.machine, scope=scope)

    def look(self, side, item, **values):
        strip.look(self.db, self.visit, side, item, {name: Edit(self.said(side, item, name), value)
                                                     for name, value in values.items()})  # fmt: skip

    def said(self, side, item, name):
        found = self.held().inspection.looks.get((side, item))
        return getattr(found, name) if found else {"overruled": None}.get(name, "")

    def reads(self, side, item, *values, field="readings"):
        for place, value in enumerate(values):
            strip.read(self.db, self.visit, side, item, field, place, Edit(None, value))

    def verdict(self, side, key):
        inspection = self.held().inspection
        item = next(each for of, each in inspection.items() if (of, each.key) == (side, key))
        return inspection.verdict(side, item)

    def waits(self, station):
        return [(item.field, item.what) for item in open_items(self.held().record()) if item.station == station]


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
        self.assertEqual(self.waits("strip"), [("depth", "how far the clutches are opened")])
        strip.change(self.db, self.visit, {"depth": Edit(None, "on machine")})
        self.assertEqual([what for _, what in self.waits("strip")],
                         ["primary: 3 items not looked at", "secondary: 2 items not looked at"])  # fmt: skip
        self.look("primary", "buttons", looked="assembled", grade="loose")
        strip.rest_not_reached(self.db, self.visit, "primary")
        strip.rest_not_reached(self.db, self.visit, "secondary")
        self.assertEqual(self.waits("strip"), [])
        looks = self.held().inspection.looks
        self.assertEqual(looks["primary", "buttons"].looked, "assembled")
        self.assertEqual(looks["primary", "moving_face"].looked, "not reached")
        undo(self.db, self.visit, "Jo")
        self.assertEqual([what for _, what in self.waits("strip")], ["secondary: 2 items not looked at"])

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
        # A spring of 610 N reads no 60 N, and no 1,000; 400 it may.
        rated = self.held().inspection.rated["primary", "primary_spring"]
        for value, taken in ((60.0, False), (rated * 1.7, False), (400.0, True)):
            try:
                strip.read(self.db, self.visit, "primary", "primary_spring", "readings", 0, Edit(None, value))
                self.assertTrue(taken, value)
            except Implausible:
                self.assertFalse(taken, value)

    def test_what_is_overruled_is_evidence_still_and_not_ordered(self):
        self.look("primary", "buttons", looked="assembled", grade="worn")
        self.look("primary", "arm_roller", looked="assembled", grade="free")
        ordered = [(side, item.key) for side, item, _ in self.held().inspection.to_put_right()]
        self.assertEqual(ordered, [("primary", "buttons")])
        self.look("primary", "buttons", overruled="watch", reason="one more weekend")
        self.assertEqual(self.held().inspection.to_put_right(), [])
        self.assertEqual(self.held().inspection.evidence(), {"buttons": True, "arm_roller": False})

    def test_marks_and_holes(self):
        strip.mark(self.db, self.visit, "primary.cover", Edit(False, True))
        strip.change(self.db, self.visit, {"spring_note": Edit("", "sheave 3, helix B, 80°")})
        held = self.held().inspection.strip
        self.assertEqual((held.marked, held.spring_note), (("primary.cover",), "sheave 3, helix B, 80°"))
        self.assertIn("strip", stations_of(self.held().record()))  # a hand has been at it, in a tune too
        strip.mark(self.db, self.visit, "primary.cover", Edit(True, False))
        self.assertEqual(self.held().inspection.strip.marked, ())


class OwnLimits(Stripped):
    def test_a_machines_before_its_kinds_and_the_manual_before_memory(self):
        self.reads("primary", "arm_bushing", 0.6)
        kind = "tower-and-button-primary"
        item_limits.state(self.db, kind, "arm_bushing", 0.8, "from memory")
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "watch")  # 0.5 of 0.7 of the way: 71 %
        item_limits.state(self.db, kind, "arm_bushing", 0.9, "manual")
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "keep")
        mine = item_limits.state(self.db, kind, "arm_bushing", 0.5, "from memory", machine_id=self.machine)
        found = self.verdict("primary", "arm_bushing")
        self.assertEqual(found.finding, "replace")
        self.assertIn("this machine's from memory", found.sentences[0])
        item_limits.withdraw(self.db, mine)
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "keep")
        with self.assertRaises(NotFound):
            item_limits.withdraw(self.db, mine)

    def test_a_limit_that_cannot_be(self):
        other = machines.bring_in(self.db, read(example("quad")), "quad")
        kind = "tower-and-button-primary"
        for item, value, machine, field in (
            ("arm_bushing", 0.05, None, "value"),  # a new one has more play
            ("roller_washer", 1.2, None, "value"),  # a new one is thinner
            ("arm_face", 1.0, None, "item"),  # nothing is measured of it
            ("slide_guide", 1.0, None, "item"),
            ("arm_bushing", 0.5, other, "machine_id"),
        ):
            with self.subTest(item), self.assertRaises(InvalidValue) as raised:
                item_limits.state(self.db, kind, item, value, "manual", machine_id=machine)
            self.assertEqual(raised.exception.field, field)


class Lives(Stripped):
    """One belt through four visits, then another."""

    START = datetime(2026, 1, 5, 9, tzinfo=UTC)

    def go_through(self, *visits_: tuple[float, float], **last):
        for number, (km, width) in enumerate(visits_):
            with at_moment(self.START + timedelta(days=40 * number)):
                if number:
                    self.again("belt")
                else:
                    self.db.execute("UPDATE visit SET scope = 'belt', opened_at = ?", (self.START.isoformat(),))
                self.note(odometer_km=km, complaint="service")
                for place in (1, 2, 3):
                    self.measure(place, width)
                final = number == len(visits_) - 1
                self.decide(**(last if final and last else {"decision": "run on"}))
                if not final or last:
                    self.sign()

    def test_points_trend_and_when_it_is_due(self):
        self.go_through((600, 36.3), (1200, 36.0), (1800, 35.75), (2400, 35.5), decision="run on")
        points = belts.life(self.db, 1).points
        self.assertEqual([(each.use, each.width_mm) for each in points],
                         [(600, 36.3), (1200, 36.0), (1800, 35.75), (2400, 35.5)])  # fmt: skip
        (belt,) = (each for each in dues.of_workshop(self.db) if each.due.what == "belt")
        # 0.44 mm in 1,000 km: 35.5 − 0.44·x = 35.0 some 1,130 km on; the soonest of it is what is told.
        self.assertGreater(belt.due.check.km, 2400 + 500)
        self.assertLess(belt.due.check.km, 2400 + 1130)
        # 15 km a day: due within eighty days of the last reading.
        self.assertLess(belt.due.on - date(2026, 5, 5), timedelta(days=80))

    def test_what_was_on_a_belt_stays_what_it_was_that_day(self):
        self.go_through((600, 36.3), (1200, 36.0), decision="spare", reason="narrow", next_width_mm=36.5)
        old, new = machines.belts(self.db, self.machine)
        self.assertEqual((old.state, old.used_km, old.removed_at_km), ("spare", 1200, 1200))
        self.assertEqual((new.state, new.fitted_at_km, new.fitted_width_mm), ("fitted", 1200, 36.5))
        self.again("belt")
        self.note(odometer_km=1500, complaint="again")
        for place in (1, 2, 3):
            self.measure(place, 36.3)
        self.assertEqual([each.use for each in belts.life(self.db, new.id).points], [0, 300])
        # The spare goes back on, and its distance goes on where it stopped.
        self.decide(decision="spare", reason="tried", next_belt_id=old.id)
        self.sign()
        back = machines.belt(self.db, old.id)
        self.assertEqual(
            (back.state, back.used_km, back.fitted_at_km, back.removed_at_km), ("fitted", 1200, 1500, None)
        )
        self.assertEqual(back.use_km(1800), 1500)
        rows = self.db.execute("SELECT way, odometer_km FROM part_event WHERE kind = 'belt' ORDER BY id").fetchall()
        self.assertEqual([tuple(row) for row in rows],
                         [("out", 1200), ("in", 1200), ("out", 1500), ("in", 1500)])  # fmt: skip

    def test_others_are_this_machines_first(self):
        self.go_through((600, 36.3), (1200, 36.0), decision="discard", reason="worn", next_width_mm=36.5)
        other = machines.bring_in(self.db, read(example("trail-sled")), "sled")
        there = visits.open_visit(self.db, other, scope="belt")
        belt_checks.measure(self.db, there, 1, Edit(None, 34.5))
        found = [each.belt.number for each in belts.others(self.db, 2)]
        self.assertEqual(found, [1, 1])
        self.assertEqual([each.machine_id for each in belts.others(self.db, 2)], [self.machine, other])

    def test_identity_and_shelf(self):
        belts.change(self.db, 1, {"make_number": Edit("", " B-7 "), "bought_on": Edit("", "2026-01-05")})
        self.assertEqual(machines.belt(self.db, 1).make_number, "B-7")
        for field, value in (
            ("bought_on", "2999-01-01"),
            ("bought_on", "soon"),
            ("new_width_mm", 30.0),
            ("state", "x"),
        ):
            with self.subTest(field), self.assertRaises(InvalidValue) as raised:
                belts.change(self.db, 1, {field: Edit(None if field == "new_width_mm" else "2026-01-05", value)})
            self.assertEqual(raised.exception.field, field)
        spare = belts.put_on_shelf(self.db, self.machine, 36.2, place="B3")
        with self.assertRaises(InvalidValue):
            belts.put_on_shelf(self.db, self.machine, 40.0)
        with self.assertRaises(Conflict):
            belts.discard(self.db, 1)
        self.decide(decision="discard", reason="worn", next_belt_id=spare)
        with self.assertRaises(Conflict):
            belts.discard(self.db, spare)
        self.decide(decision=None, next_belt_id=None)
        belts.discard(self.db, spare)
        self.assertEqual(machines.belt(self.db, spare).state, "discarded")


class Failed(Stripped):
    """A belt that broke, a new one on, and out of the door."""

    def test_each_search_is_asked_before_it_leaves(self):
        self.note(odometer_km=900, complaint="belt broke")
        self.db.execute("UPDATE visit SET scope = 'belt' WHERE id = ?", (self.visit,))
        self.decide(no_width="in pieces")
        self.assertEqual([field for field, _ in self.waits("belt")],
                         ["failure", "pieces", "ducts", "seals", "faces", "decision"])  # fmt: skip
        with self.assertRaises(NotReady):
            self.sign()
        self.decide(failure="burnt", pieces="found", ducts="clear", seals="clear", faces="found")
        self.decide(decision="discard", reason="broke", next_width_mm=36.5)
        self.assertEqual(self.waits("belt"), [])
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
        self.sign()
        rows = self.db.execute("SELECT side, kind, number, pieces, way, odometer_km FROM part_event").fetchall()
        taken, put = (
            ("primary", "arm bushing", number, 3, way, 900.0) for number, way in (("", "out"), ("FB-3", "in"))
        )
        self.assertEqual([tuple(row) for row in rows], [taken, put])
        (due,) = (each.due for each in dues.of_workshop(self.db) if each.due.key == "primary.arm_bushing")
        self.assertEqual((due.check, due.why.split(":")[0]), (Check(1800, None, True), "renewed, usual check"))
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
        self.look("primary", "buttons", looked="assembled", grade="snug")
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
            strip.rest_not_reached(self.db, self.visit, side)
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


class Choices(StoreCase):
    def test_a_choice_is_kept_and_compared(self):
        choices.choose(self.db, "abrasive", Edit("pad", "fine"))
        self.assertEqual(choices.made(self.db), {"abrasive": "fine"})
        with self.assertRaises(Conflict):
            choices.choose(self.db, "abrasive", Edit("pad", "emery"))
        with self.assertRaises(InvalidValue):
            choices.choose(self.db, "abrasive", Edit("fine", "sand"))
