"""Strip & inspect: which clutches are opened how far, what was looked at of each, and what that leaves open."""

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Annotated

from jaxel.core.formats.paths import value_at
from jaxel.core.formats.setup.setup import SetupDocument

from ..kinds.kind_file import Depth, WearItem
from ..kinds.kinds import NOT_STATED, Kind, Kinds, Side, clutches
from ..record.quantities import Note, Price
from ..record.remembered import of_record
from ..record.said import Said
from .inspection import NOT_LOOKED_AT, ItemLook, Odometer, StatedLimit, Verdict, judge, limit_of, reached
from .procedure import asked_by

Place = tuple[Side, str]
"""An item of a machine: the clutch it belongs to, and its key there."""


@dataclass(frozen=True)
class Strip:
    """How far the clutches are opened, the secondary as far as the primary unless `secondary_depth` says otherwise;
    parts marked before they were separated, as `side.part`; where the springs' ends were and how far they were wound;
    `variants`, what was seen of how they differ, the answer by `side.variant`; `jobs` chosen, as `side.procedure`;
    `off`, parts a hand has taken off so far, as `side.part`; of a bare clutch what a used one and a new one would cost.
    """

    depth: Annotated[Depth | None, Said("how far it is opened")] = None
    secondary_depth: Annotated[Depth | None, Said("how far the secondary is opened")] = None
    marked: Annotated[tuple[str, ...], Said("marks made", hand=False)] = ()
    spring_note: Annotated[Note, Said("spring holes and twist")] = ""
    variants: Annotated[Mapping[str, str], Said("how the clutch is made", hand=False)] = field(default_factory=dict)
    jobs: Annotated[tuple[str, ...], Said("jobs chosen", hand=False)] = ()
    off: Annotated[tuple[str, ...], Said("parts off", hand=False)] = ()
    used_price: Annotated[Price | None, Said("price of a used one")] = None
    new_price: Annotated[Price | None, Said("price of a new one")] = None

    def depth_of(self, side: Side) -> Depth | None:
        """How far a clutch is opened; None where nobody said."""
        return (self.secondary_depth if side == "secondary" else None) or self.depth


@dataclass(frozen=True)
class Inspection:
    """A strip with everything its rules look at.

    `limits`, those of the workshop's own; `rated`, what the set-up says a part should read; `before`, earlier worst
    readings as (odometer [km], value); `lying_open`, parts of each clutch that came off for something else: what
    wears of them may be looked at there and then.
    """

    strip: Strip = field(default_factory=Strip)
    kinds: Kinds = NOT_STATED
    looks: Mapping[Place, ItemLook] = field(default_factory=dict)
    limits: Mapping[Place, StatedLimit] = field(default_factory=dict)
    rated: Mapping[Place, float] = field(default_factory=dict)
    before: Mapping[Place, Sequence[tuple[float, float]]] = field(default_factory=dict)
    odometer: Odometer = field(default_factory=Odometer)
    lying_open: Mapping[Side, Collection[str]] = field(default_factory=dict)

    @property
    def begun(self) -> bool:
        """Whether a hand has been at it."""
        return self.strip != Strip() or any(look.begun for look in self.looks.values())

    def look(self, side: Side, item: WearItem) -> ItemLook:
        """How an item was looked at; not at all where nothing was said."""
        return self.looks.get((side, item.key), NOT_LOOKED_AT)

    def limit(self, side: Side, item: WearItem) -> StatedLimit | None:
        """The limit an item is judged by."""
        return limit_of(item, self.limits.get((side, item.key)), self.rated.get((side, item.key)))

    def items(self) -> Iterator[tuple[Side, WearItem]]:
        """The items reached, clutch by clutch in tear-down order, any below a hand has been at, and what lies open."""
        return iter(_items(self))

    def asked(self, side: Side, kind: Kind) -> set[str]:
        """The items of a clutch that are to be looked at: as deep as it was opened to look, and for the jobs chosen."""
        depth = self.strip.depth_of(side)
        as_deep = {item.key for item in reached(kind.guide, depth)} if depth else set()
        return as_deep | asked_by(self.strip.jobs, self.kinds).get(side, set())

    def verdict(self, side: Side, item: WearItem) -> Verdict:
        """What is decided of an item."""
        kind = dict(clutches(self.kinds))[side]
        return judge(
            item,
            self.look(side, item),
            limit=self.limit(side, item),
            rated=self.rated.get((side, item.key)),
            others={each.key: (each, self.look(side, each)) for each in kind.guide.item},
            odometer=self.odometer,
            before=self.before.get((side, item.key), ()),
        )

    def evidence(self) -> dict[str, bool]:
        """What the network of causes learns: items seen, and whether they were found worn."""
        found = {}
        for side, item in self.items():
            finding = self.verdict(side, item).finding
            glanced = self.look(side, item).looked == "looked over"
            if finding is not None and not (glanced and finding == "keep"):
                found[item.key] = finding != "keep"
        return found


