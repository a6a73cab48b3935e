"""The file itself: what is no database of ours, backups while it is written, and restores beside leftovers."""

import re
import shutil
import sqlite3
import tempfile
import threading
import unittest
from contextlib import closing
from pathlib import Path
from unittest import mock

from jaxel.core.formats.prediction import MODEL_VERSION
from jaxel.store import copies, db
from jaxel.store.edits import Edit
from jaxel.store.machine import machines
from jaxel.store.visit import hand_over, intake, visits
from jaxel.web import create_app
from tests.examples import example, read
from tests.store.cases.store_case import StoreCase
from tests.store.migrations import scripted


class FileCase(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "workshop.db"


class NotOurs(FileCase):
    def refused(self, reason, path=None):
        with self.assertRaisesRegex(db.Unusable, reason) as caught:
            db.migrate(path or self.path)
        self.assertEqual(str(caught.exception).count("\n"), 0)

    def test_a_folder_text_or_another_programs_file(self):
        self.refused("is a folder", self.folder)
        self.path.write_bytes(b"not a database, but long enough to look at" * 50)
        self.refused("not a database")
        self.path.unlink()
        with closing(sqlite3.connect(self.path)) as foreign:
            foreign.execute("CREATE TABLE song (title)")
        self.refused("another program")

    def test_a_newer_file(self):
        db.migrate(self.path)
        with closing(sqlite3.connect(self.path)) as newer:
            newer.execute("PRAGMA user_version = 99")
        self.refused("newer version")

    def test_a_truncated_file(self):
        db.migrate(self.path)
        with closing(sqlite3.connect(self.path)) as connection:
            connection.execute("PRAGMA journal_mode = DELETE")
        self.path.write_bytes(self.path.read_bytes()[:3000])
        self.refused("cannot be used|malformed")

    def test_no_permission(self):
        # Root may write anywhere: the system's own refusal is stood in for.
        with mock.patch.object(Path, "mkdir", side_effect=PermissionError(13, "Permission denied")):
            self.refused("cannot be opened: Permission denied")

    def test_a_full_disk_at_start_leaves_nothing_half_built(self):
        def full(path):
            connection = sqlite3.connect(path, isolation_level=None)
            connection.execute("PRAGMA max_page_count = 4")
            return connection

        with mock.patch.object(db, "connect", full):
            self.refused("full")
        db.migrate(self.path)
        with closing(db.connect(self.path)) as connection:
            self.assertEqual(machines.all_machines(connection), [])

    def test_two_starts_at_once(self):
        gate, faults = threading.Barrier(4), []

        def start():
            gate.wait()
            try:
                db.migrate(self.path)
            except db.Unusable as fault:
                faults.append(fault)

        threads = [threading.Thread(target=start) for _ in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(faults, [])


class Rebuilding(FileCase):
    """A migration that rebuilds a table others point at."""

    REBUILD = """
    CREATE TABLE machine_new (id INTEGER PRIMARY KEY, name TEXT NOT NULL, kind TEXT NOT NULL, rider TEXT NOT NULL,
                              created_at TEXT NOT NULL, primary_kind TEXT, secondary_kind TEXT,
                              brought_in_by TEXT NOT NULL, tyre TEXT NOT NULL, taper TEXT NOT NULL, offset_mm REAL,
                              stamp TEXT NOT NULL, archived INTEGER NOT NULL, merged_into INTEGER) STRICT;
    INSERT INTO machine_new SELECT id, name, kind, rider, created_at, primary_kind, secondary_kind, brought_in_by,
                                   tyre, taper, offset_mm, stamp, archived, merged_into FROM machine {where};
    DROP TABLE machine;
    ALTER TABLE machine_new RENAME TO machine;
    """

    def rebuild(self, where=""):
        db.migrate(self.path)
        with closing(db.connect(self.path)) as connection:
            machine = machines.bring_in(connection, read(example("mountain-sled")), "sled")
            visits.open_visit(connection, machine)
        rebuild = self.REBUILD.format(where=where)
        steps = [*db._migrations(), (len(db._migrations()) + 1, scripted(rebuild))]
        with mock.patch.object(db, "_migrations", lambda: steps):
            db.migrate(self.path)

    def test_keeps_what_points_at_it(self):
        self.rebuild()
        with closing(db.connect(self.path)) as connection:
            self.assertEqual(connection.execute("SELECT count(*) FROM visit").fetchone()[0], 1)
            self.assertEqual(connection.execute("PRAGMA foreign_key_check").fetchall(), [])

    def test_a_row_left_pointing_at_nothing_undoes_it(self):
        with self.assertRaisesRegex(db.Unusable, "point at nothing in machine"):
            self.rebuild("WHERE id > 1")
        with closing(db.connect(self.path)) as connection:
            self.assertEqual(len(machines.all_machines(connection)), 1)
            self.assertEqual(connection.execute("PRAGMA user_version").fetchone()[0], len(db._migrations()))


class Copies(StoreCase):
    def setUp(self):
        super().setUp()
        self.copy = self.path.with_name("kept.db")

    def complain(self, text):
        self.note(complaint=text)

    def complaint(self):
        with closing(db.connect(self.path)) as connection:
            return visits.get(connection, self.visit).intake.complaint

    def test_there_and_back(self):
        self.complain("as kept")
        copies.backup(self.path, self.copy)
        self.complain("after it")
        self.db.close()
        copies.restore(self.copy, self.path)
        self.assertEqual(self.complaint(), "as kept")
        with closing(db.connect(self.path.with_name("workshop.db.before-restore-1"))) as old:
            self.assertEqual(visits.get(old, self.visit).intake.complaint, "after it")

    def test_a_leftover_journal_is_not_played_into_the_copy(self):
        self.complain("as kept")
        copies.backup(self.path, self.copy)
        self.complain("only in the journal")
        journal = Path(f"{self.path}-wal")
        self.assertGreater(journal.stat().st_size, 0)
        leftover = self.path.with_name("leftover")
        shutil.copy(journal, leftover)
        for gone in (False, True):  # the database still there, and lost with its journal left behind
            self.db.close()
            if gone:
                self.path.unlink()
            shutil.copy(leftover, journal)
            copies.restore(self.copy, self.path)
            self.assertEqual(self.complaint(), "as kept")
        # What stood in the old journal only is kept beside it, whole.
        with closing(db.connect(self.path.with_name("workshop.db.before-restore-1"))) as old:
            self.assertEqual(visits.get(old, self.visit).intake.complaint, "only in the journal")

    def test_a_restored_database_lets_readers_read_while_it_is_written(self):
        copies.backup(self.path, self.copy)
        self.db.close()
        copies.restore(self.copy, self.path)
        with closing(db.connect(self.path)) as writer, db.writing(writer):
            writer.execute("UPDATE intake SET complaint = 'half way'")
            self.assertEqual(self.complaint(), "")

    def test_a_backup_while_it_is_written_is_whole(self):
        stop = threading.Event()

        def write():
            with closing(db.connect(self.path)) as connection:
                number = 0
                while not stop.is_set():
                    number += 1
                    held, text = visits.get(connection, self.visit), f"{number} " * 200
                    with db.writing(connection):
                        intake.change(connection, self.visit, {"complaint": Edit(held.intake.complaint, text)})
                        hand_over.change(connection, self.visit, {"watch": Edit(held.hand_over.watch, text)})

        hand = threading.Thread(target=write)
        hand.start()
        try:
            for _ in range(5):
                copies.backup(self.path, self.copy)
                with closing(db.connect(self.copy)) as kept:
                    visit = visits.get(kept, self.visit)
                    self.assertEqual(visit.intake.complaint, visit.hand_over.watch)
                    self.assertEqual(kept.execute("PRAGMA integrity_check").fetchone()[0], "ok")
        finally:
            stop.set()
            hand.join()

    def test_refusals_change_nothing(self):
        self.complain("stays")
        text = self.path.with_name("text.db")
        text.write_text("nothing of ours " * 300)
        for copy, reason in ((text, "not a database"), (self.path.with_name("none.db"), "is not there"),
                             (self.path.parent, "is not a file"), (self.path, "the database itself")):  # fmt: skip
            with self.assertRaisesRegex(db.Unusable, reason):
                copies.restore(copy, self.path)
        for copy, reason in ((self.path.parent, "is a folder"), (self.path, "the database itself"),
                             (self.path.parent / "no" / "where.db", "cannot be written")):  # fmt: skip
            with self.assertRaisesRegex(db.Unusable, reason):
                copies.backup(self.path, copy)
        self.assertEqual(self.complaint(), "stays")


class OfTheFirstSchema(FileCase):
    """A demo workshop written by the first version of the program: demo_0001.sql is its dump."""

    def setUp(self):
        super().setUp()
        with closing(sqlite3.connect(self.path)) as old:
            old.executescript((Path(__file__).parents[1] / "demo_0001.sql").read_text(encoding="utf-8"))

    def rows(self, table):
        with closing(db.connect(self.path)) as connection:
            return [dict(row) for row in connection.execute(f"SELECT * FROM {table}")]

    def test_loses_nothing(self):
        tables = ("machine", "setup_revision", "belt", "visit", "belt_reading", "road_test")
        before = {table: self.rows(table) for table in tables}
        self.assertEqual(sum(map(len, before.values())), 28)
        db.migrate(self.path)
        for table in tables:
            for old, row in zip(before[table], self.rows(table), strict=True):
                if table == "setup_revision":  # how a table is read stands beside it; it says what it said
                    row["document"] = re.sub(r',"pieces":\d+', "", row["document"])
                self.assertEqual({name: row[name] for name in old if name in row}, {
                    name: value for name, value in old.items() if name in row}, table)  # fmt: skip
        renamed = {"belt_decision": "decision", "belt_reason": "reason", "next_belt_width_mm": "next_width_mm"}
        stations = {table: self.rows(table) for table in ("intake", "belt_check", "set_up", "hand_over")}
        for index, old in enumerate(before["visit"]):
            held = {name: value for table in ("intake", "hand_over") for name, value in stations[table][index].items()}
            belt, set_up = stations["belt_check"][index], stations["set_up"][index]
            self.assertEqual({name: belt[renamed.get(name, name)] for name in old if "belt" in name},
                             {name: value for name, value in old.items() if "belt" in name})  # fmt: skip
            self.assertEqual((set_up["found_revision_id"], set_up["left_revision_id"], set_up["reason"]),
                             (old["found_revision_id"], old["left_revision_id"], old["change_reason"]))  # fmt: skip
            self.assertEqual(set_up["left_draft"], old["left_draft"] or "{}")
            here = {name: old[name] for name in held if name in old}
            self.assertGreater(len(here), 13)
            self.assertEqual({name: held[name] for name in here}, here)
        self.assertTrue(Path(f"{self.path}.before-0002").exists())
        self.assertEqual(self.rows("visit_log"), [])

    def test_opens_and_is_predicted_by_todays_model(self):
        # Figures of visit 2, the mountain sled, from the document as it was kept; the first version of the program,
        # whose belt was not drawn into its groove, showed 3990.8 and 7711.2, and 4141.4 and 7884.1.
        client = create_app(self.path, front_end=self.folder).test_client()
        shown = client.get("/api/visits/2").json
        for side, bite, mean in (("found", 3727.9, 8570.7), ("left", 3899.3, 8650.2)):
            self.assertEqual((shown[side]["engagement"]["bite_rpm"], shown[side]["shift"]["mean_rpm"]), (bite, mean))
        self.assertEqual((shown["intake"]["odometer_km"], shown["belt"]["widths_mm"]["2"]), (2310, 35.5))
        self.assertEqual(
            [each["field"] for each in shown["open"]],
            ["went_on", "risen", "engagement_rpm", "shift_rpm", "count_tools", "guard_on"],
        )
        self.assertEqual(len(client.get("/api/floor").json["machines"]), 3)

    def test_says_which_model_predicted_what(self):
        steps = [each for each in db._migrations() if each[0] < 9]
        with mock.patch.object(db, "_migrations", lambda: steps):
            db.migrate(self.path)
        with closing(db.connect(self.path)) as old:
            old.execute("INSERT INTO prediction VALUES (?, '{}', '{}', '2026-01-01T00:00:00Z')", ("0" * 64,))
            old.execute("INSERT INTO revision_figures VALUES (1, 1, 3990.8, 7711.2, '')")
            run = old.execute("SELECT id FROM road_test").fetchone()["id"]
            old.execute("UPDATE road_test SET note = 'as of that day' WHERE id = ?", (run,))
            past = [dict(row) for row in old.execute("SELECT * FROM road_test")]
        db.migrate(self.path)
        self.assertEqual([row["model_version"] for row in self.rows("prediction")], [1])
        (kept,) = self.rows("revision_figures")
        self.assertEqual((kept["model_version"], kept["shift_rpm"], kept["snap_n"]), (1, 7711.2, None))
        self.assertEqual([{name: row[name] for name in past[0]} for row in self.rows("road_test")], past)
        self.assertEqual([row["version"] for row in self.rows("model_version")], [1, 2, 3, MODEL_VERSION])
        # A list shows today's figures, and the older ones stay beside them.
        client = create_app(self.path, front_end=self.folder).test_client()
        machine = {row["id"]: row["machine_id"] for row in self.rows("setup_revision")}[1]
        client.get(f"/api/machines/{machine}")
        both = {
            row["model_version"]: row["shift_rpm"] for row in self.rows("revision_figures") if row["revision_id"] == 1
        }
        self.assertEqual(both[1], 7711.2)
        self.assertNotEqual(both[MODEL_VERSION], 7711.2)

    def test_its_runs_have_no_prediction_and_are_never_given_one(self):
        client = create_app(self.path, front_end=self.folder).test_client()
        (run,) = client.get("/api/visits/1").json["runs"]
        self.assertEqual([(row["predicted_rpm"], row["miss_rpm"], row["sure"]) for row in run["comparison"]],
                         [(None, None, None)] * 2)  # fmt: skip
        self.assertEqual([row["measured_rpm"] for row in run["comparison"]], [run["engagement_rpm"], run["shift_rpm"]])
        (measured,) = [
            each["measured"] for each in client.get("/api/machines/1").json["setups"]["revisions"] if each["measured"]
        ]
        self.assertEqual(len(measured), 2)
