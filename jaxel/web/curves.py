"""A prediction under its own address: whole, and the same for ever."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.core.formats.prediction import PredictionDocument

from .errors import READ_REFUSALS
from .predictions import whole

api = APIBlueprint("curves", __name__, url_prefix="/api/predictions")


class KeyPath(BaseModel):
    key: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]


@api.get("/<key>", responses={"200": PredictionDocument, **READ_REFUSALS})
def prediction(path: KeyPath) -> Response:
    response = Response(whole(path.key), mimetype="application/json")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
