"""Putting back, break-in and close as the core's rules want them: of one visit, or of all open ones at once."""

import json
import sqlite3
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, fields
from typing import Any, TypeVar

from jaxel.core.trade.break_in import CYCLES, BreakIn, HeatCycle
from jaxel.core.trade.close_out import Count
from jaxel.core.trade.kinds import Kinds, Side
from jaxel.core.trade.line_up import LineUp
from jaxel.core.trade.opened import Depths, deepest, for_the_belt
from jaxel.core.trade.rebuild import Bench, Expected, Rebuild
from jaxel.core.trade.schools import followed
from jaxel.core.trade.tightening import Tightened

from . import choices
from .edits import read_field

Record = TypeVar("Record")
Row = TypeVar("Row")


@dataclass(frozen=True)
class BackTogether:
    """What a visit holds of putting back, line-up, break-in and close."""

    rebuild: Rebuild = field(default_factory=Rebuild)
    tightened: Mapping[tuple[Side, str], Tightened] = field(default_factory=dict)
    line_up: LineUp = field(default_factory=LineUp)
    break_in: BreakIn = field(default_factory=BreakIn)
    cycles: tuple[HeatCycle, ...] = ()
    counts: tuple[Count, ...] = ()

    def bench(self, kinds: Kinds, changed: Depths, belt_off: bool, expected: Expected) -> Bench:
        """What putting back looks at.

        Parameters: `changed`, how far the clutches were opened for changes of set-up; `belt_off`, whether the belt was.
        """
        otherwise = dict(changed)
        for side, depth in for_the_belt(kinds).items() if belt_off else ():
            otherwise[side] = deepest(otherwise.get(side), depth) or depth
        return Bench(self.rebuild, self.tightened, otherwise, expected)


NOTHING_SAID = BackTogether()


def of_visit(connection: sqlite3.Connection, visit_id: int) -> BackTogether:
    """What one visit holds."""
    return _read(connection, "visit_id = ?", (visit_id,)).get(visit_id, NOTHING_SAID)


def of_open_visits(connection: sqlite3.Connection) -> dict[int, BackTogether]:
    """What every open visit holds, by its id."""
    return _read(connection, "visit_id IN (SELECT id FROM visit WHERE signed_off_at IS NULL)", ())


def cycles_asked(connection: sqlite3.Connection) -> int:
    """Heat cycles of a new belt by the workshop's school."""
    return CYCLES[followed("break_in", choices.made(connection)).key]


def _read(connection: sqlite3.Connection, which: str, values: tuple[int, ...]) -> dict[int, BackTogether]:
    def rows(table: str, order: str = "visit_id") -> Iterable[sqlite3.Row]:
        return connection.execute(f"SELECT * FROM {table} WHERE {which} ORDER BY {order}", values)

    def one(table: str, kind: type[Record]) -> dict[int, Record]:
        return {row["visit_id"]: record_of(kind, row) for row in rows(table)}

    def many(table: str, read: Callable[[sqlite3.Row], Row]) -> dict[int, list[Row]]:
        found: dict[int, list[Row]] = defaultdict(list)
        for row in rows(table, "id"):
            found[row["visit_id"]].append(read(row))
        return found

    rebuilds, line_ups, break_ins = one("rebuild", Rebuild), one("line_up", LineUp), one("break_in", BreakIn)
    done = many("tightened", lambda row: ((row["side"], row["fastener"]), record_of(Tightened, row)))
    cycles = many("heat_cycle", lambda row: record_of(HeatCycle, row))
    counts = many("counted", lambda row: record_of(Count, row))
    return {
        visit: BackTogether(
            rebuilds[visit],
            dict(done.get(visit, ())),
            line_ups.get(visit, LineUp()),
            break_ins.get(visit, BreakIn()),
            tuple(cycles.get(visit, ())),
            tuple(counts.get(visit, ())),
        )
        for visit in rebuilds
    }


def record_of(kind: type[Record], row: sqlite3.Row) -> Record:
    """A record from its row; lists are held as tuples, so that what nobody touched equals a fresh one."""
    held: dict[str, Any] = {}
    for each in fields(kind):  # type: ignore[arg-type]
        value = read_field(each.name, row[each.name])
        held[each.name] = tuple(value) if isinstance(value, list) else value
    return kind(**held)


def json_of(text: str | None) -> Any:
    """A value from a document's JSON; None where it has none."""
    return None if text is None else json.loads(text)
