"""Belt: three widths, the decision, and the belt that goes on."""

from typing import Annotated, Literal

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import Field

from jaxel.store import visits

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Edit, Id, VisitPath, Width
from .visit_view import VisitView, visit_view

api = APIBlueprint("belt", __name__, url_prefix="/api/visits/<int:visit_id>/belt")


class Reading(Edit):
    place: Annotated[int, Field(ge=1, le=3)]
    width_mm: Width


class BeltFields(Edit):
    belt_decision: Literal["run on", "spare", "discard"] | None = None
    belt_reason: Annotated[str, Field(max_length=500)] = ""
    next_belt_id: Id | None = None
    next_belt_width_mm: Width = None


@api.put("/reading", responses={"200": VisitView, **REFUSALS})
def reading(path: VisitPath, body: Reading) -> Response:
    visits.measure_belt(connection(), path.visit_id, body.edit, body.place, body.width_mm)
    return answer(visit_view(connection(), path.visit_id))


@api.patch("", responses={"200": VisitView, **REFUSALS})
def belt(path: VisitPath, body: BeltFields) -> Response:
    visits.change(connection(), path.visit_id, body.edit, body.sent())
    return answer(visit_view(connection(), path.visit_id))
