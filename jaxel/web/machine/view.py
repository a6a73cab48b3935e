"""One machine as its page shows it: what is said of it, package and limits, set-ups through time, belts, visits."""

import sqlite3

from jaxel.core.formats.paths import unit_of
from jaxel.core.trade.kinds.kinds import Side, kinds
from jaxel.core.trade.run.scores import Comparison, compare
from jaxel.core.trade.setup.slots import changes
from jaxel.core.trade.stranger.label import clutch_label
from jaxel.core.trade.visit.intake import Intake
from jaxel.core.words import q
from jaxel.store.db import reading
from jaxel.store.machine import limits, machines, mountings, photos
from jaxel.store.machine.machines import Machine
from jaxel.store.machine.mountings import Mounting
from jaxel.store.record.rows import open_visit_of
from jaxel.store.run import log_files
from jaxel.store.setup import revisions
from jaxel.store.setup.revisions import Revision
from jaxel.store.stranger.faults import faults_of
from jaxel.store.visit import past
from jaxel.store.visit.entries import TestRun
from jaxel.store.visit.past import VisitLine

from ..errors import Refusal
from ..kinds.options import KindOption, kind_options
from ..record.model import Model
from ..setup.predictions import figures_now
from ..setup.view import ChangeView, change_views
from ..units import units
from .head import MachineHead
from .package_view import PackageRow, package_view
from .photo_view import PhotoView, photo_view

PAGE = 30
"""Visits or set-ups on one page of a list."""


class LimitView(Model):
    """A limit as somebody states it; `holds`, whether it is the one in force, `conflicts`, whether others differ."""

    id: int
    what: str
    name: str
    unit: str
    value: float
    origin: str
    stated_by: str
    stated_at: str
    holds: bool
    conflicts: bool


class Said(Model):
    """What is said of a machine beside its set-up; keys of its clutches' kinds."""

    tyre: str
    taper: str
    offset_mm: float | None
    stamp: str
    primary_kind: str | None
    secondary_kind: str | None
    archived: bool


class RevisionView(Model):
    id: int
    created_at: str
    reason: str
    nature: str
    visit_id: int | None
    changes: list[ChangeView]
    belt_width_mm: float
    bite_rpm: float | None
    hit_n: float | None
    shift_rpm: float | None
    measured: list[Comparison]
    fault: Refusal | None


class MachineBelt(Model):
    id: int
    number: int
    state: str
    width_mm: float


class VisitsView(Model):
    """Visits, newest first; `more` when there are older ones."""

    visits: list[VisitLine]
    more: bool


class RevisionsView(Model):
    """Set-ups through time, newest first; `more` when there are older ones."""

    revisions: list[RevisionView]
    more: bool


class MachineLog(Model):
    """A log of one of the machine's runs: of which visit, its name and size [bytes], when and by whom it came."""

    run_id: int
    visit_id: int
    name: str
    size: int
    kept_at: str
    kept_by: str
    counts: bool


class MachineView(Model):
    """`mounted`, what was mounted on it, or where this clutch was; `half`, which one a bare clutch is."""

    machine: MachineHead
    said: Said
    primary_kind: str | None
    secondary_kind: str | None
    primaries: list[KindOption]
    secondaries: list[KindOption]
    limits: list[LimitView]
    photos: list[PhotoView]
    logs: list[MachineLog]
    label: list[str]
    package: list[PackageRow]
    setups: RevisionsView
    belts: list[MachineBelt]
    visits: VisitsView
    open_visit_id: int | None
    mounted: list[Mounting]
    half: Side | None


def head(machine: Machine) -> MachineHead:
    """A machine's name as every page shows it."""
    return MachineHead(id=machine.id, name=machine.name, kind=machine.kind, rider=machine.rider, model=machine.model)


def machine_view(connection: sqlite3.Connection, machine_id: int) -> MachineView:
    """Everything the page of a machine shows, read at one moment; of a record merged away, the one that goes on.

    Raises NotFound.
    """
    with reading(connection):
        machine = machines.get(connection, machine_id)
        if machine.merged_into is not None:  # it is that machine
            return machine_view(connection, machine.merged_into)
        newest = revisions.newest(connection, machine_id)
        return MachineView(
            machine=head(machine),
            said=Said(**{name: getattr(machine, name) for name in Said.model_fields}),
            primary_kind=_kind_name(machine.primary_kind),
            secondary_kind=_kind_name(machine.secondary_kind),
            primaries=kind_options(newest.document, "primary"),
            secondaries=kind_options(newest.document, "secondary"),
            limits=_limits(connection, machine_id),
            logs=[MachineLog(**vars(each)) for each in log_files.of_machine(connection, machine_id)],
            photos=[photo_view(each) for each in photos.of_machine(connection, machine_id)],
            mounted=mountings.of_machine(connection, machine_id),
            half=machine.kinds.sides[0] if machine.bare and len(machine.kinds.sides) == 1 else None,
            label=_label(connection, machine, newest),
            package=package_view(newest, machine.kinds),
            setups=setups_view(connection, machine_id),
            belts=[
                MachineBelt(id=b.id, number=b.number, state=b.state, width_mm=b.width_mm)
                for b in machines.belts(connection, machine_id)
            ],
            visits=visits_view(connection, machine_id),
            open_visit_id=open_visit_of(connection, machine_id),
        )


