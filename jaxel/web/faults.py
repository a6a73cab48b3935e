"""Faults as found: recorded, put right, taken back."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.store import faults as store

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Changed, Id, Request, VisitPath, hand, once
from .visit_view import VisitView, visit_view

api = APIBlueprint("faults", __name__, url_prefix="/api/visits/<int:visit_id>/faults")

Words = Annotated[str, Field(max_length=500)]


class FaultPath(BaseModel):
    visit_id: Id
    fault_id: Id


class NewFault(Request):
    """A fault as a hand records it; `figures` as typed, 48.1/48.0/46.9."""

    kind: Annotated[str, Field(max_length=60)]
    figures: Annotated[str, Field(max_length=200)] = ""
    note: Words = ""


class FaultShown(Request):
    """What was said of a fault as it was shown."""

    was: Annotated[dict[str, str], Field(max_length=4)]


@api.post("", responses={"201": VisitView, **REFUSALS})
def record(path: VisitPath, body: NewFault) -> tuple[Response, int]:
    once(lambda: store.record(connection(), path.visit_id, body.kind, body.figures, body.note, hand()))
    return answer(visit_view(connection(), path.visit_id)), 201


@api.patch("/<int:fault_id>/put-right", responses={"200": VisitView, **REFUSALS})
def put_right(path: FaultPath, body: Changed[Words]) -> Response:
    """What was done about it; a machine leaves only once something was."""
    store.put_right(connection(), path.visit_id, path.fault_id, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/<int:fault_id>/remove", responses={"200": VisitView, **REFUSALS})
def remove(path: FaultPath, body: FaultShown) -> Response:
    once(lambda: store.remove(connection(), path.visit_id, path.fault_id, body.was, hand()))
    return answer(visit_view(connection(), path.visit_id))
