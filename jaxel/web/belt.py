"""Belt: widths, marks, a belt without a width, a substitute tried, the decision, and the belt that goes on."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.core.trade.belt_look import Flank, Mark, NoWidth
from jaxel.core.trade.belt_wear import WidthCost, compare_belts, with_belt
from jaxel.core.trade.stations import Decision, Search
from jaxel.store import belt_checks, visits

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Changed, Changes, Gap, Id, Request, Ride, Round, VisitPath, Width, hand, once
from .visit_view import VisitView, visit_view

api = APIBlueprint("belt", __name__, url_prefix="/api/visits/<int:visit_id>/belt")


class BeltReading(Changed[Width]):
    """The width at one place."""

    place: Annotated[int, Field(ge=1, le=12)]


class BeltChanges(Changes):
    decision: Changed[Decision | None] | None = None
    reason: Changed[Annotated[str, Field(max_length=500)]] | None = None
    next_belt_id: Changed[Id | None] | None = None
    next_width_mm: Changed[Width] | None = None
    direction: Changed[Annotated[str, Field(max_length=120)]] | None = None
    no_width: Changed[NoWidth | None] | None = None
    failure: Changed[Annotated[str, Field(max_length=20)]] | None = None
    pieces: Changed[Search] | None = None
    ducts: Changed[Search] | None = None
    seals: Changed[Search] | None = None
    faces: Changed[Search] | None = None
    side_gap_mm: Changed[Gap] | None = None
    deflection_mm: Changed[Gap] | None = None
    ride_mm: Changed[Ride] | None = None


class NewMark(Request):
    """A mark as a hand taps it: `place`, share of the way round from the lettering."""

    kind: Annotated[str, Field(max_length=40)]
    place: Annotated[float, Field(ge=0, lt=1)]
    flank: Flank
    length_mm: Round = None


class MarkPath(BaseModel):
    visit_id: Id
    mark_id: Id


class Substitute(Request):
    """Another belt, tried on screen before it is fitted; what is left out is as the set-up's belt."""

    width_mm: Width = None
    round_mm: Round = None


class SubstituteView(BaseModel):
    """Figures of the set-up on the belt as found and on the substitute."""

    rows: list[WidthCost]


@api.put("/reading", responses={"200": VisitView, **REFUSALS})
def reading(path: VisitPath, body: BeltReading) -> Response:
    belt_checks.measure(connection(), path.visit_id, body.place, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("", responses={"200": VisitView, **REFUSALS})
def belt(path: VisitPath, body: BeltChanges) -> Response:
    belt_checks.change(connection(), path.visit_id, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/marks", responses={"201": VisitView, **REFUSALS})
def mark(path: VisitPath, body: NewMark) -> tuple[Response, int]:
    found = Mark(body.kind, body.place, body.flank, body.length_mm)
    once(lambda: belt_checks.found_mark(connection(), path.visit_id, found, hand()))
    return answer(visit_view(connection(), path.visit_id)), 201


@api.post("/marks/<int:mark_id>/remove", responses={"200": VisitView, **REFUSALS})
def no_mark(path: MarkPath, body: Request) -> Response:
    """It was none."""
    once(lambda: belt_checks.take_back_mark(connection(), path.visit_id, path.mark_id, hand()))
    return answer(visit_view(connection(), path.visit_id))


@api.post("/substitute", responses={"200": SubstituteView, **REFUSALS})
def substitute(path: VisitPath, body: Substitute) -> Response:
    """What another belt would do in this set-up; nothing is kept."""
    document = visits.get(connection(), path.visit_id).as_found()
    other = with_belt(document, body.width_mm, body.round_mm)
    return answer(SubstituteView(rows=compare_belts(document, other)))
