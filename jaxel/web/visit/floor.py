"""Shop floor: the machines in the building, and what each waits for; into an empty one comes the demo."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.trade.record.said import Station
from jaxel.store.db import Conflict, writing
from jaxel.store.machine import machines

from ..database import connection
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import hand, once
from ..record.model import Request
from .floor_view import FloorView, Only, floor_view

api = Blueprint("floor", "/api")


class Wanted(Request):
    """Words looked for, in any order, which of what stands there, and how many machines to show."""

    find: Annotated[str, Field(max_length=200)] = ""
    limit: Annotated[int, Field(ge=1, le=2000)] = 60
    shelf: bool = False
    station: Station | None = None
    hand: Annotated[str, Field(max_length=120)] = ""
    days: Annotated[int, Field(ge=0, le=3650)] = 0
    due: bool = False


@api.get("/floor", responses={"200": FloorView})
def floor(query: Wanted) -> Response:
    only = Only(query.station, query.hand, query.days, query.due)
    return answer(floor_view(connection(), query.find, query.limit, shelf=query.shelf, only=only, first=hand()))


@api.post("/demo", responses={"201": FloorView})
def demo(body: Request) -> tuple[Response, int]:
    """Fill an empty workshop with the demo; one that knows a machine is left as it is."""
    from jaxel.demo.workshop import build  # only a demo is built

    def act() -> None:
        with writing(connection()):
            if machines.all_machines(connection()):
                raise Conflict("this workshop has machines of its own: the demo goes into an empty one", field="demo")
            build(connection())

    once(act)
    return answer(floor_view(connection(), "", 60)), 201
