"""A belt as a thing: its life and trend, what is read off it, its label, the shelf it lies on."""

import sqlite3
from typing import Annotated

from flask import Response, request
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.pull import launch_warning
from jaxel.core.trade.belt.trend import Trend
from jaxel.store.belt import belts
from jaxel.store.belt.belts import LifePoint, Meter, WornBelt
from jaxel.store.db import NotFound, reading
from jaxel.store.machine import machines
from jaxel.store.setup import revisions

from ..database import connection
from ..guard import loopback
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Changes, Id, MachinePath, Round, Width, hand, once
from ..record.model import Model, Request
from ..setup.predictions import start_time

api = Blueprint("belts", "/api")

Short = Annotated[str, Field(max_length=60)]


class BeltPath(Model):
    belt_id: Id


class OtherBelt(Model):
    """Another belt's wear, and what differed."""

    id: int
    machine_id: int
    number: int
    machine: str
    tyre: str
    wear_mm_per_1000: float
    use: float
    unit: Meter
    riding: str
    walking_range: str


class StartView(Model):
    """Off the line: to 20 m on the simulated strip [s], now and on a new belt; None where it never gets there;
    `warning`, what is to be said of the new belt's launch."""

    now: float | None
    new: float | None
    warning: str


class BeltLifeView(Model):
    """A belt with its life; `start` only while it is on its machine; `coded`, whether its label bears a code."""

    id: int
    machine_id: int
    machine: str
    number: int
    state: str
    width_mm: float
    new_width_mm: float
    limit_mm: float
    use: float
    life_known: bool
    unit: Meter
    make_number: str
    batch: str
    bought_on: str
    direction: str
    place: str
    length_mm: float | None
    removed_on: str
    removed_at_km: float | None
    fitted_at_km: float | None
    points: list[LifePoint]
    trend: Trend | None
    no_trend: str
    others: list[OtherBelt]
    start: StartView | None
    coded: bool


class BeltIdentityChanges(Changes):
    make_number: Changed[Short] | None = None
    batch: Changed[Short] | None = None
    bought_on: Changed[Annotated[str, Field(max_length=10)]] | None = None
    direction: Changed[Annotated[str, Field(max_length=120)]] | None = None
    place: Changed[Short] | None = None
    new_width_mm: Changed[Width] | None = None
    length_mm: Changed[Round] | None = None


class Spare(Request):
    """A belt put on the shelf."""

    width_mm: Width
    make_number: Short = ""
    bought_on: Annotated[str, Field(max_length=10)] = ""
    place: Short = ""


class Made(Model):
    id: int


def life_view(db: sqlite3.Connection, belt_id: int) -> BeltLifeView:
    """A belt's page; raises NotFound."""
    with reading(db):
        worn = belts.life(db, belt_id)
        others = [_other(each, each_trend) for each, each_trend in belts.others_trends(db, worn)]
        document = revisions.newest(db, worn.machine_id).document
    belt, points = worn.belt, worn.points
    width = points[-1].width_mm if points else belt.width_mm
    limit = document.belt.top_width_min_mm
    try:
        trend, no_trend = belts.trend(db, worn, limit), ""
    except InvalidValue as error:
        trend, no_trend = None, f"its {error.field} {error.reason}"
    return BeltLifeView(
        id=belt.id,
        machine_id=worn.machine_id,
        machine=worn.machine_name,
        number=belt.number,
        state=belt.state,
        width_mm=width,
        new_width_mm=worn.new_width_mm,
        limit_mm=limit,
        use=_seen(worn),
        life_known=not belt.unknown_before,
        unit=worn.unit,
        make_number=belt.make_number,
        batch=belt.batch,
        bought_on=belt.bought_on,
        direction=belt.direction,
        place=belt.place,
        length_mm=belt.length_mm,
        removed_on=belt.removed_on,
        removed_at_km=belt.removed_at_km,
        fitted_at_km=belt.fitted_at_km,
        points=list(points),
        trend=trend,
        no_trend=no_trend,
        others=others,
        start=None,
        coded=not loopback(request.host),
    )


def _seen(worn: WornBelt) -> float:
    """What is on a belt, as far as this workshop saw: of one that ran before, from its first reading on."""
    use = [each.use for each in worn.points]
    first = use[0] if use and worn.belt.unknown_before and worn.belt.fitted_at_km is None else 0.0
    return max([worn.belt.used_km if worn.unit == "km" else worn.belt.used_h, *(each - first for each in use)])


def _other(worn: WornBelt, trend: Trend) -> OtherBelt:
    last = worn.points[-1]
    return OtherBelt(
        id=worn.belt.id,
        machine_id=worn.machine_id,
        number=worn.belt.number,
        machine=worn.machine_name,
        tyre=worn.tyre,
        wear_mm_per_1000=trend.wear_mm_per_1000,
        use=last.use,
        unit=worn.unit,
        riding=last.riding,
        walking_range=last.walking_range,
    )


@api.get("/belts/<int:belt_id>", responses={"200": BeltLifeView})
def belt(path: BeltPath) -> Response:
    return answer(life_view(connection(), path.belt_id))


@api.get("/belts/<int:belt_id>/start", responses={"200": StartView})
def start(path: BeltPath) -> Response:
    """What a standing start costs on this belt: two simulated pulls, asked for apart because they take their time."""
    worn = belts.life(connection(), path.belt_id)
    document = revisions.newest(connection(), worn.machine_id).document
    width = worn.points[-1].width_mm if worn.points else worn.belt.width_mm
    now, new = (start_time(document.with_belt_width(each)) for each in (width, document.belt.top_width_new_mm))
    return answer(
        StartView(
            now=now.to_20_m if now else None,
            new=new.to_20_m if new else None,
            warning=launch_warning(new.limited if new else None),
        )
    )


@api.patch("/belts/<int:belt_id>", responses={"200": BeltLifeView})
def said(path: BeltPath, body: BeltIdentityChanges) -> Response:
    """What is read off a belt."""
    belts.change(connection(), path.belt_id, body.edits(), hand())
    return answer(life_view(connection(), path.belt_id))


@api.post("/machines/<int:machine_id>/belts", responses={"201": Made})
def shelf(path: MachinePath, body: Spare) -> tuple[Response, int]:
    """Put a spare on the shelf."""
    if body.width_mm is None:
        raise InvalidValue("width_mm", "is missing: a spare is known by its width")
    width = body.width_mm
    made = once(
        lambda: belts.put_on_shelf(
            connection(), path.machine_id, width, hand(), make_number=body.make_number, bought_on=body.bought_on,
            place=body.place,
        )
    )  # fmt: skip
    return answer(Made(id=made or 0)), 201


@api.post("/belts/<int:belt_id>/discard", responses={"200": BeltLifeView})
def discard(path: BeltPath, body: Request) -> Response:
    once(lambda: belts.discard(connection(), path.belt_id, hand()))
    return answer(life_view(connection(), path.belt_id))


@api.get("/belts/<int:belt_id>/code.svg", responses={"200": None})
def code(path: BeltPath) -> Response:
    """A two-dimensional code that opens the belt's page, for its label.

    None while the server has only a loopback name: no phone would open it.
    """
    machines.belt(connection(), path.belt_id)
    if loopback(request.host):
        raise NotFound("code: this server is known by no name that another device could open")
    import segno  # slow to import: few requests draw a code

    page = f"{request.host_url}belts/{path.belt_id}"
    svg = segno.make(page, error="m", micro=False).svg_inline(scale=4, border=2, dark="#000", light="#fff")
    return Response(svg.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1), mimetype="image/svg+xml")
