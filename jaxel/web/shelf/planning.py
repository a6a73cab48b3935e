"""Answers to “what do I fit?”: searches over the shelf, each kept under what it looks at, with their progress."""

from collections.abc import Callable
from hashlib import sha256
from typing import Annotated, Literal

from flask import Response, current_app
from pydantic import Field

from jaxel.core.formats.plan.plan import Answer, PlanDocument
from jaxel.core.formats.plan.stock import StockDocument
from jaxel.core.formats.setup.setup import SetupDocument, write_setup
from jaxel.core.trade.kinds.schools import followed
from jaxel.core.trade.run.odds import AnswerTaken, known_from
from jaxel.core.trade.setup.slots import slots
from jaxel.core.trade.shelf.answers import TuningOrder
from jaxel.core.trade.shelf.planner import plan
from jaxel.core.trade.shelf.shelf import StockPart, narrowed, part_named
from jaxel.core.words import q
from jaxel.store.db import NotFound
from jaxel.store.kinds import choices
from jaxel.store.run.calibrations import Ingredients, fitted, ingredients
from jaxel.store.run.loop import open_answer
from jaxel.store.setup.calibrated import applied
from jaxel.store.setup.fitting import Fill
from jaxel.store.shelf import shelf
from jaxel.store.visit import visits
from jaxel.store.visit.visits import Visit

from ..database import connection
from ..errors import Refusal
from ..record.answer import answer, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Draft, Id, VisitPath, hand, once
from ..record.model import Model, Request
from ..setup.bench import slot_names
from .searches import Search, SearchRoom

api = Blueprint("planning", "/api/visits/<int:visit_id>/setup/plan")

FIRST_WAIT_S = 0.35
"""How long a request waits for a search that may be done at once."""

AT_ONCE = 120_000
"""Combinations a search looks at unasked: some seconds' work."""

WORTH_A_TRY = 0.05
"""Odds from which a single change is offered as the next one."""

TOP = 12


class PlanBody(Request):
    """What may be changed, slots by key; left out, all of them. `measured`, whether to stand on every run of the
    machine so far, and not on what the visit's predictions stand on."""

    may: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=40)] | None = None
    measured: bool = False


class Taking(Request):
    """What was shown as tried when an answer was taken up."""

    draft: Draft


class SearchPath(Model):
    visit_id: Id
    search: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]


class AnswerPath(SearchPath):
    number: Annotated[int, Field(ge=0, lt=100)]


class AnswerChange(Model):
    """One slot of an answer: what it holds now and then, by which part, and its share of the change [rpm]."""

    slot: str
    name: str
    was: str
    becomes: str
    part: str
    engagement_rpm: float
    shift_rpm: float


class FillView(Model):
    """What is put on the tray to take an answer up."""

    slot: str
    part: int | None
    numbers: dict[str, float]


class AnswerView(Model):
    """One answer, as it is ranked: what to change, what it does, how sure that is, and why it stands where it does."""

    kit: str
    changes: list[AnswerChange]
    fills: list[FillView]
    engagement_rpm: float
    engagement_sd_rpm: float
    shift_rpm: float
    shift_sd_rpm: float
    spread_rpm: float
    full_shift_rpm: float
    least_grip: float
    probability: float
    inside: bool
    teardown: str
    price: float
    minutes: float
    why: str
    for_rider: str
    behind: str


class ReachLine(Model):
    """Values that would do it, and no part here has."""

    words: str
    engagement_rpm: float
    shift_rpm: float


class MaySlot(Model):
    slot: str
    name: str


class PlanSearchView(Model):
    """A search: its state and the share done; its answers once it is done, and what would do it where none does.

    `left_out`, what it did not look at, for there would have been too many combinations; `known_from`, what its
    predictions stand on; `probability`, of the set-up as recorded to lie in both windows; `next`, the answer that
    changes one thing and ranks first, None where none does.
    """

    search: str
    state: Literal["searching", "done", "given up", "refused"]
    share: float
    slots: list[MaySlot]
    order: str
    combinations: int
    parts: int
    left_out: list[str]
    answers: list[AnswerView]
    reach: list[ReachLine]
    refused: Refusal | None
    known_from: str
    probability: float | None
    next: int | None


def _room() -> SearchRoom:
    found: SearchRoom = current_app.extensions["searches"]
    return found


def _worked_out(stock: StockDocument | None, ground: str | Ingredients | None) -> Callable[[Search], PlanDocument]:
    """What a search does when its turn comes."""

    def work(search: Search) -> PlanDocument:
        text = ground if isinstance(ground, str) or ground is None else fitted(*ground)
        known = applied(text) if text else None
        return plan(search.document, stock, known, TOP, order=search.order, single=True, watch=search.watch)

    return work


@api.post("", responses={"200": PlanSearchView})
def begin(path: VisitPath, body: PlanBody) -> Response:
    """Look for what lands in the window among the parts on the shelf, from the set-up as recorded.

    The same question asked again is the same search, done or under way; another question of the visit by the same
    hand gives its earlier one up.
    """
    visit = visits.get(connection(), path.visit_id)
    document = visit.as_recorded()
    parts = list(shelf.stocked(connection()).values())
    may = None if body.may is None else frozenset(body.may)
    stock, left_out = narrowed(document, parts, visit.kinds, may, AT_ONCE)
    weights_first = followed("tuning_order", choices.made(connection())).key == "weights"
    order: TuningOrder = "weights" if weights_first else "spring"
    on: str | Ingredients | None = visit.ground.text if visit.ground else None
    runs = visit.calibration.document.runs if visit.calibration else []
    if body.measured:
        found = ingredients(connection(), visit.machine_id, document)
        on, runs = (found if found[1] else on), found[1]
    asked = "\n".join([write_setup(document), repr(stock), order, repr(on)])
    key = sha256(asked.encode()).hexdigest()
    asked_now = Search(document, parts, order, left_out, body.measured, known_from(runs))
    search = _room().ask((hand(), path.visit_id), key, asked_now, _worked_out(stock, on))
    search.ended.wait(FIRST_WAIT_S)
    return answer(_view(key, search, visit))


