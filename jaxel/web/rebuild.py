"""Rebuild: what is seen at each step, the wind of the spring, weighings, and what was done about each fastener."""

from typing import Annotated, Literal

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.core.trade.kind_file import Tightness
from jaxel.core.trade.kinds import Side
from jaxel.core.trade.rebuild import Turn
from jaxel.core.trade.tightening import Origin
from jaxel.core.trade.torque import Means
from jaxel.store import rebuild as store
from jaxel.store import torques, visits

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Angle, Changed, Changes, Gap, Id, Request, TypedTorque, VisitPath, Weighed, hand, once
from .visit_view import VisitView, visit_view

api = APIBlueprint("rebuild", __name__, url_prefix="/api/visits/<int:visit_id>/rebuild")

Key = Annotated[str, Field(max_length=40)]
Place = Annotated[str, Field(max_length=120)]
Words = Annotated[str, Field(max_length=500)]
Hole = Annotated[str, Field(max_length=12)]
Clock = Literal["first_at", "compound_at"]


class RebuildChanges(Changes):
    closes: Changed[Turn] | None = None
    wound: Changed[Turn] | None = None
    wound_deg: Changed[Angle] | None = None
    sheave_hole: Changed[Hole] | None = None
    helix_hole: Changed[Hole] | None = None
    helper: Changed[Annotated[str, Field(max_length=120)]] | None = None


class SeenAt(Changed[bool]):
    """Whether what is asked at a step, `side.step.ask`, was seen."""

    asked: Place


class LeftOnPart(Changed[bool]):
    """Whether a part, `side.part`, did not come off after all."""

    part: Place


class AcceptedAt(Changed[Words]):
    """Why what is amiss at a step, `side.step`, is left so."""

    step: Place


class MatchedPath(BaseModel):
    visit_id: Id
    side: Side
    matched: Key


class WeighedAt(Changed[Weighed]):
    """What one piece of a set weighs, by its place from 0."""

    place: Annotated[int, Field(ge=0, le=11)]


class FastenerPath(BaseModel):
    visit_id: Id
    side: Side
    fastener: Key


class FastenerChanges(Changes):
    state: Changed[Literal["", "done", "owed"]] | None = None
    torque_nm: Changed[TypedTorque] | None = None
    means: Changed[Means | Literal[""]] | None = None
    wrench: Changed[Annotated[str, Field(max_length=60)]] | None = None
    note: Changed[Words] | None = None


class ClockStarted(Request):
    """A timer on the server's clock: the first pass round, or the compound on."""

    what: Clock


class ClockStopped(ClockStarted):
    was: Annotated[str, Field(max_length=40)]


class TorqueStated(Request):
    """What a source says of a fastener: of every clutch of its kind, or of this machine's alone."""

    kind: Annotated[str, Field(max_length=60)]
    fastener: Key
    tightness: Tightness
    torque: TypedTorque = None
    origin: Origin
    this_machine: bool = False
    sure: bool = False


class TorqueNumber(Request):
    stated_id: Id


@api.patch("", responses={"200": VisitView, **REFUSALS})
def rebuild(path: VisitPath, body: RebuildChanges) -> Response:
    store.change(connection(), path.visit_id, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/seen", responses={"200": VisitView, **REFUSALS})
def seen(path: VisitPath, body: SeenAt) -> Response:
    store.see(connection(), path.visit_id, body.asked, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/left-on", responses={"200": VisitView, **REFUSALS})
def left_on(path: VisitPath, body: LeftOnPart) -> Response:
    store.left_on(connection(), path.visit_id, body.part, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/accepted", responses={"200": VisitView, **REFUSALS})
def accepted(path: VisitPath, body: AcceptedAt) -> Response:
    store.accept(connection(), path.visit_id, body.step, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.put("/matched/<string:side>/<string:matched>/mass", responses={"200": VisitView, **REFUSALS})
def mass(path: MatchedPath, body: WeighedAt) -> Response:
    store.weigh(connection(), path.visit_id, path.side, path.matched, body.place, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.put("/matched/<string:side>/<string:matched>/radius", responses={"200": VisitView, **REFUSALS})
def radius(path: MatchedPath, body: Changed[Gap]) -> Response:
    """The radius the centres of a set turn on."""
    store.measure_radius(connection(), path.visit_id, path.side, path.matched, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/fasteners/<string:side>/<string:fastener>", responses={"200": VisitView, **REFUSALS})
def fastener(path: FastenerPath, body: FastenerChanges) -> Response:
    """What was done about a fastener."""
    store.tighten(connection(), path.visit_id, path.side, path.fastener, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/fasteners/<string:side>/<string:fastener>/clock", responses={"200": VisitView, **REFUSALS})
def clock(path: FastenerPath, body: ClockStarted) -> Response:
    once(lambda: store.clock(connection(), path.visit_id, path.side, path.fastener, body.what, hand()))
    return answer(visit_view(connection(), path.visit_id))


@api.post("/fasteners/<string:side>/<string:fastener>/clock/stop", responses={"200": VisitView, **REFUSALS})
def stop_clock(path: FastenerPath, body: ClockStopped) -> Response:
    once(lambda: store.stop_clock(connection(), path.visit_id, path.side, path.fastener, body.what, body.was, hand()))
    return answer(visit_view(connection(), path.visit_id))


@api.post("/torques", responses={"200": VisitView, **REFUSALS})
def state_torque(path: VisitPath, body: TorqueStated) -> Response:
    """What a source says of a fastener of this visit's clutches."""
    machine = visits.get(connection(), path.visit_id).machine_id
    once(
        lambda: torques.state(
            connection(), body.kind, body.fastener, body.tightness, body.torque, body.origin, hand(),
            machine_id=machine if body.this_machine else None, sure=body.sure,
        )
    )  # fmt: skip
    return answer(visit_view(connection(), path.visit_id))


@api.post("/torques/choose", responses={"200": VisitView, **REFUSALS})
def choose_torque(path: VisitPath, body: TorqueNumber) -> Response:
    """The statement the workshop goes by on this machine, where sources conflict."""
    machine = visits.get(connection(), path.visit_id).machine_id
    once(lambda: torques.choose(connection(), machine, body.stated_id, hand()))
    return answer(visit_view(connection(), path.visit_id))


@api.post("/torques/withdraw", responses={"200": VisitView, **REFUSALS})
def withdraw_torque(path: VisitPath, body: TorqueNumber) -> Response:
    visits.get(connection(), path.visit_id)
    once(lambda: torques.withdraw(connection(), body.stated_id, hand()))
    return answer(visit_view(connection(), path.visit_id))
