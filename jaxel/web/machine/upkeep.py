"""Upkeep of a machine: what is said of it, its numbers, its limits; archived, restored, merged with a double."""

from typing import Annotated, Literal

from flask import Response
from pydantic import Field

from jaxel.core.trade.record.facts import Origin
from jaxel.core.trade.stranger.combination import MINUTES
from jaxel.core.trade.stranger.look import look
from jaxel.store.machine import machines, numbers, upkeep
from jaxel.store.machine.limits import What
from jaxel.store.setup import revisions
from jaxel.store.workshop import stamps

from ..database import connection
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Changes, Id, MachinePath, Offset, hand, once
from ..record.model import Model, Request
from .look import Key, LookView, Minutes, Name, Readings, Sure, look_view
from .view import MachineView, machine_view

api = Blueprint("upkeep", "/api/machines/<int:machine_id>")

Kind = Annotated[str, Field(max_length=60)] | None
How = Literal["correction", "change"]
Reason = Annotated[str, Field(max_length=500)]


class MachineChanges(Changes):
    name: Changed[Name] | None = None
    rider: Changed[Name] | None = None
    model: Changed[Name] | None = None
    kind: Changed[Literal["sled", "side-by-side", "quad", "light vehicle"]] | None = None
    tyre: Changed[Name] | None = None
    primary_kind: Changed[Kind] | None = None
    secondary_kind: Changed[Kind] | None = None
    taper: Changed[Name] | None = None
    offset_mm: Changed[Offset] | None = None
    stamp: Changed[Name] | None = None


class Double(Request):
    """The other record of the same machine."""

    double: Id


class NewNumber(Changed[Annotated[str, Field(max_length=60)]]):
    """A number put right, or changed: as typed, in any unit; how it is known, and which of the two it is."""

    path: Annotated[str, Field(max_length=120)]
    origin: Annotated[str, Field(max_length=20)]
    how: How
    reason: Reason = ""


class TypedReadings(Request):
    """Readings as they are typed; nothing is kept of them."""

    readings: Readings = Field(default_factory=dict)
    prefer: Annotated[dict[Annotated[str, Field(max_length=120)], Key], Field(max_length=20)] = Field(
        default_factory=dict
    )
    sure: Sure = Field(default_factory=list)
    minutes: Minutes = MINUTES


class TakenReadings(TypedReadings):
    """Readings taken: whether they put the record right or the machine was changed."""

    how: How
    reason: Reason = ""


class NewLimit(Request):
    """A limit as it is typed, in any unit, and where it comes from."""

    what: What
    value: Annotated[str, Field(max_length=40)]
    origin: Origin


class LimitPath(Model):
    machine_id: Id
    limit_id: Id


@api.patch("/said", responses={"200": MachineView})
def change(path: MachinePath, body: MachineChanges) -> Response:
    upkeep.change(connection(), path.machine_id, body.edits(), hand())
    return answer(machine_view(connection(), path.machine_id))


@api.patch("/archived", responses={"200": MachineView})
def archive(path: MachinePath, body: Changed[bool]) -> Response:
    upkeep.archive(connection(), path.machine_id, body.edit(), hand())
    return answer(machine_view(connection(), path.machine_id))


@api.post("/merge", responses={"200": MachineView})
def merge(path: MachinePath, body: Double) -> Response:
    """The other record's visits, set-ups, belts and photos become this one's."""
    once(lambda: upkeep.merge(connection(), path.machine_id, body.double, hand()))
    return answer(machine_view(connection(), path.machine_id))


@api.post("/numbers", responses={"200": MachineView})
def number(path: MachinePath, body: NewNumber) -> Response:
    """One number of the set-up: put right, as it was always so, or changed on the machine."""
    numbers.put_number(
        connection(), path.machine_id, body.path, body.edit(), origin=body.origin, how=body.how, reason=body.reason,
        by=hand(),
    )  # fmt: skip
    return answer(machine_view(connection(), path.machine_id))


@api.post("/look", responses={"200": LookView})
def known(path: MachinePath, body: TypedReadings) -> Response:
    """How sure this machine's figures are, and what is worth measuring next; with readings as they are typed."""
    document = revisions.newest(connection(), path.machine_id).document
    sides = machines.get(connection(), path.machine_id).kinds.sides
    found = look(document, body.readings, prefer=body.prefer, stamps=stamps.masses(connection()), sides=sides,
                 sure=body.sure, minutes=body.minutes)  # fmt: skip
    return answer(look_view(found))


@api.post("/readings", responses={"200": MachineView})
def take(path: MachinePath, body: TakenReadings) -> Response:
    """Readings taken on a machine the workshop knows."""

    def act() -> None:
        numbers.take_readings(
            connection(), path.machine_id, body.readings, body.prefer, how=body.how, reason=body.reason,
            sure=body.sure, by=hand(),
        )  # fmt: skip

    once(act)
    return answer(machine_view(connection(), path.machine_id))


@api.post("/limits", responses={"201": MachineView})
def state_limit(path: MachinePath, body: NewLimit) -> tuple[Response, int]:
    """A limit, with its origin; one that conflicts with another stands beside it."""

    def act() -> None:
        value = numbers.read_limit(body.what, body.value)
        numbers.state_limit(connection(), path.machine_id, body.what, value, body.origin, hand())

    once(act)
    return answer(machine_view(connection(), path.machine_id)), 201


@api.post("/limits/<int:limit_id>/withdraw", responses={"200": MachineView})
def withdraw_limit(path: LimitPath, body: Request) -> Response:
    once(lambda: numbers.withdraw_limit(connection(), path.machine_id, path.limit_id, hand()))
    return answer(machine_view(connection(), path.machine_id))
