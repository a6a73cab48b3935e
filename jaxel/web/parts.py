"""The part table: numbers, prices and packs as the workshop typed them, and the tools it has."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.store import parts as store
from jaxel.store.parts import Part, Tool

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS, REFUSALS
from .fields import Changed, Changes, Distance, Hours, Id, Price, Request, hand, once

api = APIBlueprint("parts", __name__, url_prefix="/api")

Short = Annotated[str, Field(max_length=60)]


class PartsView(BaseModel):
    """Every part number and tool, and the kinds of part that remedies need."""

    parts: list[Part]
    kinds: list[str]
    tools: list[Tool]


class NewPart(Request):
    number: Short
    kind: Short


class PartPath(BaseModel):
    part_id: Id


class PartChanges(Changes):
    number: Changed[Short] | None = None
    kind: Changed[Short] | None = None
    make: Changed[Short] | None = None
    price: Changed[Price] | None = None
    pack: Changed[Annotated[int, Field(ge=1, le=1000)]] | None = None
    life_km: Changed[Distance] | None = None
    life_h: Changed[Hours] | None = None
    superseded_by: Changed[Short] | None = None
    supplier_note: Changed[Annotated[str, Field(max_length=500)]] | None = None


class ToolChanges(Request):
    """What is said of a tool, by its name."""

    name: Short
    price: Changed[Price] | None = None
    owned: Changed[bool] | None = None


def _view() -> Response:
    db = connection()
    return answer(PartsView(parts=store.all_parts(db), kinds=store.part_kinds(), tools=store.tools(db)))


@api.get("/parts", responses={"200": PartsView, **READ_REFUSALS})
def parts() -> Response:
    return _view()


@api.post("/parts", responses={"201": PartsView, **REFUSALS})
def add(body: NewPart) -> tuple[Response, int]:
    once(lambda: store.add(connection(), body.number, body.kind, hand()))
    return _view(), 201


@api.patch("/parts/<int:part_id>", responses={"200": PartsView, **REFUSALS})
def change(path: PartPath, body: PartChanges) -> Response:
    store.change(connection(), path.part_id, body.edits(), hand())
    return _view()


@api.post("/parts/<int:part_id>/remove", responses={"200": PartsView, **REFUSALS})
def remove(path: PartPath, body: Request) -> Response:
    once(lambda: store.remove(connection(), path.part_id, hand()))
    return _view()


@api.patch("/tools", responses={"200": PartsView, **REFUSALS})
def tool(body: ToolChanges) -> Response:
    edits = {name: each.edit() for name in ("price", "owned") if (each := getattr(body, name)) is not None}
    store.say_tool(connection(), body.name, edits, hand())
    return _view()
