"""Killed while a visit is signed: it is signed with its page and all that follows, or it is open as it was."""

import multiprocessing
import os
import signal
from contextlib import closing
from datetime import UTC, datetime

from jaxel.store import db
from jaxel.store.visit import hand_over, visit_log, visits
from tests.store.back_together import back_together
from tests.store.cases.store_case import StoreCase

TABLES = ("hand_over_page", "due", "visit_log", "calibration", "part_event")
WRITES = ("INSERT", "UPDATE", "DELETE", "COMMIT", "BEGIN")


def _sign(path, visit_id, edit, last):
    """Sign in a process that is killed as it begins its write number `last`; says how many there were."""
    seen = 0

    def watch(statement):
        nonlocal seen
        if statement.lstrip().upper().startswith(WRITES):
            seen += 1
            if seen == last:
                os.kill(os.getpid(), signal.SIGKILL)

    with closing(db.connect(path)) as connection:
        connection.set_trace_callback(watch)
        hand_over.sign_off(connection, visit_id, edit, "Jo")
    os._exit(min(seen, 200))


class Killed(StoreCase):
    def state(self):
        with closing(db.connect(self.path)) as connection:
            counts = [connection.execute(f"SELECT count(*) FROM {table}").fetchone()[0] for table in TABLES]
            return (*counts, visits.get(connection, self.visit).signed_off_at is not None)

    def test_at_every_write(self):
        self.complete()
        back_together(self.db, self.visit)
        edit = self.held().edit
        before = self.state()
        self.assertFalse(before[-1])
        fork = multiprocessing.get_context("fork")
        writes = 0
        for number in range(1, 200):
            process = fork.Process(target=_sign, args=(self.path, self.visit, edit, number))
            process.start()
            process.join()
            if process.exitcode >= 0:
                writes = process.exitcode
                break
            self.assertEqual(process.exitcode, -signal.SIGKILL)
            self.assertEqual(self.state(), before, f"killed at write {number}")
            with closing(db.connect(self.path)) as connection:
                self.assertEqual(connection.execute("PRAGMA integrity_check").fetchone()[0], "ok")
        self.assertGreater(writes, 5)
        after = self.state()
        self.assertTrue(after[-1])
        self.assertEqual(after[0], 1)


class Clock(StoreCase):
    def test_one_that_jumps_back_re_orders_no_log(self):
        for year, complaint in ((2031, "first"), (2019, "second"), (2026, "third")):
            with db.at_moment(datetime(year, 5, 1, tzinfo=UTC)):
                self.note(complaint=complaint)
        told = [change.lines[0].now for change in visit_log.after(self.db, self.held(), 0)]
        self.assertEqual([each.strip("“”") for each in told], ["first", "second", "third"])
        self.assertEqual(self.held().intake.complaint, "third")
