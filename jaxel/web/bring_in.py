"""Bring in: a strange machine or a bare clutch from its kind and readings, one like another, or a setup document."""

from collections.abc import Mapping
from typing import Annotated, Literal

from flask import Response
from flask_openapi3 import APIBlueprint, RawModel
from pydantic import BaseModel, Field

from jaxel.core.formats.setup import read_setup
from jaxel.core.trade.kinds import Side, kinds
from jaxel.core.trade.look import Line, Look
from jaxel.core.trade.packages import MachineKind, engines
from jaxel.core.trade.prediction import predicted
from jaxel.store import bringing_in, machines, visits
from jaxel.store.limits import LimitOrigin
from jaxel.store.machines import Identity

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS, REFUSALS, ErrorAnswer
from .fields import MachinePath, Offset, Request, hand, once
from .machine_view import MachineView, machine_view
from .units import retold, retold_all, units

api = APIBlueprint("bring_in", __name__, url_prefix="/api")

MACHINES: Mapping[MachineKind, str] = {
    "sled": "Sled",
    "side-by-side": "Side-by-side",
    "quad": "Quad",
    "light vehicle": "Light vehicle",
}

Name = Annotated[str, Field(max_length=120)]
Key = Annotated[str, Field(max_length=60)]
Readings = Annotated[
    dict[Key, Annotated[dict[Key, Annotated[str, Field(max_length=60)]], Field(max_length=12)]], Field(max_length=60)
]
"""What is typed, by reading and field, in any unit."""


class MachineOption(BaseModel):
    key: MachineKind
    name: str
    engines: list[str]


class ClutchOption(BaseModel):
    key: str
    name: str


class BringInOptions(BaseModel):
    """What one may say of a stranger: the machine and its engine, and what its clutches look like."""

    machines: list[MachineOption]
    primaries: list[ClutchOption]
    secondaries: list[ClutchOption]


class StrangerBody(Request):
    """What is known of a machine that comes in; what nobody has looked at is left out."""

    machine: MachineKind
    primary_kind: Key | None = None
    secondary_kind: Key | None = None
    engine: Key | None = None
    bare: bool = False
    name: Name = ""
    rider: Name = ""
    complaint: Annotated[str, Field(max_length=2000)] = ""
    readings: Readings = Field(default_factory=dict)
    prefer: Annotated[dict[Key, Key], Field(max_length=20)] = Field(default_factory=dict)
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
            identity=Identity(self.taper, self.offset_mm, self.stamp),
        )


class FieldView(BaseModel):
    name: str
    label: str
    unit: str
    optional: bool


class LineView(BaseModel):
    """A reading in the list of what is worth measuring: how it is taken, what is known, and what it takes off the
    deviations of engagement and shift [rpm], or took."""

    key: str
    name: str
    how: str
    hold: str
    drawing: str
    caution: str
    minutes: float
    fields: list[FieldView]
    state: Literal["open", "taken", "asked", "refused"]
    stands: str
    origin: str
    engagement_rpm: float
    shift_rpm: float
    notes: list[str]
    field: str
    reason: str


class QuestionView(BaseModel):
    """Two readings of one number that contradict each other: which holds?"""

    path: str
    name: str
    readings: list[str]
    words: list[str]


class LookView(BaseModel):
    """A machine as its readings make it; figures and their deviations [rpm], also after one run."""

    lines: list[LineView]
    questions: list[QuestionView]
    engagement_rpm: float
    engagement_sd_rpm: float
    engagement_after_run_rpm: float
    shift_rpm: float
    shift_sd_rpm: float
    shift_after_run_rpm: float
    counts: dict[str, int]
    unequal: list[float]


class StrangerView(BaseModel):
    """A stranger: the typical package it starts from, what of it is not so there, and the look."""

    package: str
    differs: list[str]
    look: LookView


class BroughtIn(BaseModel):
    machine_id: int
    visit_id: int


