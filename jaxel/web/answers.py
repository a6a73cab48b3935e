"""Answers: a model as the JSON of a response."""

from flask import Response
from pydantic import BaseModel


def answer(model: BaseModel) -> Response:
    """The model as a JSON response that is never taken from a cache."""
    response = Response(model.model_dump_json(), mimetype="application/json")
    response.headers["Cache-Control"] = "no-store"
    return response
