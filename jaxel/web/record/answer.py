"""Answers: a model as the JSON of a response, and the visit, which every station's change is answered with."""

import sqlite3
from collections.abc import Callable

from flask import Flask, Response, current_app
from pydantic import BaseModel

from ..database import connection
from ..units import told
from .model import Model


class TheVisit(Model):
    """Stands for the visit's own answer where a station declares it; the description puts that in its place."""


VisitView = Callable[[sqlite3.Connection, int], BaseModel]


def answer(model: BaseModel) -> Response:
    """The model as a JSON response, never taken from a cache; words are told here, in the hand's units."""
    response = Response(told(model.model_dump_json()), mimetype="application/json")
    response.headers["Cache-Control"] = "no-store"
    return response


def visit_answer(visit_id: int) -> Response:
    """A visit as its pages show it, read at one moment; raises NotFound."""
    view: VisitView = current_app.extensions["visit_view"]
    return answer(view(connection(), visit_id))


def register(app: Flask, view: VisitView) -> None:
    """Say who makes the visit's answer: stations ask for it without knowing the others."""
    app.extensions["visit_view"] = view
