"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

import json
import sqlite3
import tempfile
import unittest
from contextlib import closing
from pathlib import Path
from unittest import mock

import numpy as np
from scipy.interpolate import PchipInterpolator

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.mechanism.shift import predict
from jaxel.core.trade.slots import numbers
from jaxel.demo.workshop import build
from jaxel.store import (
    acts,
    belt_checks,
    db,
    fitting,
    hand_over,
    intake,
    machines,
    revisions,
    road_tests,
    visit_log,
    visits,
)
from jaxel.store.edits import Edit, undo
from tests.examples import changed, example, read
from tests.store.back_together import back_together


class StoreCase(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "workshop.db"
        db.migrate(self.path)
        self.db = db.connect(self.path)
        self.addCleanup(self.db.close)
        self.machine = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Rider")
        self.visit = visits.open_visit(self.db, self.machine)

    def held(self):
        return visits.get(self.db, self.visit)

    def edits(self, record, values):
        """Changes of a record's fields that replace what it holds."""
        return {name: Edit(getattr(record, name), value) for name, value in values.items()}

    def note(self, **values):
        intake.change(self.db, self.visit, self.edits(self.held().intake, values))

    def decide(self, **values):
        belt_checks.change(self.db, self.visit, self.edits(self.held().belt, values))

    def measure(self, place, width):
        belt_checks.measure(self.db, self.visit, place, Edit(self.held().widths_mm.get(place), width))

    def try_out(self, which="left", **values):
        held = self.held()
        known = numbers(held.as_left() if which == "left" else held.as_found())
        fitting.try_numbers(
            self.db, self.visit, which, {key: Edit(known[key].value, value) for key, value in values.items()}
        )

    def record(self, reason):
        fitting.record(self.db, self.visit, reason, self.held().set_up.left_draft)

    def confirm(self):
        intake.confirm_fitted(self.db, self.visit, self.held().set_up.found_draft)

    def ride(self, **measured):
        run_id = road_tests.begin(self.db, self.visit, self.held().set_up.left_revision_id)
        road_tests.change(self.db, self.visit, run_id, {name: Edit(None, value) for name, value in measured.items()})
        return run_id

    def sign(self, by="Jo"):
        back_together(self.db, self.visit)
        hand_over.sign_off(self.db, self.visit, self.held().edit, by)

    def complete(self, **belt):
        self.note(odometer_km=900, complaint="bogs")
        self.confirm()
        for place in (1, 2, 3):
            self.measure(place, 36.0)
        self.decide(**(belt or {"decision": "run on"}))
        self.ride(engagement_rpm=4000.0, shift_rpm=7800.0)


class Machines(StoreCase):
    def test_comes_in_with_revision_and_belt(self):
        (revision,) = revisions.history(self.db, self.machine)
        self.assertEqual((revision.reason, revision.parent_id, revision.document.name),
                         ("as brought in", None, "Tarnhowe 840 mountain sled"))  # fmt: skip
        (belt,) = machines.belts(self.db, self.machine)
        self.assertEqual((belt.number, belt.state, belt.width_mm), (1, "fitted", 36.5))

    def test_has_its_documents_name(self):
        (machine,) = machines.all_machines(self.db)
        self.assertEqual((machine.name, machine.kind, machine.rider), ("Tarnhowe 840 mountain sled", "sled", "Rider"))

    def test_a_target_left_out_is_peak_power_and_the_bite_of_today(self):
        data = changed(example("mountain-sled"), "target", ...)
        machine = machines.bring_in(self.db, read(data), "sled")
        visit = visits.get(self.db, visits.open_visit(self.db, machine))
        # The highest of torque × rpm along the curve, by SciPy's own PCHIP.
        points = data["engine"]["curve"]
        curve = PchipInterpolator([p["rpm"] for p in points], [p["torque_nm"] for p in points])
        rpm = np.arange(2000, 8800)
        self.assertAlmostEqual(visit.intake.target_shift_rpm, rpm[np.argmax(rpm * curve(rpm))], delta=6)
        bite = predict(read(data).core()).engagement.bite * 30 / np.pi
        self.assertAlmostEqual(visit.intake.target_engagement_rpm, bite, delta=5)

    def test_nothing_is_half_written(self):
        with mock.patch.object(revisions, "add", side_effect=RuntimeError), self.assertRaises(RuntimeError):
            machines.bring_in(self.db, read(example("trail-sled")), "sled")
        self.assertEqual([machine.id for machine in machines.all_machines(self.db)], [self.machine])

    def test_unknown_rows(self):
        for look in (machines.get, revisions.get, visits.get, visits.open_visit):
            self.assertRaises(db.NotFound, look, self.db, 99)


class Revisions(StoreCase):
    def test_are_never_overwritten_or_deleted(self):
        for statement in ("UPDATE setup_revision SET reason = 'x'", "DELETE FROM setup_revision"):
            with self.assertRaisesRegex(sqlite3.IntegrityError, "never"):
                self.db.execute(statement)

    def test_database_repeats_the_limits(self):
        bad = json.loads(json.dumps(example("mountain-sled")))
        for path, value in (("primary.weights.base_mass_g", -1), ("belt.top_width_mm", 39)):
            *way, last = path.split(".")
            broken = json.loads(json.dumps(bad))
            holder = broken
            for step in way:
                holder = holder[step]
            holder[last] = value
            with self.assertRaises(sqlite3.IntegrityError):
                self.db.execute(
                    "INSERT INTO setup_revision (machine_id, reason, document, created_at) VALUES (?, 'x', ?, 'now')",
                    (self.machine, json.dumps(broken)),
                )

    def test_a_change_is_a_pair_with_its_reason(self):
        found = self.held().set_up.found_revision_id
        self.try_out(arm_mass_g=58.0)
        self.record("thin air")
        visit = self.held()
        revision = revisions.get(self.db, visit.set_up.left_revision_id)
        self.assertEqual((revision.parent_id, revision.visit_id, revision.reason), (found, self.visit, "thin air"))
        self.assertEqual(revision.document.primary.weights.base_mass_g, 58.0)
        self.assertEqual(revisions.get(self.db, found).document.primary.weights.base_mass_g, 60)
        self.assertEqual((visit.set_up.found_revision_id, visit.set_up.left_draft), (found, {}))

    def test_recording_needs_a_change_and_a_reason(self):
        with self.assertRaisesRegex(InvalidValue, "nothing differs"):
            self.record("why not")
        self.try_out(arm_mass_g=58.0)
        with self.assertRaisesRegex(InvalidValue, "with its reason"):
            self.record(" ")

    def test_a_value_put_back_leaves_the_draft(self):
        self.try_out(arm_mass_g=58.0)
        self.assertEqual(self.held().set_up.left_draft, {"arm_mass_g": 58.0})
        self.try_out("left", primary_start_n="640")
        kept = self.held().set_up.left_draft
        self.assertEqual(kept, {"arm_mass_g": 58.0, "primary_start_n": 640, "primary_finish_n": 1380})
        self.try_out("left", primary_start_n=610)
        self.try_out(arm_mass_g=60.0)
        self.assertEqual(self.held().set_up.left_draft, {})
        self.try_out(arm_mass_g=58.0)
        fitting.drop(self.db, self.visit, self.held().set_up.left_draft)
        self.assertEqual(self.held().as_left().primary.weights.base_mass_g, 60)

    def test_something_else_found_fitted_becomes_a_revision(self):
        self.try_out("found", shim_mm=0.5)
        self.confirm()
        visit = self.held()
        self.assertEqual(visit.set_up.found_revision_id, visit.set_up.left_revision_id)
        self.assertEqual(visit.as_left().primary.shim_mm, 0.5)
        self.assertIn("found fitted", revisions.get(self.db, visit.set_up.found_revision_id).reason)


class Edits(StoreCase):
    def test_a_field_changed_elsewhere_is_not_overwritten(self):
        self.note(complaint="theirs")
        with self.assertRaises(db.Conflict) as caught:
            intake.change(self.db, self.visit, {"odometer_km": Edit(None, 900), "complaint": Edit("", "mine")})
        self.assertEqual((caught.exception.field, caught.exception.theirs), ("complaint", "theirs"))
        self.assertEqual((self.held().intake.complaint, self.held().intake.odometer_km), ("theirs", None))

        self.measure(1, 36.1)
        self.try_out(arm_mass_g=58.0, primary_start_n=640.0)
        run = self.held().set_up.left_revision_id
        for field, theirs, write in (
            ("place_1", 36.1, lambda: belt_checks.measure(self.db, self.visit, 1, Edit(None, 36.0))),
            ("arm_mass_g", 58.0, lambda: fitting.try_numbers(self.db, self.visit, "left",
                                                             {"arm_mass_g": Edit(60, "57.5")})),
            ("slots", self.held().set_up.left_draft, lambda: fitting.record(self.db, self.visit, "why", {})),
            ("slots", self.held().set_up.left_draft, lambda: fitting.drop(self.db, self.visit, {"shim_mm": 1.0})),
            ("fitted", {}, lambda: intake.confirm_fitted(self.db, self.visit, {"shim_mm": 1.0})),
        ):  # fmt: skip
            with self.subTest(field), self.assertRaises(db.Conflict) as caught:
                write()
            self.assertEqual((caught.exception.field, caught.exception.theirs), (field, theirs))
        self.record("thin air")
        with self.assertRaises(db.Conflict) as caught:
            road_tests.begin(self.db, self.visit, run)
        self.assertEqual(caught.exception.field, "run")

    def test_another_field_changed_elsewhere_does_not_stand_in_the_way(self):
        before = self.held().intake
        self.note(complaint="theirs")
        intake.change(self.db, self.visit, {"odometer_km": Edit(before.odometer_km, 900)})
        self.assertEqual((self.held().intake.complaint, self.held().intake.odometer_km), ("theirs", 900))

    def test_equal_values_settle(self):
        # The same hand sends the same twice, a reload between: no conflict with oneself, and nothing logged again.
        self.note(complaint="bogs")
        logged = len(self.log())
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs")})
        self.assertEqual((self.held().intake.complaint, len(self.log())), ("bogs", logged))

    def log(self):
        rows = self.db.execute("SELECT * FROM visit_log WHERE visit_id = ? ORDER BY id", (self.visit,))
        return [dict(row) for row in rows]

    def test_a_refused_write_does_not_count_as_an_edit(self):
        before = self.held().edit
        for place, width in ((1, 38.0), (2, 0.0), (3, 5.0)):
            with self.assertRaises(InvalidValue) as caught:
                self.measure(place, width)
            self.assertEqual(caught.exception.field, f"place_{place}")
        for write, values in (
            (belt_checks.change, {"next_belt_id": Edit(None, 77)}), (belt_checks.change, {"belt_id": Edit(1, 2)}),
            (intake.change, {"fitted_confirmed": Edit(0, 1)}), (hand_over.change, {"signed_off_by": Edit("", "me")}),
            (intake.state_kinds, {"name": Edit("", "x")}), (fitting.try_numbers, None),
        ):  # fmt: skip
            if values is None:
                self.assertRaises(InvalidValue, write, self.db, self.visit, "left", {"elbow": Edit(1, 2)})
            else:
                self.assertRaises(InvalidValue, write, self.db, self.visit, values)
        for by in ("", "  ", "x" * 121):
            self.assertRaises(InvalidValue, intake.change, self.db, self.visit, {}, by)
        self.assertEqual((self.held().edit, self.log()), (before, []))

    def test_every_change_is_logged_with_its_hand(self):
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs"), "odometer_km": Edit(None, 900)}, "Jörn")
        self.try_out(primary_start_n=640)
        self.record("thin air")
        rows = self.log()
        self.assertEqual([(r["change"], r["by"], r["place"], r["field"], r["was"], r["now"]) for r in rows[:2]],
                         [(2, "Jörn", "intake", "complaint", '""', '"bogs"'),
                          (2, "Jörn", "intake", "odometer_km", None, "900")])  # fmt: skip
        self.assertEqual([(r["change"], r["field"]) for r in rows[2:]],
                         [(3, "left_draft"), (4, "opened"), (4, "left_revision_id"), (4, "left_draft")])  # fmt: skip
        self.assertEqual({r["by"] for r in rows[2:]}, {"bench"})
        for statement in ("UPDATE visit_log SET by = 'x'", "DELETE FROM visit_log"):
            with self.assertRaisesRegex(sqlite3.IntegrityError, "the log is never"):
                self.db.execute(statement)

    def test_one_open_visit_per_machine(self):
        self.assertRaises(db.Conflict, visits.open_visit, self.db, self.machine)

    def test_a_reading_can_be_taken_back(self):
        self.measure(1, 36.0)
        self.measure(1, None)
        self.assertEqual(self.held().widths_mm, {})

    def test_a_run_can_be_taken_back(self):
        run_id = self.ride(shift_rpm=7800.0)
        shown = {"engagement_rpm": None, "shift_rpm": 7800.0, "note": ""}
        with self.assertRaises(db.Conflict):
            road_tests.remove(self.db, self.visit, run_id, shown | {"shift_rpm": 7700.0})
        road_tests.remove(self.db, self.visit, run_id, shown)
        self.assertEqual(self.held().runs, ())
        self.assertRaises(db.NotFound, road_tests.remove, self.db, self.visit, run_id, shown)

    def test_a_run_keeps_its_air_and_what_was_predicted_that_day(self):
        self.note(elevation_m=1200.0, temperature_c=-5.0)
        run_id = self.ride(shift_rpm=7800.0)
        (run,) = self.held().runs
        expected = predict(self.held().as_left().core())
        self.assertAlmostEqual(run.predicted.shift_rpm, expected.shift.mean * 30 / np.pi, delta=0.06)
        self.assertAlmostEqual(run.predicted.engagement_rpm, expected.engagement.bite * 30 / np.pi, delta=0.06)
        self.assertEqual((run.elevation_m, run.temperature_c, run.predicted.model_version), (1200, -5, 2))
        self.assertGreater(run.predicted.shift_sd_rpm, 50)
        self.note(elevation_m=2400.0)
        road_tests.change(self.db, self.visit, run_id, {"shift_rpm": Edit(7800, 7790.0)})
        (later,) = self.held().runs
        self.assertEqual((later.predicted, later.elevation_m, later.shift_rpm), (run.predicted, 1200, 7790))
        with self.assertRaisesRegex(sqlite3.IntegrityError, "fact of its day"):
            self.db.execute("UPDATE road_test SET predicted_shift_rpm = 1")

    def test_a_run_waits_for_the_change_to_be_recorded(self):
        self.try_out(arm_mass_g=58.0)
        with self.assertRaisesRegex(InvalidValue, "record the set-up change"):
            self.ride()

    def test_a_run_of_another_visit_is_none_of_this_one(self):
        run_id = self.ride(shift_rpm=7800.0)
        other = machines.bring_in(self.db, read(example("trail-sled")), "sled")
        self.visit = visits.open_visit(self.db, other)
        self.assertRaises(db.NotFound, road_tests.change, self.db, self.visit, run_id, {"note": Edit("", "x")})


class Undo(StoreCase):
    def state(self):
        held = self.held()
        return {name: getattr(held, name) for name in ("intake", "belt", "set_up", "hand_over", "widths_mm", "runs",
                                                       "kinds")}  # fmt: skip

    def test_walks_back_through_every_kind_of_change(self):
        states = [self.state()]
        for change in (
            lambda: self.note(complaint="bogs", odometer_km=900),
            lambda: intake.state_kinds(self.db, self.visit, {"primary_kind": Edit(None, "shimmed-spider-primary")}),
            lambda: self.try_out("found", shim_mm=0.5),
            self.confirm,
            lambda: self.measure(1, 36.0),
            lambda: self.measure(1, 35.9),
            lambda: self.measure(1, None),
            lambda: self.decide(decision="discard", reason="burnt", next_width_mm=36.4),
            lambda: self.decide(decision=None),
            lambda: self.try_out(arm_mass_g=58.0),
            lambda: fitting.note_reason(self.db, self.visit, Edit("", "thin air")),
            lambda: fitting.drop(self.db, self.visit, self.held().set_up.left_draft),
            lambda: self.try_out(primary_start_n=640.0),
            lambda: self.record("a stiffer start"),
            lambda: road_tests.begin(self.db, self.visit, self.held().set_up.left_revision_id),
            lambda: road_tests.change(self.db, self.visit, self.held().runs[0].id, {"shift_rpm": Edit(None, 7800.0)}),
            lambda: road_tests.remove(self.db, self.visit, self.held().runs[0].id,
                                      {"engagement_rpm": None, "shift_rpm": 7800.0, "note": ""}),
            lambda: hand_over.change(self.db, self.visit, {"watch": Edit("", "the belt")}),
        ):  # fmt: skip
            change()
            states.append(self.state())
        for expected in reversed(states[:-1]):
            undo(self.db, self.visit, "Jo")
            self.assertEqual(self.state(), expected)
        with self.assertRaisesRegex(db.Conflict, "nothing to undo"):
            undo(self.db, self.visit, "Jo")
        self.assertEqual(self.db.execute("PRAGMA foreign_key_check").fetchall(), [])

    def test_is_of_the_change_that_was_shown(self):
        self.note(complaint="one")
        shown = visit_log.last(self.db, self.held())
        self.note(complaint="two")
        with self.assertRaisesRegex(db.Conflict, "something else was changed last"):
            undo(self.db, self.visit, "Jo", shown.edit)
        undo(self.db, self.visit, "Jo", shown.edit + 1)
        self.assertEqual(self.held().intake.complaint, "one")

    def test_says_whose_change_it_was(self):
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs")}, "Jörn")
        found = undo(self.db, self.visit, "Jo")
        self.assertEqual(
            [(each.by, each.place, each.was, each.now) for each in found], [("Jörn", "intake", "", "bogs")]
        )

    def test_a_change_after_an_undo_can_be_undone_again(self):
        self.note(complaint="one")
        undo(self.db, self.visit, "Jo")
        self.note(complaint="two")
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().intake.complaint, "")
        self.assertRaises(db.Conflict, undo, self.db, self.visit, "Jo")

    def test_a_signed_visit_is_not_undone(self):
        self.complete()
        self.sign()
        with self.assertRaisesRegex(db.Conflict, "signed off"):
            undo(self.db, self.visit, "Jo")


