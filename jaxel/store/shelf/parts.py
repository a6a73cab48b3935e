"""The part table: numbers, prices and packs as typed, tools bought once, and each part put in or taken out."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from functools import cache
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kind_file import PartsNeeded
from jaxel.core.trade.kinds.kinds import Side, kinds
from jaxel.core.trade.shelf.part_sheet import spec_fields
from jaxel.core.trade.shelf.part_specs import GROUPS, read_spec
from jaxel.core.trade.strip.remedies import PartOffer

from ..db import Conflict, NotFound, inserted, now, writing
from ..edits import DEFAULT_HAND, Edits, check_hand
from ..workshop_log import added, noting
from . import shelf


@dataclass(frozen=True)
class Part:
    """A part number of the workshop's.

    `spec`, what it is where it changes a set-up; `pieces` at hand, None where nobody counted; `fits`, the kind of
    clutch it is made for, empty for any.
    """

    id: int
    number: str
    kind: str
    make: str
    price: float | None
    pack: int
    life_km: float | None
    life_h: float | None
    superseded_by: str
    supplier_note: str
    place: str
    fits: str
    spec: dict[str, Any] | None
    pieces: int | None

    def offer(self) -> PartOffer:
        """The part as the core's sums take it."""
        return PartOffer(
            self.number, self.kind, self.make, self.price, self.pack, self.life_km, self.life_h, self.superseded_by,
            self.supplier_note,
        )  # fmt: skip


@dataclass(frozen=True)
class Tool:
    name: str
    price: float | None
    owned: bool


SAID = frozenset(each.name for each in fields(Part)) - {"id", "pieces"}
_NAMES = ", ".join(each.name for each in fields(Part) if each.name != "pieces")
_WHOLE = f"{_NAMES}, (SELECT sum(pieces) FROM stock_move WHERE part_id = part.id) AS pieces"


@cache
def part_kinds() -> list[str]:
    """Every kind of part that a remedy needs or that changes a set-up, by name."""
    needed = {
        part.kind for kind in kinds().values() for item in kind.guide.item for remedy in item.remedy
        for part in remedy.parts
    }  # fmt: skip
    return sorted(needed | {"belt", *GROUPS})


def tool_names() -> list[str]:
    """Every tool that a remedy needs, by name."""
    return sorted(
        {remedy.tool for kind in kinds().values() for item in kind.guide.item for remedy in item.remedy if remedy.tool}
    )


def all_parts(connection: sqlite3.Connection) -> list[Part]:
    """Every part number, by kind and number."""
    return [_part(row) for row in connection.execute(f"SELECT {_WHOLE} FROM part ORDER BY kind, number")]


def _part(row: sqlite3.Row) -> Part:
    return Part(**dict(row) | {"spec": row["spec"] and json.loads(row["spec"])})


def one(connection: sqlite3.Connection, part_id: int) -> Part:
    """One part number; raises NotFound."""
    row = connection.execute(f"SELECT {_WHOLE} FROM part WHERE id = ?", (part_id,)).fetchone()
    if row is None:
        raise NotFound("part")
    return _part(row)


def tools(connection: sqlite3.Connection) -> list[Tool]:
    """Tools that remedies need, with what the workshop said of them."""
    rows = connection.execute("SELECT name, price, owned FROM tool")
    known = {row["name"]: Tool(row["name"], row["price"], bool(row["owned"])) for row in rows}
    return [known.get(name, Tool(name, None, False)) for name in tool_names()]


def add(connection: sqlite3.Connection, number: str, kind: str, by: str = DEFAULT_HAND) -> int:
    """Enter a part number; returns its id.

    Raises InvalidValue (field `number`) for one that is there already, or `kind` for a kind that no remedy needs.
    """
    check_hand(by)
    if not number.strip():
        raise InvalidValue("number", "needs a number")
    _check_kind(kind)
    with writing(connection):
        if connection.execute("SELECT 1 FROM part WHERE number = ?", (number.strip(),)).fetchone():
            raise InvalidValue("number", "is there already")
        part_id = inserted(
            connection.execute(
                "INSERT INTO part (number, kind, noted_at, noted_by) VALUES (?, ?, ?, ?)",
                (number.strip(), kind, now(), by),
            )
        )
        added(connection, by, "part", part_id)
    return part_id


