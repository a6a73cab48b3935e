"""Road test: runs measured on the set-up and belt that are on the machine."""

from typing import Annotated

from flask import Response, current_app
from pydantic import Field

from jaxel.core.trade.run.road_test import Measured
from jaxel.store.run import road_tests

from ..database import connection
from ..record.answer import visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Changes, Id, VisitPath, hand, once
from ..record.model import Request

api = Blueprint("road_test", "/api/visits/<int:visit_id>/runs")

Note = Annotated[str, Field(max_length=1000)]


class RunPath(VisitPath):
    run_id: Id


class NewRun(Request):
    """A run on the set-up that was shown as left."""

    revision_id: Id


class RunChanges(Changes, of=Measured):
    """What a hand writes of it."""


class RunShown(Request):
    """A run as it was shown when the hand took it back."""

    engagement_rpm: float | None
    second_roll_on_rpm: float | None = None
    third_roll_on_rpm: float | None = None
    shift_rpm: float | None
    note: Note
    rider: Annotated[str, Field(max_length=120)] = ""
    strip: Annotated[str, Field(max_length=120)] = ""


@api.post("")
def begin(path: VisitPath, body: NewRun) -> Response:
    once(lambda: road_tests.begin(connection(), path.visit_id, body.revision_id, hand()))
    current_app.extensions["reading_room"].warm()  # its log may come any moment
    return visit_answer(path.visit_id)


@api.patch("/<int:run_id>")
def run(path: RunPath, body: RunChanges) -> Response:
    road_tests.change(connection(), path.visit_id, path.run_id, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.post("/<int:run_id>/remove")
def remove(path: RunPath, body: RunShown) -> Response:
    once(lambda: road_tests.remove(connection(), path.visit_id, path.run_id, body.model_dump(), hand()))
    return visit_answer(path.visit_id)
