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

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.shift import predict
from jaxel.demo.workshop import build
from jaxel.store import db, fitting, machines, revisions, road_tests, sign_off, visits
from tests.examples import changed, example, read


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

    def edit(self):
        return visits.get(self.db, self.visit).edit

    def try_arms(self, mass):
        fitting.try_slots(self.db, self.visit, self.edit(), "left", {"arm_mass_g": mass})

    def complete(self, **belt):
        visits.change(self.db, self.visit, self.edit(), {"odometer_km": 900, "complaint": "bogs"})
        fitting.confirm_found(self.db, self.visit, self.edit())
        for place in (1, 2, 3):
            visits.measure_belt(self.db, self.visit, self.edit(), place, 36.0)
        visits.change(self.db, self.visit, self.edit(), belt or {"belt_decision": "run on"})
        road_tests.write(self.db, self.visit, self.edit(), None, {"engagement_rpm": 4000.0, "shift_rpm": 7800.0})


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
        curve = PchipInterpolator(*zip(*((p["rpm"], p["torque_nm"]) for p in data["engine"]["curve"]), strict=True))
        rpm = np.arange(2000, 8800)
        self.assertAlmostEqual(visit.target_shift_rpm, rpm[np.argmax(rpm * curve(rpm))], delta=6)
        bite = predict(read(data).core()).engagement.bite * 30 / np.pi
        self.assertAlmostEqual(visit.target_engagement_rpm, bite, delta=5)

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
        found = visits.get(self.db, self.visit).found_revision_id
        self.try_arms(58.0)
        fitting.record(self.db, self.visit, self.edit(), "thin air")
        visit = visits.get(self.db, self.visit)
        revision = revisions.get(self.db, visit.left_revision_id)
        self.assertEqual((revision.parent_id, revision.visit_id, revision.reason), (found, self.visit, "thin air"))
        self.assertEqual(revision.document.primary.weights.base_mass_g, 58.0)
        self.assertEqual(revisions.get(self.db, found).document.primary.weights.base_mass_g, 60)
        self.assertEqual((visit.found_revision_id, visit.left_draft), (found, {}))

    def test_recording_needs_a_change_and_a_reason(self):
        with self.assertRaisesRegex(InvalidValue, "nothing differs"):
            fitting.record(self.db, self.visit, self.edit(), "why not")
        self.try_arms(58.0)
        with self.assertRaisesRegex(InvalidValue, "with its reason"):
            fitting.record(self.db, self.visit, self.edit(), " ")

    def test_a_value_put_back_leaves_the_draft(self):
        self.try_arms(58.0)
        self.assertEqual(visits.get(self.db, self.visit).left_draft, {"arm_mass_g": 58.0})
        fitting.try_slots(self.db, self.visit, self.edit(), "left", {"primary_start_n": "640"})
        kept = visits.get(self.db, self.visit).left_draft
        self.assertEqual(kept, {"arm_mass_g": 58.0, "primary_start_n": 640, "primary_finish_n": 1380})
        fitting.try_slots(self.db, self.visit, self.edit(), "left", {"primary_start_n": 610})
        self.try_arms(60.0)
        self.assertEqual(visits.get(self.db, self.visit).left_draft, {})
        self.try_arms(58.0)
        fitting.drop_draft(self.db, self.visit, self.edit())
        self.assertEqual(visits.get(self.db, self.visit).as_left().primary.weights.base_mass_g, 60)

    def test_something_else_found_fitted_becomes_a_revision(self):
        fitting.try_slots(self.db, self.visit, self.edit(), "found", {"shim_mm": 0.5})
        fitting.confirm_found(self.db, self.visit, self.edit())
        visit = visits.get(self.db, self.visit)
        self.assertEqual(visit.found_revision_id, visit.left_revision_id)
        self.assertEqual(visit.as_left().primary.shim_mm, 0.5)
        self.assertIn("found fitted", revisions.get(self.db, visit.found_revision_id).reason)


