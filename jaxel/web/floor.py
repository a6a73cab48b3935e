"""Shop floor: the machines in the building, what each waits for, and bringing one in."""

from typing import Annotated, Literal

from flask import Response, request
from flask_openapi3 import APIBlueprint
from pydantic import Field

from jaxel.core.formats.setup import read_setup
from jaxel.store import machines, revisions, visits
from jaxel.store.db import reading

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Request, hand
from .machine_view import FloorView, MachineCard, MachineView, machine_card, machine_view

api = APIBlueprint("floor", __name__, url_prefix="/api")


class BringIn(Request):
    """What is said of a machine beside its setup document, which is the request's body."""

    kind: Literal["sled", "side-by-side", "quad"]
    rider: Annotated[str, Field(max_length=120)] = ""
    limit_origin: Literal["manual, entered by the workshop", "common practice", "from memory"] = (
        "manual, entered by the workshop"
    )


@api.get("/floor", responses={"200": FloorView})
def floor() -> Response:
    db = connection()
    cards: list[MachineCard] = []
    with reading(db):
        for machine in machines.all_machines(db):
            visit_id = visits.open_visit_of(db, machine.id)
            visit = visits.get(db, visit_id) if visit_id else None
            cards.append(machine_card(machine, revisions.history(db, machine.id)[0], visit))
    return answer(FloorView(machines=cards))


@api.post("/machines", responses={"201": MachineView, **REFUSALS})
def bring_in(query: BringIn) -> tuple[Response, int]:
    db = connection()
    document = read_setup(request.get_data(cache=False))
    machine_id = machines.bring_in(db, document, query.kind, query.rider, query.limit_origin, hand())
    return answer(machine_view(db, machine_id)), 201
