"""What sources say of a fastener's tightness, and the one the workshop goes by on a machine where they conflict."""

import sqlite3
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kind_file import Fastener, Tightness
from jaxel.core.trade.kinds import Kinds, kinds
from jaxel.core.trade.strip import clutches
from jaxel.core.trade.tightening import RANK, Origin, Stated, ask_about

from . import machines
from .db import NotFound, inserted, now, writing
from .edits import DEFAULT_HAND, check_hand

Place = tuple[str, str]
"""A kind of clutch, and a fastener of it."""


@dataclass(frozen=True)
class Torques:
    """What is said of a machine's fasteners, by kind and fastener, and the statement chosen for it."""

    statements: Mapping[Place, list[Stated]] = field(default_factory=dict)
    chosen: Mapping[Place, int] = field(default_factory=dict)


def of_machine(connection: sqlite3.Connection, machine_id: int, on: Kinds) -> Torques:
    """What is said of the fasteners of a machine of these kinds, in two queries."""
    said: dict[Place, list[Stated]] = defaultdict(list)
    keys = {kind.key for _, kind in clutches(on)}
    rows = connection.execute(
        "SELECT * FROM torque_stated WHERE withdrawn = 0 AND (machine_id IS NULL OR machine_id = ?) ORDER BY id",
        (machine_id,),
    )
    for row in rows:
        if row["kind"] in keys:
            own = row["machine_id"] is not None
            stated = Stated(row["id"], row["tightness"], row["torque_nm"], row["origin"], row["stated_by"], own)
            said[row["kind"], row["fastener"]].append(stated)
    chosen = connection.execute("SELECT * FROM torque_choice WHERE machine_id = ?", (machine_id,))
    return Torques(dict(said), {(row["kind"], row["fastener"]): row["stated_id"] for row in chosen})


def state(
    connection: sqlite3.Connection, kind: str, fastener: str, tightness: Tightness, torque_nm: float | None,
    origin: Origin, by: str = DEFAULT_HAND, *, machine_id: int | None = None, sure: bool = False,
) -> int:  # fmt: skip
    """Enter what a source says of a fastener, for every clutch of its kind or one machine's; returns its id.

    Raises NotFound; InvalidValue naming the field; Implausible for a torque [N·m] such a fastener hardly takes.
    """
    check_hand(by)
    known = fastener_of(kind, fastener)
    if tightness not in get_args(Tightness):
        raise InvalidValue("tightness", f"is one of: {', '.join(get_args(Tightness))}")
    if origin not in RANK:
        raise InvalidValue("origin", f"is one of: {', '.join(RANK)}")
    if (tightness == "torque") != (torque_nm is not None):
        raise InvalidValue("torque", "is given where the tightness is a torque, and only there")
    if torque_nm is not None:
        if torque_nm > 5000:
            raise InvalidValue("torque", "must be at most 5,000 N·m")
        if not sure:
            ask_about("torque", known, torque_nm)
    with writing(connection):
        if machine_id is not None:
            on = machines.get(connection, machine_id).kinds
            if kind not in {each.key for _, each in clutches(on)}:
                raise InvalidValue("kind", "is no clutch of this machine")
        return inserted(
            connection.execute(
                "INSERT INTO torque_stated (kind, machine_id, fastener, tightness, torque_nm, origin, stated_at,"
                " stated_by) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
                (kind, machine_id, fastener, tightness, torque_nm, origin, now(), by),
            )
        )


def withdraw(connection: sqlite3.Connection, stated_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a statement out of force; it stays on record. Raises NotFound."""
    check_hand(by)
    with writing(connection):
        done = connection.execute("UPDATE torque_stated SET withdrawn = 1 WHERE id = ? AND withdrawn = 0", (stated_id,))
        if not done.rowcount:
            raise NotFound("torque")


def choose(connection: sqlite3.Connection, machine_id: int, stated_id: int, by: str = DEFAULT_HAND) -> None:
    """Go by one of the statements on this machine from now on; raises NotFound for one that is not in force there."""
    check_hand(by)
    with writing(connection):
        row = connection.execute(
            "SELECT * FROM torque_stated WHERE id = ? AND withdrawn = 0 AND (machine_id IS NULL OR machine_id = ?)",
            (stated_id, machine_id),
        ).fetchone()
        if row is None:
            raise NotFound("torque")
        connection.execute(
            "INSERT INTO torque_choice (machine_id, kind, fastener, stated_id) VALUES (?, ?, ?, ?)"
            " ON CONFLICT (machine_id, kind, fastener) DO UPDATE SET stated_id = excluded.stated_id",
            (machine_id, row["kind"], row["fastener"], stated_id),
        )


def fastener_of(kind: str, fastener: str) -> Fastener:
    """A fastener of a kind; raises InvalidValue (field `fastener`) for one there is not."""
    known = kinds().get(kind)
    found = next((each for each in known.guide.fastener if each.key == fastener), None) if known else None
    if found is None:
        raise InvalidValue("fastener", "is no fastener of this clutch")
    return found
