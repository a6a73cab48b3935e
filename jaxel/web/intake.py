"""Intake: odometer, complaint, air, targets, and what is fitted before anything is touched."""

from typing import Annotated, Literal

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import Field

from jaxel.store import fitting, visits

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Distance, Edit, Elevation, MeasuredRpm, Percent, Rpm, Temperature, VisitPath
from .visit_view import VisitView, visit_view

api = APIBlueprint("intake", __name__, url_prefix="/api/visits/<int:visit_id>")


class IntakeFields(Edit):
    odometer_km: Distance = None
    complaint: Annotated[str, Field(max_length=2000)] = ""
    riding: Literal["", "trail", "mud", "dune", "mountain", "towing"] = ""
    elevation_m: Elevation = 0
    temperature_c: Temperature = 0
    humidity_pct: Percent = 0
    target_engagement_rpm: Rpm = 1
    target_engagement_tolerance_rpm: Rpm = 1
    target_shift_rpm: Rpm = 1
    target_shift_tolerance_rpm: Rpm = 1
    baseline_engagement_rpm: MeasuredRpm = None
    baseline_shift_rpm: MeasuredRpm = None


class KindsStated(Edit):
    primary_kind: Annotated[str, Field(max_length=60)] | None = None
    secondary_kind: Annotated[str, Field(max_length=60)] | None = None


@api.get("", responses={"200": VisitView, **REFUSALS})
def visit(path: VisitPath) -> Response:
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/intake", responses={"200": VisitView, **REFUSALS})
def intake(path: VisitPath, body: IntakeFields) -> Response:
    visits.change(connection(), path.visit_id, body.edit, body.sent())
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/kinds", responses={"200": VisitView, **REFUSALS})
def kinds(path: VisitPath, body: KindsStated) -> Response:
    """Of which kind the machine's clutches are: its slots come from there."""
    visits.state_kinds(connection(), path.visit_id, body.edit, body.sent())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/fitted", responses={"200": VisitView, **REFUSALS})
def fitted(path: VisitPath, body: Edit) -> Response:
    """The set-up shown is the one on the machine."""
    fitting.confirm_found(connection(), path.visit_id, body.edit)
    return answer(visit_view(connection(), path.visit_id))
