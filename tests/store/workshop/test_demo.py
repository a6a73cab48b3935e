"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from jaxel.demo.workshop import build
from jaxel.store import db
from jaxel.store.machine import machines
from jaxel.store.visit import past, visits


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
                lines = [v for m in machines.all_machines(connection) for v in past.lines_of(connection, m.id)]
                held = [visits.get(connection, line.id) for line in lines]
                self.assertEqual(sum(visit.signed_off_at is None for visit in held), 5)
                for visit in held:
                    visit.as_found().core(), visit.as_left().core()
