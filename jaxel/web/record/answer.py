"""Answers: a model as the JSON of a response, and the visit, which every station's change is answered with."""

import gzip
import sqlite3
from collections.abc import Callable

from flask import Flask, Response, current_app, request
from pydantic import BaseModel

from ..database import connection
from ..units import told
from .model import Model


class TheVisit(Model):
    """Stands for the visit's own answer where a station declares it; the description puts that in its place."""


VisitView = Callable[[sqlite3.Connection, int], BaseModel]


def answer(model: BaseModel) -> Response:
    """The model as a JSON response, never taken from a cache; words are told here, in the hand's units."""
    response = as_json(told(model.model_dump_json()))
    response.headers["Cache-Control"] = "no-store"
    return response


SMALL_BYTES = 1400
"""What fits one packet of the line is sent as it is."""

LEVEL = 5
"""How hard an answer is pressed: most of the gain in a few milliseconds."""


def as_json(text: str) -> Response:
    """JSON as a response, pressed where it is large and the browser takes it so."""
    data = text.encode()
    if len(data) <= SMALL_BYTES or request.accept_encodings["gzip"] <= 0:
        return Response(data, mimetype="application/json")
    response = Response(gzip.compress(data, LEVEL, mtime=0), mimetype="application/json")
    response.headers["Content-Encoding"] = "gzip"
    response.vary.add("Accept-Encoding")
    return response


def download(data: str | bytes, mimetype: str, name: str) -> Response:
    """A file to keep, under an ASCII name."""
    response = Response(data, mimetype=mimetype)
    response.headers.set("Content-Disposition", "attachment", filename=name)
    response.headers["Cache-Control"] = "no-store"
    return response


def visit_answer(visit_id: int) -> Response:
    """A visit as its pages show it, read at one moment; raises NotFound."""
    view: VisitView = current_app.extensions["visit_view"]
    return answer(view(connection(), visit_id))


def register(app: Flask, view: VisitView) -> None:
    """Say who makes the visit's answer: stations ask for it without knowing the others."""
    app.extensions["visit_view"] = view