class FromFile(Request):
    """What is said of a machine beside its setup document, which is the request's body."""

    kind: Literal["sled", "side-by-side", "quad", "light vehicle"]
    rider: Name = ""
    limit_origin: LimitOrigin = "manual"


class SetupFile(RawModel):
    """A setup document as it stands in its file: JSON, read as strictly as by the commands."""


class Like(Request):
    """A machine like another: its own name and rider."""

    name: Name
    rider: Name = ""


@api.get("/bring-in", responses={"200": BringInOptions, **READ_REFUSALS})
def options() -> Response:
    def looks(side: Side) -> list[ClutchOption]:
        return [ClutchOption(key=each.key, name=each.name) for each in kinds().values() if each.side in (side, "both")]

    return answer(
        BringInOptions(
            machines=[MachineOption(key=key, name=name, engines=engines(key)) for key, name in MACHINES.items()],
            primaries=looks("primary"),
            secondaries=looks("secondary"),
        )
    )


@api.post("/bring-in/look", responses={"200": StrangerView, **READ_REFUSALS, "415": ErrorAnswer})
def look(body: StrangerBody) -> Response:
    """What is known of a stranger so far, and what is worth measuring next; nothing is kept of it."""
    fit, found = bringing_in.look_at(connection(), body.stranger())
    return answer(StrangerView(package=fit.package.name, differs=list(fit.differs), look=look_view(found)))


@api.post("/bring-in", responses={"201": BroughtIn, **REFUSALS})
def bring_in(body: StrangerBody) -> tuple[Response, int]:
    """Enter the stranger and open its visit."""
    visit_id = once(lambda: bringing_in.bring_in(connection(), body.stranger(), hand()))
    machine_id = visits.get(connection(), visit_id).machine_id
    return answer(BroughtIn(machine_id=machine_id, visit_id=visit_id)), 201


@api.post("/machines", responses={"201": MachineView, **REFUSALS})
def from_file(query: FromFile, raw: SetupFile) -> tuple[Response, int]:
    db = connection()
    document = read_setup(raw.get_data(cache=False))
    machine_id = once(lambda: machines.bring_in(db, document, query.kind, query.rider, query.limit_origin, hand()))
    return answer(machine_view(db, machine_id)), 201


@api.post("/machines/<int:machine_id>/copy", responses={"201": MachineView, **REFUSALS})
def copy(path: MachinePath, body: Like) -> tuple[Response, int]:
    """A machine like one the workshop knows."""
    machine_id = once(lambda: bringing_in.copy(connection(), path.machine_id, body.name, body.rider, hand()))
    return answer(machine_view(connection(), machine_id)), 201


def look_view(found: Look) -> LookView:
    """A look as an answer gives it, in this hand's units."""
    figures = predicted(found.document, banded=False)
    return LookView(
        lines=[_line(each) for each in found.lines],
        questions=[
            QuestionView(path=each.path, name=each.name, readings=list(each.readings), words=retold_all(each.words))
            for each in found.questions
        ],
        engagement_rpm=figures.engagement.bite_rpm,
        engagement_sd_rpm=found.sd_rpm[0],
        engagement_after_run_rpm=found.after_run_rpm[0],
        shift_rpm=figures.shift.mean_rpm,
        shift_sd_rpm=found.sd_rpm[1],
        shift_after_run_rpm=found.after_run_rpm[1],
        counts=dict(found.counts),
        unequal=list(found.unequal),
    )


def _line(line: Line) -> LineView:
    reading = line.reading
    return LineView(
        key=reading.key,
        name=reading.name,
        how=reading.how,
        hold=reading.hold,
        drawing=reading.drawing,
        caution=reading.caution,
        minutes=reading.minutes,
        fields=[
            FieldView(name=each.name, label=each.label, unit=each.unit, optional=each.optional)
            for each in reading.fields
        ],
        state=line.state,
        stands=units().retold_spread(line.stands),
        origin=line.origin,
        engagement_rpm=line.engagement_rpm,
        shift_rpm=line.shift_rpm,
        notes=retold_all(line.notes),
        field=line.field,
        reason=retold(line.reason),
    )
