"""Machine: its page, its set-ups as documents, and opening a visit."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.formats.setup.setup import SetupDocument, write_setup
from jaxel.core.trade.machine.mounting import TookOff
from jaxel.core.trade.record.scope import Scope
from jaxel.store.machine import mountings
from jaxel.store.setup import revisions
from jaxel.store.visit import visits

from ..database import connection
from ..record.answer import TheVisit, answer, download, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Id, MachinePath, RevisionPath, hand, once
from ..record.model import Request
from .view import MachineView, RevisionsView, VisitsView, machine_view, setups_view, visits_view


class Older(Request):
    """A page of a list: what came before the last one shown, by its id."""

    before: Id | None = None


class NewVisit(Request):
    """What the visit is for; left out, the usual."""

    scope: Scope | None = None


class MountOn(Request):
    """The machine a bare clutch is mounted on, the day, today where empty, and what becomes of the half it replaces."""

    machine_id: Id
    took_off: TookOff
    on: Annotated[str, Field(max_length=10)] = ""


api = Blueprint("machine", "/api")


@api.get("/machines/<int:machine_id>", responses={"200": MachineView})
def machine(path: MachinePath) -> Response:
    return answer(machine_view(connection(), path.machine_id))


@api.get("/machines/<int:machine_id>/visits", responses={"200": VisitsView})
def older_visits(path: MachinePath, query: Older) -> Response:
    return answer(visits_view(connection(), path.machine_id, query.before))


@api.get("/machines/<int:machine_id>/setups", responses={"200": RevisionsView})
def older_setups(path: MachinePath, query: Older) -> Response:
    return answer(setups_view(connection(), path.machine_id, query.before))


@api.post("/machines/<int:machine_id>/visits", responses={"201": TheVisit})
def open_visit(path: MachinePath, body: NewVisit) -> tuple[Response, int]:
    visit_id = once(lambda: visits.open_visit(connection(), path.machine_id, hand(), scope=body.scope))
    return visit_answer(visit_id), 201


@api.post("/machines/<int:machine_id>/mount", responses={"200": MachineView})
def mount(path: MachinePath, body: MountOn) -> Response:
    """Mount a clutch that came alone on a machine, from a day on."""
    once(lambda: mountings.mount(connection(), path.machine_id, body.machine_id, body.took_off, body.on, hand()))
    return answer(machine_view(connection(), path.machine_id))


@api.get("/revisions/<int:revision_id>/document", responses={"200": SetupDocument})
def document(path: RevisionPath) -> Response:
    """The revision as a setup document, to keep or take elsewhere."""
    revision = revisions.get(connection(), path.revision_id)
    return download(write_setup(revision.document), "application/json", f"setup-{revision.id}.json")
