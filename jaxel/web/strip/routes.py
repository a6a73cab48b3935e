"""Strip & inspect: how far it is opened, marks, what was found of each item, what to order, where a groove is felt."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.tables import ORDER, written
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.kinds.kinds import Side
from jaxel.core.trade.strip.inspection import ItemLook
from jaxel.core.trade.strip.outcome import Outcome
from jaxel.core.trade.strip.rings import Felt, felt
from jaxel.core.trade.strip.strip import Strip
from jaxel.store.db import reading
from jaxel.store.strip import outcomes
from jaxel.store.strip import strip as store
from jaxel.store.visit import visits

from ..belt.view import assessed
from ..database import connection
from ..record.answer import answer, download, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Changes, Id, VisitPath, hand, once
from ..record.fields import Reading as TypedReading
from ..record.model import Model, Request
from .view import strip_view

api = Blueprint("strip", "/api/visits/<int:visit_id>/strip")

Key = Annotated[str, Field(max_length=40)]
Words = Annotated[str, Field(max_length=500)]


class StripChanges(Changes, of=Strip):
    """What a hand writes of it."""


class MarkedPart(Changed[bool]):
    """Whether a part, `side.part`, was marked before it was separated."""

    part: Annotated[str, Field(max_length=60)]


class JobChosen(Changed[bool]):
    """Whether a job, `side.procedure`, is done at this visit."""

    job: Annotated[str, Field(max_length=60)]


class PartOff(Changed[bool]):
    """Whether a part, `side.part`, is off so far."""

    part: Annotated[str, Field(max_length=60)]


class VariantAnswer(Changed[Annotated[str, Field(max_length=40)]]):
    """How a clutch is made: the answer to a question of its kind, empty for not looked at."""

    side: Side
    variant: Key


class CameTo(Request):
    """Whether a cause that is ranked was the cause; left out, nobody says any more."""

    cause: Key
    outcome: Outcome | None = None


class ItemPath(Model):
    visit_id: Id
    side: Side
    item: Key


class LookChanges(Changes, of=ItemLook):
    """What a hand writes of it."""


class PlaceReading(Changed[TypedReading]):
    """A reading of an item at one of its places, from 0."""

    place: Annotated[int, Field(ge=0, le=23)]


class RingScore(Changed[Annotated[int, Field(ge=0, le=3)] | None]):
    """The score of one ring of a face, from the hub."""

    place: Annotated[int, Field(ge=0, le=4)]


class SidePath(Model):
    visit_id: Id
    side: Side


class FeltView(Model):
    """Where on the road a groove of each ring is felt, by clutch."""

    primary: list[Felt]
    secondary: list[Felt]


class RestSaid(Request):
    """What is said of everything else of a clutch."""

    looked: store.Rest = "not reached"


@api.patch("")
def strip(path: VisitPath, body: StripChanges) -> Response:
    store.change(connection(), path.visit_id, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.patch("/marked")
def marked(path: VisitPath, body: MarkedPart) -> Response:
    store.mark(connection(), path.visit_id, body.part, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("/job")
def job(path: VisitPath, body: JobChosen) -> Response:
    """Choose a whole job, or leave it: the parts it opens and the items it looks at follow."""
    store.choose(connection(), path.visit_id, body.job, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("/off")
def off(path: VisitPath, body: PartOff) -> Response:
    store.take_off(connection(), path.visit_id, body.part, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("/variants")
def variant(path: VisitPath, body: VariantAnswer) -> Response:
    store.answer(connection(), path.visit_id, body.side, body.variant, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.patch("/items/<string:side>/<string:item>")
def look(path: ItemPath, body: LookChanges) -> Response:
    """What was found of an item."""
    store.look(connection(), path.visit_id, path.side, path.item, body.edits(), hand())
    return visit_answer(path.visit_id)


@api.put("/items/<string:side>/<string:item>/reading")
def item_reading(path: ItemPath, body: PlaceReading) -> Response:
    store.read(connection(), path.visit_id, path.side, path.item, "readings", body.place, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.put("/items/<string:side>/<string:item>/ring")
def ring(path: ItemPath, body: RingScore) -> Response:
    store.read(connection(), path.visit_id, path.side, path.item, "rings", body.place, body.edit(), hand())
    return visit_answer(path.visit_id)


@api.post("/items/<string:side>/<string:item>/take")
def take(path: ItemPath, body: Request) -> Response:
    """What was read of an item becomes the set-up's number, known as measured."""
    once(lambda: store.take_reading(connection(), path.visit_id, path.side, path.item, hand()))
    return visit_answer(path.visit_id)


@api.post("/clutches/<string:side>/rest")
def rest(path: SidePath, body: RestSaid) -> Response:
    """Everything of a clutch that nothing was said of was not reached, or was looked over and nothing seen."""
    once(lambda: store.rest(connection(), path.visit_id, path.side, body.looked, hand()))
    return visit_answer(path.visit_id)


@api.get("/felt", responses={"200": FeltView})
def where_felt(path: VisitPath) -> Response:
    """At which ratio and road speed each ring of the faces is felt, of the set-up as found."""
    with in_document_terms():
        run = predict(visits.get(connection(), path.visit_id).as_found().core())
    return answer(FeltView(primary=felt(run, "primary"), secondary=felt(run, "secondary")))


@api.get("/parts.csv", responses={"200": None})
def parts_csv(path: VisitPath) -> Response:
    """What to order, in pieces and packs."""
    with reading(connection()):
        visit = visits.get(connection(), path.visit_id)
        lines = strip_view(connection(), visit, assessed(visit)).parts
    rows = (
        (each.kind, each.number, each.make, each.pieces, each.pack or None, each.packs,
         None if each.price is None else f"{each.price:.2f}", each.superseded_by, each.supplier_note)
        for each in lines
    )  # fmt: skip
    return download(written(ORDER, list(ORDER.columns), rows), "text/csv", f"parts-visit-{path.visit_id}.csv")


@api.post("/outcome")
def outcome(path: VisitPath, body: CameTo) -> Response:
    """Say of a ranked cause whether it was the cause."""
    visit = visits.get(connection(), path.visit_id)
    with reading(connection()):
        ranked = [each.key for each in strip_view(connection(), visit, assessed(visit)).causes]
    if body.cause not in ranked:
        raise InvalidValue("cause", "is not ranked here")
    rank = ranked.index(body.cause) + 1
    once(lambda: outcomes.say(connection(), path.visit_id, body.cause, rank, body.outcome, hand()))
    return visit_answer(path.visit_id)
