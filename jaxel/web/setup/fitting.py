"""Set-up: slots tried on the bench, and the change recorded as fitted with its reason."""

from typing import Annotated, Literal

from flask import Response
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import PredictionDocument, PredictionFigures
from jaxel.core.formats.run.pull import launch_warning
from jaxel.core.formats.setup.setup import SetupDocument, write_setup
from jaxel.core.trade.setup.picture import ClutchPicture
from jaxel.core.trade.setup.sensitivity import Sensitivity
from jaxel.store.run import calibrations
from jaxel.store.setup import fitting
from jaxel.store.setup.fitting import Fill
from jaxel.store.setup.predictions import work_out, work_out_quickly
from jaxel.store.visit import visits
from jaxel.store.visit.visits import Visit

from ..database import connection
from ..record.answer import answer, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Draft, Id, VisitPath, hand, once
from ..record.model import Model, Request
from .bench import drawn
from .predictions import WhereItLies, steps, strip_figures, where_it_lies

api = Blueprint("setup", "/api/visits/<int:visit_id>/setup")


class NumberChanges(Request):
    """Numbers of slots by key, as numbers or as typed; weights may be weighed one by one, `62.0 / 62.1 / 61.9`."""

    which: Literal["found", "left"]
    numbers: Annotated[dict[str, Changed[float | str]], Field(min_length=1, max_length=30)]


class Typed(Request):
    """Numbers of slots by key, as they are being typed, or what would fill slots; not `banded`, at once: without how
    sure it is and without its picture. `whole`, whether the rest is as recorded."""

    numbers: Annotated[dict[str, float | str], Field(max_length=30)] = Field(default_factory=dict)
    fills: Annotated[list["FillBody"], Field(max_length=20)] = Field(default_factory=list)
    whole: bool = False
    banded: bool = True


class FillBody(Request):
    """What goes in a slot: a part of the shelf by its id, or numbers by key; neither, what was recorded."""

    slot: Annotated[str, Field(max_length=60)]
    part: Id | None = None
    numbers: Annotated[dict[str, float], Field(max_length=10)] = Field(default_factory=dict)

    def fill(self) -> Fill:
        return Fill(self.slot, self.part, self.numbers)


class PreviewView(Model):
    """A prediction of a set-up that may never be fitted: its figures, where they lie, whole with its curves, and its
    picture.

    All None while what has been typed so far makes no set-up.
    """

    figures: PredictionFigures | None
    lies: WhereItLies
    prediction: PredictionDocument | None
    picture: ClutchPicture | None


class Tried(Request):
    """What was shown as tried on the bench when the hand acted on it."""

    draft: Draft


class Record(Tried):
    reason: Annotated[str, Field(max_length=500)]


class Fills(Tried):
    """Parts and numbers put on the tray; `whole`, whether the rest goes back to what was recorded."""

    fills: Annotated[list[FillBody], Field(min_length=1, max_length=20)]
    whole: bool = False


class StepsView(Model):
    """What one step of each slot, of the belt's width and of the altitude does to the figures."""

    steps: list[Sensitivity]


@api.get("/steps", responses={"200": StepsView})
def one_step(path: VisitPath) -> Response:
    visit = visits.get(connection(), path.visit_id)
    return answer(StepsView(steps=steps(visit.as_left(), visit.kinds, visit.ground)))


class StripView(Model):
    """A full pull on the simulated strip, as found and as left; None where a fault leaves nothing to pull with;
    `warning`, what is to be said of the launch as left."""

    found: dict[str, float | None] | None
    left: dict[str, float | None]
    warning: str


@api.get("/strip", responses={"200": StripView})
def strip(path: VisitPath) -> Response:
    visit = visits.get(connection(), path.visit_id)
    try:
        found = strip_figures(visit.as_it_works(), visit.ground)
    except InvalidValue:
        found = None
    left = strip_figures(visit.as_left(), visit.ground)
    return answer(StripView(found=found, left=left, warning=launch_warning(left["limiter_gripped_s"])))


@api.patch("/slots")
def try_numbers(path: VisitPath, body: NumberChanges) -> Response:
    edits = {key: each.edit() for key, each in body.numbers.items()}
    fitting.try_numbers(connection(), path.visit_id, body.which, edits, hand())
    return visit_answer(path.visit_id)


@api.post("/preview", responses={"200": PreviewView})
def preview(path: VisitPath, body: Typed) -> Response:
    """What the set-up as left would do with numbers still being typed, or with slots filled; nothing is kept of it."""
    if not body.numbers and not body.fills:
        raise InvalidValue("numbers", "are none, and nothing fills a slot")
    visit = visits.get(connection(), path.visit_id)
    try:
        tried = _tried(visit, body)
        fresh = work_out(tried, visit.ground) if body.banded else work_out_quickly(tried, visit.as_left(), visit.ground)
        picture = drawn(write_setup(tried), fresh.document).model_dump_json() if body.banded else "null"
    except InvalidValue:  # half a number is no fault: what is saved is judged
        return answer(PreviewView(figures=None, lies=WhereItLies(), prediction=None, picture=None))
    lies = where_it_lies(PredictionFigures.model_validate_json(fresh.figures), visit.intake).model_dump_json()
    return Response(
        f'{{"figures":{fresh.figures},"lies":{lies},"prediction":{fresh.document},"picture":{picture}}}',
        mimetype="application/json",
    )


def _tried(visit: Visit, body: Typed) -> SetupDocument:
    """The set-up on the bench with what is being typed, or as the fills would make it; raises InvalidValue."""
    if not body.fills:
        return fitting.with_typed(visit, body.numbers)
    fills = [each.fill() for each in body.fills]
    return fitting.with_fills(connection(), visit, fills, whole=body.whole)


@api.post("/fill")
def fill(path: VisitPath, body: Fills) -> Response:
    """Put parts of the shelf, or an answer of the planner, on the tray."""
    fills = [each.fill() for each in body.fills]
    once(lambda: fitting.fill(connection(), path.visit_id, fills, body.draft, whole=body.whole, by=hand()))
    return visit_answer(path.visit_id)


@api.post("/calibrate")
def calibrate(path: VisitPath, body: Request) -> Response:
    """Let the visit's predictions stand on every run of its machine so far."""
    once(lambda: calibrations.calibrate(connection(), path.visit_id, hand()))
    return visit_answer(path.visit_id)


@api.patch("/reason")
def reason(path: VisitPath, body: Changed[Annotated[str, Field(max_length=500)]]) -> Response:
    """The reason as it is typed, before the change is recorded."""
    fitting.note_reason(connection(), path.visit_id, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.post("/drop")
def drop(path: VisitPath, body: Tried) -> Response:
    """Put the bench back to what was last recorded."""
    once(lambda: fitting.drop(connection(), path.visit_id, body.draft, hand()))
    return visit_answer(path.visit_id)


@api.post("/record")
def record(path: VisitPath, body: Record) -> Response:
    once(lambda: fitting.record(connection(), path.visit_id, body.reason, body.draft, hand()))
    return visit_answer(path.visit_id)
