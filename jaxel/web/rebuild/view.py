"""Rebuild as its page shows it: steps with what is asked, torques with their wrenches, what is out of balance."""

import sqlite3
from collections.abc import Mapping
from dataclasses import asdict
from datetime import date
from typing import Literal

from jaxel.core.formats.prediction import PredictionFigures
from jaxel.core.trade.kinds.kind_file import Compound, Fastener, Shape, Tightness
from jaxel.core.trade.kinds.kinds import Kind, Side, of_side
from jaxel.core.trade.kinds.kinds import clutches as clutches_of
from jaxel.core.trade.line_up import break_in
from jaxel.core.trade.rebuild.balance import Turning, balanced, mid_shift_radius
from jaxel.core.trade.rebuild.done import rightings
from jaxel.core.trade.rebuild.rebuild import WRONG_WAY, Ask, Step, Turn
from jaxel.core.trade.rebuild.tightening import (
    NOT_SAID,
    CompoundPhase,
    Size,
    Stated,
    Thread,
    Tightened,
    compound_phase,
    sequence,
    wanted,
)
from jaxel.core.trade.rebuild.torque import Means, Wrench, choose_wrench, means_for
from jaxel.core.trade.visit import close_out
from jaxel.store.db import now
from jaxel.store.rebuild import bench_records, torques
from jaxel.store.rebuild.torques import Torques
from jaxel.store.shelf import parts
from jaxel.store.shelf.parts import Part
from jaxel.store.visit.visits import Visit
from jaxel.store.workshop import wrenches

from ..record.model import Model
from ..workshop.wrench import WrenchView, wrench_view
from .righted import RightedView, righted_view

Sizes = Mapping[tuple[Side, str], Size]


class FastenerView(Model):
    """A fastener of a step: how tight it is to be and by whose word, with what, and what was done.

    `order`, the places round the circle as they are tightened; `means`, what it is likely tightened by; `compound_min`,
    how long the compound has been on; `size` of its drive and `thread` as they are known of this machine.
    """

    key: str
    place: str
    count: int
    tightness: Tightness
    torque_nm: float | None
    source: str
    low_nm: float | None
    high_nm: float | None
    drive: str
    reach: str
    single_use: bool
    note: str
    passes: int
    order: list[int]
    people: int
    compound: Compound | None
    compound_min: float | None
    compound_phase: CompoundPhase
    tools: list[str]
    statements: list[Stated]
    chosen: int | None
    conflict: bool
    wrench: WrenchView | None
    means: Means | Literal[""]
    size: str
    thread: Thread
    thread_first: bool
    done: Tightened


class MatchedView(Model):
    """A set that must weigh alike: masses by place [g], `expected_g` each by the set-up, the radius it turns on."""

    key: str
    name: str
    of: str
    count: int
    allowed_g: float
    masses_g: list[float | None]
    spread_g: float | None
    mean_g: float | None
    alike: bool
    expected_g: float | None
    radius_mm: float | None
    radius_measured: bool


class StepView(Model):
    side: Side
    key: str
    place: str
    name: str
    shape: Shape | None
    count: int
    hazard: str | None
    asks: list[Ask]
    fasteners: list[FastenerView]
    matched: list[MatchedView]
    wind: bool
    righted: list[RightedView]
    amiss: list[str]
    acceptable: bool
    accepted: str
    open: list[str]
    begun: bool


class WindView(Model):
    """How the secondary spring was wound, beside what the set-up says; `noted` when it came apart."""

    closes: Turn
    wound: Turn
    wound_deg: float | None
    sheave_hole: str
    helix_hole: str
    to_sheave: str
    to_helix: str
    to_deg: float | None
    noted: str


class BalanceView(Model):
    """What is out of balance at shift rpm, and the order with the least of it: the piece at each place, from 0."""

    side: Side
    rpm: float
    unbalance_gmm: float
    force_n: float
    pictured: str
    best_gmm: float
    best_n: float
    arms: list[int]
    rollers: list[int]


