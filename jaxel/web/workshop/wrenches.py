"""The workshop's torque wrenches, and what an adapter makes of their readings."""

from datetime import date
from typing import Annotated, Literal

from annotated_types import Ge, Le
from flask import Response
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.rebuild.torque import Wrench, WrenchKind, choose_wrench
from jaxel.core.units import parse_quantity
from jaxel.store.db import now
from jaxel.store.workshop import wrenches as store

from ..database import connection
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Changes, Gearing, Id, Length, Torque, Typed, hand, once
from ..record.model import Model, Request
from .wrench import WrenchView, wrench_view

api = Blueprint("wrenches", "/api")

Name = Annotated[str, Field(max_length=60)]
Day = Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")]


OnScale = Annotated[Annotated[float, Ge(0), Le(5000)] | None, Typed("N·m")]
"""Of a wrench's scale: where it begins, and what it can be set to the next."""


class OwnWrenchView(Model):
    """A wrench of the workshop's; `overdue`, whether its checking is."""

    id: int
    name: str
    kind: WrenchKind
    low_nm: float
    high_nm: float
    step_nm: float
    length_mm: float | None
    ratio: float | None
    due_on: str
    overdue: bool
    retired: bool


class WrenchesView(Model):
    wrenches: list[OwnWrenchView]


class NewWrench(Request):
    """A wrench with its scale, or a multiplier with its ratio."""

    name: Name
    kind: WrenchKind = "wrench"
    low: OnScale = None
    high: Torque = None
    step: OnScale = None
    length_mm: Length = None
    ratio: Gearing = None
    due_on: Day = ""


class WrenchPath(Model):
    wrench_id: Id


class WrenchChanges(Changes):
    name: Changed[Name] | None = None
    length_mm: Changed[Length] | None = None
    due_on: Changed[Day] | None = None
    retired: Changed[bool] | None = None


class AdapterQuery(Model):
    """A torque at the fastener as typed, how far an adapter moves it off the square, and at which angle [°]."""

    torque: Annotated[str, Field(max_length=40)]
    extension: Annotated[str, Field(max_length=40)] = ""
    angle: Literal["0", "90", "45"] = "0"


def _view() -> Response:
    today = now()[:10]
    return answer(
        WrenchesView(
            wrenches=[
                OwnWrenchView(
                    id=each.id, retired=each.retired, overdue="" < each.wrench.due_on < today, **vars(each.wrench)
                )
                for each in store.all_wrenches(connection())
            ]
        )
    )


def _day(typed: str) -> str:
    try:
        return date.fromisoformat(typed).isoformat() if typed else ""
    except ValueError:
        raise InvalidValue("due_on", "is no day") from None


@api.get("/wrenches", responses={"200": WrenchesView})
def all_wrenches() -> Response:
    return _view()


@api.post("/wrenches", responses={"201": WrenchesView})
def add_wrench(body: NewWrench) -> tuple[Response, int]:
    wrench = Wrench(
        body.name, body.kind, body.low or 0.0, body.high or 0.0, body.step or 0.0, body.length_mm, body.ratio,
        _day(body.due_on),
    )  # fmt: skip
    once(lambda: store.add(connection(), wrench, hand()))
    return _view(), 201


@api.patch("/wrenches/<int:wrench_id>", responses={"200": WrenchesView})
def change_wrench(path: WrenchPath, body: WrenchChanges) -> Response:
    if body.due_on:
        _day(body.due_on.now)
    store.change(connection(), path.wrench_id, body.edits(), hand())
    return _view()


@api.get("/torque-adapter", responses={"200": WrenchView})
def adapter(query: AdapterQuery) -> Response:
    """Which wrench reaches a torque through an adapter, and what it is set to."""
    given = {"torque": 0.0, "extension": 0.0}
    for name, unit in (("torque", "N·m"), ("extension", "mm")):
        text = getattr(query, name)
        try:
            given[name] = parse_quantity(text, unit) if text.strip() else 0.0
        except InvalidValue as error:
            raise InvalidValue(name, error.reason) from None
    if not 0 < given["torque"] <= 5000:
        raise InvalidValue("torque", "must be above 0, and at most 5,000 N·m")
    if not -2000 <= given["extension"] <= 2000:
        raise InvalidValue("extension", "must be from −2,000 to 2,000 mm")
    own, today = store.in_use(connection()), date.fromisoformat(now()[:10])
    try:
        found = choose_wrench(given["torque"], own, today, given["extension"], float(query.angle))
    except InvalidValue as error:
        raise InvalidValue(error.field.removesuffix("_mm"), error.reason) from None
    return answer(wrench_view(found))
