"""Who gets in: our own host and origin, JSON that is JSON, and headers that keep other pages out.

Without sign-in the application answers on loopback only. Any page a browser has open can send requests there, and a
name it controls can be made to point there; both are told apart by what the browser itself adds to a request.

Reference: RFC 6454 (origin), Fetch Metadata and Content Security Policy Level 3 (W3C).
"""

from flask import Flask, Response, request

from jaxel.core.formats.reading import read_json
from jaxel.store.machine.photos import LIMIT_BYTES
from jaxel.store.run.log_uploads import PART

from .errors import refusal

PICTURES = frozenset({"photos.add"})
PARTS = frozenset({"run_logs.part", "bundles.part"})
PART_WORDS = "must be application/octet-stream: the file's bytes"
PART_TYPE = "application/octet-stream"
UPLOADS = ("image/jpeg", "image/png", "image/webp")
PHOTO_WORDS = "must be a JPEG, PNG or WebP photo"
"""What takes a declared upload in place of JSON."""

DEVICES = frozenset({"device_readings.send"})
"""What a bench's device sends to: by its bench's token, never from a page."""

DEVICE_BYTES = 2000
"""A reading is about 120 bytes."""

LOOPBACK = frozenset({"127.0.0.1", "localhost", "[::1]"})
READS = frozenset({"GET", "HEAD", "OPTIONS"})

HEADERS = {
    "Content-Security-Policy": "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; "
    "img-src 'self' data:; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'none'; "
    "frame-ancestors 'none'",
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
"""Only what is shipped runs. Styles may stand in the page: the dialogs' library locks scrolling with one."""

INERT = frozenset({"font/woff2", "image/jpeg", "text/css", "text/javascript"})
"""Files that are part of a page and never one: a policy for what they may do says nothing, but weighs on each."""

OF_ANY_FILE = frozenset({"X-Content-Type-Options", "Cross-Origin-Resource-Policy"})


def register(app: Flask) -> None:
    """Check every request before it is looked at, and mark every answer."""
    app.before_request(check)

    @app.after_request
    def mark(response: Response) -> Response:
        for name, value in HEADERS.items():
            if response.mimetype not in INERT or name in OF_ANY_FILE:
                response.headers.setdefault(name, value)
        return response


def check() -> Response | None:
    """The refusal a request has earned, or None for one that may go on."""
    host = request.headers.get("Host", "")
    if not loopback(host):
        return refusal(403, "host", "this application answers only at its own address")
    return None if request.method in READS else _check_write(host)


def _check_device() -> Response | None:
    """A device has a token and nothing of a browser's: a page can send neither without its origin."""
    if any(request.headers.get(name) for name in ("Cookie", "Origin", "Sec-Fetch-Site", "Referer")):
        return refusal(403, "origin", "readings are taken from a bench's own devices, not from a page")
    if not request.headers.get("Authorization", "").startswith("Bearer "):
        return refusal(403, "token", "is missing: a device sends its bench's own")
    request.max_content_length = DEVICE_BYTES
    if request.mimetype != "application/json":
        return refusal(415, "content-type", "must be application/json")
    read_json(request.get_data(cache=True))
    return None


def _check_write(host: str) -> Response | None:
    if request.routing_exception is None and request.endpoint in DEVICES:
        return _check_device()
    own = request.headers.get("Origin", f"{request.scheme}://{host}") == f"{request.scheme}://{host}"
    if not own or request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        return refusal(403, "origin", "changes are taken only from this application's own pages")
    if request.routing_exception is None:
        if request.endpoint in PICTURES:
            request.max_content_length = LIMIT_BYTES
            return None if request.mimetype in UPLOADS else refusal(415, "content-type", PHOTO_WORDS)
        if request.endpoint in PARTS:
            request.max_content_length = PART
            return None if request.mimetype == PART_TYPE else refusal(415, "content-type", PART_WORDS)
        if request.mimetype != "application/json":
            return refusal(415, "content-type", "must be application/json")
        # As strictly as a document: one object, no field twice. Too large is refused by its announcement.
        read_json(request.get_data(cache=True))
    return None


def loopback(host: str) -> bool:
    """Whether a Host header names this machine to itself only."""
    return _name(host) in LOOPBACK


def _name(host: str) -> str:
    """A Host header without its port."""
    name, colon, port = host.rpartition(":")
    return name.lower() if colon and port.isascii() and port.isdigit() else host.lower()
