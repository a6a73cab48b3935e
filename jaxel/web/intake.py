"""Intake: odometer, complaint, air, targets, and what is fitted before anything is touched."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import Field

from jaxel.core.trade.stations import Riding, Scope, WalkingRange
from jaxel.store import intake as store

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS, REFUSALS
from .fields import (
    Changed,
    Changes,
    Distance,
    Draft,
    Elevation,
    Hours,
    MeasuredRpm,
    Percent,
    Request,
    Rpm,
    Temperature,
    VisitPath,
    hand,
    once,
)
from .visit_view import VisitView, visit_view

api = APIBlueprint("intake", __name__, url_prefix="/api/visits/<int:visit_id>")


class IntakeChanges(Changes):
    odometer_km: Changed[Distance] | None = None
    odometer_h: Changed[Hours] | None = None
    walking_range: Changed[WalkingRange] | None = None
    symptoms: Changed[Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=20)]] | None = None
    no_tachometer: Changed[bool] | None = None
    complaint: Changed[Annotated[str, Field(max_length=2000)]] | None = None
    riding: Changed[Riding] | None = None
    elevation_m: Changed[Elevation] | None = None
    temperature_c: Changed[Temperature] | None = None
    humidity_pct: Changed[Percent] | None = None
    target_engagement_rpm: Changed[Rpm] | None = None
    target_engagement_tolerance_rpm: Changed[Rpm] | None = None
    target_shift_rpm: Changed[Rpm] | None = None
    target_shift_tolerance_rpm: Changed[Rpm] | None = None
    baseline_engagement_rpm: Changed[MeasuredRpm] | None = None
    baseline_shift_rpm: Changed[MeasuredRpm] | None = None


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


@api.get("", responses={"200": VisitView, **READ_REFUSALS})
def visit(path: VisitPath) -> Response:
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/intake", responses={"200": VisitView, **REFUSALS})
def intake(path: VisitPath, body: IntakeChanges) -> Response:
    store.change(connection(), path.visit_id, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/kinds", responses={"200": VisitView, **REFUSALS})
def kinds(path: VisitPath, body: KindChanges) -> Response:
    """Of which kind the machine's clutches are: its slots come from there."""
    store.state_kinds(connection(), path.visit_id, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/scope", responses={"200": VisitView, **REFUSALS})
def scope(path: VisitPath, body: Changed[Scope]) -> Response:
    """What the visit is for: it chooses the stations, the questions and what the sign-off insists on."""
    store.set_scope(connection(), path.visit_id, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/origin", responses={"200": VisitView, **REFUSALS})
def origin(path: VisitPath, body: SlotOrigin) -> Response:
    """How what was found in a slot is known; “unknown” is an answer."""
    store.say_origin(connection(), path.visit_id, body.slot, body.edit(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/fitted", responses={"200": VisitView, **REFUSALS})
def fitted(path: VisitPath, body: Fitted) -> Response:
    """The set-up shown is the one on the machine."""
    once(lambda: store.confirm_fitted(connection(), path.visit_id, body.draft, hand()))
    return answer(visit_view(connection(), path.visit_id))
