"""Whole jobs as the strip shows them: how far each has come, and what is laid out for it."""

import sqlite3

from jaxel.core.trade.kinds.kinds import Side
from jaxel.core.trade.strip.procedure import jobs
from jaxel.store.shelf import parts
from jaxel.store.visit.visits import Visit

from ..record.model import Model


class PartOfJob(Model):
    """A part that comes off for a job, `side.part`, in tear-down order; `off`, whether it is by now."""

    place: str
    name: str
    off: bool


class LaidOut(Model):
    """Parts a job may need, and how many are in the parts room, None where nobody counted them."""

    kind: str
    pieces: int
    here: int | None


class JobView(Model):
    """A whole job on one clutch; `tools` and `may_need` of one that is chosen are laid out before it is begun."""

    key: str
    side: Side
    name: str
    text: str
    chosen: bool
    parts: list[PartOfJob]
    looks: list[str]
    tools: list[str]
    may_need: list[LaidOut]


def jobs_view(connection: sqlite3.Connection, visit: Visit) -> list[JobView]:
    strip = visit.inspection.strip
    here: dict[str, int] = {}
    if strip.jobs:
        for part in parts.all_parts(connection):
            if part.pieces is not None:
                here[part.kind] = here.get(part.kind, 0) + part.pieces
    return [
        JobView(
            key=each.key,
            side=each.side,
            name=each.procedure.name,
            text=each.procedure.text,
            chosen=each.key in strip.jobs,
            parts=[
                PartOfJob(place=place, name=part.name, off=place in strip.off)
                for part in each.parts
                if (place := f"{each.side}.{part.key}")
            ],
            looks=[item.name for item in each.items],
            tools=each.tools,
            may_need=[LaidOut(kind=need.kind, pieces=need.pieces, here=here.get(need.kind)) for need in each.may_need],
        )
        for each in jobs(visit.kinds)
    ]
