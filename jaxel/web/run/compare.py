"""Gain or noise: two sets of a machine's runs beside each other, and laid over each other."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.run.compare.difference import Difference
from jaxel.core.trade.run.compare.overlay import Axis, LaidOver, laid_over
from jaxel.core.trade.run.compare.sets import Sameness, compare_sets
from jaxel.store.run import sets
from jaxel.store.run.sets import RunToChoose
from jaxel.store.visit import visits

from ..database import connection
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import VisitPath
from ..record.model import Model, Request

api = Blueprint("compare", "/api/visits/<int:visit_id>/compare")


class Sets(Request):
    """Two sets of runs by their ids, apart by commas, and the axis their pulls are laid over each other along."""

    a: Annotated[str, Field(pattern=r"^\d{1,12}(,\d{1,12}){0,20}$")]
    b: Annotated[str, Field(pattern=r"^\d{1,12}(,\d{1,12}){0,20}$")]
    along: Axis = "speed"


class DifferenceView(Model):
    """A figure of set B less set A, as in `Difference`; `within_own` and `between_own`, whether the machine's own runs
    say how far it repeats from pull to pull and from day to day."""

    figure: str
    a: float
    b: float
    count_a: int
    count_b: int
    difference: float
    half: float
    adjusted: float
    real: bool
    air: float
    air_sd: float
    within: float
    within_own: bool
    between: float | None
    between_own: bool


class LeftOutView(Model):
    figure: str
    why: str


class ComparedView(Model):
    """Two sets beside each other: what differs, what could not be compared and why, what is the same, what limits it,
    what the model tells of the shift's change, and their pulls over each other, None where they share no stretch."""

    differences: list[DifferenceView]
    left_out: list[LeftOutView]
    same: list[Sameness]
    limits: list[str]
    told_rpm: float | None
    laid_over: LaidOver | None


class RunsToChooseView(Model):
    runs: list[RunToChoose]


@api.get("/runs", responses={"200": RunsToChooseView})
def runs(path: VisitPath) -> Response:
    """The machine's runs that may be compared, the newest first."""
    visit = visits.get(connection(), path.visit_id)
    return answer(RunsToChooseView(runs=sets.to_choose(connection(), visit.machine_id)))


@api.get("", responses={"200": ComparedView})
def compare(path: VisitPath, query: Sets) -> Response:
    """Set two sets of the machine's runs beside each other."""
    visit = visits.get(connection(), path.visit_id)
    ids = [[int(each) for each in some.split(",")] for some in (query.a, query.b)]
    if shared := set(ids[0]) & set(ids[1]):
        raise InvalidValue("b", f"holds {len(shared)} of the runs that the other set holds")
    a, b = (sets.set_of(connection(), visit.machine_id, name, some) for name, some in zip("ab", ids, strict=True))
    others = sets.others_of(connection(), visit.machine_id, [*ids[0], *ids[1]])
    found = compare_sets(a, b, others, visit.calibration.core if visit.calibration else None)
    return answer(
        ComparedView(
            differences=[_difference(each) for each in found.differences],
            left_out=[LeftOutView(figure=figure, why=why) for figure, why in found.left_out],
            same=found.same, limits=found.limits, told_rpm=found.told_rpm,
            laid_over=laid_over(a, b, query.along),
        )
    )  # fmt: skip


def _difference(each: Difference) -> DifferenceView:
    return DifferenceView(
        figure=each.figure, a=each.a, b=each.b, count_a=each.count_a, count_b=each.count_b,
        difference=each.difference, half=each.half, adjusted=each.adjusted, real=each.real, air=each.air,
        air_sd=each.air_sd, within=each.within.sd, within_own=each.within.own,
        between=each.between.sd if each.between else None, between_own=bool(each.between and each.between.own),
    )  # fmt: skip
