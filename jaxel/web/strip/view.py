"""Strip & inspect as its page shows it: items with what was decided, what to order, what explains the complaint."""

import sqlite3
from collections.abc import Mapping
from dataclasses import asdict, replace
from functools import lru_cache

from jaxel.core.trade.belt.look import patterns
from jaxel.core.trade.belt.wear import BeltAssessment
from jaxel.core.trade.kinds.kind_file import Depth, Finding, Remedy, WearItem
from jaxel.core.trade.kinds.kinds import Kinds, Side, clutches
from jaxel.core.trade.kinds.schools import followed
from jaxel.core.trade.rebuild.done import waiting
from jaxel.core.trade.rebuild.repair import repair
from jaxel.core.trade.record.facts import OnMachine
from jaxel.core.trade.strip.chain import chain_of, price_of_waiting
from jaxel.core.trade.strip.diagnosis import RUN_SIGNS, Likely, Telling, network_of, symptoms, symptoms_in
from jaxel.core.trade.strip.inspection import Check
from jaxel.core.trade.strip.late_belt import late_belt
from jaxel.core.trade.strip.outcome import CauseOutcome, FirstRanked
from jaxel.core.trade.strip.remedies import Alternative, Line, PartOffer, alternatives, parts_list
from jaxel.core.trade.visit.intake import NO_COMPLAINT
from jaxel.store.kinds import choices
from jaxel.store.record import facts
from jaxel.store.run import verdicts
from jaxel.store.shelf import parts
from jaxel.store.strip import item_limits, outcomes
from jaxel.store.visit.visits import Visit
from jaxel.store.workshop import workshop

from ..record.model import Model
from .chain_view import ChainView, chain_view
from .jobs_view import JobView, LayOutView, jobs_view, lay_out_view

MOST_CAUSES = 6
MOST_TELLING = 3


class ItemLimitView(Model):
    """A limit in force, in the item's unit; `own`, the workshop's."""

    value: float
    origin: str
    own: bool


class OfferedLimit(Model):
    """A limit stated elsewhere: known, and in force here only once it is stated here."""

    value: float
    whose: str


class OrderLine(Model):
    """A line of a parts list."""

    kind: str
    pieces: int
    packs: int
    left_over: int
    price: float | None
    number: str
    make: str
    pack: int | None
    superseded_by: str
    supplier_note: str


class AlternativeView(Model):
    """One way to put an item right; None where a price is not known."""

    key: str
    name: str
    now: float | None
    next_time: float | None
    lines: list[OrderLine]
    tool: str
    tool_price: float | None
    minutes: int
    manual: str
    life_km: float | None
    lacks: list[str]


class WorthIt(Model):
    """What putting a bare clutch right takes, beside what another costs."""

    used_price: float | None
    new_price: float | None
    words: list[str]


class ItemView(Model):
    """An item reached: what was said of it and what follows."""

    side: Side
    key: str
    name: str
    looked: str
    because: str
    readings: list[float | None]
    rings: list[int | None]
    grade: str
    compared: str
    note: str
    overruled: Finding | None
    reason: str
    remedy: str
    limit: ItemLimitView | None
    offered: list[OfferedLimit]
    takes: bool
    finding: Finding | None
    decision: Finding | None
    sentences: list[str]
    waits_for: list[str]
    open: str
    check: Check | None
    wear: float | None
    alternatives: list[AlternativeView]
    chain: ChainView | None
    waiting: list[str]


class ClutchView(Model):
    """A clutch at the strip, and what was `answered` of how it is made, by question."""

    side: Side
    kind: str
    name: str
    answered: dict[str, str]


class ChanceView(Model):
    """Something told or found, and the chance of a cause from then on."""

    what: str
    chance: float


class CauseView(Model):
    """A cause with its chance from before anything was known, and after each thing told or found; `outcome`, what it
    came to, empty where nobody said; `note`, what the model says of it."""

    key: str
    name: str
    prior: float
    chance: float
    steps: list[ChanceView]
    outcome: str
    note: str


class TellingView(Model):
    key: str
    name: str
    bits: float


