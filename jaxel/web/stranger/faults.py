"""Faults as found: recorded, put right, taken back."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.store.stranger import faults as store

from ..database import connection
from ..record.answer import TheVisit, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Id, VisitPath, hand, once
from ..record.model import Model, Request

api = Blueprint("faults", "/api/visits/<int:visit_id>/faults")

Words = Annotated[str, Field(max_length=500)]


class FaultPath(Model):
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


@api.post("", responses={"201": TheVisit})
def record(path: VisitPath, body: NewFault) -> tuple[Response, int]:
    once(lambda: store.record(connection(), path.visit_id, body.kind, body.figures, body.note, hand()))
    return visit_answer(path.visit_id), 201


@api.patch("/<int:fault_id>/put-right")
def put_right(path: FaultPath, body: Changed[Words]) -> Response:
    """What was done about it; a machine leaves only once something was."""
    store.put_right(connection(), path.visit_id, path.fault_id, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.post("/<int:fault_id>/remove")
def remove(path: FaultPath, body: FaultShown) -> Response:
    once(lambda: store.remove(connection(), path.visit_id, path.fault_id, body.was, hand()))
    return visit_answer(path.visit_id)
