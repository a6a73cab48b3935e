"""Hand-over: what to watch and when to come back, and the sign-off."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.trade.visit.close_out import Count, Sort
from jaxel.core.trade.visit.page import Page
from jaxel.core.trade.visit.told import HandOver
from jaxel.store.db import reading
from jaxel.store.visit import addenda, close_out, pages, visits
from jaxel.store.visit import hand_over as store

from ..database import connection
from ..record.answer import TheVisit, answer, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Changes, Id, VisitPath, Whole, hand, once
from ..record.model import Model, Request

api = Blueprint("hand_over", "/api/visits/<int:visit_id>")


class HandOverChanges(Changes, of=HandOver):
    """What a hand writes of it."""


class PageView(Model):
    """The page of a visit."""

    page: Page


class SignOff(Request):
    """A sign-off of the whole visit as it was shown at `edit`."""

    edit: Annotated[int, Field(ge=1, le=2**31, strict=True)]
    by: Annotated[str, Field(max_length=120)]


class Unrepaired(SignOff):
    """A visit closed without the repair, and why."""

    reason: Annotated[str, Field(max_length=500)]


class CountPath(Model):
    visit_id: Id
    key: Annotated[str, Field(max_length=80)]


class CountChanges(Changes, of=Count):
    """What a hand writes of it."""


class NewCount(Request):
    """Something more to count, or a part moved only for access."""

    name: Annotated[str, Field(max_length=80)]
    sort: Sort
    out: Whole = 1
    note: Annotated[str, Field(max_length=200)] = ""


class NewAddendum(Request):
    text: Annotated[str, Field(max_length=2000)]


@api.patch("/hand-over")
def hand_over(path: VisitPath, body: HandOverChanges) -> Response:
    store.change(connection(), path.visit_id, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.patch("/counts/<string:key>")
def count(path: CountPath, body: CountChanges) -> Response:
    """How many went out, and how many are back."""
    close_out.count(connection(), path.visit_id, path.key, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.post("/counts")
def add_count(path: VisitPath, body: NewCount) -> Response:
    once(lambda: close_out.add(connection(), path.visit_id, body.name, body.sort, body.out or 0, body.note, hand()))
    return visit_answer(path.visit_id)


@api.post("/counts/<string:key>/remove")
def remove_count(path: CountPath, body: Request) -> Response:
    once(lambda: close_out.remove(connection(), path.visit_id, path.key, hand()))
    return visit_answer(path.visit_id)


@api.post("/sign-off")
def sign(path: VisitPath, body: SignOff) -> Response:
    store.sign_off(connection(), path.visit_id, body.edit, body.by)
    return visit_answer(path.visit_id)


@api.post("/unrepaired")
def unrepaired(path: VisitPath, body: Unrepaired) -> Response:
    store.close_unrepaired(connection(), path.visit_id, body.edit, body.reason, body.by)
    return visit_answer(path.visit_id)


@api.post("/addenda", responses={"201": TheVisit})
def addendum(path: VisitPath, body: NewAddendum) -> tuple[Response, int]:
    """Added to a signed page, which stays as it was signed."""
    once(lambda: addenda.add(connection(), path.visit_id, body.text, hand()))
    return visit_answer(path.visit_id), 201


@api.get("/page", responses={"200": PageView})
def page(path: VisitPath) -> Response:
    """The hand-over page: as it was signed, or as it stands."""
    db = connection()
    with reading(db):
        return answer(PageView(page=pages.page(db, visits.get(db, path.visit_id))))