class InspectionView(Model):
    """What was looked at of the clutches, what is to be ordered, and what explains the complaint.

    `suggested`, symptoms whose words stand in it; `first_ranked`, how often here the first-ranked cause was the cause.
    """

    depth: Depth | None
    secondary_depth: Depth | None
    marked: list[str]
    spring_note: str
    clutches: list[ClutchView]
    jobs: list[JobView]
    lay_out: LayOutView | None
    off: list[str]
    items: list[ItemView]
    parts: list[OrderLine]
    parts_price: float | None
    causes: list[CauseView]
    first_ranked: FirstRanked
    telling: list[TellingView]
    suggested: list[str]
    worth: WorthIt | None


def strip_view(connection: sqlite3.Connection, visit: Visit, assessed: BeltAssessment | None) -> InspectionView:
    """A visit's strip, inside the caller's reading."""
    # Parts and prices are looked up only where something is to be put right.
    worn = bool(list(visit.inspection.items()))
    offers = parts.offers(connection) if worn else {}
    tools = parts.tools_lacking(connection) if worn else {}
    life = next((offer.life_km for kind, offer in offers.items() if kind == "belt"), None)
    chosen = choices.made(connection)
    inspection = visit.inspection
    to_order = [(each.side, each.remedy) for each in waiting(inspection, visit.back_together.done) if each.remedy]
    lines = parts_list(to_order, offers)
    stated, on = item_limits.Stated(connection), facts.on_machine(connection, visit.machine_id)
    kind_of = {side: kind.key for side, kind in clutches(visit.kinds)}
    known = evidence(visit, assessed, verdicts.evidence_of(connection, visit))
    routine = visit.intake.complaint == NO_COMPLAINT and not visit.intake.symptoms
    # Nothing amiss, or nothing complained of, is nothing to explain; nor is a clutch that nobody rides.
    told = (
        visit.scope != "bench" and not routine and any(there for name, there in known.items() if name != "range:high")
    )
    ranked, telling = _explained(visit.kinds, tuple(known.items())) if told else ([], [])
    came_to = outcomes.of_visit(connection, visit.id)
    late = "late" in visit.intake.symptoms and known.get("belt:worn", False)
    return InspectionView(
        depth=inspection.strip.depth,
        secondary_depth=inspection.strip.secondary_depth,
        marked=list(inspection.strip.marked),
        spring_note=inspection.strip.spring_note,
        clutches=[
            ClutchView(side=side, kind=kind.key, name=kind.name, answered=visit.kinds.answers(side))
            for side, kind in clutches(visit.kinds)
        ],
        jobs=jobs_view(visit),
        lay_out=lay_out_view(connection, visit),
        off=list(inspection.strip.off),
        items=[
            _item(visit, side, item, offers, tools, life, chosen, _offered(stated, kind_of[side], item, on))
            for side, item in inspection.items()
        ],
        parts=[line_view(line) for line in lines],
        parts_price=None if any(line.price is None for line in lines) else sum(line.price or 0.0 for line in lines),
        causes=[
            _cause(each, came_to.get(each.key), late_belt(visit.as_found()) if late and each.key == "worn_belt" else "")
            for each in ranked[:MOST_CAUSES]
        ],
        first_ranked=outcomes.counted(connection),
        telling=[TellingView(**asdict(each)) for each in telling[:MOST_TELLING]],
        suggested=symptoms_in(visit.intake.complaint),
        worth=_worth(connection, visit, offers) if visit.scope == "bench" else None,
    )


def _worth(connection: sqlite3.Connection, visit: Visit, offers: Mapping[str, PartOffer]) -> WorthIt:
    found = repair(visit.inspection, offers, visit.faults, workshop.get(connection).hour_price)
    return WorthIt(used_price=found.used, new_price=found.new, words=list(found.words()))


MOST_OFFERED = 3


def _offered(stated: item_limits.Stated, kind: str, item: WearItem, on: OnMachine) -> list[OfferedLimit]:
    found = stated.offered(kind, item.key, on) if item.measure else []
    return [OfferedLimit(value=each.value or 0.0, whose=each.whose(on)) for each in found[-MOST_OFFERED:]]


def _cause(found: Likely, came_to: CauseOutcome | None, note: str) -> CauseView:
    steps = [ChanceView(what=what, chance=chance) for what, chance in found.steps]
    outcome = came_to.outcome if came_to else ""
    return CauseView(
        key=found.key, name=found.name, prior=found.prior, chance=found.chance, steps=steps, outcome=outcome, note=note
    )


