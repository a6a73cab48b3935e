"""Road test: runs measured on the set-up and belt that are on the machine."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import Field

from jaxel.store import road_tests

from .answers import answer
from .database import connection
from .errors import REFUSALS
from .fields import Changed, Changes, Id, MeasuredRpm, Request, VisitPath, hand, once
from .visit_view import VisitView, visit_view

api = APIBlueprint("road_test", __name__, url_prefix="/api/visits/<int:visit_id>/runs")

Note = Annotated[str, Field(max_length=1000)]


class RunPath(VisitPath):
    run_id: Id


class NewRun(Request):
    """A run on the set-up that was shown as left."""

    revision_id: Id


class RunChanges(Changes):
    engagement_rpm: Changed[MeasuredRpm] | None = None
    shift_rpm: Changed[MeasuredRpm] | None = None
    note: Changed[Note] | None = None


class RunShown(Request):
    """A run as it was shown when the hand took it back."""

    engagement_rpm: float | None
    shift_rpm: float | None
    note: Note


@api.post("", responses={"200": VisitView, **REFUSALS})
def begin(path: VisitPath, body: NewRun) -> Response:
    once(lambda: road_tests.begin(connection(), path.visit_id, body.revision_id, hand()))
    return answer(visit_view(connection(), path.visit_id))


@api.patch("/<int:run_id>", responses={"200": VisitView, **REFUSALS})
def run(path: RunPath, body: RunChanges) -> Response:
    road_tests.change(connection(), path.visit_id, path.run_id, body.edits(), hand())
    return answer(visit_view(connection(), path.visit_id))


@api.post("/<int:run_id>/remove", responses={"200": VisitView, **REFUSALS})
def remove(path: RunPath, body: RunShown) -> Response:
    once(lambda: road_tests.remove(connection(), path.visit_id, path.run_id, body.model_dump(), hand()))
    return answer(visit_view(connection(), path.visit_id))