class SignOff(StoreCase):
    def test_names_what_is_missing(self):
        with self.assertRaises(hand_over.NotReady) as caught:
            self.sign()
        self.assertIn("odometer reading, distance or hours", [item.what for item in caught.exception.items])
        self.assertIsNone(self.held().signed_off_at)

    def test_closes_the_visit(self):
        self.complete()
        self.assertRaises(InvalidValue, self.sign, " ")
        self.sign()
        with self.assertRaisesRegex(db.Conflict, "signed off"):
            self.note(complaint="late")
        (belt,) = machines.belts(self.db, self.machine)
        self.assertEqual((belt.state, belt.width_mm), ("fitted", 36.0))

    def test_is_of_what_was_shown(self):
        self.complete()
        shown = self.held().edit
        self.note(complaint="another hand")
        with self.assertRaisesRegex(db.Conflict, "look at it again") as caught:
            hand_over.sign_off(self.db, self.visit, shown, "Jo")
        self.assertEqual(caught.exception.field, "edit")
        self.assertIsNone(self.held().signed_off_at)

    def test_a_new_belt_goes_on_and_the_spare_can_come_back(self):
        self.complete(decision="spare", reason="narrow", next_width_mm=36.4)
        self.assertAlmostEqual(self.held().as_left().belt.top_width_mm, 36.4)
        self.sign()
        old, new = machines.belts(self.db, self.machine)
        self.assertEqual((old.state, new.state, new.width_mm, new.fitted_at_km), ("spare", "fitted", 36.4, 900))

        self.visit = visits.open_visit(self.db, self.machine)
        self.complete(decision="discard", reason="burnt", next_belt_id=old.id)
        self.sign()
        old, new = machines.belts(self.db, self.machine)
        self.assertEqual((old.state, old.width_mm, new.state), ("fitted", 36.0, "discarded"))


