"""Backups one after the other: dated, proved by a drill, noted, and the oldest let go."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime, time, timedelta
from unittest import mock

from jaxel.store import backups, copies, db
from jaxel.web import nightly
from jaxel.web.nightly import Nightly, last_hour, once_a_night
from tests.store.bundle.bundle_case import BundleCase


class Backups(BundleCase):
    def setUp(self):
        super().setUp()
        self.folder = self.path.with_name("kept")

    def names(self):
        return sorted(each.name for each in self.folder.iterdir())

    def test_a_copy_is_proved_by_putting_it_back(self):
        copy = self.path.with_name("copy.db")
        copies.backup(self.path, copy)
        contents = copies.check(copy)
        self.assertEqual((contents.machines, contents.visits, contents.signed), (1, 1, 1))
        self.assertEqual(contents.newest, self.db.execute("SELECT max(at) FROM visit_log").fetchone()[0])
        self.assertEqual(sorted(each.name for each in self.path.parent.glob("*drill*")), [])

    def test_a_page_that_cannot_be_read_is_found_out(self):
        self.db.execute("UPDATE hand_over_page SET document = '{\"rows\": 3}'")
        copy = self.path.with_name("copy.db")
        copies.backup(self.path, copy)
        with self.assertRaisesRegex(db.Unusable, "a signed page cannot be read"):
            copies.check(copy)

    def test_rows_that_point_at_nothing_are_found_out(self):
        copy = self.path.with_name("copy.db")
        copies.backup(self.path, copy)
        with closing(sqlite3.connect(copy)) as torn:
            torn.execute("DELETE FROM machine")
            torn.commit()
        for act in (copies.check, lambda each: copies.restore(each, self.path)):
            with self.assertRaisesRegex(db.Unusable, "points at nothing in machine"):
                act(copy)
        self.assertEqual(self.db.execute("SELECT count(*) FROM machine").fetchone()[0], 1)

    def test_a_database_of_another_program_is_not_put_back(self):
        copy = self.path.with_name("copy.db")
        copies.backup(self.path, copy)
        with closing(sqlite3.connect(copy)) as other:
            other.execute("PRAGMA application_id = 7")
        with self.assertRaisesRegex(db.Unusable, "is a database of another program"):
            copies.restore(copy, self.path)

    def test_the_newest_stay(self):
        self.folder.mkdir()
        (self.folder / "holiday.db").write_bytes(b"somebody's")
        (self.folder / "workshop-20200101T000000Z.db.txt").write_text("somebody's")
        days = [datetime(2026, 11, day, 2, tzinfo=UTC) for day in (1, 2, 3, 4)]
        for day in days:
            with mock.patch.object(backups, "datetime") as clock:
                clock.now.return_value = day
                copy, contents = backups.keep(self.path, self.folder, 2)
        self.assertEqual(copy.name, "workshop-20261104T020000Z.db")
        self.assertEqual(contents.visits, 1)
        self.assertEqual(self.names(), ["holiday.db", "workshop-20200101T000000Z.db.txt",
                                        "workshop-20261103T020000Z.db", "workshop-20261104T020000Z.db"])  # fmt: skip
        last = backups.last(self.db)
        self.assertEqual((last.name, last.machines, last.visits), (copy.name, 1, 1))
        self.assertEqual(last.size, copy.stat().st_size)

    def test_one_that_does_not_hold_is_not_kept_and_the_others_stay(self):
        backups.keep(self.path, self.folder, 5)
        before = self.names()
        self.db.execute("UPDATE hand_over_page SET document = '{}'")
        with mock.patch.object(backups, "datetime") as clock, self.assertRaises(db.Unusable):
            clock.now.return_value = datetime(2030, 1, 1, tzinfo=UTC)
            backups.keep(self.path, self.folder, 1)
        self.assertEqual(self.names(), before)

    def test_where_it_cannot_be(self):
        self.folder.write_text("a file")
        with self.assertRaisesRegex(db.Unusable, "is a file"):
            backups.keep(self.path, self.folder, 3)
        for most in (0, 1001):
            with self.assertRaisesRegex(db.Unusable, "must be 1 to 1,000"):
                backups.keep(self.path, self.path.parent / "new", most)

    def test_once_a_night(self):
        now = datetime.now().astimezone()
        nightly_ = Nightly(self.folder, 3, (now - timedelta(hours=2)).time())
        self.assertEqual(once_a_night(self.path, nightly_), "")
        self.assertEqual(once_a_night(self.path, nightly_), "")
        (copy,) = backups.dated(self.path, self.folder)
        # Due two hours ago: one made since then is tonight's, one from before is yesterday's, one of tomorrow is none.
        for age, again in ((timedelta(hours=1), False), (timedelta(hours=3), True), (timedelta(hours=-2), True)):
            moment = datetime.now(UTC) - age
            self.db.execute("UPDATE backup SET at = ?", (moment.strftime("%Y-%m-%dT%H:%M:%SZ"),))
            copy = copy.rename(copy.with_name(f"workshop-{moment:%Y%m%dT%H%M%SZ}.db"))
            with mock.patch.object(nightly, "_make", return_value="") as made, self.subTest(age):
                once_a_night(self.path, nightly_)
                self.assertEqual(made.called, again)

    def test_the_hour_that_came_last(self):
        noon = datetime(2026, 11, 30, 12).astimezone()
        self.assertEqual(last_hour(noon, time(3)), datetime(2026, 11, 30, 3).astimezone())
        self.assertEqual(last_hour(noon, time(12)), noon)
        self.assertEqual(last_hour(noon, time(22, 30)), datetime(2026, 11, 29, 22, 30).astimezone())

    def test_one_the_database_took_no_note_of_is_not_made_again(self):
        backups.keep(self.path, self.folder, 3)
        self.db.execute("DELETE FROM backup")
        with mock.patch.object(nightly, "_make", side_effect=AssertionError):
            self.assertEqual(once_a_night(self.path, Nightly(self.folder, 3)), "")

    def test_why_it_could_not_be_made_is_told(self):
        self.folder.write_text("a file")
        self.assertIn(
            "is a file: backups that are kept need a folder", once_a_night(self.path, Nightly(self.folder, 3))
        )
        fault = OSError(28, "No space left")
        with mock.patch.object(nightly, "_done", side_effect=fault), self.assertLogs(level="ERROR"):
            self.assertIn("could not be made", once_a_night(self.path, Nightly(self.folder, 3)))
