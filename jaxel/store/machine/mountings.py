"""Clutches that came alone and were mounted: a dated link from clutch to machine and side; both keep their history."""

import sqlite3
from dataclasses import dataclass
from datetime import date

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kinds import Kinds, Side
from jaxel.core.trade.machine.mounting import TookOff, half_of, mounted

from ..db import Conflict, inserted, now
from ..edits import DEFAULT_HAND, check_hand
from ..record.rows import open_visit_of
from ..setup import revisions
from ..workshop_log import noting
from . import machines


@dataclass(frozen=True)
class Mounting:
    """A clutch on a machine's side: `mounted_on` and `ended_on`, dates, the latter None while it is there.

    `took_off`, what became of the half that came off for it, under `took_off_id` where it lies here.
    """

    id: int
    clutch_id: int
    clutch: str
    machine_id: int
    machine: str
    side: Side
    mounted_on: str
    ended_on: str | None
    took_off: TookOff
    took_off_id: int | None
    mounted_by: str


_SELECT = (
    "SELECT mounting.id, clutch_id, clutch.name AS clutch, machine_id, machine.name AS machine, side, mounted_on,"
    " ended_on, took_off, took_off_id, mounted_by FROM mounting"
    " JOIN machine AS clutch ON clutch.id = clutch_id JOIN machine ON machine.id = machine_id"
)


def of_machine(connection: sqlite3.Connection, machine_id: int) -> list[Mounting]:
    """What was mounted on a machine, or where a clutch was mounted; the newest first."""
    rows = connection.execute(f"{_SELECT} WHERE ? IN (clutch_id, machine_id) ORDER BY mounting.id DESC", (machine_id,))
    return [Mounting(**row) for row in rows]


def where(connection: sqlite3.Connection, clutch_id: int) -> Mounting | None:
    """Where a clutch is mounted now; None where it lies on a shelf."""
    row = connection.execute(f"{_SELECT} WHERE clutch_id = ? AND ended_on IS NULL", (clutch_id,)).fetchone()
    return None if row is None else Mounting(**row)


def mount(
    connection: sqlite3.Connection,
    clutch_id: int,
    machine_id: int,
    took_off: TookOff,
    on: str = "",
    by: str = DEFAULT_HAND,
) -> int:
    """Mount a bare clutch on a machine, in place of its own on that side; returns the mounting's id.

    The machine's set-up has the clutch's half from then on; the half that comes off becomes a bare clutch with what was
    known of it, or is gone; one that was itself mounted lies on the shelf again under its own record. Parameters: `on`,
    the date, today where empty. Raises NotFound, Conflict with a visit open on either or a clutch mounted already, and
    InvalidValue for what is no bare clutch, no machine, or cannot work there.
    """
    check_hand(by)
    day = on or now()[:10]
    try:
        if date.fromisoformat(day).isoformat() != day:
            raise ValueError(day)
    except ValueError:
        raise InvalidValue("on", "must be a date, 2026-11-29") from None
    if day > now()[:10]:
        raise InvalidValue("on", "lies in the future")
    with noting(connection, by, "machine", machine_id):
        clutch, machine = machines.get(connection, clutch_id), machines.get(connection, machine_id)
        _check(connection, clutch, machine)
        side = half_of(clutch.kinds)
        held, brought = revisions.newest(connection, machine_id), revisions.newest(connection, clutch_id)
        document = mounted(held.document, brought.document, side)
        before = connection.execute(
            "SELECT id, clutch_id FROM mounting WHERE machine_id = ? AND side = ? AND ended_on IS NULL",
            (machine_id, side),
        ).fetchone()
        came_off = None
        if before:
            connection.execute("UPDATE mounting SET ended_on = ? WHERE id = ?", (day, before["id"]))
            _brought_home(connection, before["clutch_id"], machine, side, gone=took_off == "gone", by=by)
            came_off = before["clutch_id"] if took_off == "bare clutch" else None
        elif took_off == "bare clutch":
            came_off = _set_free(connection, machine, side, by)
        revisions.add(
            connection, machine_id, document, reason=f"{clutch.name} mounted, {side}", parent_id=held.id, by=by
        )
        kind = getattr(clutch, f"{side}_kind")
        connection.execute(f"UPDATE machine SET {side}_kind = ? WHERE id = ?", (kind, machine_id))
        last = connection.execute("SELECT ifnull(max(id), 0) AS id FROM visit").fetchone()["id"]
        return inserted(
            connection.execute(
                "INSERT INTO mounting (clutch_id, machine_id, side, mounted_on, took_off, took_off_id, after_visit,"
                " mounted_by) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
                (clutch_id, machine_id, side, day, took_off, came_off, last, by),
            )
        )


def _check(connection: sqlite3.Connection, clutch: machines.Machine, machine: machines.Machine) -> None:
    if not clutch.bare:
        raise InvalidValue("clutch", "is a machine: only a clutch that came alone is mounted")
    if machine.bare or machine.archived or machine.merged_into is not None:
        raise InvalidValue("machine", "is no machine that a clutch can be mounted on")
    if clutch.archived:
        raise Conflict("this clutch is archived: restore it first", field="clutch")
    there = where(connection, clutch.id)
    if there:
        raise Conflict(f"is on {there.machine} since {there.mounted_on}", field="clutch")
    for each in (clutch, machine):
        if open_visit_of(connection, each.id) is not None:
            raise Conflict(f"a visit of {each.name} is open: close it first", field="machine")


def _set_free(connection: sqlite3.Connection, machine: machines.Machine, side: Side, by: str) -> int:
    """The half that comes off as a clutch of its own, with what was known of it on the machine."""
    held = revisions.newest(connection, machine.id).document
    name = f"{side.capitalize()} off {machine.name}"[:120]
    kind = getattr(machine, f"{side}_kind")
    return machines.bring_in(
        connection,
        held.model_copy(update={"name": name}),
        "bare clutch",
        machine.rider,
        "from memory",
        by,
        kinds=Kinds(primary=kind) if side == "primary" else Kinds(secondary=kind),
    )


def _brought_home(
    connection: sqlite3.Connection, clutch_id: int, machine: machines.Machine, side: Side, *, gone: bool, by: str
) -> None:
    """A clutch that comes off again: its own record has what was changed of it meanwhile; gone, it is put away."""
    own = revisions.newest(connection, clutch_id)
    there = revisions.newest(connection, machine.id).document
    now_in = mounted(own.document, there, side)
    if now_in != own.document:
        revisions.add(
            connection, clutch_id, now_in, reason=f"as it came off {machine.name}", parent_id=own.id, nature="found",
            by=by,
        )  # fmt: skip
    if gone:
        with noting(connection, by, "machine", clutch_id):
            connection.execute("UPDATE machine SET archived = 1 WHERE id = ?", (clutch_id,))