class Migration(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "workshop.db"

    def test_is_repeatable_and_strict(self):
        db.migrate(self.path)
        db.migrate(self.path)
        with closing(db.connect(self.path)) as connection:
            self.assertEqual(connection.execute("PRAGMA journal_mode").fetchone()[0], "wal")
            self.assertEqual(connection.execute("PRAGMA foreign_keys").fetchone()[0], 1)
            tables = connection.execute("SELECT name, strict FROM pragma_table_list WHERE type = 'table'").fetchall()
            loose = [row["name"] for row in tables if not row["strict"] and not row["name"].startswith("sqlite_")]
            self.assertEqual(loose, [])

    def test_keeps_a_copy_and_rolls_back_a_broken_step(self):
        db.migrate(self.path)
        steps = db._migrations()
        broken = [*steps, (len(steps) + 1, "CREATE TABLE extra (id INTEGER) STRICT; CREATE TABLE machine (id);")]
        with mock.patch.object(db, "_migrations", lambda: broken), self.assertRaises(db.Unusable):
            db.migrate(self.path)
        with closing(db.connect(self.path)) as connection:
            self.assertEqual(connection.execute("PRAGMA user_version").fetchone()[0], len(steps))
            self.assertRaises(sqlite3.Error, connection.execute, "SELECT * FROM extra")
        self.assertTrue(Path(f"{self.path}.before-{len(steps) + 1:04}").exists())


class Demo(unittest.TestCase):
    def test_the_workshop_builds_and_hangs_together(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "demo.db"
            db.migrate(path)
            with closing(db.connect(path)) as connection:
                build(connection)
                self.assertEqual(
                    {m.kind for m in machines.all_machines(connection)}, {"sled", "side-by-side", "quad", "bare clutch"}
                )
                self.assertEqual(connection.execute("PRAGMA foreign_key_check").fetchall(), [])
                lines = [v for m in machines.all_machines(connection) for v in visits.lines_of(connection, m.id)]
                held = [visits.get(connection, line.id) for line in lines]
                self.assertEqual(sum(visit.signed_off_at is None for visit in held), 5)
                for visit in held:
                    visit.as_found().core(), visit.as_left().core()


class Log(StoreCase):
    """The visit's log in the trade's words."""

    def lines(self, after=0):
        changes = visit_log.after(self.db, self.held(), after)
        return [(line.what, line.was, line.now) for change in changes for line in change.lines]

    def test_each_thing_in_words(self):
        intake.change(self.db, self.visit, {"odometer_km": Edit(None, 2310.0), "complaint": Edit("", "bogs")}, "Jörn")
        self.measure(2, 36.0)
        self.measure(2, 35.9)
        self.try_out(arm_mass_g=58)
        self.record("thin air")
        revision = self.held().set_up.left_revision_id
        run = road_tests.begin(self.db, self.visit, revision)
        road_tests.change(self.db, self.visit, run, {"shift_rpm": Edit(None, 7880)})
        hand_over.change(self.db, self.visit, {"watch": Edit("", "x" * 200)})
        self.assertEqual(self.lines(), [
            ("odometer", "", "2,310 km"), ("complaint", "", "“bogs”"),
            ("belt width at place 2", "", "36 mm"), ("belt width at place 2", "36 mm", "35.9 mm"),
            ("Arms, each of 3", "", "58 g"), ("change recorded as fitted", "", ""),
            ("run begun", "", ""), ("run 1, shift", "", "7,880 rpm"), ("what to watch", "", f"“{'x' * 79}…”"),
        ])  # fmt: skip
        undo(self.db, self.visit, "Jo")
        self.assertEqual(visit_log.last(self.db, self.held()).lines[0].what, "run 1, shift")

    def test_a_kind_and_a_belt_by_their_names(self):
        intake.state_kinds(self.db, self.visit, {"primary_kind": Edit(None, "loaded-arm-primary")})
        self.db.execute("INSERT INTO belt (machine_id, number, state, width_mm) VALUES (?, 7, 'spare', 36)",
                        (self.machine,))  # fmt: skip
        spare = machines.belts(self.db, self.machine)[-1].id
        belt_checks.change(self.db, self.visit, {"next_belt_id": Edit(None, spare)})
        self.assertEqual(self.lines()[:2], [("kind of primary", "", "“Loaded-arm primary”"),
                                            ("spare belt going on", "", "“belt 7”")])  # fmt: skip

    def test_what_is_tried_against_what_is_recorded(self):
        self.try_out(arm_mass_g=58)
        self.assertEqual(self.lines(), [("Arms, each of 3", "60 g", "58 g")])

    def test_after_an_edit_and_by_whom(self):
        self.note(complaint="one")
        edit = self.held().edit
        intake.change(self.db, self.visit, {"complaint": Edit("one", "two")}, "Jörn")
        (change,) = visit_log.after(self.db, self.held(), edit)
        self.assertEqual((change.edit, change.by, change.lines[0].station), (edit + 1, "Jörn", "intake"))
        self.assertEqual(self.lines(edit), [("complaint", "“one”", "“two”")])


class Asked(StoreCase):
    def test_an_implausible_value_is_not_written_until_the_hand_is_sure(self):
        revision = self.held().set_up.left_revision_id
        run = road_tests.begin(self.db, self.visit, revision)
        for write, value in (
            (lambda edit: intake.change(self.db, self.visit, {"baseline_shift_rpm": edit}), 7.81),
            (lambda edit: belt_checks.measure(self.db, self.visit, 1, edit), 33),
            (lambda edit: belt_checks.change(self.db, self.visit, {"next_width_mm": edit}), 33),
            (lambda edit: fitting.try_numbers(self.db, self.visit, "left", {"load_g.heel": edit}), 25),
            (lambda edit: road_tests.change(self.db, self.visit, run, {"shift_rpm": edit}), 1000),
        ):
            before = self.db.execute("SELECT count(*) FROM visit_log").fetchone()[0]
            was = 0 if value == 25 else None
            with self.subTest(value=value), self.assertRaises(Implausible):
                write(Edit(was, value))
            self.assertEqual(self.db.execute("SELECT count(*) FROM visit_log").fetchone()[0], before)
            write(Edit(was, value, sure=True))
            self.assertGreater(self.db.execute("SELECT count(*) FROM visit_log").fetchone()[0], before)

    def test_what_was_likely_meant_goes_before_what_cannot_be(self):
        with self.assertRaises(Implausible) as caught:
            belt_checks.measure(self.db, self.visit, 1, Edit(None, 1.41))
        self.assertEqual(caught.exception.meant, {"place_1": "1.41 in"})

    def test_the_odometer_of_the_last_visit_counts(self):
        for kilometres in (500, 800):
            self.note(odometer_km=kilometres)
            self.db.execute("UPDATE visit SET signed_off_at = '2026-01-01T00:00:00Z', signed_off_by = 'Jo'")
            self.visit = visits.open_visit(self.db, self.machine)
        with self.assertRaisesRegex(Implausible, "less than at the last visit, 800 km"):
            self.note(odometer_km=600)
        self.note(odometer_km=800)

    def test_a_service_that_lies_behind(self):
        self.note(odometer_km=2310)
        with self.assertRaisesRegex(Implausible, "lies behind"):
            hand_over.change(self.db, self.visit, {"next_service_km": Edit(None, 500)})
        hand_over.change(self.db, self.visit, {"next_service_km": Edit(None, 500, sure=True)})
        self.assertEqual(self.held().hand_over.next_service_km, 500)

    def test_what_cannot_be_is_asked_about_and_refused_however_sure(self):
        with self.assertRaisesRegex(Implausible, "30.5 mm narrower than a new belt"):
            belt_checks.measure(self.db, self.visit, 1, Edit(None, 6))
        with self.assertRaises(InvalidValue) as caught:
            belt_checks.measure(self.db, self.visit, 1, Edit(None, 6, sure=True))
        self.assertIn("too narrow to be gripped", caught.exception.reason)
        self.assertEqual(self.held().widths_mm, {})


class Acts(StoreCase):
    def test_one_asked_for_twice_is_done_once(self):
        revision = self.held().set_up.left_revision_id
        made = [acts.once(self.db, "token-1234", lambda: road_tests.begin(self.db, self.visit, revision))
                for _ in range(3)]  # fmt: skip
        self.assertEqual(len(set(made)), 1)
        self.assertEqual([run.id for run in self.held().runs], made[:1])
        acts.once(self.db, "token-5678", lambda: road_tests.begin(self.db, self.visit, revision))
        acts.once(self.db, None, lambda: road_tests.begin(self.db, self.visit, revision))
        self.assertEqual(len(self.held().runs), 3)

    def test_one_that_was_refused_may_be_asked_for_again(self):
        with self.assertRaises(db.Conflict):
            acts.once(self.db, "token-1234", lambda: road_tests.begin(self.db, self.visit, 999))
        revision = self.held().set_up.left_revision_id
        acts.once(self.db, "token-1234", lambda: road_tests.begin(self.db, self.visit, revision))
        self.assertEqual(len(self.held().runs), 1)

    def test_a_token_is_forgotten_after_a_month(self):
        acts.once(self.db, "token-1234", lambda: None)
        self.db.execute("UPDATE act SET at = '2020-01-01T00:00:00Z'")
        acts.once(self.db, "token-5678", lambda: None)
        self.assertEqual([row["token"] for row in self.db.execute("SELECT token FROM act")], ["token-5678"])

    def test_a_token_has_a_length(self):
        for token in ("short", "x" * 65):
            with self.assertRaisesRegex(InvalidValue, "8 to 64"):
                acts.once(self.db, token, lambda: None)
