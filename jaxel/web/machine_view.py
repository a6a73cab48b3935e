"""One machine as its pages show it: package, set-ups through time, belts and visits."""

import re
import sqlite3

from pydantic import BaseModel

from jaxel.core.trade.kinds import Kinds, kinds
from jaxel.core.trade.scores import Comparison
from jaxel.core.trade.slots import slots
from jaxel.core.trade.stations import STATIONS, Station, open_items, station_states
from jaxel.store import floor, machines, revisions, visits
from jaxel.store.db import reading
from jaxel.store.machines import Machine
from jaxel.store.revisions import Figures, Revision
from jaxel.store.visits import VisitLine

from .errors import Refusal
from .predictions import keep_figures, predicted_or_fault
from .visit_view import ChangeView, MachineHead, change_views, run_comparison

PAGE = 30
"""Visits or set-ups on one page of a list."""

MOST_WORDS = 8
MOST_FIGURES = 10
"""Set-ups whose figures are worked out for one answer; a list asked for again goes on where it stopped."""


class OpenVisit(BaseModel):
    id: int
    opened_at: str
    complaint: str
    waits_for: Station
    states: dict[Station, str]
    open_items: int


class MachineCard(BaseModel):
    """A machine on the shop floor; predicted engagement and shift of its set-up as last recorded."""

    machine: MachineHead
    bite_rpm: float | None
    snap_n: float | None
    shift_rpm: float | None
    visit: OpenVisit | None


class FloorView(BaseModel):
    """Machines with an open visit first, then the others, by name: as many as were asked for of `total`.

    `unfinished` while some figures are still to be worked out: asked again, it goes on.
    """

    machines: list[MachineCard]
    total: int
    unfinished: bool


class PackageRow(BaseModel):
    """One line of the clutch package: what it is, and its reading."""

    group: str
    label: str
    unit: str
    value: float


class RevisionView(BaseModel):
    id: int
    created_at: str
    reason: str
    visit_id: int | None
    changes: list[ChangeView]
    belt_width_mm: float
    bite_rpm: float | None
    snap_n: float | None
    shift_rpm: float | None
    measured: list[Comparison]
    fault: Refusal | None


class MachineBelt(BaseModel):
    number: int
    state: str
    width_mm: float


class VisitsView(BaseModel):
    """Visits, newest first; `more` when there are older ones."""

    visits: list[VisitLine]
    more: bool


class RevisionsView(BaseModel):
    """Set-ups through time, newest first; `more` when there are older ones."""

    revisions: list[RevisionView]
    more: bool


class MachineView(BaseModel):
    machine: MachineHead
    primary_kind: str | None
    secondary_kind: str | None
    limit_origin: str
    package: list[PackageRow]
    setups: RevisionsView
    belts: list[MachineBelt]
    visits: VisitsView
    open_visit_id: int | None


def head(machine: Machine) -> MachineHead:
    """A machine's name as every page shows it."""
    return MachineHead(id=machine.id, name=machine.name, kind=machine.kind, rider=machine.rider)


def floor_view(connection: sqlite3.Connection, wanted: str, limit: int) -> FloorView:
    """Machines on the floor that match every word wanted, in any order; at most `limit` of them.

    Words are looked for in name, rider, kind, the station it waits at, and complaint and odometer of any visit.
    """
    with reading(connection):
        found = floor.machines_on_floor(connection)
        by_id, cards = {each.machine.id: each for each in found}, [_card(each) for each in found]
        for typed in wanted.casefold().split()[:MOST_WORDS]:
            word = typed.replace(",", "") if re.fullmatch(r"\d{1,3}(,\d{3})+", typed) else typed
            visited = floor.machines_visited(connection, word)
            cards = [card for card in cards if card.machine.id in visited or word in _words(card)]
        cards.sort(key=lambda card: card.visit is None)
        shown = cards[:limit]
        waiting = [each for each in shown if not by_id[each.machine.id].figures_kept]
        made = {by_id[each.machine.id].revision_id: each for each in waiting[:MOST_FIGURES]}
        for revision, card in made.items():
            figures = _figures(revisions.get(connection, revision))
            card.bite_rpm, card.snap_n, card.shift_rpm = figures.engagement_rpm, figures.snap_n, figures.shift_rpm
    return FloorView(machines=shown, total=len(cards), unfinished=len(waiting) > len(made))


def _figures(revision: Revision) -> Figures:
    """Figures of a set-up from before they were kept: worked out now, kept when the request has been answered."""
    prediction, fault = predicted_or_fault(revision.document)
    figures = (
        revisions.figures_of(prediction) if prediction else Figures(None, None, None, fault.reason if fault else "")
    )
    keep_figures({revision.id: figures})
    return figures


