"""What sources say of a fastener's tightness, and the one the workshop goes by on a machine where they conflict."""

import sqlite3
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kind_file import Fastener, Tightness
from jaxel.core.trade.kinds.kinds import Kinds, clutches, kinds
from jaxel.core.trade.rebuild.tightening import Stated, Tightened, ask_about, stated
from jaxel.core.trade.record.facts import Fact, OnMachine, Origin, by_rank
from jaxel.core.trade.record.said import check_value

from ..db import NotFound, writing
from ..edits import DEFAULT_HAND, check_hand
from ..machine import machines
from ..record import facts

Place = tuple[str, str]
"""A kind of clutch, and a fastener of it."""


@dataclass(frozen=True)
class Torques:
    """What is said of a machine's fasteners, by kind and fastener, and the statement chosen for it."""

    statements: Mapping[Place, list[Stated]] = field(default_factory=dict)
    chosen: Mapping[Place, int] = field(default_factory=dict)


def of_machine(connection: sqlite3.Connection, machine_id: int, on: Kinds) -> Torques:
    """What is said of the fasteners of a machine of these kinds, its own statements first, in two queries."""
    said: dict[Place, list[Fact]] = defaultdict(list)
    keys = {kind.key for _, kind in clutches(on)}
    for each in facts.standing(connection, "torque"):
        if each.kind in keys:
            said[each.kind, each.name].append(each)
    here = facts.on_machine(connection, machine_id)
    told = {
        place: [stated(each, here, facts.touches(connection, each)) for each in _in_sight(by_rank(held, here), here)]
        for place, held in said.items()
    }
    return Torques(told, facts.chosen(connection, machine_id))


MOST_OFFERED = 3


def _in_sight(ranked: list[Fact], here: OnMachine) -> list[Fact]:
    """What holds here, and of what was stated elsewhere a few: the best of it is enough of an offer."""
    own = [each for each in ranked if each.of(here)]
    return own + [each for each in ranked if not each.of(here)][:MOST_OFFERED]


def state(
    connection: sqlite3.Connection, kind: str, fastener: str, tightness: Tightness, torque_nm: float | None,
    origin: Origin, by: str = DEFAULT_HAND, *, machine_id: int | None = None, sure: bool = False, model: str = "",
    manual: str = "",
) -> int:  # fmt: skip
    """Enter what a source says of a fastener of a machine, or of every one of a make and model; returns its id.

    Raises NotFound; InvalidValue naming the field; Implausible for a torque [N·m] such a fastener hardly takes.
    """
    check_hand(by)
    known = fastener_of(kind, fastener)
    if tightness not in get_args(Tightness):
        raise InvalidValue("tightness", f"is one of: {', '.join(get_args(Tightness))}")
    if (tightness == "torque") != (torque_nm is not None):
        raise InvalidValue("torque", "is given where the tightness is a torque, and only there")
    if torque_nm is not None:
        check_value(Tightened, "torque_nm", torque_nm, "torque")
        if not sure:
            ask_about("torque", known, torque_nm)
    with writing(connection):
        if machine_id is not None:
            on = machines.get(connection, machine_id).kinds
            if kind not in {each.key for _, each in clutches(on)}:
                raise InvalidValue("kind", "is no clutch of this machine")
        return facts.state(
            connection, "torque", fastener, torque_nm, origin, by, kind=kind, machine_id=machine_id,
            tightness=tightness, model=model, manual=manual,
        )  # fmt: skip


def withdraw(connection: sqlite3.Connection, machine_id: int, stated_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a statement that holds of a machine, or of nobody knows whose, out of force; it stays on record.

    Raises NotFound for one that is not in force there: another machine's is withdrawn at that machine.
    """
    with writing(connection):
        held, here = facts.standing(connection, "torque"), facts.on_machine(connection, machine_id)
        if not any(each.id == stated_id and stated(each, here).ours for each in held):
            raise NotFound("torque of this machine")
        facts.withdraw(connection, "torque", stated_id, by)


def choose(connection: sqlite3.Connection, machine_id: int, stated_id: int, by: str = DEFAULT_HAND) -> None:
    """Go by one of a machine's own statements from now on.

    Raises NotFound for one that is not in force there: what was stated elsewhere is stated here first, by its source.
    """
    check_hand(by)
    with writing(connection):
        here = facts.on_machine(connection, machine_id)
        own = (each for each in facts.standing(connection, "torque") if each.of(here))
        found = next((each for each in own if each.id == stated_id), None)
        if found is None:
            raise NotFound("torque of this machine")
        facts.choose(connection, machine_id, found, by)


def fastener_of(kind: str, fastener: str) -> Fastener:
    """A fastener of a kind; raises InvalidValue (field `fastener`) for one there is not."""
    known = kinds().get(kind)
    found = next((each for each in known.guide.fastener if each.key == fastener), None) if known else None
    if found is None:
        raise InvalidValue("fastener", "is no fastener of this clutch")
    return found
