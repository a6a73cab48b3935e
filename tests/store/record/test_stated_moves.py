"""Limits, limits of items and torques of the version before are one table's, each with what was said of it."""

import tempfile
import unittest
from contextlib import closing
from pathlib import Path
from unittest import mock

from jaxel.store import db
from jaxel.store.record import facts


class Moved(unittest.TestCase):
    def setUp(self):
        self.path = Path(self.enterContext(tempfile.TemporaryDirectory())) / "old.db"
        before = [step for step in db._migrations() if step[0] < 14]
        with mock.patch.object(db, "_migrations", lambda: before):
            db.migrate(self.path)
        with closing(db.connect(self.path)) as old:
            old.execute("INSERT INTO machine (id, name, kind, created_at, brought_in_by)"
                        " VALUES (1, 'Old', 'sled', '2026-01-01T00:00:00Z', 'Jo')")  # fmt: skip
            said = "'2026-01-02T00:00:00Z', 'Jo'"
            old.execute(f"INSERT INTO machine_limit VALUES (3, 1, 'belt_width_min_mm', 33.5, 'manual', {said}, 0)")
            old.execute(f"INSERT INTO item_limit VALUES (2, 'tower-and-button-primary', NULL, 'buttons', 0.7,"
                        f" 'from memory', {said}, 0)")  # fmt: skip
            for key, machine, torque in ((4, "NULL", 16.0), (5, "1", 15.0)):
                old.execute(f"INSERT INTO torque_stated VALUES ({key}, 'tower-and-button-primary', {machine},"
                            f" 'cover_bolts', 'torque', {torque}, 'manual', {said}, 0)")  # fmt: skip
            old.execute("INSERT INTO torque_choice VALUES (1, 'tower-and-button-primary', 'cover_bolts', 5)")
        db.migrate(self.path)
        self.db = self.enterContext(closing(db.connect(self.path)))

    def test_nothing_stated_is_lost(self):
        (limit,) = facts.standing(self.db, "limit")
        self.assertEqual(
            (limit.name, limit.value, limit.origin, limit.machine_id), ("belt_width_min_mm", 33.5, "manual", 1)
        )
        (item,) = facts.standing(self.db, "item")
        self.assertEqual((item.id, item.kind, item.name, item.value, item.machine_id),
                         (5, "tower-and-button-primary", "buttons", 0.7, None))  # fmt: skip
        torques = facts.standing(self.db, "torque")
        self.assertEqual([(each.value, each.machine_id) for each in torques], [(16.0, None), (15.0, 1)])
        self.assertEqual(facts.chosen(self.db, 1), {("tower-and-button-primary", "cover_bolts"): torques[1].id})

    def test_everything_that_bundles_merge_by_has_an_identity_of_128_bits(self):
        for name in ("identity", "primary_identity", "secondary_identity"):
            (found,) = self.db.execute(f"SELECT {name} FROM machine").fetchone()
            self.assertEqual(len(bytes.fromhex(found)), 16)
        self.db.execute("INSERT INTO person (name, added_at, added_by) VALUES ('Ebba', '2026-01-01', 'Jo')")
        self.db.execute("INSERT INTO person (name, added_at, added_by) VALUES ('Liv', '2026-01-01', 'Jo')")
        first, second = (row[0] for row in self.db.execute("SELECT identity FROM person"))
        self.assertNotEqual(first, second)
        self.assertEqual(len(bytes.fromhex(first)), 16)