def change(connection: sqlite3.Connection, part_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write what is known of a part number; raises NotFound, Conflict, InvalidValue.

    What a part is, and what it is for, stays as it is while it lies on a visit's tray.
    """
    check_hand(by)
    if unknown := set(edits) - SAID:
        raise InvalidValue(min(unknown), "is not said of a part")
    with noting(connection, by, "part", part_id):
        row = connection.execute(f"SELECT {_NAMES} FROM part WHERE id = ?", (part_id,)).fetchone()
        if row is None:
            raise NotFound("part")
        held = dict(row) | {"spec": row["spec"] and json.loads(row["spec"])}
        for field, edit in edits.items():
            value = edit.now.strip() if isinstance(edit.now, str) else edit.now
            if held[field] not in (edit.was, value):
                raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=held[field])
            if field in ("kind", "spec", "fits", "number") and value != held[field]:
                _check_off_tray(connection, part_id, row["number"])
            if field == "kind":
                _check_kind(value)
                if row["spec"] and GROUPS.get(value) != GROUPS.get(row["kind"]):
                    raise InvalidValue("kind", f"is another sort of part than what {row['number']} is described as")
            if field == "fits" and value and value not in kinds():
                raise InvalidValue("fits", "is no kind of clutch known here")
            if field == "spec":
                value = None if value is None else _checked_spec(row["kind"], row["number"], edit.now)
            if field == "number":
                _check_number(connection, part_id, value)
            if field == "superseded_by" and value and value.casefold() == row["number"].casefold():
                raise InvalidValue("superseded_by", "is this very number")
            connection.execute(f"UPDATE part SET {field} = ? WHERE id = ?", (value, part_id))


def remove(connection: sqlite3.Connection, part_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a part number away; what was put in under it stays on record. Raises NotFound, and Conflict while it lies on
    a visit's tray."""
    check_hand(by)
    with noting(connection, by, "part", part_id):
        _check_off_tray(connection, part_id, "this part")
        if connection.execute("DELETE FROM part WHERE id = ?", (part_id,)).rowcount == 0:
            raise NotFound("part")


def say_tool(connection: sqlite3.Connection, name: str, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write what a tool costs, or that the workshop has it; raises Conflict, InvalidValue for no tool of a remedy."""
    check_hand(by)
    if name not in tool_names():
        raise InvalidValue("name", "is no tool that a remedy needs")
    if unknown := set(edits) - {"price", "owned"}:
        raise InvalidValue(min(unknown), "is not said of a tool")
    with noting(connection, by, "tool", name):
        held = next(each for each in tools(connection) if each.name == name)
        for field, edit in edits.items():
            if getattr(held, field) not in (edit.was, edit.now):
                raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=getattr(held, field))
            connection.execute("INSERT INTO tool (name) VALUES (?) ON CONFLICT (name) DO NOTHING", (name,))
            connection.execute(f"UPDATE tool SET {field} = ? WHERE name = ?", (edit.now, name))


def offers(connection: sqlite3.Connection) -> dict[str, PartOffer]:
    """What the workshop would order of each kind of part: the cheapest piece it knows that is not superseded."""
    best: dict[str, Part] = {}
    for part in all_parts(connection):
        if part.superseded_by:
            continue
        held = best.get(part.kind)
        if held is None or _piece(part) < _piece(held):
            best[part.kind] = part
    return {kind: part.offer() for kind, part in best.items()}


def _piece(part: Part) -> tuple[bool, float]:
    """What it costs; one described for a change of set-up comes after one of the kind alone."""
    return part.spec is not None, float("inf") if part.price is None else part.price / part.pack


def tools_lacking(connection: sqlite3.Connection) -> dict[str, float | None]:
    """Price by name of each tool the workshop has not got, None where it is not known."""
    return {each.name: each.price for each in tools(connection) if not each.owned}


def fitted(
    connection: sqlite3.Connection,
    visit_id: int,
    machine_id: int,
    side: Side,
    needs: Sequence[PartsNeeded],
    number: str,
    odometer_km: float | None,
    odometer_h: float | None,
    *,
    new: bool,
    by: str,
) -> None:
    """Record parts put in place of others, inside the caller's transaction; pieces at hand of them leave the shelf.

    Parameters: `needs`, what was put in, the first under `number` where a hand gave one; `new`, whether its life begins
    here: a used one's began elsewhere.
    """
    for place, need in enumerate(needs):
        given = number.strip() if place == 0 else ""
        event(connection, visit_id, machine_id, side, need.kind, need.pieces, "out", odometer_km, odometer_h)
        if not new:
            continue
        event(
            connection, visit_id, machine_id, side, need.kind, need.pieces, "in", odometer_km, odometer_h, number=given
        )  # fmt: skip
        row = connection.execute("SELECT id FROM part WHERE number = ?", (given,)).fetchone() if given else None
        here = shelf.at_hand(connection).get(row["id"], 0) if row else 0
        if row and here > 0:
            with noting(connection, by, "part", row["id"]):
                connection.execute(
                    "INSERT INTO stock_move (part_id, visit_id, pieces, why, at, moved_by)"
                    " VALUES (?, ?, ?, 'fitted', ?, ?)",
                    (row["id"], visit_id, -min(here, need.pieces), now(), by),
                )


def event(
    connection: sqlite3.Connection,
    visit_id: int,
    machine_id: int,
    side: str,
    kind: str,
    pieces: int,
    way: str,
    odometer_km: float | None,
    odometer_h: float | None,
    *,
    number: str = "",
) -> None:
    """Record one part put in or taken out, inside the caller's transaction."""
    connection.execute(
        "INSERT INTO part_event (visit_id, machine_id, side, kind, number, pieces, way, odometer_km, odometer_h, at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (visit_id, machine_id, side, kind, number, pieces, way, odometer_km, odometer_h, now()),
    )


def _checked_spec(kind: str, number: str, value: Mapping[str, Any]) -> str:
    """A spec as it is stored; raises InvalidValue, field `spec.FIELD`."""
    try:
        return json.dumps(spec_fields(read_spec(kind, number, value)))
    except InvalidValue as error:
        raise InvalidValue(f"spec.{error.field}" if error.field else "spec", error.reason) from None


def _check_off_tray(connection: sqlite3.Connection, part_id: int, number: str) -> None:
    visit = shelf.on_tray(connection, part_id)
    if visit is not None:
        raise Conflict(f"{number} lies on the tray of visit {visit}: put it back there first", field="part")


def _check_kind(kind: str) -> None:
    if kind not in part_kinds():
        raise InvalidValue("kind", "is no kind of part known here")


def _check_number(connection: sqlite3.Connection, part_id: int, number: str) -> None:
    if not number:
        raise InvalidValue("number", "needs a number")
    if connection.execute("SELECT 1 FROM part WHERE number = ? AND id <> ?", (number, part_id)).fetchone():
        raise InvalidValue("number", "is there already")
