"""Line-up: the bar's readings and the belt's lie; the break-in of a new belt."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.trade.line_up.break_in import BreakIn
from jaxel.core.trade.line_up.line_up import LineUp
from jaxel.store.line_up import line_up as store

from ..database import connection
from ..record.answer import visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import BeltTemperature, Changes, Id, VisitPath, hand, once
from ..record.model import Request

api = Blueprint("line_up", "/api/visits/<int:visit_id>")

Words = Annotated[str, Field(max_length=500)]


class LineUpChanges(Changes, of=LineUp):
    """What a hand writes of it."""


class HeatPath(VisitPath):
    cycle_id: Id


class HeatEnded(Request):
    """The belt is warmed through, or cooled down after that: its temperature, where it was taken."""

    temperature_c: BeltTemperature = None


class BreakInChanges(Changes, of=BreakIn):
    """What a hand writes of it."""


@api.patch("/line-up")
def line_up(path: VisitPath, body: LineUpChanges) -> Response:
    store.change(connection(), path.visit_id, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.patch("/break-in")
def release(path: VisitPath, body: BreakInChanges) -> Response:
    """Released to the road, or overruled with a reason."""
    store.release(connection(), path.visit_id, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.post("/break-in/heats")
def begin_heat(path: VisitPath, body: Request) -> Response:
    """Begin a heat cycle on the server's clock."""
    once(lambda: store.begin_heat(connection(), path.visit_id, hand()))
    return visit_answer(path.visit_id)


@api.post("/break-in/heats/<int:cycle_id>/end")
def end_heat(path: HeatPath, body: HeatEnded) -> Response:
    once(lambda: store.end_heat(connection(), path.visit_id, path.cycle_id, body.temperature_c, hand()))
    return visit_answer(path.visit_id)


@api.post("/break-in/heats/<int:cycle_id>/remove")
def take_back_heat(path: HeatPath, body: Request) -> Response:
    once(lambda: store.take_back_heat(connection(), path.visit_id, path.cycle_id, hand()))
    return visit_answer(path.visit_id)
