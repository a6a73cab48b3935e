"""The shelf: parts that change a set-up with the pieces at hand, and what each set-up holds of them."""

import json
import sqlite3
from collections.abc import Collection, Mapping
from dataclasses import replace

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.shelf.part_specs import KitSpec, read_spec
from jaxel.core.trade.shelf.shelf import StockPart, needed

from ..db import Conflict, NotFound, now, read_once
from ..edits import DEFAULT_HAND, Desk, Edit, check_hand
from ..workshop_log import noting

PART = "part."
"""What begins the key of a draft's slot that a part of the shelf stands in."""


LINE_UP_SHIM = "line-up shim"
"""The kind of part that stands behind a secondary, and in no slot of a set-up."""


def parts_in(draft: Mapping[str, float]) -> dict[str, int]:
    """The parts a draft holds, by slot."""
    return {key.removeprefix(PART): int(value) for key, value in draft.items() if key.startswith(PART)}


def numbers_in(draft: Mapping[str, float]) -> dict[str, float]:
    """The numbers a draft holds, by key."""
    return {key: value for key, value in draft.items() if not key.startswith(PART)}


@read_once
def stocked(connection: sqlite3.Connection) -> dict[int, StockPart]:
    """Every part that changes a set-up, by id; kits with their members."""
    rows = connection.execute(
        "SELECT id, number, kind, make, spec, fits, price / pack AS price,"
        " (SELECT sum(pieces) FROM stock_move WHERE part_id = part.id) AS pieces"
        " FROM part WHERE spec IS NOT NULL AND kind <> ? ORDER BY kind, number",
        (LINE_UP_SHIM,),
    )
    found: dict[int, StockPart] = {}
    for row in rows:
        values = dict(row)
        spec = read_spec(row["kind"], row["number"], json.loads(row["spec"]))
        found[row["id"]] = StockPart(**values | {"spec": spec})
    by_number = {each.number.casefold(): each for each in found.values()}
    kits = {key: part for key, part in found.items() if isinstance(part.spec, KitSpec)}
    others = _kinds_by_number(connection) if kits else {}
    for key, part in kits.items():
        spec = part.spec
        assert isinstance(spec, KitSpec)
        here = [by_number.get(number.casefold()) for number in spec.members]
        members = tuple(each for each in here if each and each.group != "kits")
        named = {each.number.casefold() for each in members}
        besides = tuple(
            f"{number}, {others.get(number.casefold(), 'not in the parts room')}"
            for number in spec.members
            if number.casefold() not in named
        )
        found[key] = replace(part, members=members, besides=besides)
    return found


def _kinds_by_number(connection: sqlite3.Connection) -> dict[str, str]:
    return {row["number"].casefold(): row["kind"] for row in connection.execute("SELECT number, kind FROM part")}


def kits_fitted(
    connection: sqlite3.Connection, visits: str, values: Collection[int] = ()
) -> dict[int, tuple[StockPart, ...]]:
    """The kits that visits fitted, by visit: in the set-up as left, and not in the one it came in with.

    Parameters: `visits`, a query of their ids, with its `values`.
    """
    rows = connection.execute(
        "SELECT DISTINCT visit_id, revision_part.part_id FROM set_up"
        " JOIN revision_part ON revision_id = left_revision_id JOIN part ON part.id = part_id"
        f" WHERE visit_id IN ({visits}) AND part.kind = 'kit' AND part_id NOT IN"
        " (SELECT part_id FROM revision_part WHERE revision_id = found_revision_id) ORDER BY part.number",
        list(values),
    ).fetchall()
    known = stocked(connection) if rows else {}
    found: dict[int, list[StockPart]] = {}
    for row in rows:
        if row["part_id"] in known:
            found.setdefault(row["visit_id"], []).append(known[row["part_id"]])
    return {visit: tuple(kits) for visit, kits in found.items()}


def kit_asks(kits: Collection[StockPart]) -> tuple[tuple[str, str, str], ...]:
    """What kits ask of a clutch that goes back together with them."""
    return tuple(ask for kit in kits if isinstance(kit.spec, KitSpec) for ask in kit.spec.asks(kit.number))


def line_up_shims(connection: sqlite3.Connection) -> dict[float, int]:
    """Pieces at hand of each thickness of line-up shim [mm]."""
    rows = connection.execute(
        "SELECT spec, (SELECT sum(pieces) FROM stock_move WHERE part_id = part.id) AS pieces FROM part"
        " WHERE kind = ? AND spec IS NOT NULL",
        (LINE_UP_SHIM,),
    )
    found: dict[float, int] = {}
    for row in rows:
        thick = float(json.loads(row["spec"])["thickness_mm"])
        found[thick] = found.get(thick, 0) + max(0, row["pieces"] or 0)
    return {thick: pieces for thick, pieces in found.items() if pieces}


