"""The workshop's log: who changed what outside a visit, a page at a time, and whole as a table to keep."""

import json
import re
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from flask import Response
from pydantic import Field

from jaxel.core.formats.tables import LOG, written
from jaxel.core.trade.kinds.kinds import kinds
from jaxel.core.trade.record.wording import value_in_words
from jaxel.store import workshop_log as store
from jaxel.store.db import reading
from jaxel.store.workshop_log import WHOLE_ROW, LogLine

from ..database import connection
from ..record.answer import answer, download
from ..record.blueprint import Blueprint
from ..record.fields import Id
from ..record.model import Model, Request

api = Blueprint("workshop_log", "/api/workshop")

Sort = Literal[
    "part", "tool", "wrench", "photo", "person", "workshop", "stamp", "school", "limit", "torque source", "machine",
    "belt", "bench", "logger",
]  # fmt: skip

UNITS = {"km": "km", "h": "h", "mm": "mm", "g": "g", "nm": "N·m"}
"""The unit a field's number is in, by the end of its name."""

MOST_EXPORTED = 1_000_000


class LogWanted(Request):
    """Which lines: of a sort of thing, by a hand, of what is called with a word; from a line on, to older ones."""

    of: Sort | None = None
    by: Annotated[str, Field(max_length=120)] = ""
    find: Annotated[str, Field(max_length=120)] = ""
    before: Id | None = None
    limit: Annotated[int, Field(ge=1, le=500)] = 100


class LogLineView(Model):
    """A line in words: when and by whom, the sort of thing and what it was called, the field, was and now."""

    id: int
    at: str
    by: str
    of: str
    name: str
    field: str
    was: str
    now: str


class WorkshopLogView(Model):
    """Lines, the newest first; `older`, whether there are more; `hands`, everybody who ever wrote in it."""

    lines: list[LogLineView]
    older: bool
    hands: list[str]


@api.get("/log", responses={"200": WorkshopLogView})
def log(query: LogWanted) -> Response:
    """What was changed outside visits, the newest first."""
    with reading(connection()):
        found = store.lines(
            connection(), place=query.of, by=query.by or None, word=query.find, before=query.before,
            limit=query.limit + 1,
        )  # fmt: skip
        hands = store.hands(connection())
    shown = [_view(each) for each in found[: query.limit]]
    return answer(WorkshopLogView(lines=shown, older=len(found) > len(shown), hands=hands))


@api.get("/log.csv", responses={"200": {"content": {"text/csv": {}}}})
def table(query: LogWanted) -> Response:
    """The same lines as a table, all of them, in the order they were written and as they are kept."""
    found = store.lines(
        connection(), place=query.of, by=query.by or None, word=query.find, before=query.before, limit=MOST_EXPORTED
    )
    rows = (
        (each.id, each.at, each.by, each.place, each.name, each.field, _kept(each.was), _kept(each.now))
        for each in reversed(found)
    )
    return download(written(LOG, list(LOG.columns), rows), "text/csv", "workshop-log.csv")


def _kept(value: Any) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False)


def _view(line: LogLine) -> LogLineView:
    whole = "added" if line.was is None else "taken away"
    return LogLineView(
        id=line.id,
        at=line.at,
        by=line.by,
        of="" if line.place == "limit" else line.place,  # its name says whether it is a limit, an item or a torque
        name=_name_of(line.name),
        field=whole if line.field == WHOLE_ROW else _name(line.field),
        was=_words(line.field, line.was),
        now=_words(line.field, line.now),
    )


def _name_of(called: str) -> str:
    """What something is called, a limit without the unit its key ends in."""
    return re.sub(rf"_({'|'.join(UNITS)})\b", "", called).replace("_", " ")


def _name(field: str) -> str:
    """What a field is called: without the unit its name ends in."""
    name, _, end = field.rpartition("_")
    return (name if end in UNITS and name else field).replace("_", " ")


SWITCHES = frozenset({"archived", "owned", "removed", "retired", "withdrawn"})


def _words(field: str, value: Any, unit: str | None = None) -> str:
    """A value as a hand reads it: with its unit, a list one by one, a whole row field by field."""
    if isinstance(value, dict):
        return _row(value)
    if isinstance(value, list):
        return ", ".join(_words(field, each, unit) for each in value)
    if isinstance(value, str):
        known = kinds().get(value) if field.endswith(("kind", "fits")) else None
        return known.name if known else _words(field, json.loads(value)) if field in KEPT_AS_JSON and value else value
    if field in SWITCHES and value is not None:
        return "yes" if value else "no"
    return value_in_words(value, UNITS.get(field.rpartition("_")[2], "") if unit is None else unit)


def _row(row: Mapping[str, Any]) -> str:
    """A whole row: what it is called stands beside it, and what is not so needs no word."""
    unit = STATED_IN.get(str(row.get("what")))
    told = ((key, _words(key, each, unit if key == "value" else None)) for key, each in row.items()
            if key not in CALLED and each not in (0, "", None, "[]", "{}"))  # fmt: skip
    return "; ".join(f"{_name(key)} {said}" if key not in SWITCHES else _name(key) for key, said in told if said)


CALLED = frozenset({"name", "number", "what"})
STATED_IN = {"torque": "N·m", "item": "mm", "limit": "mm"}
"""What the value of a stated limit is in."""

KEPT_AS_JSON = frozenset({"spec", "marks", "units", "document"})
