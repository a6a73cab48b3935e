"""Hand-over: what to watch and when to come back, and the sign-off."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import Field

from jaxel.store import visits
from jaxel.store.sign_off import sign_off

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Distance, Edit, VisitPath
from .visit_view import VisitView, visit_view

api = APIBlueprint("hand_over", __name__, url_prefix="/api/visits/<int:visit_id>")


class HandOverFields(Edit):
    watch: Annotated[str, Field(max_length=2000)] = ""
    next_service_km: Distance = None


class SignOff(Edit):
    by: Annotated[str, Field(max_length=120)]


@api.patch("/hand-over", responses={"200": VisitView, **REFUSALS})
def hand_over(path: VisitPath, body: HandOverFields) -> Response:
    visits.change(connection(), path.visit_id, body.edit, body.sent())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/sign-off", responses={"200": VisitView, **REFUSALS})
def sign(path: VisitPath, body: SignOff) -> Response:
    sign_off(connection(), path.visit_id, body.edit, body.by)
    return answer(visit_view(connection(), path.visit_id))
