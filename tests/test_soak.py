"""A short soak, the same each time: what `make soak` does for an hour, in some seconds."""

import tempfile
import unittest
from pathlib import Path
from unittest import mock

from bench.soak import fuzz as fuzz_module
from bench.soak.fuzz import fuzz, fuzz_in_rounds
from bench.soak.hands import work
from bench.soak.kills import kills
from tests.ui.browser import demo_database

CASES, KILLS, SECONDS, SEED = 150, 3, 4.0, 20261130
LEAST_TAKEN = 0.12


class Soak(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.database = Path(folder.name) / "demo.db"
        self.database.write_bytes(demo_database())

    def test_fuzzed(self):
        found = fuzz(self.database, CASES, SEED)
        self.assertEqual((found.faults, found.cases), ([], CASES))
        self.assertGreater(found.share, LEAST_TAKEN)

    def test_rounds_add_up(self):
        with mock.patch.object(fuzz_module, "A_ROUND", 5):
            found = fuzz_in_rounds(self.database, 8, SEED)
        self.assertEqual((found.cases, sum(found.statuses.values()), found.faults), (8, 8, []))

    def test_killed(self):
        found = kills(self.database, KILLS, SEED)
        self.assertEqual((found.faults, found.kills), ([], KILLS))
        self.assertGreater(found.acknowledged, 0)

    def test_six_hands(self):
        found = work(self.database, SECONDS, [2, 4])
        self.assertEqual(found.faults, [])
        self.assertGreater(len(found.writes), 10)

    def test_what_is_lost_is_found_out(self):
        from contextlib import closing

        from bench.soak.hands import _lost
        from jaxel.store.db import connect

        with closing(connect(self.database)) as db:
            db.execute("UPDATE intake SET complaint = 'unseen' WHERE visit_id = 2")
        told = _lost(self.database, {(2, "was told")})
        self.assertTrue(any("was told done and is lost" in each for each in told), told)
