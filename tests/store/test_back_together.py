"""The store of putting back, line-up, break-in and close: kept, undone, refused, and named at sign-off."""

from datetime import UTC, datetime, timedelta
from typing import Any

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.trade.rebuild import WRONG_WAY
from jaxel.core.trade.stations import counts_of, open_items, stations_of
from jaxel.core.trade.torque import Wrench
from jaxel.core.units import FOOT_POUND
from jaxel.store import (
    choices,
    close_out,
    fitting,
    hand_over,
    intake,
    line_up,
    machines,
    rebuild,
    sheets,
    shelf,
    strip,
    torques,
    upkeep,
    visit_log,
    visits,
    wrenches,
)
from jaxel.store.db import Conflict, NotFound, at_moment
from jaxel.store.edits import Edit, undo
from jaxel.store.hand_over import NotReady
from tests.examples import example, read
from tests.store.back_together import back_together
from tests.store.test_belt_and_strip import KINDS
from tests.store.test_store import StoreCase


class Opened(StoreCase):
    """A machine of known kinds, fully stripped at a service."""

    def setUp(self):
        super().setUp()
        upkeep.change(self.db, self.machine, KINDS)
        intake.set_scope(self.db, self.visit, Edit("tune", "service"))
        strip.change(self.db, self.visit, {"depth": Edit(None, "full strip")})

    def waits(self, station):
        return [item.what for item in open_items(self.held().record()) if item.station == station]

    def step(self, place):
        held = self.held()
        return next(each for each in held.bench.steps(held.inspection) if each.place == place)

    def done(self, side, fastener):
        return self.held().back_together.tightened[side, fastener]