@api.get("/<search>", responses={"200": PlanSearchView})
def progress(path: SearchPath) -> Response:
    search = _found(path.search)
    search.ended.wait(FIRST_WAIT_S)
    return answer(_view(path.search, search, visits.get(connection(), path.visit_id)))


@api.post("/<search>/cancel", responses={"200": PlanSearchView})
def cancel(path: SearchPath, body: Request) -> Response:
    """Give a search up; one that is done stays done, as does one another hand waits for."""
    search = _found(path.search)
    _room().give_up((hand(), path.visit_id), path.search)
    return answer(_view(path.search, search, visits.get(connection(), path.visit_id)))


@api.post("/<search>/answers/<int:number>/take")
def take(path: AnswerPath, body: Taking) -> Response:
    """Put an answer on the bench, its odds kept with what is recorded of it; of a search on every run so far, the
    visit's predictions stand on them from now on."""
    search = _found(path.search)
    if search.found is None or path.number >= len(search.found.answers):
        raise NotFound("answer: ask again")
    target = search.document.target
    assert target is not None  # a visit always has one
    found = search.found.answers[path.number]
    shown = _answer(search.document, search.parts, found)
    taken = AnswerTaken(
        probability=found.probability,
        engagement_window=(target.engagement_rpm, target.engagement_tolerance_rpm),
        shift_window=(target.shift_rpm, target.shift_tolerance_rpm),
        engagement_rpm=found.engagement_rpm, engagement_sd_rpm=found.engagement_sd_rpm,
        shift_rpm=found.shift_mean_rpm, shift_sd_rpm=found.shift_sd_rpm, known_from=search.known_from,
    )  # fmt: skip
    fills = [Fill(each.slot, each.part, each.numbers) for each in shown.fills]
    once(lambda: open_answer(connection(), path.visit_id, fills, body.draft, taken, hand(), calibrated=search.measured))
    return visit_answer(path.visit_id)


def _found(key: str) -> Search:
    search = _room().get(key)
    if search is None:
        raise NotFound("search: ask again")
    return search


def _view(key: str, search: Search, visit: Visit) -> PlanSearchView:
    found = search.found
    document = search.document
    keys = [slot.key for slot in slots(document, visit.kinds)]
    names = slot_names(document, keys)
    return PlanSearchView(
        search=key,
        state=search.state,
        share=1.0 if found else round(search.share, 3),
        slots=[MaySlot(slot=each, name=names[each]) for each in keys],
        order=search.order,
        combinations=found.combinations if found else 0,
        parts=len(search.parts),
        left_out=list(slot_names(document, search.left_out).values()),
        answers=[_answer(document, search.parts, each) for each in found.answers] if found else [],
        reach=[
            ReachLine(
                words=", ".join(_value(document, each) for each in line.values),
                engagement_rpm=line.engagement_rpm,
                shift_rpm=line.shift_mean_rpm,
            )
            for line in (found.reach[:3] if found else [])
        ],
        refused=Refusal(field=search.refused.field, reason=search.refused.reason) if search.refused else None,
        known_from=search.known_from,
        probability=found.probability if found else None,
        next=next(
            (
                place
                for place, each in enumerate(found.answers)
                if len(each.changes) == 1 and each.probability >= WORTH_A_TRY
            ),
            None,
        )
        if found
        else None,
    )


def _value(document: SetupDocument, value: object) -> str:
    slot, unit = getattr(value, "slot", ""), getattr(value, "unit", "")
    now, needed = getattr(value, "now", 0.0), getattr(value, "needed", 0.0)
    name = slot_names(document, [slot])[slot]
    end = {"force_start_n": " start", "force_finish_n": " finish"}.get(getattr(value, "field", "").rsplit(".")[-1], "")
    return f"{name}{end} {q(now, unit)} → {q(needed, unit)}"


def _answer(document: SetupDocument, parts: list[StockPart], found: Answer) -> AnswerView:
    names = slot_names(document, [each.slot for each in found.changes])
    kit = next((each for each in parts if found.kit and each.number == found.kit), None)
    fills = []
    for each in found.changes:
        part = part_named(document, parts, each.slot, each.part, each.numbers)
        numbers = {k: v for k, v in each.numbers.items() if part is None or k.startswith("load_pieces.")}
        fills.append(FillView(slot=each.slot, part=part.id if part else None, numbers=numbers))
    return AnswerView(
        kit=found.kit,
        changes=[
            AnswerChange(
                slot=each.slot, name=names[each.slot], was=each.from_, becomes=each.to, part=each.part,
                engagement_rpm=each.engagement_rpm, shift_rpm=each.shift_mean_rpm,
            )
            for each in found.changes
        ],
        fills=[FillView(slot="kit", part=kit.id, numbers={})] if kit else fills,
        engagement_rpm=found.engagement_rpm, engagement_sd_rpm=found.engagement_sd_rpm,
        shift_rpm=found.shift_mean_rpm, shift_sd_rpm=found.shift_sd_rpm, spread_rpm=found.spread_rpm,
        full_shift_rpm=found.full_shift_rpm, least_grip=found.least_grip, probability=found.probability,
        inside=found.inside, teardown=found.teardown, price=found.price, minutes=found.minutes,
        why=found.why, for_rider=found.for_rider, behind=found.behind,
    )  # fmt: skip
