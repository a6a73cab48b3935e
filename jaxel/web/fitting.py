"""Set-up: slots tried on the bench, and the change recorded as fitted with its reason."""

from typing import Annotated, Literal

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.core.trade.sensitivity import Sensitivity
from jaxel.store import fitting, visits

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Edit, VisitPath
from .predictions import steps, strip_figures
from .visit_view import VisitView, visit_view

api = APIBlueprint("setup", __name__, url_prefix="/api/visits/<int:visit_id>/setup")


class SlotFields(Edit):
    """Slot values by key: a number, or text as typed; the arms may be weighed one by one, `62.0 / 62.1 / 61.9`."""

    which: Literal["found", "left"]
    slots: Annotated[dict[str, float | str], Field(min_length=1, max_length=30)]


class ReasonField(Edit):
    change_reason: Annotated[str, Field(max_length=500)]


class Record(Edit):
    reason: Annotated[str, Field(max_length=500)]


class StepsView(BaseModel):
    """What one step of each slot, of the belt's width and of the altitude does to the figures."""

    steps: list[Sensitivity]


@api.get("/steps", responses={"200": StepsView, **REFUSALS})
def one_step(path: VisitPath) -> Response:
    visit = visits.get(connection(), path.visit_id)
    return answer(StepsView(steps=steps(visit.as_left(), visit.kinds)))


class StripView(BaseModel):
    """A full pull on the simulated strip, as found and as left."""

    found: dict[str, float | None]
    left: dict[str, float | None]


@api.get("/strip", responses={"200": StripView, **REFUSALS})
def strip(path: VisitPath) -> Response:
    visit = visits.get(connection(), path.visit_id)
    return answer(StripView(found=strip_figures(visit.as_found()), left=strip_figures(visit.as_left())))


@api.patch("/slots", responses={"200": VisitView, **REFUSALS})
def try_slots(path: VisitPath, body: SlotFields) -> Response:
    fitting.try_slots(connection(), path.visit_id, body.edit, body.which, body.slots)
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/reason", responses={"200": VisitView, **REFUSALS})
def reason(path: VisitPath, body: ReasonField) -> Response:
    """The reason as it is typed, before the change is recorded."""
    visits.change(connection(), path.visit_id, body.edit, body.sent())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/drop", responses={"200": VisitView, **REFUSALS})
def drop(path: VisitPath, body: Edit) -> Response:
    """Put the bench back to what was last recorded."""
    fitting.drop_draft(connection(), path.visit_id, body.edit)
    return answer(visit_view(connection(), path.visit_id))


@api.post("/record", responses={"200": VisitView, **REFUSALS})
def record(path: VisitPath, body: Record) -> Response:
    fitting.record(connection(), path.visit_id, body.edit, body.reason)
    return answer(visit_view(connection(), path.visit_id))
