"""Road test: what a run measured, set beside what was predicted for it."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import Field

from jaxel.store import road_tests

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Edit, Id, MeasuredRpm, VisitPath
from .visit_view import VisitView, visit_view

api = APIBlueprint("road_test", __name__, url_prefix="/api/visits/<int:visit_id>/runs")


class RunFields(Edit):
    """`run_id` is absent for a new run on the set-up last recorded."""

    run_id: Id | None = None
    engagement_rpm: MeasuredRpm = None
    shift_rpm: MeasuredRpm = None
    note: Annotated[str, Field(max_length=1000)] = ""


class RunToRemove(Edit):
    run_id: Id


@api.patch("", responses={"200": VisitView, **REFUSALS})
def run(path: VisitPath, body: RunFields) -> Response:
    values = body.sent()
    run_id = values.pop("run_id", None)
    road_tests.write(connection(), path.visit_id, body.edit, run_id, values)
    return answer(visit_view(connection(), path.visit_id))


@api.post("/remove", responses={"200": VisitView, **REFUSALS})
def remove(path: VisitPath, body: RunToRemove) -> Response:
    road_tests.remove(connection(), path.visit_id, body.edit, body.run_id)
    return answer(visit_view(connection(), path.visit_id))
