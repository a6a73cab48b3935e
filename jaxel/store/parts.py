"""The part table: numbers, prices and packs as typed, tools bought once, and each part put in or taken out."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass, fields

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kind_file import Remedy
from jaxel.core.trade.kinds import Side, kinds
from jaxel.core.trade.remedies import PartOffer

from .db import Conflict, NotFound, inserted, now, writing
from .edits import DEFAULT_HAND, Edits, check_hand


@dataclass(frozen=True)
class Part:
    """A part number of the workshop's."""

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


SAID = frozenset(each.name for each in fields(Part)) - {"id"}
_NAMES = ", ".join(each.name for each in fields(Part))


def part_kinds() -> list[str]:
    """Every kind of part that a remedy needs, by name."""
    needed = {
        part.kind for kind in kinds().values() for item in kind.guide.item for remedy in item.remedy
        for part in remedy.parts
    }  # fmt: skip
    return sorted(needed | {"belt"})


def tool_names() -> list[str]:
    """Every tool that a remedy needs, by name."""
    return sorted(
        {remedy.tool for kind in kinds().values() for item in kind.guide.item for remedy in item.remedy if remedy.tool}
    )


def all_parts(connection: sqlite3.Connection) -> list[Part]:
    """Every part number, by kind and number."""
    return [Part(**dict(row)) for row in connection.execute(f"SELECT {_NAMES} FROM part ORDER BY kind, number")]


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
        return inserted(
            connection.execute(
                "INSERT INTO part (number, kind, noted_at, noted_by) VALUES (?, ?, ?, ?)",
                (number.strip(), kind, now(), by),
            )
        )


def change(connection: sqlite3.Connection, part_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write what is known of a part number; raises NotFound, Conflict, InvalidValue."""
    check_hand(by)
    if unknown := set(edits) - SAID:
        raise InvalidValue(min(unknown), "is not said of a part")
    with writing(connection):
        row = connection.execute(f"SELECT {_NAMES} FROM part WHERE id = ?", (part_id,)).fetchone()
        if row is None:
            raise NotFound("part")
        for field, edit in edits.items():
            value = edit.now.strip() if isinstance(edit.now, str) else edit.now
            if row[field] not in (edit.was, value):
                raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=row[field])
            if field == "kind":
                _check_kind(value)
            if field == "number":
                _check_number(connection, part_id, value)
            if field == "superseded_by" and value and value.casefold() == row["number"].casefold():
                raise InvalidValue("superseded_by", "is this very number")
            connection.execute(f"UPDATE part SET {field} = ? WHERE id = ?", (value, part_id))


def remove(connection: sqlite3.Connection, part_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a part number away; what was put in under it stays on record. Raises NotFound."""
    check_hand(by)
    with writing(connection):
        if connection.execute("DELETE FROM part WHERE id = ?", (part_id,)).rowcount == 0:
            raise NotFound("part")


def say_tool(connection: sqlite3.Connection, name: str, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write what a tool costs, or that the workshop has it; raises Conflict, InvalidValue for no tool of a remedy."""
    check_hand(by)
    if name not in tool_names():
        raise InvalidValue("name", "is no tool that a remedy needs")
    if unknown := set(edits) - {"price", "owned"}:
        raise InvalidValue(min(unknown), "is not said of a tool")
    with writing(connection):
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


def _piece(part: Part) -> float:
    return float("inf") if part.price is None else part.price / part.pack


def tools_lacking(connection: sqlite3.Connection) -> dict[str, float | None]:
    """Price by name of each tool the workshop has not got, None where it is not known."""
    return {each.name: each.price for each in tools(connection) if not each.owned}


def record(
    connection: sqlite3.Connection,
    visit_id: int,
    machine_id: int,
    renewed: Iterable[tuple[Side, Remedy]],
    odometer_km: float | None,
    odometer_h: float | None,
) -> None:
    """Record parts put in at a visit and those they replaced, inside the caller's transaction."""
    known = offers(connection)
    once = {(side, part.kind, part.pieces) for side, remedy in renewed for part in remedy.parts}
    for side, kind, pieces in sorted(once):
        offer = known.get(kind)
        for way in ("out", "in"):
            event(
                connection, visit_id, machine_id, side, kind, pieces, way, odometer_km, odometer_h,
                number=offer.number if offer and way == "in" else "",
            )  # fmt: skip


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


def _check_kind(kind: str) -> None:
    if kind not in part_kinds():
        raise InvalidValue("kind", "is no kind of part that a remedy needs")


def _check_number(connection: sqlite3.Connection, part_id: int, number: str) -> None:
    if not number:
        raise InvalidValue("number", "needs a number")
    if connection.execute("SELECT 1 FROM part WHERE number = ? AND id <> ?", (number, part_id)).fetchone():
        raise InvalidValue("number", "is there already")
