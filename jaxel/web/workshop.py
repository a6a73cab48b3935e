"""Workshop: its name and its people."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.store import workshop as store

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS, REFUSALS
from .fields import Changed, Id, Request, hand, once

api = APIBlueprint("workshop", __name__, url_prefix="/api/workshop")

Name = Annotated[str, Field(max_length=120)]


class PersonView(BaseModel):
    id: int
    name: str
    archived: bool


class WorkshopView(BaseModel):
    name: str
    people: list[PersonView]


class NewPerson(Request):
    name: Name


class PersonPath(BaseModel):
    person_id: Id


def _view() -> Response:
    held = store.get(connection())
    people = [PersonView(id=each.id, name=each.name, archived=each.archived) for each in held.people]
    return answer(WorkshopView(name=held.name, people=people))


@api.get("", responses={"200": WorkshopView, **READ_REFUSALS})
def workshop() -> Response:
    return _view()


@api.patch("/name", responses={"200": WorkshopView, **REFUSALS})
def rename(body: Changed[Name]) -> Response:
    store.rename(connection(), body.edit())
    return _view()


@api.post("/people", responses={"201": WorkshopView, **REFUSALS})
def add_person(body: NewPerson) -> tuple[Response, int]:
    once(lambda: store.add_person(connection(), body.name, hand()))
    return _view(), 201


@api.patch("/people/<int:person_id>/archived", responses={"200": WorkshopView, **REFUSALS})
def archive(path: PersonPath, body: Changed[bool]) -> Response:
    store.archive(connection(), path.person_id, body.edit())
    return _view()
