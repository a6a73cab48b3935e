"""The part table: numbers, prices and packs as the workshop typed them, and the tools it has."""

from dataclasses import asdict, replace
from typing import Annotated

from flask import Response
from pydantic import Field
from pydantic.dataclasses import dataclass

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.part_columns import COLUMN_NAMES, QUANTITIES, SPEC_COLUMNS
from jaxel.core.trade.kinds.kinds import kinds
from jaxel.core.trade.shelf.part_sheet import cells_of, read_cells
from jaxel.core.trade.shelf.part_specs import GROUPS, PartFigures, figures_of_part, read_spec
from jaxel.core.trade.shelf.sheet_rows import RefusedRow
from jaxel.store.belt import belts
from jaxel.store.edits import Edit
from jaxel.store.shelf import lifetimes, sheets, shelf
from jaxel.store.shelf import parts as store
from jaxel.store.shelf.lifetimes import MakeLasted
from jaxel.store.shelf.parts import Part, Tool

from ..database import connection
from ..errors import Refusal
from ..jobs import Job, State, jobs
from ..kinds.options import KindOption
from ..record.answer import answer, download
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Changes, Distance, Hours, Id, Price, hand, once
from ..record.model import Model, Request
from ..units import told

api = Blueprint("parts", "/api")

Short = Annotated[str, Field(max_length=60)]


@dataclass(frozen=True)
class PartLine(Part):
    """A part number, with what its spec comes to, and column by column as a hand would type it."""

    figures: PartFigures | None
    cells: dict[str, str]


class BeltOnShelf(Model):
    """A spare belt: its machine, its width and where the limit lies, where it hangs."""

    id: int
    machine_id: int
    machine: str
    number: int
    width_mm: float
    limit_mm: float
    place: str


class ColumnView(Model):
    """A column that says what a part is: its name, and the unit a number in it is read in."""

    column: str
    name: str
    unit: str


class PartsView(Model):
    """Every part number and tool, and the kinds of part known.

    `groups`, of those that change a set-up, the form each is described in, by these `columns`; `clutches` a part can be
    made for; `belts` on the shelf.
    """

    parts: list[PartLine]
    kinds: list[str]
    groups: dict[str, str]
    columns: dict[str, list[ColumnView]]
    clutches: list[KindOption]
    tools: list[Tool]
    belts: list[BeltOnShelf]


class NewPart(Request):
    number: Short
    kind: Short


class PartPath(Model):
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


class CellsBody(Request):
    """What a part is, column by column as typed; `was`, as the last answer held it. Nothing in any column, no spec."""

    was: Annotated[dict[str, str], Field(max_length=40)]
    now: Annotated[dict[str, Annotated[str, Field(max_length=500)]], Field(max_length=40)]


class Counted(Changed[Annotated[int, Field(ge=0, le=10_000)]]):
    """How many pieces are at hand."""


class SheetBody(Request):
    """A stock sheet as text, apart by commas, semicolons or tabs."""

    text: Annotated[str, Field(max_length=1_000_000)]


class ReportView(Model):
    """What became of a sheet: how many parts were added, changed and alike already; each refused row."""

    added: int
    changed: int
    alike: int
    refused: list[RefusedRow]
    parts: PartsView


class SheetJobView(Model):
    """A sheet on its way in, the share of its rows that is done, and what became of it or why it was refused."""

    job: str
    state: State
    share: float
    report: ReportView | None
    refused: Refusal | None


class SheetPath(Model):
    job: Annotated[str, Field(pattern="^[0-9a-f]{32}$")]


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
        columns={
            group: [ColumnView(column=each, name=COLUMN_NAMES[each], unit=QUANTITIES.get(each, "")) for each in columns]
            for group, columns in SPEC_COLUMNS.items()
        },
        clutches=[KindOption(key=key, name=kind.name) for key, kind in kinds().items()],
        tools=store.tools(db),
        belts=[BeltOnShelf(**asdict(each)) for each in belts.spares(db)],
    )


def _line(part: Part) -> PartLine:
    figures = None
    if part.spec is not None:
        found = figures_of_part(part.kind, read_spec(part.kind, part.number, part.spec))
        figures = replace(found, words=found.words)
    cells = cells_of(part.kind, part.spec) if part.kind in GROUPS else {}
    return PartLine(**asdict(part), figures=figures, cells=cells)


