"""What is due: as a list in order of urgency, and as a calendar file."""

from datetime import date
from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.trade.visit.due import Urgency
from jaxel.store.db import reading
from jaxel.store.visit import dues as store
from jaxel.store.visit.dues import MachineDue

from ..database import connection
from ..record.answer import answer, download
from ..record.blueprint import Blueprint
from ..record.fields import Id
from ..record.model import Model

api = Blueprint("due", "/api")

MOST_DUE = 200


class DueView(Model):
    """Something due of a machine; `when` in words, `on` the first of its dates."""

    machine_id: int
    machine: str
    key: str
    what: str
    name: str
    why: str
    km: float | None
    h: float | None
    season: bool
    on: date | None
    urgency: Urgency
    said_on: str


class DueList(Model):
    due: list[DueView]
    total: int


class DueOf(Model):
    machine_id: Id | None = None
    limit: Annotated[int, Field(ge=1, le=MOST_DUE)] = 50


@api.get("/due", responses={"200": DueList})
def due(query: DueOf) -> Response:
    """What is due, the most pressing first, of one machine or of all on the floor."""
    with reading(connection()):
        found = store.of_workshop(connection(), query.machine_id)
    return answer(DueList(due=[_view(each) for each in found[: query.limit]], total=len(found)))


@api.get("/due.ics", responses={"200": None})
def calendar(query: DueOf) -> Response:
    """Everything that has a date, of one machine or of all on the floor, for a calendar."""
    with reading(connection()):
        found = store.of_workshop(connection(), query.machine_id)
    from .calendar import calendar_of  # slow to import: few requests ask for it

    return download(calendar_of(found), "text/calendar", "jaxel-due.ics")


def _view(found: MachineDue) -> DueView:
    due, check = found.due, found.due.check
    return DueView(
        machine_id=found.machine_id,
        machine=found.machine_name,
        key=due.key,
        what=due.what,
        name=due.name,
        why=due.why,
        km=check.km,
        h=check.h,
        season=check.season,
        on=due.on,
        urgency=due.urgency,
        said_on=found.said_on,
    )
