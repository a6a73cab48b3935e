"""Logs being read: off the request's thread, one after the other, watched and given up at will."""

import logging
from collections import OrderedDict
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import Event, Lock
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.header import LoggerDocument

from ..db import Conflict, NotFound, connect
from . import log_uploads, run_logs

State = Literal["waiting", "reading", "read", "refused", "given up"]

MOST_KEPT = 64
"""Readings of which the outcome is remembered."""


class GivenUp(Exception):
    """The hand gave the reading up."""


class Reading:
    """One reading: its state, how far it has come [0–1] and with what; or the field and the reason of a refusal."""

    def __init__(self) -> None:
        self.state: State = "waiting"
        self.part, self.doing = 0.0, "waiting for its turn"
        self.field = self.reason = ""
        self.stop = Event()

    def told(self, part: float, doing: str) -> None:
        """Hear how far it has come; raises GivenUp."""
        if self.stop.is_set():
            raise GivenUp
        self.part, self.doing = part, doing


class ReadingRoom:
    """The readings of one database, in the order they were asked for: one at a time, for one fills the memory."""

    def __init__(self, path: Path):
        self.path = path
        self._pool: ThreadPoolExecutor | None = None
        self._readings: OrderedDict[int, Reading] = OrderedDict()
        self._lock = Lock()

    def begin(self, upload_id: int, logger: LoggerDocument | None, by: str) -> Reading:
        """Have a file read that came in; one that is being read already is that one."""
        with self._lock:
            known = self._readings.get(upload_id)
            if known is not None and known.state in ("waiting", "reading"):
                return known
            reading = self._readings[upload_id] = Reading()
            while len(self._readings) > MOST_KEPT:
                self._readings.popitem(last=False)
            self._pool = self._pool or ThreadPoolExecutor(1, "reading")
            self._pool.submit(self._read, upload_id, reading, logger, by)
        return reading

    def warm(self) -> None:
        """Have what reading needs imported while a file is on its way."""
        with self._lock:
            self._pool = self._pool or ThreadPoolExecutor(1, "reading")
            self._pool.submit(_imports)

    def of(self, upload_id: int) -> Reading | None:
        """The reading of a file, None where none was asked for."""
        with self._lock:
            return self._readings.get(upload_id)

    @property
    def waiting(self) -> int:
        """Readings that wait or are under way."""
        with self._lock:
            return sum(each.state in ("waiting", "reading") for each in self._readings.values())

    def finish(self) -> None:
        """Wait until everything that was asked for is done."""
        if self._pool is not None:
            self._pool.submit(bool).result()

    def give_up(self, upload_id: int) -> None:
        """Stop a reading at its next step; nothing of it is kept."""
        with self._lock:
            reading = self._readings.get(upload_id)
        if reading is not None:
            reading.stop.set()

    def _read(self, upload_id: int, reading: Reading, logger: LoggerDocument | None, by: str) -> None:
        try:
            reading.state = "reading"
            connection = connect(self.path)
            try:
                run_logs.read(connection, upload_id, logger, by, reading.told)
                reading.state = "read"
            except InvalidValue as error:
                reading.field, reading.reason, reading.state = error.field, error.reason, "refused"
            except Conflict as error:
                reading.field, reading.reason, reading.state = "log", str(error), "refused"
            except (GivenUp, NotFound):  # once it is kept it stays: what is left of it is worked out when asked for
                log_uploads.drop(connection, upload_id)
                reading.state = "given up"
            finally:
                connection.close()
        except Exception as error:  # a disk that is full, a file that is locked: told, not lost with the thread
            logging.getLogger(__name__).exception("a log could not be read")
            reading.field, reading.reason, reading.state = "log", _words(error), "refused"


def _imports() -> None:
    import pandas  # noqa: F401
    import scipy.ndimage  # noqa: F401


def _words(error: Exception) -> str:
    import sqlite3

    if isinstance(error, sqlite3.Error):
        return f"could not be kept: {error}"
    if isinstance(error, MemoryError):
        return "is too large for this machine's memory"
    return "could not be read"
