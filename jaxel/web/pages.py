"""The built front end: its files, and its page for every address outside /api."""

import gzip
import mimetypes
import os
from functools import lru_cache
from pathlib import Path

from flask import Flask, Response, current_app, request, send_from_directory
from werkzeug.exceptions import MethodNotAllowed
from werkzeug.security import safe_join

from . import errors
from .guard import READS

ASSETS = "assets/"
"""Where files lie that carry a hash of their content in their name."""

FOREVER = 365 * 24 * 3600  # [s]
COMPRESSED = (".js", ".css", ".svg")


def register(app: Flask, folder: Path) -> None:
    """Serve the front end built into `folder`."""

    @app.route("/", defaults={"name": ""})
    @app.route("/<path:name>")
    def page(name: str) -> Response:
        if name.startswith("api/") or name == "api":
            return _no_such_address()
        place = safe_join(str(folder), name) if name else None
        if place is not None and os.path.isfile(place):  # noqa: PTH113 (False for a name too long or with a NUL)
            return _file(folder, name, place)
        if name.startswith(ASSETS):  # a page here would be kept for a year as what it is not
            return errors.refusal(404, "address", "there is no such file: look at the page anew")
        if not (folder / "index.html").is_file():
            return errors.refusal(404, "address", "the interface has not been built: run make demo")
        return send_from_directory(folder, "index.html", max_age=0)


def _no_such_address() -> Response:
    """An address of the API that reads nothing: 405 where it takes writes, 404 where there is none."""
    adapter = current_app.create_url_adapter(request)
    taken = set(adapter.allowed_methods(request.path) if adapter else ()) - READS
    if taken:
        raise MethodNotAllowed(sorted(taken))
    return errors.refusal(404, "address", "there is no such address")


def _file(folder: Path, name: str, place: str) -> Response:
    """A built file; one named by its content never changes."""
    hashed = name.startswith(ASSETS)
    coding = _coding(place) if hashed and name.endswith(COMPRESSED) else None
    if coding:
        response = Response(_compressed(place, coding), mimetype=mimetypes.guess_type(name)[0])
        response.headers["Content-Encoding"] = coding
        response.cache_control.public = True
        response.cache_control.max_age = FOREVER
    else:
        response = send_from_directory(folder, name, max_age=FOREVER if hashed else 0)
    if hashed:
        response.cache_control.immutable = True
        response.vary.add("Accept-Encoding")
    return response


def _coding(place: str) -> str | None:
    """What a file is sent in: Brotli where the build made it and the browser asks for it, else gzip."""
    accepted = request.accept_encodings
    if accepted["br"] > 0 and Path(f"{place}.br").is_file():
        return "br"
    return "gzip" if accepted["gzip"] > 0 else None


@lru_cache(maxsize=256)
def _compressed(place: str, coding: str) -> bytes:
    if coding == "br":
        return Path(f"{place}.br").read_bytes()
    return gzip.compress(Path(place).read_bytes(), mtime=0)
