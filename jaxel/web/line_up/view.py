"""Line-up, the break-in of a new belt and the close, as their pages show them."""

import sqlite3
from dataclasses import asdict

from jaxel.core.trade.kinds.schools import followed
from jaxel.core.trade.line_up import break_in
from jaxel.core.trade.line_up import line_up as lining
from jaxel.core.trade.line_up.break_in import Phase, Released
from jaxel.core.trade.line_up.line_up import Alignment, BeltLie, LineUp, RideLie, ShimStack, Within
from jaxel.core.trade.setup.lie import lie_of_belt
from jaxel.core.trade.visit import close_out
from jaxel.core.trade.visit.close_out import Count
from jaxel.store.db import now
from jaxel.store.kinds import choices
from jaxel.store.shelf import shelf
from jaxel.store.visit.close_out import told_before
from jaxel.store.visit.visits import Visit

from ..record.model import Model


class LineUpView(Model):
    """The line-up as read, and what follows: `out`, what is out and which way it must move; `stack`, the shims.

    Radii and the distance between centres [mm] are for the drawing.
    """

    read: LineUp
    alignment: Alignment | None
    offset: Within
    toe: Within
    out: list[str]
    stack: ShimStack | None
    stock: dict[float, int]
    belt: BeltLie | None
    model_deflection_mm: float | None
    model_ride_mm: float | None
    ride: RideLie | None
    seating_turns: int
    centres_mm: float
    primary_mm: float
    secondary_mm: float


class CycleView(Model):
    """A heat cycle, where it is, for how many minutes, and what was not as it should be."""

    id: int
    phase: Phase
    minutes: float
    began_at: str
    warm_at: str
    warm_c: float | None
    cool_at: str
    cool_c: float | None
    remarks: list[str]


class BreakInView(Model):
    """The break-in of a new belt, and the station it stands at in this visit; minutes are the server's."""

    station: str
    school: str
    why: str
    asked: int
    counted: int
    cycles: list[CycleView]
    released: Released
    reason: str
    warm_min: float
    cool_min: float


class CloseView(Model):
    """What is counted out and in; `missing`, what is not back, by key.

    `before`, what came off besides at an earlier visit of the machine; `brake`, whether a line of it was moved.
    """

    counts: list[Count]
    missing: dict[str, str]
    out: int
    back: int
    guard: bool
    brake: bool
    before: list[Count]


def line_up_view(connection: sqlite3.Connection, visit: Visit) -> LineUpView:
    """A visit's line-up, inside the caller's reading."""
    read, left = visit.back_together.line_up, visit.as_left()
    centres = visit.found.geometry.centre_distance_mm
    found = lining.alignment_of(read, centres)
    offset, toe = lining.within(read, found)
    stock = shelf.line_up_shims(connection)
    model, geometry = lie_of_belt(left), left.geometry
    return LineUpView(
        read=read,
        alignment=found,
        offset=offset,
        toe=toe,
        out=list(lining.out_of(read, found)) if found else [],
        stack=lining.shim_stack(found.offset_mm or 0.0, read.behind, stock) if found and offset.out else None,
        stock=stock,
        belt=lining.belt_lie(read, left),
        model_deflection_mm=model.deflection_mm if model else None,
        model_ride_mm=model.ride_mm if model else None,
        ride=lining.ride_lie(read, model.ride_mm if model else None),
        seating_turns=lining.SEATING_TURNS,
        centres_mm=centres,
        primary_mm=lining.pulley_radius(left),
        secondary_mm=geometry.secondary.closed_radius_mm,
    )


def break_in_view(connection: sqlite3.Connection, visit: Visit, stations: list[str]) -> BreakInView | None:
    """The break-in of the belt that goes on, None where no new one does."""
    if not visit.belt.new_one:
        return None
    held, cycles = visit.back_together.break_in, visit.back_together.cycles
    air, clock = visit.intake.temperature_c, now()
    school = followed("break_in", choices.made(connection))
    views = []
    for each in cycles:
        where, minutes = break_in.phase(each, clock)
        remarks = list(break_in.remarks(each, air))
        views.append(CycleView(phase=where, minutes=minutes, remarks=remarks, **asdict(each)))
    return BreakInView(
        station="line-up" if "line-up" in stations else "hand-over",
        school=school.name,
        why=school.why,
        asked=visit.cycles_asked,
        counted=break_in.counted(cycles, air),
        cycles=views,
        released=held.released,
        reason=held.reason,
        warm_min=break_in.WARM_MIN,
        cool_min=break_in.COOL_MIN,
    )


def close_view(connection: sqlite3.Connection, visit: Visit) -> CloseView:
    """What is counted at the close of a visit, inside the caller's reading."""
    record = visit.record()
    counts = record.to_count
    out, back = close_out.totals(counts)
    missing = {field.removeprefix("count_"): words for field, words in close_out.missing(counts)}
    return CloseView(
        counts=counts,
        missing=missing,
        out=out,
        back=back,
        guard=record.scope != "bench",
        brake=close_out.brake_moved(counts),
        before=told_before(connection, visit),
    )
