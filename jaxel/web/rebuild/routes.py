"""Rebuild: what is seen at each step, the wind of the spring, weighings, and what was done about each fastener."""

from typing import Annotated, Literal

from flask import Response
from pydantic import Field

from jaxel.core.trade.kinds.kind_file import Tightness
from jaxel.core.trade.kinds.kinds import Side
from jaxel.core.trade.rebuild.done import ItemDone
from jaxel.core.trade.rebuild.rebuild import Rebuild
from jaxel.core.trade.rebuild.tightening import Tightened
from jaxel.core.trade.record.facts import Origin
from jaxel.store.rebuild import done, torques
from jaxel.store.rebuild import rebuild as store
from jaxel.store.visit import visits

from ..database import connection
from ..record.answer import visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Changes, Gap, Id, Torque, VisitPath, Weighed, hand, once
from ..record.model import Model, Request

api = Blueprint("rebuild", "/api/visits/<int:visit_id>/rebuild")

Key = Annotated[str, Field(max_length=40)]
Place = Annotated[str, Field(max_length=120)]
Words = Annotated[str, Field(max_length=500)]
Hole = Annotated[str, Field(max_length=12)]
Clock = Literal["first_at", "compound_at"]


class RebuildChanges(Changes, of=Rebuild):
    """What a hand writes of it."""


class SeenAt(Changed[bool]):
    """Whether what is asked at a step, `side.step.ask`, was seen."""

    asked: Place


class StepSeen(Request):
    """A step, `side.step`."""

    step: Place


class LeftOnPart(Changed[bool]):
    """Whether a part, `side.part`, did not come off after all."""

    part: Place


class OffShaft(Changed[bool]):
    """Whether a clutch came off its shaft to be worked on."""

    side: Side


class AcceptedAt(Changed[Words]):
    """Why what is amiss at a step, `side.step`, is left so."""

    step: Place


class MatchedPath(Model):
    visit_id: Id
    side: Side
    matched: Key


class WeighedAt(Changed[Weighed]):
    """What one piece of a set weighs, by its place from 0."""

    place: Annotated[int, Field(ge=0, le=11)]


class ItemPath(Model):
    visit_id: Id
    side: Side
    item: Key


class DoneChanges(Changes, of=ItemDone):
    """What a hand writes of it."""


class FastenerPath(Model):
    visit_id: Id
    side: Side
    fastener: Key


class FastenerChanges(Changes, of=Tightened):
    """What a hand writes of it."""


class ClockStarted(Request):
    """A timer on the server's clock: the first pass round, or the compound on."""

    what: Clock


class ClockStopped(ClockStarted):
    was: Annotated[str, Field(max_length=40)]


class TorqueStated(Request):
    """What a source says of a fastener of this machine, or by its `manual` of every one of its make and `model`."""

    kind: Annotated[str, Field(max_length=60)]
    fastener: Key
    tightness: Tightness
    torque: Torque = None
    origin: Origin
    sure: bool = False
    model: Annotated[str, Field(max_length=120)] = ""
    manual: Annotated[str, Field(max_length=120)] = ""


class TorqueNumber(Request):
    stated_id: Id


@api.patch("")
def rebuild(path: VisitPath, body: RebuildChanges) -> Response:
    store.change(connection(), path.visit_id, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.patch("/seen")
def seen(path: VisitPath, body: SeenAt) -> Response:
    store.see(connection(), path.visit_id, body.asked, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.post("/seen-all")
def seen_all(path: VisitPath, body: StepSeen) -> Response:
    """A step's ordinary looks, in one."""
    once(lambda: store.see_all(connection(), path.visit_id, body.step, hand()))
    return visit_answer(path.visit_id)


@api.patch("/left-on")
def left_on(path: VisitPath, body: LeftOnPart) -> Response:
    store.left_on(connection(), path.visit_id, body.part, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("/off-shaft")
def off_shaft(path: VisitPath, body: OffShaft) -> Response:
    store.off_shaft(connection(), path.visit_id, body.side, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("/accepted")
def accepted(path: VisitPath, body: AcceptedAt) -> Response:
    store.accept(connection(), path.visit_id, body.step, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("/items/<string:side>/<string:item>")
def item_done(path: ItemPath, body: DoneChanges) -> Response:
    """What was done about an item decided to be replaced."""
    done.say(connection(), path.visit_id, path.side, path.item, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.put("/matched/<string:side>/<string:matched>/mass")
def mass(path: MatchedPath, body: WeighedAt) -> Response:
    store.weigh(connection(), path.visit_id, path.side, path.matched, body.place, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.post("/matched/<string:side>/<string:matched>/take")
def take(path: MatchedPath, body: Request) -> Response:
    """What a set of weights weighs becomes the set-up's number, known as measured."""
    once(lambda: store.take_weighed(connection(), path.visit_id, path.side, path.matched, hand()))
    return visit_answer(path.visit_id)


@api.put("/matched/<string:side>/<string:matched>/radius")
def radius(path: MatchedPath, body: Changed[Gap]) -> Response:
    """The radius the centres of a set turn on."""
    store.measure_radius(connection(), path.visit_id, path.side, path.matched, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("/fasteners/<string:side>/<string:fastener>")
def fastener(path: FastenerPath, body: FastenerChanges) -> Response:
    """What was done about a fastener."""
    store.tighten(connection(), path.visit_id, path.side, path.fastener, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.post("/fasteners/<string:side>/<string:fastener>/clock")
def clock(path: FastenerPath, body: ClockStarted) -> Response:
    once(lambda: store.clock(connection(), path.visit_id, path.side, path.fastener, body.what, hand()))
    return visit_answer(path.visit_id)


@api.post("/fasteners/<string:side>/<string:fastener>/clock/stop")
def stop_clock(path: FastenerPath, body: ClockStopped) -> Response:
    once(lambda: store.stop_clock(connection(), path.visit_id, path.side, path.fastener, body.what, body.was, hand()))
    return visit_answer(path.visit_id)


@api.post("/torques")
def state_torque(path: VisitPath, body: TorqueStated) -> Response:
    """What a source says of a fastener of this visit's clutches."""
    machine = visits.get(connection(), path.visit_id).machine_id
    once(
        lambda: torques.state(
            connection(), body.kind, body.fastener, body.tightness, body.torque, body.origin, hand(),
            machine_id=machine, sure=body.sure, model=body.model, manual=body.manual,
        )
    )  # fmt: skip
    return visit_answer(path.visit_id)


@api.post("/torques/choose")
def choose_torque(path: VisitPath, body: TorqueNumber) -> Response:
    """The statement the workshop goes by on this machine, where sources conflict."""
    machine = visits.get(connection(), path.visit_id).machine_id
    once(lambda: torques.choose(connection(), machine, body.stated_id, hand()))
    return visit_answer(path.visit_id)


@api.post("/torques/withdraw")
def withdraw_torque(path: VisitPath, body: TorqueNumber) -> Response:
    machine = visits.get(connection(), path.visit_id).machine_id
    once(lambda: torques.withdraw(connection(), machine, body.stated_id, hand()))
    return visit_answer(path.visit_id)
