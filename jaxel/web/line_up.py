"""Line-up: the bar's readings and the belt's lie; the break-in of a new belt."""

from typing import Annotated, Literal

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import Field

from jaxel.core.trade.break_in import Released
from jaxel.core.trade.line_up import Way
from jaxel.core.trade.tightening import Origin
from jaxel.store import line_up as store

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import (
    Angle,
    BeltTemperature,
    Changed,
    Changes,
    Id,
    Offset,
    Request,
    Ride,
    Shims,
    Turns,
    VisitPath,
    hand,
    once,
)
from .visit_view import VisitView, visit_view

api = APIBlueprint("line_up", __name__, url_prefix="/api/visits/<int:visit_id>")

Words = Annotated[str, Field(max_length=500)]


class LineUpChanges(Changes):
    way: Changed[Way] | None = None
    front_mm: Changed[Offset] | None = None
    rear_mm: Changed[Offset] | None = None
    base_mm: Changed[Offset] | None = None
    near_mm: Changed[Offset] | None = None
    near_at_mm: Changed[Offset] | None = None
    far_mm: Changed[Offset] | None = None
    far_at_mm: Changed[Offset] | None = None
    nominal_mm: Changed[Offset] | None = None
    offset_tolerance_mm: Changed[Offset] | None = None
    toe_tolerance_deg: Changed[Angle] | None = None
    origin: Changed[Origin | Literal[""]] | None = None
    behind: Changed[Shims] | None = None
    deflection_mm: Changed[Offset] | None = None
    ride_mm: Changed[Ride] | None = None
    wanted_deflection_mm: Changed[Offset] | None = None
    per_turn_mm: Changed[Offset] | None = None
    turned: Changed[Turns] | None = None
    seated: Changed[bool] | None = None
    reason: Changed[Words] | None = None


class HeatPath(VisitPath):
    cycle_id: Id


class HeatEnded(Request):
    """The belt is warmed through, or cooled down after that: its temperature, where it was taken."""

    temperature_c: BeltTemperature = None


class BreakInChanges(Changes):
    released: Changed[Released] | None = None
    reason: Changed[Words] | None = None


@api.patch("/line-up", responses={"200": VisitView, **REFUSALS})
def line_up(path: VisitPath, body: LineUpChanges) -> Response:
    store.change(connection(), path.visit_id, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/break-in", responses={"200": VisitView, **REFUSALS})
def release(path: VisitPath, body: BreakInChanges) -> Response:
    """Released to the road, or overruled with a reason."""
    store.release(connection(), path.visit_id, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/break-in/heats", responses={"200": VisitView, **REFUSALS})
def begin_heat(path: VisitPath, body: Request) -> Response:
    """Begin a heat cycle on the server's clock."""
    once(lambda: store.begin_heat(connection(), path.visit_id, hand()))
    return answer(visit_view(connection(), path.visit_id))


@api.post("/break-in/heats/<int:cycle_id>/end", responses={"200": VisitView, **REFUSALS})
def end_heat(path: HeatPath, body: HeatEnded) -> Response:
    once(lambda: store.end_heat(connection(), path.visit_id, path.cycle_id, body.temperature_c, hand()))
    return answer(visit_view(connection(), path.visit_id))


@api.post("/break-in/heats/<int:cycle_id>/remove", responses={"200": VisitView, **REFUSALS})
def take_back_heat(path: HeatPath, body: Request) -> Response:
    once(lambda: store.take_back_heat(connection(), path.visit_id, path.cycle_id, hand()))
    return answer(visit_view(connection(), path.visit_id))