def at_hand(connection: sqlite3.Connection) -> dict[int, int]:
    """Pieces at hand of every part that was counted, by id."""
    rows = connection.execute("SELECT part_id, sum(pieces) AS pieces FROM stock_move GROUP BY part_id")
    return {row["part_id"]: row["pieces"] for row in rows}


def count(connection: sqlite3.Connection, part_id: int, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say how many pieces of a part are at hand; raises NotFound, Conflict, InvalidValue (field `pieces`)."""
    check_hand(by)
    if edit.now is None or edit.now != int(edit.now) or not 0 <= edit.now <= 10_000:
        raise InvalidValue("pieces", "must be a whole number from 0 to 10,000")
    with noting(connection, by, "part", part_id):
        if connection.execute("SELECT 1 FROM part WHERE id = ?", (part_id,)).fetchone() is None:
            raise NotFound("part")
        held = connection.execute("SELECT sum(pieces) FROM stock_move WHERE part_id = ?", (part_id,)).fetchone()[0]
        if held not in (edit.was, edit.now):
            raise Conflict("this was changed elsewhere meanwhile", field="pieces", theirs=held)
        if held == edit.now:
            return
        connection.execute(
            "INSERT INTO stock_move (part_id, pieces, why, at, moved_by) VALUES (?, ?, 'counted', ?, ?)",
            (part_id, int(edit.now) - (held or 0), now(), by),
        )


def held_by(connection: sqlite3.Connection, revision_id: int) -> dict[str, tuple[int, int]]:
    """The part of the shelf and its pieces in each slot of a set-up that holds one."""
    rows = connection.execute("SELECT slot, part_id, pieces FROM revision_part WHERE revision_id = ?", (revision_id,))
    return {row["slot"]: (row["part_id"], row["pieces"]) for row in rows}


def carry(connection: sqlite3.Connection, before: int, after: int, slots: Collection[str]) -> None:
    """Let a set-up hold in some slots what the one before it held, inside the caller's transaction."""
    for slot, (part, pieces) in held_by(connection, before).items():
        if slot in slots:
            connection.execute(
                "INSERT OR IGNORE INTO revision_part (revision_id, slot, part_id, pieces) VALUES (?, ?, ?, ?)",
                (after, slot, part, pieces),
            )


def on_tray(connection: sqlite3.Connection, part_id: int) -> int | None:
    """The open visit on whose tray a part, or a kit it belongs to, lies; None where it lies on none."""
    rows = connection.execute(
        "SELECT visit_id, left_draft FROM set_up JOIN visit ON visit.id = visit_id WHERE signed_off_at IS NULL"
        " AND left_draft LIKE ?",
        (f'%"{PART}%',),
    ).fetchall()
    if not rows:
        return None
    kits = {key for key, kit in stocked(connection).items() if part_id in {each.id for each in kit.members}}
    for row in rows:
        if {part_id, *kits} & set(parts_in(json.loads(row["left_draft"])).values()):
            found: int = row["visit_id"]
            return found
    return None


def take(
    connection: sqlite3.Connection, desk: Desk, before: int, after: int, chosen: Mapping[str, StockPart],
    changed: frozenset[str], document: SetupDocument, by: str,
) -> None:  # fmt: skip
    """Take the parts of a set-up just recorded from the shelf and put back what it no longer holds, inside the caller's
    change: undoing that returns them.

    Parameters: revisions `before` and `after`; parts `chosen` by slot; slots `changed`, of which a part that was in one
    comes off; `document` as recorded. Raises InvalidValue (field `slots`) where another hand took the last one.
    """
    known = stocked(connection)
    had = held_by(connection, before)
    stayed = {slot: known[part] for slot, (part, _) in had.items() if slot not in changed and part in known}
    holds = stayed | dict(chosen)
    pieces = needed(document, holds)
    was: dict[int, int] = {}
    for key, each in had.values():
        one = key in known and known[key].group == "kits"  # a kit is one, whatever it fills
        was[key] = each if one else was.get(key, 0) + each
    here = at_hand(connection)
    for key in sorted({*pieces, *was}):
        more = pieces.get(key, 0) - was.get(key, 0)
        if more == 0 or key not in known or key not in here:
            continue
        if more > here[key]:
            left = f"{more} needed, {max(here[key], 0)} on the shelf"
            raise InvalidValue("slots", f"{known[key].number}: {left}: another hand took it")
        why = "fitted" if more > 0 else "taken off"
        desk.insert(
            "stock_move",
            {"part_id": key, "visit_id": desk.visit_id, "pieces": -more, "why": why, "at": now(), "moved_by": by},
        )
    for slot, part in holds.items():
        alone = needed(document, {slot: part})[part.id]
        connection.execute(
            "INSERT INTO revision_part (revision_id, slot, part_id, pieces) VALUES (?, ?, ?, ?)",
            (after, slot, part.id, alone),
        )
