"""The bench guide: kinds as they are known, a search over all of it, limits of the workshop's own, and its schools."""

from typing import Annotated

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from jaxel.core.errors import InvalidValue
from jaxel.core.trade import guide as known
from jaxel.core.trade.belt_look import FAILURES, mark_kinds
from jaxel.core.trade.diagnosis import symptoms
from jaxel.core.trade.guide import Found
from jaxel.core.trade.kind_file import KindFile
from jaxel.core.trade.kinds import kinds
from jaxel.core.trade.schools import OpenQuestion, questions
from jaxel.store import choices, item_limits
from jaxel.store.db import NotFound
from jaxel.store.item_limits import ItemLimit
from jaxel.store.limits import LimitOrigin

from .answers import answer
from .database import connection
from .errors import READ_REFUSALS, REFUSALS
from .fields import Changed, Id, Reading, Request, hand, once

api = APIBlueprint("guide", __name__, url_prefix="/api/guide")


class GuideKind(BaseModel):
    key: str
    name: str
    side: str
    looks: str


class Option(BaseModel):
    """Something a hand picks, by its key."""

    key: str
    name: str


class WordsView(BaseModel):
    """What a hand picks from: marks of a belt, ways a belt fails, symptoms of a complaint."""

    marks: list[Option]
    failures: list[Option]
    symptoms: list[Option]


class SchoolsView(BaseModel):
    """A question on which practitioners differ, with the school the workshop follows."""

    question: OpenQuestion
    followed: str


class GuideView(BaseModel):
    kinds: list[GuideKind]
    questions: list[SchoolsView]


class KindView(BaseModel):
    """All that is known of a kind, with the workshop's own limits of it."""

    key: str
    guide: KindFile
    hazards: dict[str, str]
    limits: list[ItemLimit]
    schools: list[SchoolsView]


class KindPath(BaseModel):
    kind: Annotated[str, Field(max_length=60)]


class Words(BaseModel):
    find: Annotated[str, Field(max_length=80)] = ""


class FoundView(BaseModel):
    found: list[Found]


class NewItemLimit(Request):
    """A limit from the workshop's own manual: of a kind, or of one machine."""

    item: Annotated[str, Field(max_length=40)]
    value: Reading
    origin: LimitOrigin
    machine_id: Id | None = None


class KindLimitPath(BaseModel):
    kind: Annotated[str, Field(max_length=60)]
    limit_id: Id


class SchoolChoice(Changed[Annotated[str, Field(max_length=40)]]):
    question: Annotated[str, Field(max_length=40)]


@api.get("", responses={"200": GuideView, **READ_REFUSALS})
def guide() -> Response:
    return _guide()


@api.get("/words", responses={"200": WordsView, **READ_REFUSALS})
def words() -> Response:
    return answer(
        WordsView(
            marks=[Option(key=each.key, name=each.name) for each in mark_kinds().values()],
            failures=[Option(key=key, name=name) for key, name in FAILURES.items()],
            symptoms=[Option(key=each.key, name=each.name) for each in symptoms()],
        )
    )


@api.get("/find", responses={"200": FoundView, **READ_REFUSALS})
def find(query: Words) -> Response:
    return answer(FoundView(found=known.search(query.find)))


@api.patch("/school", responses={"200": GuideView, **REFUSALS})
def school(body: SchoolChoice) -> Response:
    """Follow a school from now on."""
    choices.choose(connection(), body.question, body.edit(), hand())
    return _guide()


@api.get("/kinds/<string:kind>", responses={"200": KindView, **READ_REFUSALS})
def kind_page(path: KindPath) -> Response:
    return _kind(path.kind)


@api.post("/kinds/<string:kind>/limits", responses={"201": KindView, **REFUSALS})
def state_limit(path: KindPath, body: NewItemLimit) -> tuple[Response, int]:
    if body.value is None:
        raise InvalidValue("value", "is missing")
    value = body.value
    once(
        lambda: item_limits.state(
            connection(), path.kind, body.item, value, body.origin, hand(), machine_id=body.machine_id
        )
    )
    return _kind(path.kind), 201


@api.post("/kinds/<string:kind>/limits/<int:limit_id>/withdraw", responses={"200": KindView, **REFUSALS})
def withdraw_limit(path: KindLimitPath, body: Request) -> Response:
    once(lambda: item_limits.withdraw(connection(), path.limit_id, hand()))
    return _kind(path.kind)


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


def _kind(key: str) -> Response:
    found = kinds().get(key)
    if found is None:
        raise NotFound("kind of clutch")
    stated = item_limits.Stated(connection()).all_stated(key)
    differs = {each.school for each in found.guide.differs}
    schools = [each for each in _schools() if each.question.key in differs]
    return answer(KindView(key=key, guide=found.guide, hazards=known.HAZARDS, limits=stated, schools=schools))
