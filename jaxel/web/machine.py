"""Machine: its page, its set-ups as documents, and opening a visit."""

from flask import Response
from flask_openapi3 import APIBlueprint

from jaxel.core.formats.setup import SetupDocument, write_setup
from jaxel.core.trade.stations import Scope
from jaxel.store import revisions, visits

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS, REFUSALS
from .fields import Id, MachinePath, Request, RevisionPath, hand, once
from .machine_view import MachineView, RevisionsView, VisitsView, machine_view, setups_view, visits_view
from .visit_view import VisitView, visit_view


class Older(Request):
    """A page of a list: what came before the last one shown, by its id."""

    before: Id | None = None


class NewVisit(Request):
    """What the visit is for; left out, the usual."""

    scope: Scope | None = None


api = APIBlueprint("machine", __name__, url_prefix="/api")


@api.get("/machines/<int:machine_id>", responses={"200": MachineView, **READ_REFUSALS})
def machine(path: MachinePath) -> Response:
    return answer(machine_view(connection(), path.machine_id))


@api.get("/machines/<int:machine_id>/visits", responses={"200": VisitsView, **READ_REFUSALS})
def older_visits(path: MachinePath, query: Older) -> Response:
    return answer(visits_view(connection(), path.machine_id, query.before))


@api.get("/machines/<int:machine_id>/setups", responses={"200": RevisionsView, **READ_REFUSALS})
def older_setups(path: MachinePath, query: Older) -> Response:
    return answer(setups_view(connection(), path.machine_id, query.before))


@api.post("/machines/<int:machine_id>/visits", responses={"201": VisitView, **REFUSALS})
def open_visit(path: MachinePath, body: NewVisit) -> tuple[Response, int]:
    visit_id = once(lambda: visits.open_visit(connection(), path.machine_id, hand(), scope=body.scope))
    return answer(visit_view(connection(), visit_id)), 201


@api.get("/revisions/<int:revision_id>/document", responses={"200": SetupDocument, **READ_REFUSALS})
def document(path: RevisionPath) -> Response:
    """The revision as a setup document, to keep or take elsewhere."""
    revision = revisions.get(connection(), path.revision_id)
    response = Response(write_setup(revision.document), mimetype="application/json")
    response.headers["Content-Disposition"] = f'attachment; filename="setup-{revision.id}.json"'
    return response
