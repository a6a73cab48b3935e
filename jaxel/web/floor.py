"""Shop floor: the machines in the building, what each waits for, and bringing one in."""

from typing import Annotated, Literal

from flask import Response
from flask_openapi3 import APIBlueprint, RawModel
from pydantic import Field

from jaxel.core.formats.setup import read_setup
from jaxel.store import machines

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS, REFUSALS
from .fields import Request, hand, once
from .machine_view import FloorView, MachineView, floor_view, machine_view

api = APIBlueprint("floor", __name__, url_prefix="/api")


class BringIn(Request):
    """What is said of a machine beside its setup document, which is the request's body."""

    kind: Literal["sled", "side-by-side", "quad"]
    rider: Annotated[str, Field(max_length=120)] = ""
    limit_origin: Literal["manual, entered by the workshop", "common practice", "from memory"] = (
        "manual, entered by the workshop"
    )


class Wanted(Request):
    """Words looked for, in any order, and how many machines to show."""

    find: Annotated[str, Field(max_length=200)] = ""
    limit: Annotated[int, Field(ge=1, le=2000)] = 60


class SetupFile(RawModel):
    """A setup document as it stands in its file: JSON, read as strictly as by the commands."""


@api.get("/floor", responses={"200": FloorView, **READ_REFUSALS})
def floor(query: Wanted) -> Response:
    return answer(floor_view(connection(), query.find, query.limit))


@api.post("/machines", responses={"201": MachineView, **REFUSALS})
def bring_in(query: BringIn, raw: SetupFile) -> tuple[Response, int]:
    db = connection()
    document = read_setup(raw.get_data(cache=False))
    machine_id = once(lambda: machines.bring_in(db, document, query.kind, query.rider, query.limit_origin, hand()))
    return answer(machine_view(db, machine_id)), 201