class PuttingBack(Opened):
    def test_what_was_seen_is_kept_logged_and_undone(self):
        rebuild.see(self.db, self.visit, "primary.cover.back", Edit(False, True), "Jörn")
        self.assertTrue(self.step("primary.cover").asks[0].seen)
        with self.assertRaises(Conflict) as caught:
            rebuild.see(self.db, self.visit, "primary.cover.back", Edit(True, False))
            rebuild.see(self.db, self.visit, "primary.cover.back", Edit(True, None))
        self.assertEqual(caught.exception.field, "seen")
        undo(self.db, self.visit, "Jo")
        undo(self.db, self.visit, "Jo")
        self.assertFalse(self.step("primary.cover").asks[0].seen)

    def test_what_is_not_asked_is_refused(self):
        for attempt, field in (
            (lambda: rebuild.see(self.db, self.visit, "primary.cover.song", Edit(False, True)), "seen"),
            (lambda: rebuild.left_on(self.db, self.visit, "primary.elbow", Edit(False, True)), "left_on"),
            (lambda: rebuild.accept(self.db, self.visit, "primary.elbow", Edit("", "so")), "accepted"),
            (lambda: rebuild.change(self.db, self.visit, {"closes": Edit("", "up")}), "closes"),
            (lambda: rebuild.change(self.db, self.visit, {"seen": Edit([], ["x"])}), "seen"),
            (lambda: rebuild.weigh(self.db, self.visit, "primary", "arms", 3, Edit(None, 48.0)), "place"),
            (lambda: rebuild.weigh(self.db, self.visit, "primary", "arms", 0, Edit(None, -1.0)), "primary_arms_0"),
            (lambda: rebuild.weigh(self.db, self.visit, "primary", "elbows", 0, Edit(None, 48.0)), "matched"),
            (lambda: rebuild.tighten(self.db, self.visit, "primary", "elbow", {"state": Edit("", "done")}), "fastener"),
            (lambda: rebuild.clock(self.db, self.visit, "primary", "pivot_bolts", "compound_at"), "what"),
        ):
            before = self.held().edit
            with self.subTest(field), self.assertRaises(InvalidValue) as caught:
                attempt()
            self.assertEqual((caught.exception.field, self.held().edit), (field, before))

    def test_weighings_say_what_is_no_set(self):
        for place, mass in enumerate((48.1, 48.0, 46.9)):
            rebuild.weigh(self.db, self.visit, "primary", "arms", place, Edit(None, mass))
        words = self.waits("rebuild")
        self.assertIn("arms with their loads: 1.2 g apart, 0.2 g is allowed", words)
        rebuild.accept(self.db, self.visit, "primary.arms", Edit("", "a new set is on its way"))
        self.assertFalse(any("apart" in each for each in self.waits("rebuild")))

    def test_done_with_whom_when_and_what(self):
        torques.state(self.db, "bolt-in-helix-secondary", "helix_screws", "torque", 14.0, "manual")
        edits = {"state": Edit("", "done"), "torque_nm": Edit(None, 14.0), "means": Edit("", "wrench")}
        with at_moment(datetime(2026, 11, 25, 14, 8, tzinfo=UTC)):
            rebuild.tighten(self.db, self.visit, "secondary", "helix_screws", edits, "Ebba")
        found = self.done("secondary", "helix_screws")
        self.assertEqual((found.by, found.at, found.torque_nm), ("Ebba", "2026-11-25T14:08:00Z", 14.0))
        with self.assertRaises(Implausible) as caught:  # not what the manual says
            rebuild.tighten(
                self.db, self.visit, "secondary", "helix_screws", {"torque_nm": Edit(14.0, 60 * FOOT_POUND)}
            )
        self.assertEqual(caught.exception.field, "torque_nm")
        sure = {"torque_nm": Edit(14.0, 30.0, sure=True)}
        rebuild.tighten(self.db, self.visit, "secondary", "helix_screws", sure)
        self.assertEqual(self.done("secondary", "helix_screws").torque_nm, 30.0)
        with self.assertRaises(InvalidValue):
            rebuild.tighten(self.db, self.visit, "secondary", "helix_screws", {"torque_nm": Edit(30.0, 0.0, sure=True)})
        for _ in range(2):
            undo(self.db, self.visit, "Jo")
        self.assertNotIn(("secondary", "helix_screws"), self.held().back_together.tightened)

    def test_owed_is_named_at_the_sign_off(self):
        rebuild.tighten(self.db, self.visit, "primary", "cover_bolts", {"state": Edit("", "owed")})
        self.assertIn("torque owed: cover bolts, primary", self.waits("rebuild"))
        with self.assertRaises(NotReady) as caught:
            hand_over.sign_off(self.db, self.visit, self.held().edit, "Jo")
        self.assertIn("torque owed: cover bolts, primary", str(caught.exception))

    def test_a_timer_is_started_once(self):
        start = datetime(2026, 11, 25, 14, 0, tzinfo=UTC)
        with at_moment(start):
            rebuild.clock(self.db, self.visit, "secondary", "helix_screws", "compound_at")
        with at_moment(start + timedelta(minutes=3)), self.assertRaisesRegex(Conflict, "runs since 14:00 UTC already"):
            rebuild.clock(self.db, self.visit, "secondary", "helix_screws", "compound_at")
        since = self.done("secondary", "helix_screws").compound_at
        rebuild.stop_clock(self.db, self.visit, "secondary", "helix_screws", "compound_at", since)
        self.assertEqual(self.done("secondary", "helix_screws").compound_at, "")

    def test_a_recorded_change_opens_its_clutch_in_a_tune(self):
        intake.set_scope(self.db, self.visit, Edit("service", "tune"))
        strip.change(self.db, self.visit, {"depth": Edit("full strip", None)})
        self.assertNotIn("rebuild", stations_of(self.held().record()))
        self.try_out(arm_mass_g=58.0)
        self.record("thin air")
        self.assertEqual(self.held().set_up.opened, {"primary": "cover off"})
        self.assertIn("rebuild", stations_of(self.held().record()))
        self.assertEqual(self.waits("rebuild"), ["primary: 4 steps of putting it back"])
        back_together(self.db, self.visit)
        self.assertEqual(self.waits("rebuild"), [])
        self.assertEqual(self.done("primary", "cover_bolts").means, "by hand")

    def test_the_log_tells_it_in_words(self):
        edit = self.held().edit
        rebuild.change(self.db, self.visit, {"wound": Edit("", "clockwise")})
        rebuild.tighten(self.db, self.visit, "primary", "spider", {"state": Edit("", "owed")})
        line_up.change(self.db, self.visit, {"front_mm": Edit(None, 36.2)})
        line_up.begin_heat(self.db, self.visit)
        rebuild.see(self.db, self.visit, "primary.cover.back", Edit(False, True))
        rebuild.see(self.db, self.visit, "primary.cover.stop", Edit(False, True))
        told = [(line.station, line.what, line.now) for change in visit_log.after(self.db, self.held(), edit)
                for line in change.lines]  # fmt: skip
        self.assertIn(("rebuild", "way the top was turned", "“clockwise”"), told)
        self.assertIn(("rebuild", "Spider on its shaft, primary, tightened", "“owed”"), told)
        self.assertIn(("line-up", "front gap", "36.2 mm"), told)
        self.assertIn(("line-up", "heat cycle begun", ""), told)
        self.assertEqual(told[-1], ("rebuild", "seen going back", "cover, primary"))

    def test_a_service_is_signed_once_it_is_together(self):
        self.complete()
        for side in ("primary", "secondary"):
            strip.rest_not_reached(self.db, self.visit, side)
        strip.look(self.db, self.visit, "primary", "buttons", {"looked": Edit("not reached", "removed"),
                                                               "grade": Edit("", "snug")})  # fmt: skip
        self.assertEqual(self.waits("rebuild"), ["primary: 9 steps of putting it back"])
        self.sign()
        self.assertIsNotNone(self.held().signed_off_at)


