"""Work off a request's thread: one piece at a time, watched by whoever asked for it, given up at will."""

import logging
import secrets
import sqlite3
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from pathlib import Path
from threading import Event, Lock
from typing import Any, Literal

from flask import current_app

from jaxel.core.errors import InvalidValue
from jaxel.store.db import Conflict, NotFound, connect

from .bounded import Busy

State = Literal["waiting", "working", "done", "refused", "given up"]
Watch = Callable[[float], None]
"""Hears what share is done [0–1]; raises GivenUp once nobody wants it any more."""

MOST_WAITING = 8
MOST_KEPT = 16
"""Jobs of which the outcome is remembered: a bundle that was made lies in a file as long."""

FIRST_WAIT_S = 0.35
"""How long a request waits for work that may be done at once."""


class GivenUp(Exception):
    """The hand gave it up; nothing of it is kept."""


class Job:
    """One piece of work: its state, the share done [0–1], what came of it, or the field and reason of a refusal."""

    def __init__(self, what: str) -> None:
        self.key, self.what = secrets.token_hex(16), what
        self.state: State = "waiting"
        self.share, self.result = 0.0, None  # type: float, Any
        self.field = self.reason = ""
        self._stop, self._ended = Event(), Event()

    def watch(self, share: float) -> None:
        """Hear how far it has come; raises GivenUp."""
        self.share = share
        if self._stop.is_set():
            raise GivenUp

    def give_up(self) -> None:
        """Stop it at its next step; what is done stays done."""
        self._stop.set()

    def wait(self, seconds: float = FIRST_WAIT_S) -> "Job":
        """Wait for its end, so long at most."""
        self._ended.wait(seconds)
        return self

    def run(self, path: Path, work: Callable[[sqlite3.Connection, Watch], Any]) -> None:
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
            words = f"could not be kept: {error}" if isinstance(error, sqlite3.Error) else "could not be done"
            self.field, self.reason, self.state = self.what, words, "refused"
        finally:
            self._ended.set()


class JobRoom:
    """The jobs of one database, in the order they were asked for."""

    def __init__(self, path: Path):
        self.path = path
        self._pool: ThreadPoolExecutor | None = None
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._lock = Lock()

    @property
    def waiting(self) -> int:
        """Jobs that wait or are under way."""
        with self._lock:
            return sum(each.state in ("waiting", "working") for each in self._jobs.values())

    def begin(self, what: str, work: Callable[[sqlite3.Connection, Watch], Any]) -> Job:
        """Have work done when its turn comes; raises Busy where too much waits already."""
        if self.waiting >= MOST_WAITING:
            raise Busy(f"{what}: {MOST_WAITING} are waiting already; nothing was done, try again in a moment")
        job = Job(what)
        with self._lock:
            self._jobs[job.key] = job
            while len(self._jobs) > MOST_KEPT:
                self._jobs.popitem(last=False)
            self._pool = self._pool or ThreadPoolExecutor(1, "jobs")
            self._pool.submit(job.run, self.path, work)
        return job

    def get(self, what: str, key: str) -> Job:
        """A job by its key; raises NotFound."""
        with self._lock:
            job = self._jobs.get(key)
        if job is None or job.what != what:
            raise NotFound(f"{what} under way: begin again")
        return job


def jobs() -> JobRoom:
    """The jobs of this application."""
    found: JobRoom = current_app.extensions["jobs"]
    return found
