"""The shop floor as its page shows it: every machine, what it waits for, and what it is predicted to do."""

import re
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from jaxel.core.trade.record.said import Station
from jaxel.core.trade.record.scope import Scope
from jaxel.core.trade.visit.stations import STATIONS, OpenItem, open_items, station_states
from jaxel.store.db import reading
from jaxel.store.setup import revisions
from jaxel.store.visit import dues, floor, open_visits
from jaxel.store.visit.floor import FloorLine

from ..machine.head import MachineHead
from ..machine.view import head
from ..record.model import Model
from ..setup.predictions import figures_now

MOST_WORDS = 8
MOST_FIGURES = 10
"""Set-ups whose figures are worked out for one answer; a list asked for again goes on where it stopped."""


class OpenVisit(Model):
    """An open visit on the floor; `hand`, who wrote to it last."""

    id: int
    opened_at: str
    hand: str
    complaint: str
    scope: Scope
    faults: int
    waits_for: Station
    states: dict[Station, str]
    open_items: int


class MachineCard(Model):
    """A machine on the shop floor; predicted engagement and shift of its set-up as last recorded."""

    machine: MachineHead
    archived: bool
    bite_rpm: float | None
    hit_n: float | None
    shift_rpm: float | None
    visit: OpenVisit | None


class FloorView(Model):
    """Machines with an open visit first, then the others, by name: as many as were asked for of `total`.

    Archived ones come last. `empty`, whether the workshop knows no machine at all.

    `names_only`, whether a word was too short to be looked for in complaints.

    `unfinished` while some figures are still to be worked out: asked again, it goes on.
    """

    machines: list[MachineCard]
    total: int
    archived: int
    empty: bool
    unfinished: bool
    hands: list[str]
    names_only: bool


@dataclass(frozen=True)
class Only:
    """Which machines are looked for: with an open visit that waits at a `station`, that a `hand` wrote to last, that
    has stood open for so many `days` at least; with something `due` now or soon. Each left out asks for nothing."""

    station: Station | None = None
    hand: str = ""
    days: int = 0
    due: bool = False


EVERY = Only()


def floor_view(
    connection: sqlite3.Connection, wanted: str, limit: int, *, shelf: bool = False, only: Only = EVERY, first: str = ""
) -> FloorView:
    """Machines on the floor that match every word wanted, in any order; at most `limit` of them, those with an open
    visit that the hand `first` wrote to last before all others.

    Archived ones are found by their words, or shown with `shelf`.

    Words are looked for in name, rider, kind, the station it waits at, and complaint and odometer of any visit.
    """
    with reading(connection):
        lines, visits = floor.lines(connection), open_visits.open_visits(connection)
        empty, items = not lines, {each: open_items(visit.record) for each, visit in visits.items()}
        waits = {each: some[0].station if some else STATIONS[-1] for each, some in items.items()}
        for typed in wanted.split()[:MOST_WORDS]:
            word = typed.replace(",", "") if re.fullmatch(r"\d{1,3}(,\d{3})+", typed) else typed
            visited = floor.machines_visited(connection, word)
            lines = [
                each for each in lines if each.id in visited or word.casefold() in _words(each, waits.get(each.id, ""))
            ]
        hands = sorted({visits[each.id].hand for each in lines if each.id in visits})
        lines = _only(connection, lines, visits, waits, only)
        archived = sum(each.archived for each in lines)
        if not wanted.strip() and not shelf:
            lines = [each for each in lines if not each.archived]
        mine = {each for each, visit in visits.items() if visit.hand == first}
        lines.sort(key=lambda each: (each.archived, each.id not in visits, each.id not in mine))
        ids = [each.id for each in lines[:limit]]
        by_id = {each.machine.id: each for each in floor.machines_on_floor(connection, ids)}
        shown = [_card(by_id[each], items.get(each, [])) for each in ids]
        waiting = [each for each in shown if not by_id[each.machine.id].figures_kept]
        made = {by_id[each.machine.id].revision_id: each for each in waiting[:MOST_FIGURES]}
        for revision, card in made.items():
            figures = figures_now(revisions.get(connection, revision))
            card.bite_rpm, card.hit_n, card.shift_rpm = figures.engagement_rpm, figures.hit_n, figures.shift_rpm
    return FloorView(
        machines=shown,
        total=len(lines),
        archived=archived,
        empty=empty,
        unfinished=len(waiting) > len(made),
        hands=hands,
        names_only=any(len(each) < floor.LEAST_LETTERS for each in wanted.split()),
    )


def _only(
    connection: sqlite3.Connection,
    lines: list[FloorLine],
    visits: Mapping[int, open_visits.OpenVisit],
    waits: Mapping[int, Station],
    only: Only,
) -> list[FloorLine]:
    if only.due:
        pressing = {e.machine_id for e in dues.of_workshop(connection) if e.due.urgency in ("overdue", "soon")}
        lines = [each for each in lines if each.id in pressing]
    if only.station or only.hand or only.days:
        since = (datetime.now(UTC) - timedelta(days=only.days)).isoformat()
        lines = [
            each
            for each in lines
            if (visit := visits.get(each.id))
            and (not only.station or waits[each.id] == only.station)
            and (not only.hand or visit.hand == only.hand)
            and (not only.days or visit.opened_at <= since)
        ]
    return lines


def _card(found: floor.FloorMachine, items: Sequence[OpenItem]) -> MachineCard:
    return MachineCard(
        machine=head(found.machine),
        archived=found.machine.archived,
        bite_rpm=found.engagement_rpm,
        hit_n=found.hit_n,
        shift_rpm=found.shift_rpm,
        visit=_open_visit(found.visit, items) if found.visit else None,
    )


def _words(line: FloorLine, waits_for: str) -> str:
    return f"{line.name} {line.rider} {line.kind} {waits_for} {waits_for.replace('-', ' ')}".casefold()


def _open_visit(visit: open_visits.OpenVisit, items: Sequence[OpenItem]) -> OpenVisit:
    return OpenVisit(
        id=visit.id,
        opened_at=visit.opened_at,
        hand=visit.hand,
        complaint=visit.record.intake.complaint,
        scope=visit.record.scope,
        faults=sum(not each.fault.put_right for each in visit.record.faults),
        waits_for=items[0].station if items else STATIONS[-1],
        states=station_states(visit.record, signed_off=False),
        open_items=len(items),
    )
