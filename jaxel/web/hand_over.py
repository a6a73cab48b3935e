"""Hand-over: what to watch and when to come back, and the sign-off."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.core.trade.close_out import Sort
from jaxel.store import addenda, close_out
from jaxel.store import hand_over as store

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Changed, Changes, Distance, Hours, Id, Request, VisitPath, Whole, hand, once
from .visit_view import VisitView, visit_view

api = APIBlueprint("hand_over", __name__, url_prefix="/api/visits/<int:visit_id>")


class HandOverChanges(Changes):
    watch: Changed[Annotated[str, Field(max_length=2000)]] | None = None
    next_service_km: Changed[Distance] | None = None
    next_service_h: Changed[Hours] | None = None
    guard_on: Changed[bool] | None = None


class SignOff(Request):
    """A sign-off of the whole visit as it was shown at `edit`."""

    edit: Annotated[int, Field(ge=1, le=2**31, strict=True)]
    by: Annotated[str, Field(max_length=120)]


class Unrepaired(SignOff):
    """A visit closed without the repair, and why."""

    reason: Annotated[str, Field(max_length=500)]


class CountPath(BaseModel):
    visit_id: Id
    key: Annotated[str, Field(max_length=80)]


class CountChanges(Changes):
    out: Changed[Whole] | None = None
    back: Changed[Whole] | None = None
    note: Changed[Annotated[str, Field(max_length=200)]] | None = None


class NewCount(Request):
    """Something more to count, or a part moved only for access."""

    name: Annotated[str, Field(max_length=80)]
    sort: Sort
    out: Whole = 1
    note: Annotated[str, Field(max_length=200)] = ""


class NewAddendum(Request):
    text: Annotated[str, Field(max_length=2000)]


@api.patch("/hand-over", responses={"200": VisitView, **REFUSALS})
def hand_over(path: VisitPath, body: HandOverChanges) -> Response:
    store.change(connection(), path.visit_id, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/counts/<string:key>", responses={"200": VisitView, **REFUSALS})
def count(path: CountPath, body: CountChanges) -> Response:
    """How many went out, and how many are back."""
    close_out.count(connection(), path.visit_id, path.key, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/counts", responses={"200": VisitView, **REFUSALS})
def add_count(path: VisitPath, body: NewCount) -> Response:
    once(lambda: close_out.add(connection(), path.visit_id, body.name, body.sort, body.out or 0, body.note, hand()))
    return answer(visit_view(connection(), path.visit_id))


@api.post("/counts/<string:key>/remove", responses={"200": VisitView, **REFUSALS})
def remove_count(path: CountPath, body: Request) -> Response:
    once(lambda: close_out.remove(connection(), path.visit_id, path.key, hand()))
    return answer(visit_view(connection(), path.visit_id))


@api.post("/sign-off", responses={"200": VisitView, **REFUSALS})
def sign(path: VisitPath, body: SignOff) -> Response:
    store.sign_off(connection(), path.visit_id, body.edit, body.by)
    return answer(visit_view(connection(), path.visit_id))


@api.post("/unrepaired", responses={"200": VisitView, **REFUSALS})
def unrepaired(path: VisitPath, body: Unrepaired) -> Response:
    store.close_unrepaired(connection(), path.visit_id, body.edit, body.reason, body.by)
    return answer(visit_view(connection(), path.visit_id))


@api.post("/addenda", responses={"201": VisitView, **REFUSALS})
def addendum(path: VisitPath, body: NewAddendum) -> tuple[Response, int]:
    """Added to a signed page, which stays as it was signed."""
    once(lambda: addenda.add(connection(), path.visit_id, body.text, hand()))
    return answer(visit_view(connection(), path.visit_id)), 201
