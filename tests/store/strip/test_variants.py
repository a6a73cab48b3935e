"""How a clutch is made: told once where it shows, kept with the machine, and what it changes at every station."""

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kinds import Side
from jaxel.core.trade.visit.stations import open_items
from jaxel.store.belt import belt_checks
from jaxel.store.db import Conflict
from jaxel.store.edits import Edit, undo
from jaxel.store.machine import machines
from jaxel.store.rebuild import bench_records, rebuild
from jaxel.store.strip import strip
from jaxel.store.visit import close_out, hand_over, visits
from tests.store.cases.belt_and_strip_case import Stripped


class Made(Stripped):
    def items(self, side):
        strip_of = self.held().inspection
        return [item.key for of, item in strip_of.items() if of == side]

    def answer(self, side, variant, was, now):
        strip.answer(self.db, self.visit, side, variant, Edit(was, now))

    def test_an_answer_changes_items_counts_and_order(self):
        strip.change(self.db, self.visit, {"depth": Edit(None, "full strip")})
        self.assertNotIn("slider_width", self.items("secondary"))
        self.answer("secondary", "followers", "", "sliders")
        self.answer("secondary", "spring_seat", "", "helix")
        self.assertIn("slider_width", self.items("secondary"))
        parts = next(each for each in self.held().bench.opened(self.held().inspection) if each.side == "secondary")
        self.assertEqual([part.key for part in parts.parts],
                         ["bolt", "helix", "spring", "followers", "moving", "fixed"])  # fmt: skip
        self.assertNotIn("secondary.roll_pins", [each.key for each in self.held().record().to_count])

    def test_it_is_kept_with_the_machine_and_an_older_visit_does_not_change(self):
        self.answer("primary", "limiter", "", "none")
        first = self.visit
        self.complete()
        self.sign()
        self.again()
        self.assertEqual(self.held().kinds.answers("primary"), {"limiter": "none"})
        self.assertEqual(machines.get(self.db, self.machine).kinds.answers("primary"), {"limiter": "none"})
        self.answer("primary", "limiter", "none", "fitted")
        self.assertEqual(visits.get(self.db, first).kinds.answers("primary"), {"limiter": "none"})
        self.answer("primary", "limiter", "fitted", "")  # not looked at, after all
        self.assertEqual(self.held().kinds.answers("primary"), {"limiter": ""})

    def test_refused_and_undone(self):
        for side, variant, now, field in (("primary", "followers", "sliders", "variant"),
                                          ("secondary", "followers", "wheels", "followers")):  # fmt: skip
            with self.assertRaises(InvalidValue) as raised:
                self.answer(side, variant, "", now)
            self.assertEqual(raised.exception.field, field)
        self.answer("secondary", "followers", "", "sliders")
        self.assertRaises(Conflict, self.answer, "secondary", "followers", "", "rollers")
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().kinds.answers("secondary"), {})


class ToldOnce(Stripped):
    """Counts, sizes and what stood in the way belong to the machine."""

    def counted(self):
        return {each.key: each.out for each in self.held().record().to_count}

    def next_visit(self):
        self.complete()
        self.sign()
        self.again()
        strip.change(self.db, self.visit, {"depth": Edit(None, "cover off")})

    def complete(self, **belt):
        super().complete(**belt)
        for each in self.held().record().to_count:
            edits = {"back": Edit(each.back, each.out)}
            if each.sort in ("access", "brake line") and not each.note:
                edits["note"] = Edit("", "24 N·m")
            close_out.count(self.db, self.visit, each.key, edits)

    def test_a_corrected_count_is_the_next_visits(self):
        strip.change(self.db, self.visit, {"depth": Edit(None, "cover off")})
        self.assertEqual(self.counted()["primary.cover_bolts"], 6)
        close_out.count(self.db, self.visit, "primary.cover_bolts", {"out": Edit(6, 7)})
        for side in ("primary", "secondary"):
            strip.rest(self.db, self.visit, side)
        self.next_visit()
        self.assertEqual(self.counted()["primary.cover_bolts"], 7)

    def test_a_size_is_typed_once(self):
        strip.change(self.db, self.visit, {"depth": Edit(None, "cover off")})
        said = {"size": Edit("", "10 mm"), "thread": Edit("", "right-hand")}
        rebuild.tighten(self.db, self.visit, "primary", "cover_bolts", said)
        for side in ("primary", "secondary"):
            strip.rest(self.db, self.visit, side)
        first = self.visit
        self.next_visit()
        rebuild.tighten(self.db, self.visit, "primary", "cover_bolts", {"size": Edit("", "12 mm")})
        place: tuple[Side, str] = ("primary", "cover_bolts")
        found = [bench_records.sizes(self.db, self.machine, visit)[place] for visit in (first, self.visit)]
        self.assertEqual([(each.size, each.thread) for each in found],
                         [("10 mm", "right-hand"), ("12 mm", "right-hand")])  # fmt: skip
        edits = {"size": Edit("12 mm", ""), "thread": Edit("", "left-hand")}
        rebuild.tighten(self.db, self.visit, "primary", "cover_bolts", edits)
        now = bench_records.sizes(self.db, self.machine, self.visit)[place]
        self.assertEqual((now.size, now.thread), ("10 mm", "left-hand"))

    def test_what_stood_in_the_way_is_offered_again(self):
        close_out.add(self.db, self.visit, "Front shock", "access", 1, "47 N·m")
        self.next_visit()
        (before,) = close_out.told_before(self.db, self.held())
        self.assertEqual(
            (before.name, before.sort, before.note, before.back), ("Front shock", "access", "47 N·m", None)
        )
        close_out.add(self.db, self.visit, before.name, before.sort, before.out, before.note)
        self.assertEqual(close_out.told_before(self.db, self.held()), [])

    def open(self):
        return [item.field for item in open_items(self.held().record())]

    def test_a_brake_line_moved_asks_for_the_brake(self):
        self.assertNotIn("brake_held", self.open())
        close_out.add(self.db, self.visit, "Brake-line bracket", "brake line", 1)
        self.assertEqual([field for field in self.open() if "brake" in field],
                         ["count_own.brake_line_bracket", "brake_held"])  # fmt: skip
        hand_over.change(self.db, self.visit, {"brake_held": Edit(False, True)})
        self.assertNotIn("brake_held", self.open())
        # Refitted is not enough: it has its own torque.
        close_out.count(self.db, self.visit, "own.brake_line_bracket", {"back": Edit(None, 1)})
        self.assertIn("count_own.brake_line_bracket", self.open())
        close_out.count(self.db, self.visit, "own.brake_line_bracket", {"note": Edit("", "10 N·m")})
        self.assertNotIn("count_own.brake_line_bracket", self.open())

    def test_only_the_way_taken_is_counted(self):
        belt_checks.change(self.db, self.visit, {"way": Edit("", "B")})
        self.assertEqual(self.counted(), {})
        belt_checks.change(self.db, self.visit, {"way": Edit("B", "A")})
        self.assertEqual(self.counted(), {"tools": 1})
        belt_checks.change(self.db, self.visit, {"way": Edit("A", "D")})
        self.assertEqual(self.counted(), {"secondary.secondary_bolt": 1, "tools": 1})
