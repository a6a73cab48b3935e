"""What is due: as a list in order of urgency, and as a calendar file."""

from datetime import date, datetime, timedelta
from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from icalendar import Calendar, Event
from pydantic import BaseModel, Field

from jaxel.core.trade.due import Urgency
from jaxel.store import dues as store
from jaxel.store.db import now, reading
from jaxel.store.dues import MachineDue

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS
from .fields import Id
from .units import retold

api = APIBlueprint("due", __name__, url_prefix="/api")

MOST_DUE = 200


class DueView(BaseModel):
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


class DueList(BaseModel):
    due: list[DueView]
    total: int


class DueOf(BaseModel):
    machine_id: Id | None = None
    limit: Annotated[int, Field(ge=1, le=MOST_DUE)] = 50


@api.get("/due", responses={"200": DueList, **READ_REFUSALS})
def due(query: DueOf) -> Response:
    """What is due, the most pressing first, of one machine or of all on the floor."""
    with reading(connection()):
        found = store.of_workshop(connection(), query.machine_id)
    return answer(DueList(due=[_view(each) for each in found[: query.limit]], total=len(found)))


@api.get("/due.ics", responses={"200": None, **READ_REFUSALS})
def calendar(query: DueOf) -> Response:
    """Everything that has a date, of one machine or of all on the floor, for a calendar."""
    with reading(connection()):
        found = store.of_workshop(connection(), query.machine_id)
    calendar = Calendar()
    calendar.add("prodid", "-//Jaxel//what is due//EN")
    calendar.add("version", "2.0")
    for each in found:
        if each.due.on is not None:
            calendar.add_component(_event(each, each.due.on))
    response = Response(calendar.to_ical(), mimetype="text/calendar")
    response.headers["Content-Disposition"] = 'attachment; filename="jaxel-due.ics"'
    return response


def _view(found: MachineDue) -> DueView:
    due, check = found.due, found.due.check
    return DueView(
        machine_id=found.machine_id,
        machine=found.machine_name,
        key=due.key,
        what=due.what,
        name=due.name,
        why=retold(due.why),
        km=check.km,
        h=check.h,
        season=check.season,
        on=due.on,
        urgency=due.urgency,
        said_on=found.said_on,
    )


def _event(found: MachineDue, on: date) -> Event:
    event = Event()
    # The same thing due of the same machine keeps its identity, so that a calendar moves it instead of doubling it.
    event.add("uid", f"machine-{found.machine_id}-{found.due.key}@jaxel")
    event.add("summary", f"{found.machine_name}: {found.due.name}")
    event.add("description", f"{retold(found.due.why)} {_when(found)}".strip())
    event.add("dtstart", on)
    event.add("dtend", on + timedelta(days=1))
    event.add("dtstamp", datetime.fromisoformat(now().replace("Z", "+00:00")))
    return event


def _when(found: MachineDue) -> str:
    check = found.due.check
    said = []
    if check.km is not None:
        said.append(retold(f"{check.km:,.0f} km"))
    if check.h is not None:
        said.append(f"{check.h:,.0f} h")
    if check.season:
        said.append("before the next season")
    return f"By {', '.join(said)}, whichever is first." if said else ""
