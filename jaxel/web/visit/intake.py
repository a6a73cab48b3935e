"""Intake: odometer, complaint, air, targets, and what is fitted before anything is touched."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.trade.record.scope import Scope
from jaxel.core.trade.visit.intake import Intake
from jaxel.store.visit import intake as store

from ..database import connection
from ..record.answer import visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import (
    Changed,
    Changes,
    Draft,
    VisitPath,
    hand,
    once,
)
from ..record.model import Request

api = Blueprint("intake", "/api/visits/<int:visit_id>")


class IntakeChanges(Changes, of=Intake):
    """What a hand writes of it."""


Kind = Annotated[str, Field(max_length=60)] | None


class KindChanges(Changes):
    primary_kind: Changed[Kind] | None = None
    secondary_kind: Changed[Kind] | None = None


class Fitted(Request):
    """The differences that were shown when the hand said that this is what is fitted."""

    draft: Draft


class SlotOrigin(Changed[Annotated[str, Field(max_length=20)] | None]):
    """How what was found in a slot is known."""

    slot: Annotated[str, Field(max_length=60)]


@api.get("")
def visit(path: VisitPath) -> Response:
    return visit_answer(path.visit_id)


@api.patch("/intake")
def intake(path: VisitPath, body: IntakeChanges) -> Response:
    store.change(connection(), path.visit_id, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.patch("/kinds")
def kinds(path: VisitPath, body: KindChanges) -> Response:
    """Of which kind the machine's clutches are: its slots come from there."""
    store.state_kinds(connection(), path.visit_id, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.patch("/scope")
def scope(path: VisitPath, body: Changed[Scope]) -> Response:
    """What the visit is for: it chooses the stations, the questions and what the sign-off insists on."""
    store.set_scope(connection(), path.visit_id, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("/origin")
def origin(path: VisitPath, body: SlotOrigin) -> Response:
    """How what was found in a slot is known; “unknown” is an answer."""
    store.say_origin(connection(), path.visit_id, body.slot, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.post("/fitted")
def fitted(path: VisitPath, body: Fitted) -> Response:
    """The set-up shown is the one on the machine."""
    once(lambda: store.confirm_fitted(connection(), path.visit_id, body.draft, hand()))
    return visit_answer(path.visit_id)
