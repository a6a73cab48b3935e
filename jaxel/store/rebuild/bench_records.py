"""Putting back, break-in and close as the core's rules want them: of one visit, or of all open ones at once."""

import json
import sqlite3
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any, TypeVar

from jaxel.core.trade.kinds.kinds import Kinds, Side
from jaxel.core.trade.line_up.break_in import BreakIn, HeatCycle
from jaxel.core.trade.line_up.line_up import LineUp
from jaxel.core.trade.rebuild.done import ItemDone
from jaxel.core.trade.rebuild.opened import for_the_belt, kinds_asked, opened_by, together, worked_on
from jaxel.core.trade.rebuild.rebuild import Bench, Expected, Rebuild
from jaxel.core.trade.rebuild.tightening import NOT_SAID, Size, Tightened
from jaxel.core.trade.strip.procedure import off_for
from jaxel.core.trade.strip.strip import Strip
from jaxel.core.trade.visit.close_out import Count

from ..edits import record_of

Row = TypeVar("Row")


@dataclass(frozen=True)
class BackTogether:
    """What a visit holds of putting back, line-up, break-in and close.

    `usual`, how many of each thing its machine was last found to have, by key.
    """

    rebuild: Rebuild = field(default_factory=Rebuild)
    tightened: Mapping[tuple[Side, str], Tightened] = field(default_factory=dict)
    line_up: LineUp = field(default_factory=LineUp)
    break_in: BreakIn = field(default_factory=BreakIn)
    cycles: tuple[HeatCycle, ...] = ()
    counts: tuple[Count, ...] = ()
    usual: Mapping[str, int] = field(default_factory=dict)
    done: Mapping[tuple[Side, str], ItemDone] = field(default_factory=dict)

    def bench(
        self, strip: Strip, kinds: Kinds, changed: Iterable[str], belt_way: str | None, expected: Expected,
        new_belt: bool | None,
    ) -> Bench:  # fmt: skip
        """What putting back looks at.

        Parameters: `strip`, whose jobs open parts; `changed`, the slots whose change was recorded; `belt_way`, the way
        the belt came off, empty where that is not said, None where it stayed on; `new_belt`, whether a new one goes on,
        None where the visit has none.
        """
        with_belt = {} if belt_way is None else for_the_belt(kinds, belt_way)
        slots = list(changed)
        return Bench(
            self.rebuild,
            self.tightened,
            together(together(opened_by(slots, kinds), with_belt), off_for(strip.jobs, strip.off, kinds)),
            expected,
            self.done,
            new_belt,
            worked_on(slots, kinds),
            kinds_asked(slots, kinds),
        )


NOTHING_SAID = BackTogether()


def of_visit(
    connection: sqlite3.Connection, visit_id: int, rebuild: Rebuild, line_up: LineUp, break_in: BreakIn
) -> BackTogether:
    """What one visit holds, its stations' records read already."""

    def rows(table: str) -> Iterable[sqlite3.Row]:
        return connection.execute(f"SELECT * FROM {table} WHERE visit_id = ? ORDER BY id", (visit_id,))

    return BackTogether(
        rebuild,
        {(row["side"], row["fastener"]): record_of("tightened", row) for row in rows("tightened")},
        line_up,
        break_in,
        tuple(record_of("heat_cycle", row) for row in rows("heat_cycle")),
        tuple(record_of("counted", row) for row in rows("counted")),
        _usual(connection, visit_id),
        {(row["side"], row["item"]): record_of("item_done", row) for row in rows("item_done")},
    )


def _usual(connection: sqlite3.Connection, visit_id: int) -> dict[str, int]:
    """How many of each thing were counted out at earlier visits of a visit's machine: the latest count holds;
    where a sheet asked for another number, that one."""
    rows = connection.execute(
        "SELECT counted.key, ifnull(counted.goes_in, counted.out) AS out"
        " FROM visit AS now JOIN visit AS before USING (machine_id) JOIN counted ON counted.visit_id = before.id"
        " WHERE now.id = ? AND before.id < now.id AND sort IN ('fastener', 'small part') ORDER BY before.id",
        (visit_id,),
    )
    return {row["key"]: row["out"] for row in rows}


def sizes(connection: sqlite3.Connection, machine_id: int, visit_id: int | None = None) -> dict[tuple[Side, str], Size]:
    """What a machine's fasteners are turned with, as its visits said, up to one where it is named."""
    found: dict[tuple[Side, str], Size] = {}
    for row in connection.execute(
        "SELECT side, fastener, size, thread FROM visit JOIN tightened ON visit_id = visit.id"
        " WHERE machine_id = ? AND visit.id <= ifnull(?, visit.id) AND (size <> '' OR thread <> '') ORDER BY visit.id",
        (machine_id, visit_id),
    ):
        before = found.get((row["side"], row["fastener"]), NOT_SAID)
        found[row["side"], row["fastener"]] = Size(row["size"] or before.size, row["thread"] or before.thread)
    return found


def of_visits(connection: sqlite3.Connection, visits: str) -> dict[int, BackTogether]:
    """What several visits hold, by their ids; `visits`, these as SQL, `(2, 4)`."""
    return _read(connection, f"visit_id IN {visits}", ())


def _read(connection: sqlite3.Connection, which: str, values: tuple[int, ...]) -> dict[int, BackTogether]:
    def rows(table: str, order: str = "visit_id") -> Iterable[sqlite3.Row]:
        return connection.execute(f"SELECT * FROM {table} WHERE {which} ORDER BY {order}", values)

    def one(table: str) -> dict[int, Any]:
        return {row["visit_id"]: record_of(table, row) for row in rows(table)}

    def many(table: str, read: Callable[[sqlite3.Row], Row]) -> dict[int, list[Row]]:
        found: dict[int, list[Row]] = defaultdict(list)
        for row in rows(table, "id"):
            found[row["visit_id"]].append(read(row))
        return found

    rebuilds, line_ups, break_ins = one("rebuild"), one("line_up"), one("break_in")
    done = many("tightened", lambda row: ((row["side"], row["fastener"]), record_of("tightened", row)))
    items = many("item_done", lambda row: ((row["side"], row["item"]), record_of("item_done", row)))
    cycles = many("heat_cycle", lambda row: record_of("heat_cycle", row))
    counts = many("counted", lambda row: record_of("counted", row))
    return {
        visit: BackTogether(
            rebuilds[visit],
            dict(done.get(visit, ())),
            line_ups.get(visit, LineUp()),
            break_ins.get(visit, BreakIn()),
            tuple(cycles.get(visit, ())),
            tuple(counts.get(visit, ())),
            _usual(connection, visit),
            dict(items.get(visit, ())),
        )
        for visit in rebuilds
    }


def json_of(text: str | None) -> Any:
    """A value from a document's JSON; None where it has none."""
    return None if text is None else json.loads(text)
