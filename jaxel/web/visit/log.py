"""A visit's log: what was changed after an edit, and the last change undone."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.store import edits
from jaxel.store.visit import visit_log as store
from jaxel.store.visit import visits
from jaxel.store.visit.visit_log import LoggedChange

from ..database import connection
from ..record.answer import answer, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import VisitPath, hand, once
from ..record.model import Model, Request

api = Blueprint("visit_log", "/api/visits/<int:visit_id>")

EditNumber = Annotated[int, Field(ge=0, le=2**31)]


class After(Request):
    """The edit after which changes are asked for."""

    after: EditNumber = 0


class LastShown(Request):
    """The change that was shown as the last."""

    edit: EditNumber


class LogView(Model):
    changes: list[LoggedChange]


@api.get("/log", responses={"200": LogView})
def log(path: VisitPath, query: After) -> Response:
    visit = visits.get(connection(), path.visit_id)
    changes = store.after(connection(), visit, query.after)
    return answer(LogView(changes=[each for each in changes if each]))


@api.post("/undo")
def undo(path: VisitPath, body: LastShown) -> Response:
    """Put back what the last change replaced."""

    def act() -> None:
        edits.undo(connection(), path.visit_id, hand(), body.edit)

    once(act)
    return visit_answer(path.visit_id)
