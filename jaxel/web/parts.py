"""The part table: numbers, prices and packs as the workshop typed them, and the tools it has."""

from dataclasses import asdict, replace
from typing import Annotated, Any

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field
from pydantic.dataclasses import dataclass

from jaxel.core.trade.kinds import kinds
from jaxel.core.trade.part_sheet import RefusedRow
from jaxel.core.trade.part_specs import GROUPS, PartFigures, figures_of_part, read_spec
from jaxel.store import belts, lifetimes, sheets, shelf
from jaxel.store import parts as store
from jaxel.store.lifetimes import MakeLasted
from jaxel.store.parts import Part, Tool

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS, REFUSALS
from .fields import Changed, Changes, Distance, Hours, Id, Price, Request, hand, once
from .units import retold
from .visit_view import KindOption

api = APIBlueprint("parts", __name__, url_prefix="/api")

Short = Annotated[str, Field(max_length=60)]


@dataclass(frozen=True)
class PartLine(Part):
    """A part number, with what its spec comes to."""

    figures: PartFigures | None


class BeltOnShelf(BaseModel):
    """A spare belt: its machine, its width and where the limit lies, where it hangs."""

    id: int
    machine_id: int
    machine: str
    number: int
    width_mm: float
    limit_mm: float
    place: str


class PartsView(BaseModel):
    """Every part number and tool, and the kinds of part known.

    `groups`, of those that change a set-up, the form each is described in; `clutches` a part can be made for; `belts`
    on the shelf.
    """

    parts: list[PartLine]
    kinds: list[str]
    groups: dict[str, str]
    clutches: list[KindOption]
    tools: list[Tool]
    belts: list[BeltOnShelf]


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
    place: Changed[Short] | None = None
    fits: Changed[Short] | None = None
    spec: Changed[dict[str, Any] | None] | None = None


class Counted(Changed[Annotated[int, Field(ge=0, le=10_000)]]):
    """How many pieces are at hand."""


class SheetBody(Request):
    """A stock sheet as text, apart by commas, semicolons or tabs."""

    text: Annotated[str, Field(max_length=1_000_000)]


class ReportView(BaseModel):
    """What became of a sheet: how many parts were added, changed and alike already; each refused row."""

    added: int
    changed: int
    alike: int
    refused: list[RefusedRow]
    parts: PartsView


class ToolChanges(Request):
    """What is said of a tool, by its name."""

    name: Short
    price: Changed[Price] | None = None
    owned: Changed[bool] | None = None


def _parts_view() -> PartsView:
    db = connection()
    return PartsView(
        parts=[_line(each) for each in store.all_parts(db)],
        kinds=store.part_kinds(),
        groups=dict(GROUPS),
        clutches=[KindOption(key=key, name=kind.name) for key, kind in kinds().items()],
        tools=store.tools(db),
        belts=[BeltOnShelf(**asdict(each)) for each in belts.spares(db)],
    )


def _line(part: Part) -> PartLine:
    figures = None
    if part.spec is not None:
        found = figures_of_part(part.kind, read_spec(part.kind, part.number, part.spec))
        figures = replace(found, words=retold(found.words))
    return PartLine(**asdict(part), figures=figures)


def _view() -> Response:
    return answer(_parts_view())


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


@api.patch("/parts/<int:part_id>/pieces", responses={"200": PartsView, **REFUSALS})
def counted(path: PartPath, body: Counted) -> Response:
    shelf.count(connection(), path.part_id, body.edit(), hand())
    return _view()


@api.get("/parts.csv", responses={"200": {"content": {"text/csv": {}}}, **READ_REFUSALS})
def sheet() -> Response:
    """Every part as a sheet that can be taken in again."""
    response = Response(sheets.sheet(connection()), mimetype="text/csv")
    response.headers["Content-Disposition"] = "attachment; filename=parts.csv"
    return response


@api.post("/parts/sheet", responses={"200": ReportView, **REFUSALS})
def take_in(body: SheetBody) -> Response:
    """Take a stock sheet in: good rows are written, refused ones reported."""
    done = sheets.take_in(connection(), body.text.encode(), hand())
    return answer(
        ReportView(
            added=len(done.added), changed=len(done.changed), alike=done.alike, refused=done.refused[:MOST_REFUSED],
            parts=_parts_view(),
        )
    )  # fmt: skip


MOST_REFUSED = 500
"""Refused rows an answer lists."""


class LivesView(BaseModel):
    """What each make of each kind lasted, those still running counted."""

    lasted: list[MakeLasted]


@api.get("/parts/lives", responses={"200": LivesView, **READ_REFUSALS})
def lives() -> Response:
    return answer(LivesView(lasted=lifetimes.lasted(connection())))


@api.post("/parts/<int:part_id>/remove", responses={"200": PartsView, **REFUSALS})
def remove(path: PartPath, body: Request) -> Response:
    once(lambda: store.remove(connection(), path.part_id, hand()))
    return _view()


@api.patch("/tools", responses={"200": PartsView, **REFUSALS})
def tool(body: ToolChanges) -> Response:
    edits = {name: each.edit() for name in ("price", "owned") if (each := getattr(body, name)) is not None}
    store.say_tool(connection(), body.name, edits, hand())
    return _view()
