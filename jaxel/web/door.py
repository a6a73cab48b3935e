"""The door of the server: how many may stand in it, and the one form in which it refuses before a page is asked.

Waitress stops accepting past its limit of connections, and a browser then waits in silence; here it hears so at once.
"""

import json
import time
from collections import deque
from collections.abc import Callable
from socket import SHUT_WR, socket
from typing import Any

from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer
from waitress.task import ErrorTask
from waitress.utilities import RequestEntityTooLarge

BUSY_WORDS = "too many pages are open at this server: nothing was done; close some and try again"
REFUSED_SECONDS = 1.0
"""How long a refused connection is held, so that its browser has read why before it is cut."""

MOST_REFUSED = 100


def refusal_bytes(status: str, field: str, reason: str, *more: str) -> bytes:
    """A whole HTTP answer that refuses in the form every refusal has, and closes the connection."""
    body = json.dumps({"error": {"field": field, "reason": reason}}).encode()
    head = [f"HTTP/1.1 {status}", "Content-Type: application/json", f"Content-Length: {len(body)}",
            "Connection: close", *more]  # fmt: skip
    return "\r\n".join(head).encode() + b"\r\n\r\n" + body


class _Refusing(ErrorTask):  # type: ignore[misc]
    """What Waitress refuses by itself, said as the application says it."""

    def execute(self) -> None:
        error, field = self.request.error, "request"
        reason = f"could not be served: {error.body}"
        if isinstance(error, RequestEntityTooLarge):
            pictured = str(self.request.headers.get("CONTENT_TYPE", "")).startswith("image/")
            field, most = "photo" if pictured else "document", self.channel.adj.max_request_body_size
            reason = f"is larger than {most // 1_000_000} MB, the most that is taken here"
        body = json.dumps({"error": {"field": field, "reason": reason}}).encode()
        self.status = f"{error.code} {error.reason}"
        self.response_headers.append(("Content-Type", "application/json"))
        self.set_close_on_finish()
        self.content_length = len(body)
        self.write(body)


class _Channel(HTTPChannel):  # type: ignore[misc]
    error_task_class = _Refusing


class Door(TcpWSGIServer):  # type: ignore[misc]
    """A Waitress server that answers everyone: past `connection_limit` with a short refusal instead of silence."""

    channel_class = _Channel
    next_channel_cleanup = 0.0

    def __init__(self, application: Callable[..., Any], **settings: Any):
        self._refused: deque[tuple[float, socket]] = deque()
        super().__init__(application, adj=Adjustments(**settings))

    @property
    def connections(self) -> int:
        """Connections open at this moment."""
        return len(self.active_channels)

    @property
    def waiting(self) -> int:
        """Requests that wait for a thread."""
        return len(self.task_dispatcher.queue)

    def readable(self) -> bool:
        now = time.time()
        if now >= self.next_channel_cleanup:
            self.next_channel_cleanup = now + self.adj.cleanup_interval
            self.maintenance(now)
        while self._refused and (self._refused[0][0] < now - REFUSED_SECONDS or len(self._refused) > MOST_REFUSED):
            self._refused.popleft()[1].close()
        return bool(self.accepting)

    def handle_accept(self) -> None:
        if len(self.active_channels) < self.adj.connection_limit:
            super().handle_accept()
            return
        try:
            accepted = self.accept()
            if accepted is None:
                return
            connection = accepted[0]
            connection.setblocking(False)
            connection.send(refusal_bytes("503 Service Unavailable", "connections", BUSY_WORDS, "Retry-After: 5"))
            connection.shutdown(SHUT_WR)
        except OSError:  # it went away by itself
            return
        self._refused.append((time.time(), connection))

    def close(self) -> None:
        while self._refused:
            self._refused.popleft()[1].close()
        super().close()
