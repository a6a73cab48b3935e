"""The store of putting back, line-up, break-in and close: kept, undone, refused, and named at sign-off."""

from datetime import UTC, datetime, timedelta

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.store.db import Conflict, NotFound, at_moment
from jaxel.store.edits import Edit
from jaxel.store.kinds import choices
from jaxel.store.line_up import line_up
from jaxel.store.shelf import sheets, shelf
from jaxel.store.visit import hand_over, intake, visits
from tests.store.cases.back_together_case import Opened


class LiningUp(Opened):
    def change(self, **values):
        held = self.held().back_together.line_up
        was = {name: getattr(held, name) for name in values}
        edits = {name: Edit(list(was[name]) if name == "behind" else was[name], now) for name, now in values.items()}
        line_up.change(self.db, self.visit, edits)

    def test_readings_that_cannot_be_leave_nothing(self):
        for values, field in (
            ({"base_mm": 0.0}, "base_mm"), ({"front_mm": -0.5}, "front_mm"), ({"rear_mm": -3.0}, "rear_mm"),
            ({"way": "points", "near_mm": 1.0, "near_at_mm": 200.0, "far_mm": 2.0, "far_at_mm": 200.0}, "far_at_mm"),
            ({"per_turn_mm": 0.0}, "per_turn_mm"), ({"behind": [0.0]}, "behind"), ({"elbow": 1}, "elbow"),
            ({"behind": [0.5] * 13}, "behind"), ({"toe_tolerance_deg": -0.1}, "toe_tolerance_deg"),
        ):  # fmt: skip
            edits = {name: Edit(None if name != "way" else "", now) for name, now in values.items()}
            if "behind" in edits:
                edits["behind"] = Edit([], values["behind"])
            with self.subTest(field), self.assertRaises(InvalidValue) as caught:
                line_up.change(self.db, self.visit, edits)
            self.assertEqual(caught.exception.field, field)
        self.assertFalse(self.held().back_together.line_up.begun)

    def test_clutches_far_out_of_line_are_asked_about_and_believed(self):
        self.change(way="gaps", base_mm=210.0, nominal_mm=35.0, rear_mm=45.0)  # 10 mm out is no question yet
        for field, edit, said, meant in (
            ("front_mm", Edit(None, 3.5), "stands \ue00031.5;mm;1;0;\ue001 out of line", {"front_mm": 35.0}),
            ("front_mm", Edit(None, 24.9), "\ue00010.1;mm;1;0;\ue001 out of line", {}),
            ("nominal_mm", Edit(35.0, 4.5), "\ue00040.5;mm;1;0;\ue001 out of line", {"nominal_mm": 45.0}),
            ("nominal_mm", Edit(35.0, 60.0), "\ue00015.0;mm;1;0;\ue001 out of line", {}),
        ):  # fmt: skip
            with self.subTest(field), self.assertRaises(Implausible) as caught:
                line_up.change(self.db, self.visit, {field: edit})
            self.assertEqual((caught.exception.field, caught.exception.meant), (field, meant))
            self.assertIn(said, caught.exception.reason)
        self.assertIsNone(self.held().back_together.line_up.front_mm)
        line_up.change(self.db, self.visit, {"front_mm": Edit(None, 15.8, sure=True)})
        self.assertEqual(self.held().back_together.line_up.front_mm, 15.8)

    def test_the_machine_remembers_what_it_should_be(self):
        self.change(way="gaps", base_mm=210.0, nominal_mm=35.0, front_mm=36.0, behind=[1.0, 0.5])
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "no parts", "Jo")
        self.visit = visits.open_visit(self.db, self.machine)
        read = self.held().back_together.line_up
        self.assertEqual((read.way, read.base_mm, read.nominal_mm, read.front_mm), ("gaps", 210.0, 35.0, None))
        self.assertEqual(read.behind, (1.0, 0.5))

    def test_shims_come_from_the_parts_room(self):
        rows = ("LS-05,line-up shim,4,0.5", "LS-5B,line-up shim,1,0.5", "LS-1,line-up shim,0,1")
        sheet = "\n".join(("number,kind,pieces,thickness_mm", *rows)).encode()
        self.assertEqual(sheets.take_in(self.db, sheet).refused, [])
        self.assertEqual(shelf.line_up_shims(self.db), {0.5: 5})
        self.assertEqual(shelf.stocked(self.db), {})  # they stand in no slot of a set-up

    def test_heat_cycles_run_on_one_clock(self):
        start = datetime(2026, 11, 25, 9, 0, tzinfo=UTC)
        with at_moment(start):
            line_up.begin_heat(self.db, self.visit)
            self.assertRaisesRegex(
                Conflict, "runs since .*T09:00:00Z.* already", line_up.begin_heat, self.db, self.visit
            )
        (cycle,) = self.held().back_together.cycles
        with at_moment(start + timedelta(minutes=16)):
            line_up.end_heat(self.db, self.visit, cycle.id, 61.0)
        with at_moment(start + timedelta(minutes=50)):
            line_up.end_heat(self.db, self.visit, cycle.id, None)
        (cycle,) = self.held().back_together.cycles
        self.assertEqual((cycle.warm_at, cycle.warm_c, cycle.cool_at), ("2026-11-25T09:16:00Z", 61.0,
                                                                         "2026-11-25T09:50:00Z"))  # fmt: skip
        self.assertRaises(Conflict, line_up.end_heat, self.db, self.visit, cycle.id, None)
        self.assertRaises(NotFound, line_up.end_heat, self.db, self.visit, 99, None)
        line_up.begin_heat(self.db, self.visit)
        line_up.take_back_heat(self.db, self.visit, self.held().back_together.cycles[-1].id)
        self.assertEqual(len(self.held().back_together.cycles), 1)

    def test_a_new_belt_holds_the_sign_off_until_it_is_released(self):
        self.decide(decision="discard", reason="cord out", next_width_mm=36.5)
        self.assertIn("new belt: 2 of 2 heat cycles to go, or overruled with a reason", self.waits("line-up"))
        intake.set_scope(self.db, self.visit, Edit("service", "belt"))
        self.assertIn("new belt: 2 of 2 heat cycles to go, or overruled with a reason", self.waits("hand-over"))
        line_up.release(self.db, self.visit, {"released": Edit("", "overruled")})
        choices.choose(self.db, "break_in", Edit("two", "three"))
        self.assertEqual(self.held().cycles_asked, 2)  # as it was asked that day
        self.assertIn("why the break-in was overruled", self.waits("hand-over"))
