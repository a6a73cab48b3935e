"""The shop floor as its page shows it: every machine, what it waits for, and what it is predicted to do."""

import re
import sqlite3

from jaxel.core.trade.record.said import Station
from jaxel.core.trade.record.scope import Scope
from jaxel.core.trade.visit.stations import STATIONS, open_items, station_states
from jaxel.store.db import reading
from jaxel.store.setup import revisions
from jaxel.store.visit import floor

from ..machine.head import MachineHead
from ..machine.view import head
from ..record.model import Model
from ..setup.predictions import figures_now

MOST_WORDS = 8
MOST_FIGURES = 10
"""Set-ups whose figures are worked out for one answer; a list asked for again goes on where it stopped."""


class OpenVisit(Model):
    id: int
    opened_at: str
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

    `unfinished` while some figures are still to be worked out: asked again, it goes on.
    """

    machines: list[MachineCard]
    total: int
    archived: int
    empty: bool
    unfinished: bool


def floor_view(connection: sqlite3.Connection, wanted: str, limit: int, *, shelf: bool = False) -> FloorView:
    """Machines on the floor that match every word wanted, in any order; at most `limit` of them.

    Archived ones are found by their words, or shown with `shelf`.

    Words are looked for in name, rider, kind, the station it waits at, and complaint and odometer of any visit.
    """
    with reading(connection):
        found = floor.machines_on_floor(connection)
        by_id, cards = {each.machine.id: each for each in found}, [_card(each) for each in found]
        for typed in wanted.casefold().split()[:MOST_WORDS]:
            word = typed.replace(",", "") if re.fullmatch(r"\d{1,3}(,\d{3})+", typed) else typed
            visited = floor.machines_visited(connection, word)
            cards = [card for card in cards if card.machine.id in visited or word in _words(card)]
        archived = sum(card.archived for card in cards)
        if not wanted.strip() and not shelf:
            cards = [card for card in cards if not card.archived]
        cards.sort(key=lambda card: (card.archived, card.visit is None))
        shown = cards[:limit]
        waiting = [each for each in shown if not by_id[each.machine.id].figures_kept]
        made = {by_id[each.machine.id].revision_id: each for each in waiting[:MOST_FIGURES]}
        for revision, card in made.items():
            figures = figures_now(revisions.get(connection, revision))
            card.bite_rpm, card.hit_n, card.shift_rpm = figures.engagement_rpm, figures.hit_n, figures.shift_rpm
    return FloorView(
        machines=shown,
        total=len(cards),
        archived=archived,
        empty=not found,
        unfinished=len(waiting) > len(made),
    )


def _card(found: floor.FloorMachine) -> MachineCard:
    return MachineCard(
        machine=head(found.machine),
        archived=found.machine.archived,
        bite_rpm=found.engagement_rpm,
        hit_n=found.hit_n,
        shift_rpm=found.shift_rpm,
        visit=_open_visit(found.visit) if found.visit else None,
    )


def _words(card: MachineCard) -> str:
    here = f"{card.visit.waits_for} {card.visit.waits_for.replace('-', ' ')}" if card.visit else ""
    return f"{card.machine.name} {card.machine.rider} {card.machine.kind} {here}".casefold()


def _open_visit(visit: floor.OpenVisit) -> OpenVisit:
    items = open_items(visit.record)
    return OpenVisit(
        id=visit.id,
        opened_at=visit.opened_at,
        complaint=visit.record.intake.complaint,
        scope=visit.record.scope,
        faults=sum(not each.fault.put_right for each in visit.record.faults),
        waits_for=items[0].station if items else STATIONS[-1],
        states=station_states(visit.record, signed_off=False),
        open_items=len(items),
    )
