"""A sign-off is one transaction: whatever stands in its way, it is whole or it is not there."""

import sqlite3
from unittest import mock

from jaxel.store.run import calibrations
from tests.store.cases.store_case import StoreCase


class Whole(StoreCase):
    def test_what_fails_behind_it_leaves_the_visit_open(self):
        self.complete()
        with (
            mock.patch.object(calibrations, "make", side_effect=sqlite3.OperationalError("database is locked")),
            self.assertRaises(sqlite3.OperationalError),
        ):
            self.sign()
        held = self.held()
        self.assertIsNone(held.signed_off_at)
        self.assertEqual(self.db.execute("SELECT count(*) FROM hand_over_page").fetchone()[0], 0)
        self.assertEqual(self.db.execute("SELECT count(*) FROM due").fetchone()[0], 0)
        self.sign()
        self.assertIsNotNone(self.held().signed_off_at)
