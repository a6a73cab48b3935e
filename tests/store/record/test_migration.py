"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

import sqlite3
import tempfile
import unittest
from contextlib import closing
from pathlib import Path
from unittest import mock

from jaxel.store import db
from tests.store.migrations import scripted


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
        broken = [
            *steps,
            (len(steps) + 1, scripted("CREATE TABLE extra (id INTEGER) STRICT; CREATE TABLE machine (id);")),
        ]
        with mock.patch.object(db, "_migrations", lambda: broken), self.assertRaises(db.Unusable):
            db.migrate(self.path)
        with closing(db.connect(self.path)) as connection:
            self.assertEqual(connection.execute("PRAGMA user_version").fetchone()[0], len(steps))
            self.assertRaises(sqlite3.Error, connection.execute, "SELECT * FROM extra")
        self.assertTrue(Path(f"{self.path}.before-{len(steps) + 1:04}").exists())
