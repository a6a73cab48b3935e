"""Rebuild as its page shows it: steps with what is asked, torques with their wrenches, what is out of balance."""

import sqlite3
from datetime import date

from pydantic import BaseModel

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import PredictionFigures
from jaxel.core.trade import break_in, close_out
from jaxel.core.trade.balance import best_pairing, pictured, rotating_force, unbalance
from jaxel.core.trade.kind_file import Compound, Fastener, Shape, Tightness
from jaxel.core.trade.kinds import Side
from jaxel.core.trade.rebuild import WRONG_WAY, Ask, Step, Turn
from jaxel.core.trade.stations import counts_of
from jaxel.core.trade.strip import clutches as clutches_of
from jaxel.core.trade.tightening import CompoundPhase, Stated, Tightened, compound_phase, sequence, wanted
from jaxel.core.trade.torque import Reach, Wrench, WrenchChoice, choose_wrench
from jaxel.core.units import MM
from jaxel.store import torques, wrenches
from jaxel.store.db import now
from jaxel.store.torques import Torques
from jaxel.store.visits import Visit

from .units import retold


class ReachView(BaseModel):
    """A wrench, what it is set to [N·m], and what is to be said of it."""

    name: str
    setting_nm: float
    words: str


class WrenchView(BaseModel):
    """The wrench for a torque, the others with why not, and what is left where none fits."""

    best: ReachView | None
    others: list[ReachView]
    instead: list[str]


class FastenerView(BaseModel):
    """A fastener of a step: how tight it is to be and by whose word, with what, and what was done.

    `order`, the places round the circle as they are tightened; `compound_min`, how long the compound has been on.
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
    done: Tightened


class MatchedView(BaseModel):
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


class StepView(BaseModel):
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
    amiss: list[str]
    acceptable: bool
    accepted: str
    open: list[str]
    begun: bool


class WindView(BaseModel):
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


class BalanceView(BaseModel):
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


class LeftOn(BaseModel):
    place: str
    name: str


class BenchClutch(BaseModel):
    side: Side
    kind: str
    name: str


class RebuildView(BaseModel):
    """Putting back: steps in order; `tools` to lay out before starting; `owed`, torques that are."""

    clutches: list[BenchClutch]
    steps: list[StepView]
    wind: WindView
    balance: list[BalanceView]
    tools: list[str]
    left_on: list[LeftOn]
    helper: str
    owed: list[str]
    out: int
    back: int


def rebuild_view(connection: sqlite3.Connection, visit: Visit, left: PredictionFigures | None) -> RebuildView:
    """A visit's rebuild, inside the caller's reading; `left`, what is predicted of the set-up as left."""
    bench = visit.bench
    clutches = bench.opened(visit.inspection)
    steps = bench.steps(visit.inspection)
    said = torques.of_machine(connection, visit.machine_id, visit.kinds)
    own, today = wrenches.in_use(connection), date.fromisoformat(now()[:10])
    kind_of = {each.side: each.kind.key for each in clutches}
    held, expected = visit.back_together.rebuild, bench.expected
    views = [_step(visit, each, kind_of[each.side], said, own, today) for each in steps]
    tools = {name: None for each in clutches for fastener in each.fasteners for name in fastener.tools}
    tools |= dict.fromkeys(remedy.tool for _, _, remedy in visit.inspection.to_put_right() if remedy.tool)
    names = {f"{side}.{part.key}": part.name for side, kind in clutches_of(visit.kinds) for part in kind.guide.part}
    out, back = close_out.totals(counts_of(visit.record()))
    return RebuildView(
        clutches=[BenchClutch(side=each.side, kind=each.kind.key, name=each.kind.name) for each in clutches],
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
        left_on=[LeftOn(place=each, name=names.get(each, each)) for each in held.left_on],
        helper=held.helper,
        owed=[f"{f.place}, {each.side}" for each in steps for f, done in each.fasteners if done.state == "owed"],
        out=out,
        back=back,
    )


def _step(visit: Visit, step: Step, kind: str, said: Torques, own: list[Wrench], today: date) -> StepView:
    part = step.part
    touched = any(ask.seen for ask in step.asks) or any(done.state for _, done in step.fasteners)
    return StepView(
        side=step.side,
        key=step.key,
        place=step.place,
        name=step.name,
        shape=part.shape if part else None,
        count=part.count if part else 1,
        hazard=part.hazard if part else None,
        asks=list(step.asks),
        fasteners=[_fastener(each, done, kind, said, own, today) for each, done in step.fasteners],
        matched=[_matched(visit, step, index) for index in range(len(step.matched))],
        wind=step.wind,
        amiss=[retold(each) for each in step.amiss],
        acceptable=any(each != WRONG_WAY for each in step.amiss),
        accepted=visit.back_together.rebuild.accepted.get(step.place, ""),
        open=[retold(words) for _, words in step.open],
        begun=touched,
    )


def _fastener(
    fastener: Fastener, done: Tightened, kind: str, said: Torques, own: list[Wrench], today: date
) -> FastenerView:
    place = (kind, fastener.key)
    chosen = said.chosen.get(place)
    to_be = wanted(fastener, said.statements.get(place, ()), chosen)
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
        wrench=None if to_be.torque_nm is None else wrench_view(choose_wrench(to_be.torque_nm, own, today)),
        done=done,
    )


def wrench_view(choice: WrenchChoice) -> WrenchView:
    """The wrenches for a torque as a page shows them."""

    def view(reach: Reach) -> ReachView:
        return ReachView(name=reach.wrench.name, setting_nm=reach.setting_nm, words=retold(reach.words))

    return WrenchView(
        best=view(choice.best) if choice.best else None,
        others=[view(each) for each in choice.others],
        instead=[retold(each) for each in choice.instead],
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
        radius_mm=measured if measured is not None else _radius(visit),
        radius_measured=measured is not None,
    )


def _radius(visit: Visit) -> float | None:
    """Where the weights' centres turn half-way through the shift, by the set-up [mm]."""
    travel = visit.left.geometry.primary.travel_mm * MM / 2
    return round(float(visit.left.primary.profile_core().radius(travel)) / MM, 1)


def _balance(side: Side, steps: list[StepView], left: PredictionFigures | None) -> BalanceView | None:
    sets = {each.of: each for step in steps if step.side == side for each in step.matched if each.spread_g is not None}
    arms, rollers = sets.get("weights"), sets.get("rollers")
    if arms is None or arms.radius_mm is None or left is None:
        return None
    masses = [each or 0.0 for each in arms.masses_g]
    rolling = [each or 0.0 for each in rollers.masses_g] if rollers and rollers.count == arms.count else []
    far = (rollers.radius_mm or 0.0) if rollers else 0.0
    out = unbalance(masses, arms.radius_mm) + (unbalance(rolling, far) if rolling else 0)
    try:
        best = best_pairing(masses, arms.radius_mm, rolling, far)
    except InvalidValue:
        return None
    rpm = left.shift.mean_rpm
    force = rotating_force(abs(out), rpm)
    return BalanceView(
        side=side,
        rpm=rpm,
        unbalance_gmm=abs(out),
        force_n=force,
        pictured=pictured(force),
        best_gmm=best.unbalance_gmm,
        best_n=rotating_force(best.unbalance_gmm, rpm),
        arms=list(best.arms),
        rollers=list(best.rollers),
    )