class Sources(Opened):
    PLACE = ("bolt-in-helix-secondary", "helix_screws")

    def said(self):
        found = torques.of_machine(self.db, self.machine, self.held().kinds)
        return found.statements.get(self.PLACE, []), found.chosen.get(self.PLACE)

    def test_two_sources_and_the_one_that_holds_here(self):
        manual = torques.state(self.db, *self.PLACE, "torque", 14.0, "manual")
        sheet = torques.state(self.db, *self.PLACE, "torque", 11.5, "part maker's sheet", machine_id=self.machine)
        self.assertEqual([each.own for each in self.said()[0]], [False, True])
        torques.choose(self.db, self.machine, sheet)
        self.assertEqual(self.said()[1], sheet)
        torques.withdraw(self.db, manual)
        self.assertEqual([each.id for each in self.said()[0]], [sheet])
        self.assertRaises(NotFound, torques.withdraw, self.db, manual)
        self.assertRaises(NotFound, torques.choose, self.db, self.machine, manual)

    def test_a_double_brings_its_statements_along(self):
        double = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Maren")
        upkeep.change(self.db, double, KINDS)
        stated = torques.state(self.db, *self.PLACE, "torque", 12.0, "manual", machine_id=double)
        torques.choose(self.db, double, stated)
        upkeep.merge(self.db, self.machine, double)
        self.assertEqual((self.said()[0][0].torque_nm, self.said()[1]), (12.0, stated))

    def test_what_cannot_be_stated(self):
        cases: tuple[tuple[Any, str], ...] = (
            (("steam", "helix_screws", "torque", 14.0, "manual"), "fastener"),
            ((*self.PLACE, "torque", None, "manual"), "torque"), ((*self.PLACE, "snug", 14.0, "manual"), "torque"),
            ((*self.PLACE, "torque", 14.0, "a friend"), "origin"), ((*self.PLACE, "hard", None, "manual"), "tightness"),
            ((*self.PLACE, "torque", -1.0, "manual"), "torque"), ((*self.PLACE, "torque", 9e9, "manual"), "torque"),
        )  # fmt: skip
        for values, field in cases:
            with self.subTest(values), self.assertRaises(InvalidValue) as caught:
                torques.state(self.db, *values)
            self.assertEqual(caught.exception.field, field)
        with self.assertRaises(Implausible) as asked:
            torques.state(self.db, *self.PLACE, "torque", 60 * FOOT_POUND, "manual")
        self.assertEqual(asked.exception.meant, {"torque": "60 in-lb"})
        self.assertEqual(self.said()[0], [])


class Wrenches(StoreCase):
    def test_entered_put_right_and_retired(self):
        key = wrenches.add(self.db, Wrench(" Bench ", low_nm=10, high_nm=80, step_nm=0.5))
        self.assertEqual([each.name for each in wrenches.in_use(self.db)], ["Bench"])
        for wrench in (Wrench("bench", low_nm=1, high_nm=5, step_nm=1), Wrench("x", low_nm=5, high_nm=5, step_nm=1)):
            self.assertRaises(InvalidValue, wrenches.add, self.db, wrench)
        wrenches.change(self.db, key, {"due_on": Edit("", "2027-02-04")})
        self.assertRaises(Conflict, wrenches.change, self.db, key, {"due_on": Edit("", "2028-01-01")})
        self.assertRaises(InvalidValue, wrenches.change, self.db, key, {"ratio": Edit(None, 4.0)})
        wrenches.change(self.db, key, {"retired": Edit(False, True)})
        self.assertEqual(wrenches.in_use(self.db), [])
        self.assertRaises(NotFound, wrenches.change, self.db, 99, {"retired": Edit(False, True)})


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
            self.assertRaisesRegex(Conflict, "runs since 09:00 UTC already", line_up.begin_heat, self.db, self.visit)
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


class Closing(Opened):
    def test_twelve_of_thirteen_holds_the_sign_off(self):
        keys = {each["key"]: each for each in self.counts()}
        self.assertEqual(keys["primary.cover_bolts"]["out"], 6)
        close_out.count(self.db, self.visit, "primary.cover_bolts", {"out": Edit(6, 13), "back": Edit(None, 12)})
        self.assertIn("cover bolts, primary: 12 of 13 back", self.waits("hand-over"))
        close_out.count(self.db, self.visit, "primary.cover_bolts", {"back": Edit(12, 13.0)})
        self.assertNotIn("cover bolts, primary: 12 of 13 back", self.waits("hand-over"))

    def counts(self):
        return [vars(each) for each in counts_of(self.held().record())]

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
        expected = self.held().bench.expected
        self.assertEqual(WRONG_WAY in self.waits("rebuild"), expected.torsion)

    def test_a_change_recorded_and_undone_closes_the_clutch_again(self):
        intake.set_scope(self.db, self.visit, Edit("service", "tune"))
        strip.change(self.db, self.visit, {"depth": Edit("full strip", None)})
        self.try_out(arm_mass_g=58.0)
        fitting.record(self.db, self.visit, "thin air", self.held().set_up.left_draft)
        undo(self.db, self.visit, "Jo")
        self.assertEqual((self.held().set_up.opened, "rebuild" in stations_of(self.held().record())), ({}, False))