class DriveView(Model):
    """What a fastener is turned with: its `size` as it is known of this machine, empty where nobody typed it yet."""

    side: Side
    key: str
    place: str
    drive: str
    size: str
    thread: Thread


class LeftOn(Model):
    place: str
    name: str


class BenchClutch(Model):
    """A clutch that goes back; `off_shaft`, whether a hand said that it came off its shaft to be worked on, None where
    what was opened says so already."""

    side: Side
    kind: str
    name: str
    off_shaft: bool | None


class RebuildView(Model):
    """Putting back: steps in order; `tools` to lay out before starting; `drives`, what each fastener is turned with.

    `owed`, torques that are; `kind_asked`, clutches that were changed though nobody said of which kind they are.
    """

    clutches: list[BenchClutch]
    steps: list[StepView]
    wind: WindView
    balance: list[BalanceView]
    tools: list[str]
    drives: list[DriveView]
    left_on: list[LeftOn]
    helper: str
    owed: list[str]
    kind_asked: list[Side]
    out: int
    back: int


def rebuild_view(connection: sqlite3.Connection, visit: Visit, left: PredictionFigures | None) -> RebuildView:
    """A visit's rebuild, inside the caller's reading; `left`, what is predicted of the set-up as left."""
    bench = visit.bench
    clutches = bench.opened(visit.inspection)
    steps = bench.steps(visit.inspection)
    said = torques.of_machine(connection, visit.machine_id, visit.kinds)
    own, today = wrenches.in_use(connection), date.fromisoformat(now()[:10])
    kind_of = {side: kind.key for side, kind in clutches_of(visit.kinds)}
    stock = parts.all_parts(connection) if any(each.righted for each in steps) else []
    held, expected = visit.back_together.rebuild, bench.expected
    sizes = bench_records.sizes(connection, visit.machine_id, visit.id)
    views = [_step(visit, each, kind_of[each.side], said, own, today, sizes, stock) for each in steps]
    tools = {name: None for each in clutches for fastener in each.fasteners for name in fastener.tools}
    todo = rightings(visit.inspection, visit.back_together.done)
    tools |= dict.fromkeys(each.remedy.tool for each in todo if each.remedy and each.remedy.tool)
    names = {f"{side}.{part.key}": part.name for side, kind in clutches_of(visit.kinds) for part in kind.guide.part}
    out, back = close_out.totals(visit.record().to_count)
    return RebuildView(
        clutches=[
            BenchClutch(side=side, kind=kind.key, name=kind.name, off_shaft=_off_shaft(visit, side, kind))
            for side, kind in clutches_of(visit.kinds)
            if any(step.side == side for step in steps)
        ],
        steps=views,
        wind=WindView(
            closes=held.closes,
            wound=held.wound,
            wound_deg=held.wound_deg,
            sheave_hole=held.sheave_hole,
            helix_hole=held.helix_hole,
            to_sheave=expected.holes[0] if expected.holes else "",
            to_helix=expected.holes[1] if expected.holes else "",
            to_deg=expected.pretwist_deg,
            noted=visit.inspection.strip.spring_note,
        ),
        balance=[found for each in clutches if (found := _balance(each.side, views, left))],
        tools=list(tools),
        drives=[_drive(each.side, fastener, sizes) for each in clutches for fastener in each.fasteners],
        left_on=[LeftOn(place=each, name=names.get(each, each)) for each in held.left_on],
        helper=held.helper,
        owed=[of_side(f.place, each.side) for each in steps for f, done in each.fasteners if done.state == "owed"],
        kind_asked=list(bench.kind_asked),
        out=out,
        back=back,
    )


def _off_shaft(visit: Visit, side: Side, kind: Kind) -> bool | None:
    bolts = [part.key for part in kind.guide.part if part.frees]
    if side in visit.bench.rebuild.off_shaft:
        return True
    opened = [part.key for each in visit.bench.opened(visit.inspection) if each.side == side for part in each.parts]
    return None if not bolts or set(bolts) <= set(opened) else False