class Edits(StoreCase):
    def test_an_edit_made_elsewhere_is_not_overwritten(self):
        before = self.edit()
        visits.change(self.db, self.visit, before, {"complaint": "theirs"})
        for write in (
            lambda: visits.change(self.db, self.visit, before, {"complaint": "mine"}),
            lambda: visits.measure_belt(self.db, self.visit, before, 1, 36.0),
            lambda: fitting.try_slots(self.db, self.visit, before, "left", {"arm_mass_g": 58.0}),
            lambda: road_tests.write(self.db, self.visit, before, None, {}),
        ):
            with self.assertRaisesRegex(db.Conflict, "changed elsewhere"):
                write()
        visit = visits.get(self.db, self.visit)
        self.assertEqual((visit.complaint, visit.widths_mm, visit.left_draft, visit.runs), ("theirs", {}, {}, ()))

    def test_a_refused_write_does_not_count_as_an_edit(self):
        before = self.edit()
        for place, width in ((1, 38.0), (2, 0.0), (3, 5.0)):
            with self.assertRaises(InvalidValue) as caught:
                visits.measure_belt(self.db, self.visit, before, place, width)
            self.assertEqual(caught.exception.field, f"place_{place}")
        self.assertRaises(InvalidValue, visits.change, self.db, self.visit, before, {"next_belt_id": 77})
        self.assertRaises(InvalidValue, visits.change, self.db, self.visit, before, {"signed_off_at": "now"})
        self.assertEqual(self.edit(), before)

    def test_one_open_visit_per_machine(self):
        self.assertRaises(db.Conflict, visits.open_visit, self.db, self.machine)

    def test_a_reading_can_be_taken_back(self):
        visits.measure_belt(self.db, self.visit, self.edit(), 1, 36.0)
        visits.measure_belt(self.db, self.visit, self.edit(), 1, None)
        self.assertEqual(visits.get(self.db, self.visit).widths_mm, {})

    def test_a_run_can_be_taken_back(self):
        road_tests.write(self.db, self.visit, self.edit(), None, {"shift_rpm": 7800.0})
        (run,) = visits.get(self.db, self.visit).runs
        road_tests.remove(self.db, self.visit, self.edit(), run.id)
        self.assertEqual(visits.get(self.db, self.visit).runs, ())
        self.assertRaises(db.NotFound, road_tests.remove, self.db, self.visit, self.edit(), run.id)

    def test_a_run_keeps_its_air_and_what_was_predicted_that_day(self):
        visits.change(self.db, self.visit, self.edit(), {"elevation_m": 1200.0, "temperature_c": -5.0})
        road_tests.write(self.db, self.visit, self.edit(), None, {"shift_rpm": 7800.0})
        (run,) = visits.get(self.db, self.visit).runs
        expected = predict(visits.get(self.db, self.visit).as_left().core())
        self.assertAlmostEqual(run.predicted.shift_rpm, expected.shift.mean * 30 / np.pi, delta=0.06)
        self.assertAlmostEqual(run.predicted.engagement_rpm, expected.engagement.bite * 30 / np.pi, delta=0.06)
        self.assertEqual((run.elevation_m, run.temperature_c, run.predicted.model_version), (1200, -5, 1))
        self.assertGreater(run.predicted.shift_sd_rpm, 50)
        visits.change(self.db, self.visit, self.edit(), {"elevation_m": 2400.0})
        road_tests.write(self.db, self.visit, self.edit(), run.id, {"shift_rpm": 7790.0})
        (later,) = visits.get(self.db, self.visit).runs
        self.assertEqual((later.predicted, later.elevation_m, later.shift_rpm), (run.predicted, 1200, 7790))
        with self.assertRaisesRegex(sqlite3.IntegrityError, "fact of its day"):
            self.db.execute("UPDATE road_test SET predicted_shift_rpm = 1")

    def test_a_run_waits_for_the_change_to_be_recorded(self):
        self.try_arms(58.0)
        with self.assertRaisesRegex(InvalidValue, "record the set-up change"):
            road_tests.write(self.db, self.visit, self.edit(), None, {})


class SignOff(StoreCase):
    def test_names_what_is_missing(self):
        with self.assertRaises(sign_off.NotReady) as caught:
            sign_off.sign_off(self.db, self.visit, self.edit(), "Jo")
        self.assertIn("odometer reading", [item.what for item in caught.exception.items])
        self.assertIsNone(visits.get(self.db, self.visit).signed_off_at)

    def test_closes_the_visit(self):
        self.complete()
        self.assertRaises(InvalidValue, sign_off.sign_off, self.db, self.visit, self.edit(), " ")
        sign_off.sign_off(self.db, self.visit, self.edit(), "Jo")
        with self.assertRaisesRegex(db.Conflict, "signed off"):
            visits.change(self.db, self.visit, self.edit(), {"complaint": "late"})
        (belt,) = machines.belts(self.db, self.machine)
        self.assertEqual((belt.state, belt.width_mm), ("fitted", 36.0))

    def test_a_new_belt_goes_on_and_the_spare_can_come_back(self):
        self.complete(belt_decision="spare", belt_reason="narrow", next_belt_width_mm=36.4)
        self.assertAlmostEqual(visits.get(self.db, self.visit).as_left().belt.top_width_mm, 36.4)
        sign_off.sign_off(self.db, self.visit, self.edit(), "Jo")
        old, new = machines.belts(self.db, self.machine)
        self.assertEqual((old.state, new.state, new.width_mm, new.fitted_at_km), ("spare", "fitted", 36.4, 900))

        self.visit = visits.open_visit(self.db, self.machine)
        self.complete(belt_decision="discard", belt_reason="burnt", next_belt_id=old.id)
        sign_off.sign_off(self.db, self.visit, self.edit(), "Jo")
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
                self.assertEqual({m.kind for m in machines.all_machines(connection)}, {"sled", "side-by-side"})
                self.assertEqual(connection.execute("PRAGMA foreign_key_check").fetchall(), [])
                held = [v for m in machines.all_machines(connection) for v in visits.visits_of(connection, m.id)]
                self.assertEqual(sum(visit.signed_off_at is None for visit in held), 2)
                for visit in held:
                    visit.as_found().core(), visit.as_left().core()
