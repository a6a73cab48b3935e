"""A prediction under its own address: whole, and the same for ever."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.formats.prediction import PredictionDocument

from ..record.answer import as_json
from ..record.blueprint import Blueprint
from ..record.model import Model
from ..units import told
from .predictions import whole

api = Blueprint("curves", "/api/predictions")


class KeyPath(Model):
    key: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]


@api.get("/<key>", responses={"200": PredictionDocument})
def prediction(path: KeyPath) -> Response:
    response = as_json(told(whole(path.key)))
    response.vary.add("Jaxel-Hand")  # its warnings are told in a hand's units
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
