"""The bench guide: kinds as they are known, a search over all of it, limits of the workshop's own, and its schools."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.belt.look import FAILURES, SEARCHES, answers_to, mark_kinds
from jaxel.core.trade.kinds import guide as known
from jaxel.core.trade.kinds.glossary import Term, glossary
from jaxel.core.trade.kinds.guide import Found
from jaxel.core.trade.kinds.kind_file import KindFile, PartsNeeded
from jaxel.core.trade.kinds.kinds import Side, kinds
from jaxel.core.trade.kinds.schools import OpenQuestion, questions
from jaxel.core.trade.record.facts import NOT_RECORDED, Fact, Origin
from jaxel.core.trade.strip.diagnosis import complaint_lines, symptoms
from jaxel.core.trade.strip.procedure import Job
from jaxel.store.db import NotFound
from jaxel.store.kinds import choices
from jaxel.store.machine import machines
from jaxel.store.rebuild import bench_records
from jaxel.store.record import facts
from jaxel.store.strip import item_limits

from ..database import connection
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Id, Reading, hand, once
from ..record.model import Model, Request

api = Blueprint("guide", "/api/guide")


class GuideKind(Model):
    key: str
    name: str
    side: str
    looks: str


class Option(Model):
    """Something a hand picks, by its key."""

    key: str
    name: str


class WordsView(Model):
    """What a hand picks from: marks of a belt, ways a belt fails, what may be said of each search after that, symptoms
    of a complaint."""

    marks: list[Option]
    searched: dict[str, dict[str, str]]
    failures: list[Option]
    symptoms: list[Option]


class SchoolsView(Model):
    """A question on which practitioners differ, with the school the workshop follows."""

    question: OpenQuestion
    followed: str


class GuideView(Model):
    kinds: list[GuideKind]
    questions: list[SchoolsView]


class KindLimitView(Model):
    """A limit somebody stated: whose it is, in words, and of how many machines it holds."""

    id: int
    name: str
    value: float
    whose: str
    stated_by: str
    touches: int


class SizeOf(Model):
    """What a fastener of one machine is turned with, as far as anybody typed it."""

    fastener: str
    size: str
    thread: str


class JobPage(Model):
    """A whole job as its page prints it: parts by key in tear-down order, what is laid out, and what it may need."""

    key: str
    name: str
    text: str
    parts: list[str]
    looks: list[str]
    tools: list[str]
    may_need: list[PartsNeeded]


class KindView(Model):
    """All that is known of a kind, with the limits stated of machines that have it; opened from a machine, its name and
    the `sizes` of its fasteners."""

    key: str
    guide: KindFile
    jobs: list[JobPage]
    machine: str
    sizes: list[SizeOf]
    hazards: dict[str, str]
    limits: list[KindLimitView]
    schools: list[SchoolsView]


class KindPath(Model):
    kind: Annotated[str, Field(max_length=60)]


class AsFitted(Model):
    """How one clutch of a kind is made: `fitted`, answers as `question=answer`, commas between, left out for all.

    What is not answered is as its kind assumes. `machine_id`, the machine it is on: what was seen of it, and the sizes
    of its fasteners, are that machine's; `bare`, without the bolt that held it there.
    """

    fitted: Annotated[str, Field(max_length=600)] | None = None
    machine_id: Id | None = None
    bare: bool = False

    def answers(self) -> dict[str, str]:
        """The answers by question."""
        pairs = (each.partition("=") for each in (self.fitted or "").split(","))
        return {variant: answer for variant, _, answer in pairs}


class Words(Model):
    find: Annotated[str, Field(max_length=80)] = ""


class FoundView(Model):
    found: list[Found]


class GlossaryView(Model):
    terms: list[Term]


class NewItemLimit(Request):
    """A limit from a manual: of one machine, or of every one of a make and model, by the manual that says so."""

    item: Annotated[str, Field(max_length=40)]
    value: Reading
    origin: Origin
    machine_id: Id | None = None
    model: Annotated[str, Field(max_length=120)] = ""
    manual: Annotated[str, Field(max_length=120)] = ""


class KindLimitPath(Model):
    kind: Annotated[str, Field(max_length=60)]
    limit_id: Id


class SchoolChoice(Changed[Annotated[str, Field(max_length=40)]]):
    question: Annotated[str, Field(max_length=40)]


@api.get("", responses={"200": GuideView})
def guide() -> Response:
    return _guide()


@api.get("/words", responses={"200": WordsView})
def words() -> Response:
    return answer(
        WordsView(
            marks=[Option(key=each.key, name=each.name) for each in mark_kinds().values()],
            searched={key: dict(answers_to(key)) for key in SEARCHES},
            failures=[Option(key=key, name=name) for key, name in FAILURES.items()],
            symptoms=[Option(key=each.key, name=each.name) for each in symptoms()],
        )
    )


@api.get("/find", responses={"200": FoundView})
def find(query: Words) -> Response:
    complaints = [
        Found("", "", "Complaint", name, text, "common practice; how strongly from memory")
        for name, text in complaint_lines()
    ]
    return answer(FoundView(found=known.search(query.find, complaints)))


@api.get("/glossary", responses={"200": GlossaryView})
def terms() -> Response:
    """What the words on screen mean."""
    return answer(GlossaryView(terms=list(glossary().values())))


@api.patch("/school", responses={"200": GuideView})
def school(body: SchoolChoice) -> Response:
    """Follow a school from now on."""
    choices.choose(connection(), body.question, body.edit(), hand())
    return _guide()


@api.get("/kinds/<string:kind>", responses={"200": KindView})
def kind_page(path: KindPath, query: AsFitted) -> Response:
    """All that is known of a kind, or of one clutch of it."""
    return _kind(path.kind, None if query.fitted is None else query.answers(), query.machine_id, bare=query.bare)


@api.post("/kinds/<string:kind>/limits", responses={"201": KindView})
def state_limit(path: KindPath, body: NewItemLimit) -> tuple[Response, int]:
    if body.value is None:
        raise InvalidValue("value", "is missing")
    value = body.value
    once(
        lambda: item_limits.state(
            connection(),
            path.kind,
            body.item,
            value,
            body.origin,
            hand(),
            machine_id=body.machine_id,
            model=body.model,
            manual=body.manual,
        )
    )
    return _kind(path.kind), 201


@api.post("/kinds/<string:kind>/limits/<int:limit_id>/withdraw", responses={"200": KindView})
def withdraw_limit(path: KindLimitPath, body: Request) -> Response:
    once(lambda: item_limits.withdraw(connection(), path.limit_id, hand()))
    return _kind(path.kind)


def _limit(fact: Fact) -> KindLimitView:
    if fact.model:
        whose = f"every {fact.model}: {fact.manual}"
    else:
        whose = NOT_RECORDED if fact.machine_id is None else f"{fact.machine_name}, its {fact.origin}"
    return KindLimitView(
        id=fact.id, name=fact.name, value=fact.value or 0.0, whose=whose, stated_by=fact.stated_by,
        touches=facts.touches(connection(), fact),
    )  # fmt: skip


def _schools() -> list[SchoolsView]:
    made = choices.made(connection())
    return [SchoolsView(question=each, followed=made.get(key, each.default)) for key, each in questions().items()]


def _guide() -> Response:
    return answer(
        GuideView(
            kinds=[
                GuideKind(key=kind.key, name=kind.name, side=kind.side, looks=kind.guide.looks)
                for kind in kinds().values()
            ],
            questions=_schools(),
        )
    )


def _kind(
    key: str, answers: dict[str, str] | None = None, machine_id: int | None = None, *, bare: bool = False
) -> Response:
    found = kinds().get(key)
    if found is None:
        raise NotFound("kind of clutch")
    machine = None if machine_id is None else machines.get(connection(), machine_id)
    side: Side = "secondary" if found.side == "secondary" else "primary"
    if machine is not None and answers is None:
        answers = machine.kinds.answers(side)
    if answers is not None:
        found = found.as_fitted(answers, bare=bare or (machine is not None and machine.bare))
    sizes = {} if machine is None else bench_records.sizes(connection(), machine.id)
    jobs = [Job(side, found, each) for each in found.guide.procedure]
    stated = [_limit(each) for each in item_limits.Stated(connection()).all_stated(key)]
    differs = {each.school for each in found.guide.differs}
    schools = [each for each in _schools() if each.question.key in differs]
    return answer(
        KindView(
            key=key, guide=found.guide, machine=machine.name if machine else "",
            sizes=[
                SizeOf(fastener=each.key, size=typed.size, thread=typed.thread)
                for each in found.guide.fastener
                if (typed := sizes.get((side, each.key)))
            ],
            jobs=[
                JobPage(
                    key=each.procedure.key, name=each.procedure.name, text=each.procedure.text, tools=each.tools,
                    parts=[part.key for part in each.parts], looks=[item.key for item in each.items],
                    may_need=each.may_need,
                )
                for each in jobs
            ],
            hazards=known.HAZARDS, limits=stated, schools=schools,
        )
    )  # fmt: skip