def _drive(side: Side, fastener: Fastener, sizes: Sizes) -> DriveView:
    known = sizes.get((side, fastener.key), NOT_SAID)
    return DriveView(
        side=side, key=fastener.key, place=fastener.place, drive=fastener.drive, size=known.size, thread=known.thread
    )


def _step(
    visit: Visit, step: Step, kind: str, said: Torques, own: list[Wrench], today: date, sizes: Sizes, stock: list[Part]
) -> StepView:
    part = step.part
    touched = any(ask.seen for ask in step.asks) or any(done.state for _, done in step.fasteners)
    touched = touched or any(done.how for _, done in step.righted)
    return StepView(
        side=step.side,
        key=step.key,
        place=step.place,
        name=step.name,
        shape=part.shape if part else None,
        count=part.count if part else 1,
        hazard=part.hazard if part else None,
        asks=list(step.asks),
        fasteners=[
            _fastener(each, done, kind, said, own, today, sizes.get((step.side, each.key), NOT_SAID))
            for each, done in step.fasteners
        ],
        matched=[_matched(visit, step, index) for index in range(len(step.matched))],
        wind=step.wind,
        righted=[righted_view(visit, each, done, stock) for each, done in step.righted],
        amiss=list(step.amiss),
        acceptable=any(each != WRONG_WAY for each in step.amiss),
        accepted=visit.back_together.rebuild.accepted.get(step.place, ""),
        open=[words for _, words in step.open],
        begun=touched,
    )


def _fastener(
    fastener: Fastener, done: Tightened, kind: str, said: Torques, own: list[Wrench], today: date, size: Size
) -> FastenerView:
    place = (kind, fastener.key)
    chosen = said.chosen.get(place)
    to_be = wanted(fastener, said.statements.get(place, ()), chosen)
    choice = None if to_be.torque_nm is None else choose_wrench(to_be.torque_nm, own, today)
    window = fastener.plausible
    same = ("key", "place", "count", "drive", "reach", "single_use", "note", "passes", "people", "compound", "tools")
    on_for = break_in.minutes_between(done.compound_at, now()) if done.compound_at else None
    return FastenerView(
        **{name: getattr(fastener, name) for name in same},
        tightness=to_be.tightness,
        torque_nm=to_be.torque_nm,
        source=to_be.source,
        low_nm=window.low if window else None,
        high_nm=window.high if window else None,
        order=sequence(fastener.count),
        compound_min=on_for,
        compound_phase=compound_phase(fastener.compound, on_for),
        statements=list(to_be.statements),
        chosen=chosen,
        conflict=to_be.conflict,
        wrench=wrench_view(choice) if choice else None,
        means=means_for(to_be.tightness, choice),
        size=size.size,
        thread=size.thread,
        thread_first=fastener.thread_first,
        done=done,
    )


def _matched(visit: Visit, step: Step, index: int) -> MatchedView:
    matched, count, found = step.matched[index]
    key = f"{step.side}.{matched.key}"
    held = visit.back_together.rebuild
    masses = list(held.weighed.get(key, ()))
    measured = held.radius_mm.get(key)
    return MatchedView(
        key=matched.key,
        name=matched.name,
        of=matched.of,
        count=count,
        allowed_g=matched.spread_g,
        masses_g=[*masses, *[None] * (count - len(masses))][:count],
        spread_g=found.spread_g,
        mean_g=found.mean_g,
        alike=found.alike,
        expected_g=visit.bench.expected.weight_g if matched.of == "weights" else None,
        radius_mm=measured if measured is not None else mid_shift_radius(visit.left),
        radius_measured=measured is not None,
    )


def _balance(side: Side, steps: list[StepView], left: PredictionFigures | None) -> BalanceView | None:
    sets = {each.of: each for step in steps if step.side == side for each in step.matched if each.spread_g is not None}
    arms, rollers = (
        Turning(each.masses_g, each.radius_mm) if each and each.radius_mm is not None else None
        for each in (sets.get("weights"), sets.get("rollers"))
    )
    found = balanced(arms, rollers, left.shift.mean_rpm) if arms and left else None
    return BalanceView(side=side, **asdict(found)) if found else None