def evidence(visit: Visit, assessed: BeltAssessment | None, ridden: Mapping[str, bool]) -> dict[str, bool]:
    """What the network of causes learns of a visit: symptoms, faults as found, the belt, the items, what was `ridden`,
    in that order."""
    known = dict.fromkeys(visit.intake.symptoms, True)
    known |= {f"fault:{each.fault.kind}": True for each in visit.faults}
    if assessed is not None:
        known["belt:worn"] = assessed.narrow
    marks = [each.mark for each in visit.marks]
    for pattern in patterns(marks, visit.found.belt.outer_circumference_mm):
        known |= dict.fromkeys(pattern.shows, True)
    if visit.intake.walking_range in ("high", "low"):
        known["range:high"] = visit.intake.walking_range == "high"
    known |= visit.inspection.evidence() | dict(ridden)
    seen = set(network_of(visit.kinds).observables)
    return {name: there for name, there in known.items() if name in seen}


@lru_cache(maxsize=256)
def _explained(kinds: Kinds, known: tuple[tuple[str, bool], ...]) -> tuple[list[Likely], list[Telling]]:
    """Causes by their chance, and the checks that tell most of those this complaint could come from."""
    network = network_of(kinds)
    told = {each.key for each in symptoms()}
    complaint = [name for name, there in known if there and name in told]
    of_it = network.shown_by(complaint) if complaint else set(network.observables)
    checks = [
        name
        for name in network.observables
        if name in of_it and name not in told and name not in RUN_SIGNS and not name.startswith("fault:")
    ]
    return network.ranked(dict(known)), network.most_telling(dict(known), checks)


def _item(
    visit: Visit,
    side: Side,
    item: WearItem,
    offers: dict[str, PartOffer],
    tools: dict[str, float | None],
    belt_life_km: float | None,
    chosen: dict[str, str],
    elsewhere: list[OfferedLimit],
) -> ItemView:
    inspection = visit.inspection
    look, verdict, limit = inspection.look(side, item), inspection.verdict(side, item), inspection.limit(side, item)
    worn = verdict.decision in ("watch", "replace") or verdict.finding == "replace"
    ways = alternatives(_in_order(item, chosen), offers, tools) if worn else []
    kind = next(kind for of, kind in clutches(visit.kinds) if of == side)
    chain = chain_of(kind.guide, item)
    return ItemView(
        side=side,
        key=item.key,
        name=item.name,
        **{name: getattr(look, name) for name in ("looked", "because", "grade", "compared", "note", "overruled")},
        reason=look.reason,
        remedy=look.remedy,
        readings=list(look.readings),
        rings=list(look.rings),
        limit=ItemLimitView(value=limit.value, origin=limit.origin, own=limit.own) if limit else None,
        offered=elsewhere,
        takes=bool(item.measure and item.measure.rated and verdict.decision != "replace" and any(look.readings)),
        finding=verdict.finding,
        decision=verdict.decision,
        sentences=list(verdict.sentences),
        waits_for=list(verdict.waits_for),
        open=verdict.open,
        check=verdict.check,
        wear=verdict.wear,
        alternatives=[_alternative(each, chosen) for each in ways],
        chain=None if chain.alone else chain_view(visit, side, chain),
        waiting=list(price_of_waiting(item, chain, offers, belt_life_km)) if worn else [],
    )


def _in_order(item: WearItem, chosen: dict[str, str]) -> list[Remedy]:
    """Remedies with the one of the workshop's school first, where practice differs on this item."""
    school = followed("worn_bushing", chosen).key if item.key == "arm_bushing" else ""
    return sorted(item.remedy, key=lambda each: not (school and each.key.startswith(school)))


def _alternative(found: Alternative, chosen: dict[str, str]) -> AlternativeView:
    if found.key == "dress":  # how it is dressed is the workshop's choice, after the manual's
        how = [followed(question, chosen).name for question in ("abrasive", "sheave_finish")]
        found = replace(found, name=f"{found.name}: {', '.join(how)}")
    values = asdict(found) | {"lines": [line_view(line) for line in found.lines], "lacks": list(found.lacks)}
    return AlternativeView(**values)


def line_view(line: Line) -> OrderLine:
    """A line of a parts list as pages and files show it."""
    offer = line.offer
    return OrderLine(
        kind=line.kind,
        pieces=line.pieces,
        packs=line.packs,
        left_over=line.left_over,
        price=line.price,
        number=offer.number if offer else "",
        make=offer.make if offer else "",
        pack=offer.pack if offer else None,
        superseded_by=offer.superseded_by if offer else "",
        supplier_note=offer.supplier_note if offer else "",
    )
