"""Work off a request's thread: one piece at a time, watched by whoever asked for it, given up at will."""

import logging
import secrets
import sqlite3
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import closing
from pathlib import Path
from threading import Event, Lock
from typing import Any, Literal, Protocol

from flask import current_app

from jaxel.core.errors import InvalidValue
from jaxel.store.db import Conflict, NotFound, connect

from .bounded import Busy, Done

State = Literal["waiting", "working", "done", "refused", "given up"]


class Watch(Protocol):
    """Hears what share is done [0–1] and what is being done; raises GivenUp once nobody wants it any more."""

    def __call__(self, share: float, doing: str = "", /) -> None: ...


Work = Callable[[sqlite3.Connection, Watch], Any]

MOST_WAITING = 8
MOST_KEPT = 16
"""Jobs of which the outcome is remembered: a bundle that was made lies in a file as long."""

FIRST_WAIT_S = 0.35
"""How long a request waits for work that may be done at once."""


class GivenUp(Exception):
    """The hand gave it up; nothing of it is kept."""


class Job:
    """One piece of work: its state, the share done [0–1], what came of it, or the field and reason of a refusal."""

    def __init__(self, what: str, key: str) -> None:
        self.what, self.key = what, key
        self.state: State = "waiting"
        self.share, self.doing, self.result = 0.0, "waiting for its turn", None  # type: float, str, Any
        self.field = self.reason = ""
        self._stop, self._ended = Event(), Event()

    def watch(self, share: float, doing: str = "") -> None:
        """Hear how far it has come; raises GivenUp."""
        if self._stop.is_set():
            raise GivenUp
        self.share, self.doing = share, doing

    def give_up(self) -> None:
        """Stop it at its next step; what is done stays done."""
        self._stop.set()

    def wait(self, seconds: float = FIRST_WAIT_S) -> "Job":
        """Wait for its end, so long at most."""
        self._ended.wait(seconds)
        return self

    def run(self, path: Path, work: Work) -> None:
        """Do the work on a connection of its own and keep how it ended."""
        self.state = "working"
        try:
            with closing(connect(path)) as connection:
                self.watch(0.0)
                self.result = work(connection, self.watch)
            self.share, self.state = 1.0, "done"
        except GivenUp:
            self.state = "given up"
        except InvalidValue as error:
            self.field, self.reason, self.state = error.field, error.reason, "refused"
        except (Conflict, NotFound) as error:
            self.field, self.reason, self.state = self.what, str(error), "refused"
        except Exception as error:  # a disk that is full, a file that is locked: told, not lost with the thread
            logging.getLogger(__name__).exception("%s could not be done", self.what)
            self.field, self.reason, self.state = self.what, _words(error), "refused"
        finally:
            self._ended.set()


class JobRoom:
    """Jobs of one database, in the order they were asked for."""

    def __init__(self, path: Path, most_waiting: int = MOST_WAITING, most_kept: int = MOST_KEPT):
        self.path, self.most_waiting, self.most_kept = path, most_waiting, most_kept
        self._pool: ThreadPoolExecutor | None = None
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._lock = Lock()

    @property
    def waiting(self) -> int:
        """Jobs that wait or are under way."""
        with self._lock:
            return sum(each.state in ("waiting", "working") for each in self._jobs.values())

    def begin(self, what: str, work: Work, key: str = "") -> Job:
        """Have work done when its turn comes; one under way by this key is that one.

        Raises Busy where too much waits already.
        """
        with self._lock:
            known = self._jobs.get(key)
            if known is not None and known.state in ("waiting", "working"):
                return known
            if sum(each.state in ("waiting", "working") for each in self._jobs.values()) >= self.most_waiting:
                told = f"{self.most_waiting} are waiting already; nothing was done, try again in a moment"
                raise Busy(f"{what}: {told}")
            job = Job(what, key or secrets.token_hex(16))
            self._jobs[job.key] = job
            self._jobs.move_to_end(job.key)
            while len(self._jobs) > self.most_kept:
                self._jobs.popitem(last=False)
        self.submit(lambda: job.run(self.path, work))
        return job

    def submit(self, work: Callable[[], Done]) -> "Future[Done]":
        """Have something small done in the row, after what was asked for before."""
        with self._lock:
            self._pool = self._pool or ThreadPoolExecutor(1, "jobs")
            return self._pool.submit(work)

    def get(self, what: str, key: str) -> Job:
        """A job by its key; raises NotFound."""
        with self._lock:
            job = self._jobs.get(key)
        if job is None or job.what != what:
            raise NotFound(f"{what} under way: begin again")
        return job


def _words(error: Exception) -> str:
    if isinstance(error, sqlite3.Error):
        return f"could not be kept: {error}"
    if isinstance(error, MemoryError):
        return "is too large for this machine's memory"
    return "could not be done"


def jobs() -> JobRoom:
    """The jobs of this application."""
    found: JobRoom = current_app.extensions["jobs"]
    return found
