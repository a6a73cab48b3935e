"""Bringing in: a strange machine from its kind and its readings, a copy of one the workshop knows, a bare clutch."""

import sqlite3
from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.setup.evidence import of_a_like
from jaxel.core.trade.stranger.as_found import read_fault
from jaxel.core.trade.stranger.combination import MINUTES
from jaxel.core.trade.stranger.look import Look, look
from jaxel.core.trade.stranger.packages import Fit, MachineKind, nearest
from jaxel.core.trade.stranger.reading import Typed

from ..db import writing
from ..edits import DEFAULT_HAND, Edit, changing
from ..machine import machines
from ..machine.machines import NO_IDENTITY, Identity
from ..setup import revisions
from ..workshop import stamps
from . import faults

NAME_LIMIT = 120

Opens = Callable[[sqlite3.Connection, int, str], int]
"""What opens a machine's visit."""


@dataclass(frozen=True)
class Stranger:
    """What is known of a machine that comes in: what one sees of it, what the rider says, and the readings typed.

    `machine`, of a bare clutch the one it is usually on, None where nobody knows; `bare`, whether it comes without one;
    `prefer`, which of two readings that contradict each other holds, by path; `sure`, the readings that lie far from
    what is typical and are so; `minutes` there are for looking.
    """

    machine: MachineKind | None
    primary: str | None = None
    secondary: str | None = None
    engine: str | None = None
    bare: bool = False
    name: str = ""
    rider: str = ""
    complaint: str = ""
    readings: Mapping[str, Typed] = field(default_factory=dict)
    prefer: Mapping[str, str] = field(default_factory=dict)
    sure: Collection[str] = ()
    minutes: float = MINUTES
    identity: Identity = NO_IDENTITY

    @property
    def kinds(self) -> Kinds:
        """The kinds of its clutches, as far as anybody looked."""
        return Kinds(self.primary, self.secondary, bare=self.bare)


def look_at(connection: sqlite3.Connection, stranger: Stranger) -> tuple[Fit, Look]:
    """What is known of a strange machine: the package nearest to it, and what its readings make of that.

    Raises InvalidValue for a kind that is none.
    """
    fit = nearest(stranger.machine, stranger.primary, stranger.secondary, stranger.engine)
    known = look(
        fit.package.document,
        stranger.readings,
        prefer=stranger.prefer,
        stamps=stamps.masses(connection),
        sides=stranger.kinds.sides,
        sure=stranger.sure,
        minutes=stranger.minutes,
    )
    return fit, known


def bring_in(connection: sqlite3.Connection, stranger: Stranger, open_visit: Opens, by: str = DEFAULT_HAND) -> int:
    """Enter a strange machine and have its visit opened; returns the visit's id.

    Weights found unequal are a fault of the visit. Raises InvalidValue for a kind that is none, a name that is too
    long, a machine nobody named, and, so that no reading is dropped unseen, for one that settles nothing: refused,
    asked about, half read, or against another.
    """
    if stranger.machine is None and not stranger.bare:
        raise InvalidValue("machine", "say first what stands on the lift")
    if len(stranger.name) > NAME_LIMIT or len(stranger.rider) > NAME_LIMIT:
        raise InvalidValue("name", f"must have at most {NAME_LIMIT} characters")
    with writing(connection):
        _, known = look_at(connection, stranger)
        left = next((line for line in known.lines if line.not_taken), None)
        if left:
            against = "contradicts another reading: say which holds"
            at = left.field or left.reading.fields[0].name
            raise InvalidValue(f"readings.{left.key}.{at}", left.reason or against)
        name = stranger.name.strip() or _named(stranger)
        machine = machines.bring_in(
            connection,
            known.document.model_copy(update={"name": name}),
            "bare clutch" if stranger.bare or stranger.machine is None else stranger.machine,
            stranger.rider,
            "from memory",
            by,
            kinds=stranger.kinds,
            identity=stranger.identity,
        )
        visit = open_visit(connection, machine, by)
        connection.execute("UPDATE intake SET target_typical = 1 WHERE visit_id = ?", (visit,))
        if stranger.complaint.strip():
            with changing(connection, visit, by) as desk:
                desk.write("intake", visit, {"complaint": Edit("", stranger.complaint.strip())})
        if known.unequal:
            typed = " / ".join(f"{mass:g}" for mass in known.unequal)
            fault = read_fault(known.document, "arms-unequal", typed)
            faults.record(connection, visit, fault.kind, typed, "", by)
    return visit


def _named(stranger: Stranger) -> str:
    """A name for what nobody has named: what it is, and what one sees of it."""
    if stranger.bare:
        return f"Clutch {stranger.identity.stamp}".strip() if stranger.identity.stamp else "Bare clutch"
    return ", ".join(filter(None, ((stranger.machine or "").capitalize(), stranger.engine)))


def copy(connection: sqlite3.Connection, machine_id: int, name: str, rider: str, by: str = DEFAULT_HAND) -> int:
    """Enter a machine like one the workshop knows: its set-up on a new belt, its kinds and its limit's origin.

    What was measured on the other is typical of this one. Returns the machine's id. Raises NotFound, InvalidValue.
    """
    if not name.strip():
        raise InvalidValue("name", "needs a name")
    if len(name) > NAME_LIMIT or len(rider) > NAME_LIMIT:
        raise InvalidValue("name", f"must have at most {NAME_LIMIT} characters")
    with writing(connection):
        like = machines.get(connection, machine_id)
        document = revisions.newest(connection, machine_id).document
        document = document.with_belt_width(document.belt.top_width_new_mm)
        changes: dict[str, Any] = {"name": name.strip(), "evidence": of_a_like(document)}
        return machines.bring_in(
            connection, document.model_copy(update=changes), like.kind, rider, "from memory", by, kinds=like.kinds
        )