def _card(found: floor.FloorMachine) -> MachineCard:
    return MachineCard(
        machine=head(found.machine),
        bite_rpm=found.engagement_rpm,
        snap_n=found.snap_n,
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
        waits_for=items[0].station if items else STATIONS[-1],
        states=station_states(visit.record, signed_off=False),
        open_items=len(items),
    )


def machine_view(connection: sqlite3.Connection, machine_id: int) -> MachineView:
    """Everything the page of a machine shows, read at one moment; raises NotFound."""
    with reading(connection):
        machine = machines.get(connection, machine_id)
        return MachineView(
            machine=head(machine),
            primary_kind=_kind_name(machine.primary_kind),
            secondary_kind=_kind_name(machine.secondary_kind),
            limit_origin=machine.limit_origin,
            package=_package(revisions.newest(connection, machine_id), machine.kinds),
            setups=setups_view(connection, machine_id),
            belts=[
                MachineBelt(number=b.number, state=b.state, width_mm=b.width_mm)
                for b in machines.belts(connection, machine_id)
            ],
            visits=visits_view(connection, machine_id),
            open_visit_id=visits.open_visit_of(connection, machine_id),
        )


def _kind_name(key: str | None) -> str | None:
    kind = kinds().get(key or "")
    return kind.name if kind else None


def visits_view(connection: sqlite3.Connection, machine_id: int, before: int | None = None) -> VisitsView:
    """A page of a machine's visits."""
    lines = visits.lines_of(connection, machine_id, before=before, limit=PAGE + 1)
    return VisitsView(visits=lines[:PAGE], more=len(lines) > PAGE)


def setups_view(connection: sqlite3.Connection, machine_id: int, before: int | None = None) -> RevisionsView:
    """A page of a machine's set-ups through time."""
    with reading(connection):
        stated = machines.get(connection, machine_id).kinds
        # One more than a page, so that its last revision finds its parent.
        history = revisions.history(connection, machine_id, before=before, limit=PAGE + 1)
        kept = revisions.figures(connection, history)
        runs = visits.last_runs(connection, [each.id for each in history])
        by_id = {each.id: each for each in history}
        shown = []
        for each in history[:PAGE]:
            parent = by_id.get(each.parent_id or 0) or (
                revisions.get(connection, each.parent_id) if each.parent_id else None
            )
            figures = kept.get(each.id) or _figures(each)
            shown.append(
                RevisionView(
                    id=each.id,
                    created_at=each.created_at,
                    reason=each.reason,
                    visit_id=each.visit_id,
                    changes=change_views(parent.document, each.document, stated) if parent else [],
                    belt_width_mm=each.document.belt.top_width_mm,
                    bite_rpm=figures.engagement_rpm,
                    snap_n=figures.snap_n,
                    shift_rpm=figures.shift_rpm,
                    measured=run_comparison(runs[each.id][1], runs[each.id][0]) if each.id in runs else [],
                    fault=Refusal(field="setup", reason=figures.fault) if figures.fault else None,
                )
            )
    return RevisionsView(revisions=shown, more=len(history) > PAGE)


def _package(revision: Revision, stated: Kinds) -> list[PackageRow]:
    document = revision.document
    geometry, belt, vehicle = document.geometry, document.belt, document.vehicle
    rows = [
        ("Belt drive", "centre distance", "mm", geometry.centre_distance_mm),
        ("Belt drive", "sheave half-angle", "deg", geometry.sheave_half_angle_deg),
        ("Belt drive", "primary travel", "mm", geometry.primary.travel_mm),
        ("Belt drive", "secondary travel", "mm", geometry.secondary.travel_mm),
        ("Belt drive", "side gap, new belt", "mm", geometry.primary.idle_clearance_mm),
        ("Belt", "outside circumference", "mm", belt.outer_circumference_mm),
        ("Belt", "width new", "mm", belt.top_width_new_mm),
        ("Belt", "wear limit", "mm", belt.top_width_min_mm),
        ("Engine", "rev limit", "rpm", document.engine.rev_limit_rpm),
        ("Vehicle", "mass with rider", "kg", vehicle.mass_kg),
        ("Vehicle", "drive ratio", "", vehicle.drive_ratio),
    ]
    fitted = [
        (slot.name, number.label, number.unit, number.value)
        for slot in slots(document, stated)
        for number in slot.numbers
        if number.typed and number.value is not None
    ]
    return [PackageRow(group=group, label=label, unit=unit, value=value) for group, label, unit, value in fitted + rows]
