"""Bring in: a strange machine or a bare clutch from its kind and readings, one like another, or a setup document."""

from collections.abc import Mapping
from typing import Annotated, Literal

from flask import Response
from flask_openapi3 import RawModel
from pydantic import Field

from jaxel.core.formats.setup.setup import read_setup
from jaxel.core.trade.kinds.kinds import Side, kinds
from jaxel.core.trade.record.facts import Origin
from jaxel.core.trade.stranger.combination import MINUTES
from jaxel.core.trade.stranger.packages import MachineKind, engines
from jaxel.store.machine import machines
from jaxel.store.machine.machines import Identity
from jaxel.store.stranger import bringing_in
from jaxel.store.visit import visits

from ..database import connection
from ..machine.look import Key, LookView, Minutes, Name, Readings, Sure, look_view
from ..machine.view import MachineView, machine_view
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import MachinePath, Offset, hand, once
from ..record.model import Model, Request

api = Blueprint("bring_in", "/api")

MACHINES: Mapping[MachineKind, str] = {
    "sled": "Sled",
    "side-by-side": "Side-by-side",
    "quad": "Quad",
    "light vehicle": "Light vehicle",
}


class MachineOption(Model):
    key: MachineKind
    name: str
    engines: list[str]


class ClutchOption(Model):
    """A kind of clutch as a hand picks it; `looks`, what one sees of it from outside."""

    key: str
    name: str
    looks: str


class BringInOptions(Model):
    """What one may say of a stranger: the machine and its engine, and what its clutches look like."""

    machines: list[MachineOption]
    primaries: list[ClutchOption]
    secondaries: list[ClutchOption]


class StrangerBody(Request):
    """What is known of a machine that comes in; what nobody has looked at is left out."""

    machine: MachineKind | None = None
    primary_kind: Key | None = None
    secondary_kind: Key | None = None
    engine: Key | None = None
    bare: bool = False
    name: Name = ""
    rider: Name = ""
    complaint: Annotated[str, Field(max_length=2000)] = ""
    readings: Readings = Field(default_factory=dict)
    prefer: Annotated[dict[Key, Key], Field(max_length=20)] = Field(default_factory=dict)
    sure: Sure = Field(default_factory=list)
    minutes: Minutes = MINUTES
    taper: Name = ""
    offset_mm: Offset = None
    stamp: Name = ""

    def stranger(self) -> bringing_in.Stranger:
        """The same as the store takes it."""
        return bringing_in.Stranger(
            machine=self.machine,
            primary=self.primary_kind,
            secondary=self.secondary_kind,
            engine=self.engine,
            bare=self.bare,
            name=self.name,
            rider=self.rider,
            complaint=self.complaint,
            readings=self.readings,
            prefer=self.prefer,
            sure=self.sure,
            minutes=self.minutes,
            identity=Identity(self.taper, self.offset_mm, self.stamp),
        )


class StrangerView(Model):
    """A stranger: the typical package it starts from, what of it is not so there, and the look."""

    package: str
    differs: list[str]
    look: LookView


class BroughtIn(Model):
    machine_id: int
    visit_id: int


class FromFile(Request):
    """What is said of a machine beside its setup document, which is the request's body."""

    kind: Literal["sled", "side-by-side", "quad", "light vehicle"]
    rider: Name = ""
    limit_origin: Origin = "manual"


class SetupFile(RawModel):
    """A setup document as it stands in its file: JSON, read as strictly as by the commands."""


class Like(Request):
    """A machine like another: its own name and rider."""

    name: Name
    rider: Name = ""


@api.get("/bring-in", responses={"200": BringInOptions})
def options() -> Response:
    def looks(side: Side) -> list[ClutchOption]:
        return [
            ClutchOption(key=each.key, name=each.name, looks=each.guide.looks)
            for each in kinds().values()
            if each.side in (side, "both")
        ]

    return answer(
        BringInOptions(
            machines=[MachineOption(key=key, name=name, engines=engines(key)) for key, name in MACHINES.items()],
            primaries=looks("primary"),
            secondaries=looks("secondary"),
        )
    )


@api.post("/bring-in/look", responses={"200": StrangerView})
def look(body: StrangerBody) -> Response:
    """What is known of a stranger so far, and what is worth measuring next; nothing is kept of it."""
    fit, found = bringing_in.look_at(connection(), body.stranger())
    return answer(StrangerView(package=fit.package.name, differs=list(fit.differs), look=look_view(found)))


@api.post("/bring-in", responses={"201": BroughtIn})
def bring_in(body: StrangerBody) -> tuple[Response, int]:
    """Enter the stranger and open its visit."""
    visit_id = once(lambda: bringing_in.bring_in(connection(), body.stranger(), visits.open_visit, hand()))
    machine_id = visits.get(connection(), visit_id).machine_id
    return answer(BroughtIn(machine_id=machine_id, visit_id=visit_id)), 201


@api.post("/machines", responses={"201": MachineView})
def from_file(query: FromFile, raw: SetupFile) -> tuple[Response, int]:
    db = connection()
    document = read_setup(raw.get_data(cache=False))
    machine_id = once(lambda: machines.bring_in(db, document, query.kind, query.rider, query.limit_origin, hand()))
    return answer(machine_view(db, machine_id)), 201


@api.post("/machines/<int:machine_id>/copy", responses={"201": MachineView})
def copy(path: MachinePath, body: Like) -> tuple[Response, int]:
    """A machine like one the workshop knows."""
    machine_id = once(lambda: bringing_in.copy(connection(), path.machine_id, body.name, body.rider, hand()))
    return answer(machine_view(connection(), machine_id)), 201
