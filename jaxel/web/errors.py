"""Every refusal in one form: `{"error": {"field", "reason"}}` with a 4xx status."""

import sqlite3
from pathlib import Path
from shutil import disk_usage
from typing import Any

from flask import Response, current_app, jsonify, request
from flask_openapi3 import OpenAPI
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.formats.reading import refuse
from jaxel.core.trade.record.plausible import read_otherwise
from jaxel.core.units import number_and_unit
from jaxel.store.db import Conflict, NotFound
from jaxel.store.visit.hand_over import NotReady

from .bounded import Busy
from .record.model import Model
from .units import told, units


class Question(Model):
    """What was likely meant by a value that could be but hardly is: in words, and by field; empty where unknown."""

    words: str
    meant: dict[str, float | str]


class Refusal(Model):
    """What was refused: the field, and the reason in a technician's words.

    `theirs`, where another hand changed the field: what it holds now. `asks`, where a value is taken only once the
    hand is `sure` of it.
    """

    field: str
    reason: str
    theirs: Any = None
    asks: Question | None = None


class ErrorAnswer(Model):
    error: Refusal


def refusal(status: int, field: str, reason: str, **more: Any) -> Response:
    """An answer that refuses."""
    told = ErrorAnswer(error=Refusal(field=field, reason=_told(reason), **more))
    answer = jsonify(told.model_dump(exclude_unset=True))
    answer.status_code = status
    return answer


def _told(words: str) -> str:
    """Words in the hand's units; as they are where the workshop cannot be read to know those."""
    try:
        return told(words)
    except sqlite3.Error:
        return words


def _asked(error: Implausible) -> Response:
    """A question about a value; what is offered in its place is another reading of the number that was typed."""
    reason, words, meant = error.reason, error.words, dict(error.meant)
    text = _typed(error.field)
    if error.expected is not None and text:
        words, otherwise = read_otherwise(text, error.expected)
        meant = {error.field: otherwise} if words else {}
        if number_and_unit(text, error.expected.unit)[1] != units().shown(error.expected.unit).name:
            reason = f"{text}: {reason}"
    return refusal(422, error.field, reason, asks=Question(words=_told(words), meant=meant))


def _typed(field: str) -> str:
    """What was typed for a field in the body of this request; empty where it was no text."""
    body = request.get_json(silent=True)
    if not isinstance(body, dict):
        return ""
    numbers = body.get("numbers")
    fields = numbers if isinstance(numbers, dict) else body
    held = fields.get(field, body.get("now"))
    text = held.get("now") if isinstance(held, dict) else held
    return text.strip() if isinstance(text, str) else ""


def invalid_request(error: ValidationError) -> Response:
    """The answer to a request that does not fit its model."""
    fault = refuse(error)
    return refusal(422, fault.field.removesuffix(".now"), fault.reason)


def _storage(error: sqlite3.Error) -> Response:
    """The answer while the database cannot be read or written: nothing was half-written, and it may pass."""
    words, name = str(error), getattr(error, "sqlite_errorname", "")
    # A disk without room shows itself as either: a page that cannot be written, or shared memory that cannot grow.
    if name == "SQLITE_FULL" or (name.startswith("SQLITE_IOERR") and _disk_full()):
        reason = "the disk is full: nothing was saved; make room and try again"
    elif "locked" in words or "busy" in words:
        reason = "the database is busy: nothing was saved; try again in a moment"
    elif "readonly" in words or "read-only" in words or "permission" in words:
        reason = "the database file may only be read: nothing was saved; check who may write to it"
    else:
        reason = f"the database cannot be used, nothing was saved: {words}"
    return _later(503, "storage", reason)


def _later(status: int, field: str, reason: str) -> Response:
    """A refusal of what may be asked again in a moment."""
    answer = refusal(status, field, reason)
    answer.headers["Retry-After"] = "2"
    return answer


LEAST_FREE = 1_000_000
"""Room on the disk [bytes] below which what fails there fails for want of room."""


def _disk_full() -> bool:
    try:
        return disk_usage(Path(current_app.config["DATABASE"]).parent).free < LEAST_FREE
    except OSError:
        return False


def _too_large(_: RequestEntityTooLarge) -> Response:
    """What was sent, and the limit it is over: each address has its own."""
    limit = request.max_content_length or 0
    field, size = ("photo", f"{limit // 1_000_000} MB") if request.mimetype.startswith("image/") else (
        "document", f"{limit // 1000:,} kB" if limit >= 1000 else f"{limit:,} bytes"
    )  # fmt: skip
    return refusal(413, field, f"is larger than {size}")


def _http(error: HTTPException) -> Response:
    answer = refusal(error.code or 400, "request", (error.description or error.name).rstrip(".").lower())
    for name, value in error.get_headers():
        if name == "Allow":
            answer.headers[name] = value
    return answer


def register(app: OpenAPI) -> None:
    """Turn every error the store and the core raise into its answer."""
    app.register_error_handler(InvalidValue, lambda error: refusal(422, error.field, error.reason))
    app.register_error_handler(Implausible, _asked)
    app.register_error_handler(NotFound, lambda error: refusal(404, "address", f"there is no such {error}"))
    app.register_error_handler(Conflict, lambda error: refusal(409, error.field, str(error), theirs=error.theirs))
    app.register_error_handler(NotReady, lambda error: refusal(409, error.items[0].field, str(error)))
    app.register_error_handler(RequestEntityTooLarge, _too_large)
    app.register_error_handler(Busy, lambda error: _later(429, "busy", str(error)))
    app.register_error_handler(sqlite3.Error, _storage)
    app.register_error_handler(
        sqlite3.IntegrityError, lambda error: refusal(422, "request", f"breaks a limit of the database: {error}")
    )
    app.register_error_handler(RecursionError, lambda _: refusal(422, "document", "is nested too deeply to be read"))
    app.register_error_handler(
        ArithmeticError, lambda _: refusal(422, "request", "holds a number that cannot be worked with")
    )
    app.register_error_handler(HTTPException, _http)
