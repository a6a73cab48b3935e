"""Belt: three widths, the decision, and the belt that goes on."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import Field

from jaxel.core.trade.stations import Decision
from jaxel.store import belt_checks

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Changed, Changes, Id, VisitPath, Width, hand
from .visit_view import VisitView, visit_view

api = APIBlueprint("belt", __name__, url_prefix="/api/visits/<int:visit_id>/belt")


class Reading(Changed[Width]):
    """The width at one place."""

    place: Annotated[int, Field(ge=1, le=3)]


class BeltChanges(Changes):
    decision: Changed[Decision | None] | None = None
    reason: Changed[Annotated[str, Field(max_length=500)]] | None = None
    next_belt_id: Changed[Id | None] | None = None
    next_width_mm: Changed[Width] | None = None


@api.put("/reading", responses={"200": VisitView, **REFUSALS})
def reading(path: VisitPath, body: Reading) -> Response:
    belt_checks.measure(connection(), path.visit_id, body.place, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("", responses={"200": VisitView, **REFUSALS})
def belt(path: VisitPath, body: BeltChanges) -> Response:
    belt_checks.change(connection(), path.visit_id, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))
