"""Calibration in sight: what a machine's runs moved, how each fits, what to measure next; and the workshop's scores."""

from flask import Response

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.calibration import CalibrationDocument
from jaxel.core.trade.run.next_reading import next_readings
from jaxel.core.trade.run.odds import OddsGroup, odds_groups
from jaxel.core.trade.run.rider_word import DirectionScore
from jaxel.core.trade.run.scores import Tally, score_card
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.discrepancy import PLAIN, kind_name
from jaxel.core.trade.setup.evidence import input_name
from jaxel.store.run import calibrations, rider_words
from jaxel.store.run.loop import outcomes
from jaxel.store.run.road_tests import scored
from jaxel.store.setup.calibrated import Calibrated
from jaxel.store.visit import visits

from ..database import connection
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import VisitPath
from ..record.model import Model

api = Blueprint("calibrations", "/api")


class MovedView(Model):
    """A number that the runs moved: what was known of it before, what they make of it, and its deviation then."""

    name: str
    before: float
    value: float
    sd: float
    up: bool


class FigureFit(Model):
    """A measured figure beside what the calibrated model gives for it [rpm]; `z`, the miss over all that is in doubt;
    `expected` by the other runs, where they do not bear it out."""

    figure: str
    measured: float
    predicted: float
    z: float
    expected: float | None


class RunFit(Model):
    """One run of a calibration, by its number."""

    run: int
    note: str
    figures: list[FigureFit]


class NextView(Model):
    """What to measure next: what it takes off the deviations of engagement and shift [rpm], in how many minutes."""

    name: str
    minutes: float
    engagement_off_rpm: float
    shift_off_rpm: float


class ToldChange(Model):
    """How a kind of change is told, in words with its origin; `plain`, as predicted, and by the study."""

    kind: str
    words: str
    plain: bool


class PastView(Model):
    """A calibration of the machine: when, by whom, on how many runs."""

    id: int
    made_at: str
    made_by: str
    runs: int
    in_use: bool


class CalibrationView(Model):
    """What the visit's predictions stand on; nothing moved and no run where the machine was never measured.

    `tellings`, how changes of each kind are told, and by whose estimate.
    """

    made_at: str | None
    made_by: str
    moved: list[MovedView]
    runs: list[RunFit]
    tellings: list[ToldChange]
    next: list[NextView]
    history: list[PastView]


class ScoresView(Model):
    """The workshop's predictions against what was then measured, and by machine; answers taken up, by their odds; and
    the way predictions pointed against riders' words."""

    tallies: list[Tally]
    machines: list["MachineScore"]
    odds: list[OddsGroup]
    words: list[DirectionScore]


class MachineScore(Model):
    machine_id: int
    name: str
    tallies: list[Tally]


FIGURE_NAMES = {
    "engagement_rpm": "engagement",
    "shift_mean_rpm": "shift",
    "slope_rpm": "slope",
    "full_shift_rpm": "full shift",
    "low_ratio": "low ratio",
    "high_ratio": "high ratio",
}


@api.get("/visits/<int:visit_id>/setup/calibration", responses={"200": CalibrationView})
def calibration(path: VisitPath) -> Response:
    visit = visits.get(connection(), path.visit_id)
    on = visit.calibration
    left = visit.as_left()
    known = visit.ground.core if visit.ground else Calibration.none(left)
    try:
        readings = next_readings(left, known)
    except InvalidValue:
        readings = []
    past = calibrations.history(connection(), visit.machine_id)
    return answer(
        CalibrationView(
            made_at=on.made_at if on else None,
            made_by=on.made_by if on else "",
            moved=_moved(on) if on else [],
            runs=_runs(on.document) if on else [],
            tellings=[
                ToldChange(
                    kind=kind_name(kind), words=known.discrepancy.words(kind),
                    plain=known.discrepancy.words(kind) == PLAIN,
                )
                for kind in dict.fromkeys(kind for kind, _ in known.discrepancy.tellings)
            ],
            next=[
                NextView(
                    name=each.name, minutes=each.minutes,
                    engagement_off_rpm=round(each.engagement_off_rpm, 1), shift_off_rpm=round(each.shift_off_rpm, 1),
                )
                for each in readings
            ],
            history=[
                PastView(
                    id=each.id, made_at=each.made_at, made_by=each.made_by, runs=len(each.document.runs),
                    in_use=on is not None and each.id == on.id,
                )
                for each in past
            ],
        )
    )  # fmt: skip


def _moved(on: Calibrated) -> list[MovedView]:
    document, known = on.document, on.core
    found = []
    for each in known.fitted:
        if each.name not in document.moved:
            continue
        before = 1.0 if each.input.value is None else each.input.value
        path, _, run = each.name.partition("@")
        name = input_name(path if "." in path else f"model.{path}")
        name = f"{name}, run {run}" if run else name
        sd = document.sd[each.name]
        found.append(MovedView(name=name, before=before, value=each.value, sd=sd, up=each.value > before))
    return found


def _runs(document: CalibrationDocument) -> list[RunFit]:
    off = {(each.run, each.figure): each.expected for each in document.contradicts}
    return [
        RunFit(
            run=number,
            note=run.note,
            figures=[
                FigureFit(
                    figure=FIGURE_NAMES[each.figure], measured=each.measured, predicted=each.predicted, z=each.z,
                    expected=off.get((number, each.figure)),
                )
                for each in document.residuals
                if each.run == number
            ],
        )
        for number, run in enumerate(document.runs, start=1)
    ]  # fmt: skip


@api.get("/scores", responses={"200": ScoresView})
def scores() -> Response:
    """How the workshop's predictions did against what was then measured."""
    rows = scored(connection())
    machines: dict[int, str] = {each.machine_id: each.machine for each in rows}
    return answer(
        ScoresView(
            tallies=score_card([each.row for each in rows]),
            machines=[
                MachineScore(
                    machine_id=key, name=name, tallies=score_card([r.row for r in rows if r.machine_id == key])
                )
                for key, name in machines.items()
            ],
            odds=odds_groups(outcomes(connection())),
            words=rider_words.scores(connection()),
        )
    )
