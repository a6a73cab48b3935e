"""A visit's log: what was changed after an edit, and the last change undone."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.store import edits, visits
from jaxel.store import visit_log as store
from jaxel.store.visit_log import LoggedChange

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS, REFUSALS
from .fields import Request, VisitPath, hand, once
from .visit_view import VisitView, retold_change, visit_view

api = APIBlueprint("visit_log", __name__, url_prefix="/api/visits/<int:visit_id>")

EditNumber = Annotated[int, Field(ge=0, le=2**31)]


class After(Request):
    """The edit after which changes are asked for."""

    after: EditNumber = 0


class LastShown(Request):
    """The change that was shown as the last."""

    edit: EditNumber


class LogView(BaseModel):
    changes: list[LoggedChange]


@api.get("/log", responses={"200": LogView, **READ_REFUSALS})
def log(path: VisitPath, query: After) -> Response:
    visit = visits.get(connection(), path.visit_id)
    changes = (retold_change(each) for each in store.after(connection(), visit, query.after))
    return answer(LogView(changes=[each for each in changes if each]))


@api.post("/undo", responses={"200": VisitView, **REFUSALS})
def undo(path: VisitPath, body: LastShown) -> Response:
    """Put back what the last change replaced."""

    def act() -> None:
        edits.undo(connection(), path.visit_id, hand(), body.edit)

    once(act)
    return answer(visit_view(connection(), path.visit_id))
