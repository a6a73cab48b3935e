"""Heavy work, one piece at a time, with a short queue before it: what comes beyond is refused and can come again."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Lock
from typing import TypeVar

Done = TypeVar("Done")


class Busy(Exception):
    """More is waiting than is let wait; the message says what for."""


class Bounded:
    """A worker that does one thing at a time, for at most `most` who wait or are served.

    A request waits for its own work: what bounds the memory is that no two are under way.
    """

    def __init__(self, what: str, most: int):
        self.what, self.most = what, most
        self._pool: ThreadPoolExecutor | None = None
        self._lock = Lock()
        self._inside = 0

    @property
    def waiting(self) -> int:
        """How many wait or are served."""
        return self._inside

    def do(self, work: Callable[[], Done]) -> Done:
        """Do it when its turn comes and return what it returns; raises Busy, and what the work raises."""
        with self._lock:
            if self._inside >= self.most:
                raise Busy(f"{self.what}: {self.most} are waiting already; nothing was kept, try again in a moment")
            self._inside += 1
            self._pool = self._pool or ThreadPoolExecutor(1, self.what)
            promised = self._pool.submit(work)
        try:
            return promised.result()
        finally:
            with self._lock:
                self._inside -= 1