def _view() -> Response:
    return answer(_parts_view())


@api.get("/parts", responses={"200": PartsView})
def parts() -> Response:
    return _view()


@api.post("/parts", responses={"201": PartsView})
def add(body: NewPart) -> tuple[Response, int]:
    once(lambda: store.add(connection(), body.number, body.kind, hand()))
    return _view(), 201


@api.patch("/parts/<int:part_id>", responses={"200": PartsView})
def change(path: PartPath, body: PartChanges) -> Response:
    store.change(connection(), path.part_id, body.edits(), hand())
    return _view()


@api.patch("/parts/<int:part_id>/pieces", responses={"200": PartsView})
def counted(path: PartPath, body: Counted) -> Response:
    shelf.count(connection(), path.part_id, body.edit(), hand())
    return _view()


@api.patch("/parts/<int:part_id>/spec", responses={"200": PartsView})
def described(path: PartPath, body: CellsBody) -> Response:
    """Say what a part is, all of it at once."""
    db = connection()
    part = store.one(db, path.part_id)
    if part.kind not in GROUPS:
        raise InvalidValue("kind", "does not change a set-up: it is a number and a price")
    spec = read_cells(part.kind, part.number, body.now) if any(each.strip() for each in body.now.values()) else None
    stood = body.was == cells_of(part.kind, part.spec)
    store.change(db, path.part_id, {"spec": Edit(part.spec if stood else body.was, spec)}, hand())
    return _view()


@api.get("/parts.csv", responses={"200": {"content": {"text/csv": {}}}})
def sheet() -> Response:
    """Every part as a sheet that can be taken in again."""
    return download(sheets.sheet(connection()), "text/csv", "parts.csv")


@api.post("/sheets", responses={"202": SheetJobView})
def take_in(body: SheetBody) -> tuple[Response, int]:
    """Have a stock sheet taken in: good rows are written, refused ones reported, or nothing of it where given up."""
    data, by = body.text.encode(), hand()
    job = jobs().begin(SHEET, lambda connection, watch: sheets.take_in(connection, data, by, watch))
    return answer(_sheet(job.wait())), 202


@api.get("/sheets/<job>", responses={"200": SheetJobView})
def sheet_in(path: SheetPath) -> Response:
    """How it goes with a sheet."""
    return answer(_sheet(jobs().get(SHEET, path.job).wait()))


@api.post("/sheets/<job>/cancel", responses={"200": SheetJobView})
def sheet_given_up(path: SheetPath, body: Request) -> Response:
    """Give a sheet up; nothing of it is written, unless all of it was."""
    job = jobs().get(SHEET, path.job)
    job.give_up()
    return answer(_sheet(job.wait()))


def _sheet(job: Job) -> SheetJobView:
    done: sheets.SheetReport | None = job.result
    report = done and ReportView(
        added=len(done.added), changed=len(done.changed), alike=done.alike, refused=done.refused[:MOST_REFUSED],
        parts=_parts_view(),
    )  # fmt: skip
    refused = Refusal(field=job.field, reason=told(job.reason)) if job.state == "refused" else None
    return SheetJobView(job=job.key, state=job.state, share=round(job.share, 3), report=report, refused=refused)


SHEET = "sheet"


MOST_REFUSED = 500
"""Refused rows an answer lists."""


class LivesView(Model):
    """What each make of each kind lasted, those still running counted."""

    lasted: list[MakeLasted]


@api.get("/lasted", responses={"200": LivesView})
def lives() -> Response:
    return answer(LivesView(lasted=lifetimes.lasted(connection())))


@api.post("/parts/<int:part_id>/remove", responses={"200": PartsView})
def remove(path: PartPath, body: Request) -> Response:
    once(lambda: store.remove(connection(), path.part_id, hand()))
    return _view()


@api.patch("/tools", responses={"200": PartsView})
def tool(body: ToolChanges) -> Response:
    edits = {name: each.edit() for name in ("price", "owned") if (each := getattr(body, name)) is not None}
    store.say_tool(connection(), body.name, edits, hand())
    return _view()
