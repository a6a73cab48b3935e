"""A rider's word of a set-up: better, worse or no change, and where."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.trade.run.rider_word import Place, RiderWord, Word
from jaxel.store.run import rider_words

from ..database import connection
from ..record.answer import visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Id, VisitPath, hand, once
from ..record.model import Request

api = Blueprint("rider_words", "/api/visits/<int:visit_id>/words")


class WordSaid(Request):
    """What a rider says of a set-up that was ridden: where, and which way, beside the set-up before it."""

    revision_id: Id
    place: Place
    word: Word
    note: Annotated[str, Field(max_length=200)] = ""


class WordPath(VisitPath):
    word_id: Id


@api.post("")
def say(path: VisitPath, body: WordSaid) -> Response:
    """Keep what a rider says of a set-up."""
    said = RiderWord(body.revision_id, body.place, body.word, body.note)
    once(lambda: rider_words.say(connection(), path.visit_id, said, hand()))
    return visit_answer(path.visit_id)


@api.post("/<int:word_id>/remove")
def take_back(path: WordPath, body: Request) -> Response:
    """Take a rider's word back."""
    once(lambda: rider_words.take_back(connection(), path.visit_id, path.word_id, hand()))
    return visit_answer(path.visit_id)