def _limits(connection: sqlite3.Connection, machine_id: int) -> list[LimitView]:
    stated = limits.of_machine(connection, machine_id)
    values = {each.name: {other.value for other in stated if other.name == each.name} for each in stated}
    first = {each.name: each.id for each in reversed(stated)}
    return [
        LimitView(
            id=each.id,
            what=each.name,
            name=LIMIT_NAMES[each.name],
            unit=unit_of(limits.PATHS[each.name]),
            value=each.value,
            origin=each.origin,
            stated_by=each.stated_by,
            stated_at=each.stated_at,
            holds=first[each.name] == each.id,
            conflicts=len(values[each.name]) > 1,
        )
        for each in stated
    ]


LIMIT_NAMES = {"belt_width_min_mm": "Belt, narrowest", "rev_limit_rpm": "Engine, highest speed"}


def _amiss(connection: sqlite3.Connection, clutch_id: int) -> list[str]:
    """Faults of a clutch's last visit that were not put right, in words."""
    last = next(iter(past.lines_of(connection, clutch_id, limit=1)), None)
    found = faults_of(connection, last.id) if last else ()
    return [f"{each.fault.name[:1].lower()}{each.fault.name[1:]}" for each in found if not each.fault.put_right]


def _label(connection: sqlite3.Connection, machine: Machine, newest: Revision) -> list[str]:
    """The label for a bare clutch's cover; none for a machine."""
    if not machine.bare:
        return []
    offset = "" if machine.offset_mm is None else f"{q(machine.offset_mm, 'mm')}"
    identity = {"taper": machine.taper, "offset": offset, "stamp": machine.stamp}
    known = {each.id: each for each in revisions.history(connection, machine.id)}
    steps = [(known.get(each.parent_id or 0), each) for each in known.values() if each.nature == "change"]
    put_in = {
        change.slot.key for was, now in steps if was for change in changes(was.document, now.document, machine.kinds)
    }
    return clutch_label(
        machine.name, newest.document, machine.kinds, identity, units(), put_in, _amiss(connection, machine.id)
    )


def _kind_name(key: str | None) -> str | None:
    kind = kinds().get(key or "")
    return kind.name if kind else None


def visits_view(connection: sqlite3.Connection, machine_id: int, before: int | None = None) -> VisitsView:
    """A page of a machine's visits."""
    lines = past.lines_of(connection, machine_id, before=before, limit=PAGE + 1)
    return VisitsView(visits=lines[:PAGE], more=len(lines) > PAGE)


def setups_view(connection: sqlite3.Connection, machine_id: int, before: int | None = None) -> RevisionsView:
    """A page of a machine's set-ups through time."""
    with reading(connection):
        stated = machines.get(connection, machine_id).kinds
        # One more than a page, so that its last revision finds its parent.
        history = revisions.history(connection, machine_id, before=before, limit=PAGE + 1)
        kept = revisions.figures(connection, history)
        runs = past.last_runs(connection, [each.id for each in history])
        by_id = {each.id: each for each in history}
        shown = []
        for each in history[:PAGE]:
            parent = by_id.get(each.parent_id or 0) or (
                revisions.get(connection, each.parent_id) if each.parent_id else None
            )
            figures = kept.get(each.id) or figures_now(each)
            shown.append(
                RevisionView(
                    id=each.id,
                    created_at=each.created_at,
                    reason=each.reason,
                    nature=each.nature,
                    visit_id=each.visit_id,
                    changes=change_views(parent.document, each.document, stated) if parent else [],
                    belt_width_mm=each.document.belt.top_width_mm,
                    bite_rpm=figures.engagement_rpm,
                    hit_n=figures.hit_n,
                    shift_rpm=figures.shift_rpm,
                    measured=_measured(*runs[each.id]) if each.id in runs else [],
                    fault=Refusal(field="setup", reason=figures.fault) if figures.fault else None,
                )
            )
    return RevisionsView(revisions=shown, more=len(history) > PAGE)


def _measured(run: TestRun, intake: Intake) -> list[Comparison]:
    """A run beside what was predicted for it on its day, and the target of its visit."""
    return compare(run.predicted, run.figures, intake.stated_windows)
