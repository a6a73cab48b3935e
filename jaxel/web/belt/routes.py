"""Belt: widths, marks, a belt without a width, a substitute tried, the decision, and the belt that goes on."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.trade.belt.check import BeltCheck
from jaxel.core.trade.belt.look import Flank, Mark
from jaxel.core.trade.belt.wear import WidthCost, compare_belts, with_belt
from jaxel.core.trade.kinds.kind_file import BeltWay
from jaxel.core.trade.rebuild.opened import ways_of
from jaxel.store.belt import belt_checks
from jaxel.store.visit import visits

from ..database import connection
from ..record.answer import TheVisit, answer, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Changes, Id, Length, Round, VisitPath, Width, hand, once
from ..record.model import Model, Request

api = Blueprint("belt", "/api/visits/<int:visit_id>/belt")


class BeltReading(Changed[Width]):
    """The width at one place."""

    place: Annotated[int, Field(ge=1, le=12)]


class BeltChanges(Changes, of=BeltCheck):
    """What a hand writes of it."""

    next_length_mm: Changed[Round] | None = None


class NewMark(Request):
    """A mark as a hand taps it: `place`, share of the way round from the lettering."""

    kind: Annotated[str, Field(max_length=40)]
    place: Annotated[float, Field(ge=0, lt=1)]
    flank: Flank
    length_mm: Length = None


class MarkPath(Model):
    visit_id: Id
    mark_id: Id


class Substitute(Request):
    """Another belt, tried on screen before it is fitted; what is left out is as the set-up's belt."""

    width_mm: Width = None
    round_mm: Round = None


class SubstituteView(Model):
    """Figures of the set-up on the belt as found and on the substitute."""

    rows: list[WidthCost]


class WaysView(Model):
    """The ways the belt comes off, A to D, as the kinds of this machine's clutches say."""

    ways: list[BeltWay]


@api.get("/ways", responses={"200": WaysView})
def ways(path: VisitPath) -> Response:
    return answer(WaysView(ways=ways_of(visits.get(connection(), path.visit_id).kinds)))


@api.put("/reading")
def reading(path: VisitPath, body: BeltReading) -> Response:
    belt_checks.measure(connection(), path.visit_id, body.place, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("")
def belt(path: VisitPath, body: BeltChanges) -> Response:
    belt_checks.change(connection(), path.visit_id, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.post("/marks", responses={"201": TheVisit})
def mark(path: VisitPath, body: NewMark) -> tuple[Response, int]:
    found = Mark(body.kind, body.place, body.flank, body.length_mm)
    once(lambda: belt_checks.found_mark(connection(), path.visit_id, found, hand()))
    return visit_answer(path.visit_id), 201


@api.post("/marks/<int:mark_id>/remove")
def no_mark(path: MarkPath, body: Request) -> Response:
    """It was none."""
    once(lambda: belt_checks.take_back_mark(connection(), path.visit_id, path.mark_id, hand()))
    return visit_answer(path.visit_id)


@api.post("/substitute", responses={"200": SubstituteView})
def substitute(path: VisitPath, body: Substitute) -> Response:
    """What another belt would do in this set-up; nothing is kept."""
    document = visits.get(connection(), path.visit_id).as_found()
    other = with_belt(document, body.width_mm, body.round_mm)
    return answer(SubstituteView(rows=compare_belts(document, other)))
