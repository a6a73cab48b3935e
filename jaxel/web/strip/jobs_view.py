"""Whole jobs as the strip shows them: how far each has come, and what is laid out for it."""

import sqlite3

from jaxel.core.trade.kinds.kinds import Side
from jaxel.core.trade.strip.procedure import chosen, jobs, laid_out
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
    """A whole job on one clutch, and whether it is done at this visit: of one that is, its parts."""

    key: str
    side: Side
    name: str
    text: str
    chosen: bool
    parts: list[PartOfJob]


class LayOutView(Model):
    """What is laid out for all the jobs chosen, each thing once."""

    tools: list[str]
    may_need: list[LaidOut]


def jobs_view(visit: Visit) -> list[JobView]:
    strip = visit.inspection.strip
    return [
        JobView(
            key=each.key,
            side=each.side,
            name=each.procedure.name,
            text=each.procedure.text,
            chosen=each.key in strip.jobs,
            parts=[
                PartOfJob(place=place, name=part.name, off=place in strip.off)
                for part in (each.parts if each.key in strip.jobs else ())
                if (place := f"{each.side}.{part.key}")
            ],
        )
        for each in jobs(visit.kinds)
    ]


def lay_out_view(connection: sqlite3.Connection, visit: Visit) -> LayOutView | None:
    """What the jobs chosen want laid out, with what the parts room has of it; None where none is chosen."""
    some = list(chosen(visit.inspection.strip.jobs, visit.kinds))
    if not some:
        return None
    here: dict[str, int] = {}
    for part in parts.all_parts(connection):
        if part.pieces is not None:
            here[part.kind] = here.get(part.kind, 0) + part.pieces
    tools, needs = laid_out(some)
    return LayOutView(
        tools=tools, may_need=[LaidOut(kind=each.kind, pieces=each.pieces, here=here.get(each.kind)) for each in needs]
    )