@of_record
def _items(inspection: Inspection) -> tuple[tuple[Side, WearItem], ...]:
    found = []
    for side, kind in clutches(inspection.kinds):
        asked, open_parts = inspection.asked(side, kind), inspection.lying_open.get(side, ())
        for item in reached(kind.guide, "full strip"):
            if item.key in asked or item.part in open_parts or inspection.look(side, item).begun:
                found.append((side, item))
    return tuple(found)


HOW_FAR: Mapping[Depth, str] = {
    "on machine": "on the machine",
    "off the machine": "off, unopened",
    "cover off": "cover off",
    "full strip": "stripped",
}


@dataclass(frozen=True)
class LookedInto:
    """A clutch that was looked at: how far it was opened, empty where only a job took it apart, and how many of its
    items were found sound, are watched and are to be replaced."""

    side: Side
    how_far: str
    sound: int
    watched: int
    worn: int


def looked_into(inspection: Inspection) -> Iterator[LookedInto]:
    """The clutches of which a hand looked at anything."""
    for side, _ in clutches(inspection.kinds):
        found = [inspection.verdict(side, item).decision for of, item in inspection.items() if of == side]
        depth = inspection.strip.depth_of(side)
        counts = [found.count(each) for each in ("keep", "watch", "replace")]
        if any(counts):
            yield LookedInto(side, HOW_FAR[depth] if depth else "", *counts)


def rated_by(document: SetupDocument, machine: Kinds) -> dict[Place, float]:
    """What the set-up says new parts should read, by item."""
    found = {}
    for side, kind in clutches(machine):
        for item in kind.guide.item:
            if item.measure and item.measure.rated:
                value = value_at(document, item.measure.rated)
                if value is not None:
                    found[side, item.key] = value
    return found


def lacks(inspection: Inspection) -> Iterator[tuple[str, str]]:
    """What a strip still lacks, as (field, words): items not looked at by clutch, and what each begun one needs."""
    if not clutches(inspection.kinds):
        yield "depth", "strip: of which kind the clutches are, said at intake"
        return
    if inspection.strip.depth is None and not inspection.strip.jobs:
        other = inspection.strip.secondary_depth is not None
        which = "the primary is" if other else "the clutches are"
        yield "depth", f"how far {which} opened, or which job it is"
    missing: dict[Side, list[WearItem]] = {}
    asked = {side: inspection.asked(side, kind) for side, kind in clutches(inspection.kinds)}
    for side, item in inspection.items():
        if item.key in asked[side] and not inspection.look(side, item).begun:
            missing.setdefault(side, []).append(item)
    for side, items in missing.items():
        count = f"{len(items)} items" if len(items) > 1 else items[0].name.lower()
        yield f"{side}_{items[0].key}", f"{side}: {count} not looked at"
    yield from half_done(inspection)


def half_done(inspection: Inspection) -> Iterator[tuple[str, str]]:
    """What the items that a hand has been at still need."""
    for side, item in inspection.items():
        if inspection.look(side, item).begun:
            verdict = inspection.verdict(side, item)
            if verdict.open:
                yield f"{side}_{item.key}", f"{item.name.lower()}: {verdict.open}"
