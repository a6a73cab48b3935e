"""Logs being read, one after the other in a row of their own: one fills the memory, and none holds up a sheet."""

import sqlite3
from pathlib import Path
from typing import Any

from jaxel.core.formats.run.header import LoggerDocument
from jaxel.store.db import NotFound
from jaxel.store.run import run_logs

from ..jobs import GivenUp, Job, JobRoom, Watch

LOG = "log"
MOST = 64
"""Readings that wait at most, and of which the outcome is remembered."""


class ReadingRoom:
    """The readings of one database, each known by the file that came in."""

    def __init__(self, path: Path):
        self._jobs = JobRoom(path, most_waiting=MOST, most_kept=MOST)

    @property
    def waiting(self) -> int:
        """Readings that wait or are under way."""
        return self._jobs.waiting

    def begin(self, upload_id: int, logger: LoggerDocument | None, by: str) -> Job:
        """Have a file read that came in; one that is being read already is that one. Raises Busy."""

        def work(connection: sqlite3.Connection, watch: Watch) -> Any:
            try:
                return run_logs.read(connection, upload_id, logger, by, watch)
            except NotFound as gone:  # whoever gave it up let the file go at once
                raise GivenUp from gone

        return self._jobs.begin(LOG, work, str(upload_id))

    def warm(self) -> None:
        """Have what reading needs imported while a file is on its way."""
        self._jobs.submit(run_logs.warm)

    def of(self, upload_id: int) -> Job | None:
        """The reading of a file, None where none was asked for."""
        try:
            return self._jobs.get(LOG, str(upload_id))
        except NotFound:
            return None

    def give_up(self, upload_id: int) -> None:
        """Stop a reading at its next step; what is kept by then stays, its rest worked out when asked for."""
        reading = self.of(upload_id)
        if reading is not None:
            reading.give_up()

    def finish(self) -> None:
        """Wait until everything that was asked for is done."""
        self._jobs.submit(bool).result()
