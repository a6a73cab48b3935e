"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

import sqlite3

from jaxel.core.errors import InvalidValue
from jaxel.store import db
from jaxel.store.edits import Edit
from jaxel.store.machine import machines, photos, pixels, upkeep
from jaxel.store.setup import revisions
from jaxel.store.visit import hand_over, past, visits
from tests.examples import example, read
from tests.store.cases.any_machine_case import Case, picture


class PutAway(Case):
    def test_archived_and_restored(self):
        with self.assertRaises(db.Conflict):
            upkeep.archive(self.db, self.machine, Edit(False, True))
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "gone", "Jo")
        upkeep.archive(self.db, self.machine, Edit(False, True))
        with self.assertRaises(db.Conflict):
            visits.open_visit(self.db, self.machine)
        upkeep.archive(self.db, self.machine, Edit(True, False))
        visits.open_visit(self.db, self.machine)

    def test_a_double_becomes_one_record(self):
        double = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Same rider")
        visit = visits.open_visit(self.db, double)
        hand_over.close_unrepaired(self.db, visit, visits.get(self.db, visit).edit, "no time", "Jo")
        photos.add(self.db, double, pixels.encoded(picture()))
        before = revisions.newest(self.db, self.machine).document
        upkeep.merge(self.db, self.machine, double, "Jo")
        self.assertEqual(len(past.lines_of(self.db, self.machine)), 2)
        self.assertEqual([(each.number, each.state) for each in machines.belts(self.db, self.machine)],
                         [(1, "fitted"), (2, "doubled")])  # fmt: skip
        self.assertEqual(revisions.newest(self.db, self.machine).document, before)
        self.assertEqual(len(photos.of_machine(self.db, self.machine)), 1)
        self.assertEqual(machines.get(self.db, double).merged_into, self.machine)
        self.assertEqual(self.db.execute("PRAGMA foreign_key_check").fetchall(), [])
        with self.assertRaises(sqlite3.IntegrityError):
            self.db.execute("UPDATE setup_revision SET document = '{}'")

    def test_what_is_no_double_is_refused_and_nothing_moves(self):
        quad = visits.get(self.db, self.stranger()).machine_id
        twin = machines.bring_in(self.db, read(example("mountain-sled")), "sled")
        visits.open_visit(self.db, twin)
        for double, error in (
            (self.machine, InvalidValue),
            (quad, InvalidValue),
            (twin, db.Conflict),
            (99, db.NotFound),
        ):
            with self.subTest(double), self.assertRaises(error):
                upkeep.merge(self.db, self.machine, double)
        self.assertEqual(len(past.lines_of(self.db, self.machine)), 1)

    def test_what_is_said_of_it(self):
        upkeep.change(self.db, self.machine, {"tyre": Edit("", " 154 in track "), "rider": Edit("Rider", "Ida")})
        machine = machines.get(self.db, self.machine)
        self.assertEqual((machine.tyre, machine.rider), ("154 in track", "Ida"))
        for field, edit, error in (("name", Edit("Tarnhowe 840 mountain sled", " "), InvalidValue),
                                   ("rider", Edit("Rider", "Else"), db.Conflict),
                                   ("kind", Edit("sled", "bare clutch"), InvalidValue),
                                   ("primary_kind", Edit(None, "roller-variator-primary"), InvalidValue),
                                   ("archived", Edit(False, True), InvalidValue)):  # fmt: skip
            with self.subTest(field), self.assertRaises(error):
                upkeep.change(self.db, self.machine, {field: edit})
