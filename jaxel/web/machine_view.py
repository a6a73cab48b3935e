"""One machine as its pages show it: package, set-ups through time, belts and visits."""

import sqlite3

from pydantic import BaseModel

from jaxel.core.trade.kinds import Kinds
from jaxel.core.trade.scores import Comparison
from jaxel.core.trade.slots import slots
from jaxel.core.trade.stations import STATIONS, Station, open_items, station_states
from jaxel.store import machines, revisions, visits
from jaxel.store.db import reading
from jaxel.store.machines import Machine
from jaxel.store.revisions import Revision
from jaxel.store.visits import Visit

from .errors import Refusal
from .predictions import predicted_or_fault
from .visit_view import ChangeView, MachineHead, change_views, run_comparison


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
    shift_rpm: float | None
    visit: OpenVisit | None


class FloorView(BaseModel):
    machines: list[MachineCard]


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
    shift_rpm: float | None
    measured: list[Comparison]
    fault: Refusal | None


class MachineBelt(BaseModel):
    number: int
    state: str
    width_mm: float


class VisitLine(BaseModel):
    id: int
    opened_at: str
    signed_off_at: str | None
    odometer_km: float | None
    complaint: str
    mean_width_mm: float | None
    belt_number: int


class MachineView(BaseModel):
    machine: MachineHead
    limit_origin: str
    package: list[PackageRow]
    revisions: list[RevisionView]
    belts: list[MachineBelt]
    visits: list[VisitLine]
    open_visit_id: int | None


def head(machine: Machine) -> MachineHead:
    """A machine's name as every page shows it."""
    return MachineHead(id=machine.id, name=machine.name, kind=machine.kind, rider=machine.rider)


def machine_card(machine: Machine, current: Revision, visit: Visit | None) -> MachineCard:
    """A machine on the shop floor, with the station its open visit waits at."""
    prediction, _ = predicted_or_fault(current.document)
    return MachineCard(
        machine=head(machine),
        bite_rpm=prediction.engagement.bite_rpm if prediction else None,
        shift_rpm=prediction.shift.mean_rpm if prediction else None,
        visit=_open_visit(visit) if visit else None,
    )


def _open_visit(visit: Visit) -> OpenVisit:
    items = open_items(visit.record())
    return OpenVisit(
        id=visit.id,
        opened_at=visit.opened_at,
        complaint=visit.intake.complaint,
        waits_for=items[0].station if items else STATIONS[-1],
        states=station_states(visit.record(), signed_off=False),
        open_items=len(items),
    )


def machine_view(connection: sqlite3.Connection, machine_id: int) -> MachineView:
    """Everything the page of a machine shows; raises NotFound."""
    with reading(connection):
        return _read(connection, machine_id)


def _read(connection: sqlite3.Connection, machine_id: int) -> MachineView:
    machine = machines.get(connection, machine_id)
    history = revisions.history(connection, machine_id)
    held = visits.visits_of(connection, machine_id)
    by_id = {revision.id: revision for revision in history}
    return MachineView(
        machine=head(machine),
        limit_origin=machine.limit_origin,
        package=_package(history[0], machine.kinds),
        revisions=[_revision(revision, by_id, held, machine.kinds) for revision in history],
        belts=[
            MachineBelt(number=b.number, state=b.state, width_mm=b.width_mm)
            for b in machines.belts(connection, machine_id)
        ],
        visits=[
            VisitLine(
                id=visit.id,
                opened_at=visit.opened_at,
                signed_off_at=visit.signed_off_at,
                odometer_km=visit.intake.odometer_km,
                complaint=visit.intake.complaint,
                mean_width_mm=visit.mean_width_mm if visit.widths_mm else None,
                belt_number=visit.fitted_belt.number,
            )
            for visit in held
        ],
        open_visit_id=visits.open_visit_of(connection, machine_id),
    )


def _revision(revision: Revision, by_id: dict[int, Revision], held: list[Visit], kinds: Kinds) -> RevisionView:
    parent = by_id.get(revision.parent_id) if revision.parent_id else None
    prediction, fault = predicted_or_fault(revision.document)
    runs = [(visit, run) for visit in reversed(held) for run in visit.runs if run.revision_id == revision.id]
    return RevisionView(
        id=revision.id,
        created_at=revision.created_at,
        reason=revision.reason,
        visit_id=revision.visit_id,
        changes=change_views(parent.document, revision.document, kinds) if parent else [],
        belt_width_mm=revision.document.belt.top_width_mm,
        bite_rpm=prediction.engagement.bite_rpm if prediction else None,
        shift_rpm=prediction.shift.mean_rpm if prediction else None,
        measured=run_comparison(*runs[-1]) if runs else [],
        fault=fault,
    )


def _package(revision: Revision, kinds: Kinds) -> list[PackageRow]:
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
        for slot in slots(document, kinds)
        for number in slot.numbers
        if number.typed and number.value is not None
    ]
    return [PackageRow(group=group, label=label, unit=unit, value=value) for group, label, unit, value in fitted + rows]
