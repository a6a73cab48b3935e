"""What hands did about each item decided to be replaced: a decision is one fact, what was fitted is another."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from ..kinds.kind_file import PartsNeeded, Remedy, WearItem
from ..kinds.kinds import Side
from ..record.quantities import Back, Name, Price, Short, Words
from ..record.said import Said
from ..strip.inspection import WATCHED_PART, Check, Odometer
from ..strip.strip import Inspection, Place

How = Literal["", "new", "used", "dressed", "not done"]
Why = Literal["", "not in stock", "told, rider goes on", "next time", "other"]

FITTED: tuple[How, ...] = ("new", "used")
"""What ends the life of the part that was in: another one went in its place."""

IN_PIECES = frozenset({"broken", "broken up", "cage in pieces", "chipped", "missing", "one missing"})
"""Grades after which something is somewhere in the clutch: it is counted, and found or not."""


@dataclass(frozen=True)
class ItemDone:
    """What was done about an item decided to be replaced, said where its part goes back.

    `how`, with the `number` of what was fitted and its `price`; `why` it was not done, in words `because`. Of a part
    that broke, how many `pieces` are counted, and whether they were `found`; of a new sheave, whether its face is
    `prepared`, and `old_belt`, why the old belt goes back on it. `by` whom, and when, `at`.
    """

    how: Annotated[How, Said("what was done")] = ""
    number: Annotated[Short, Said("number of the part fitted")] = ""
    price: Annotated[Price | None, Said("price of the parts fitted")] = None
    why: Annotated[Why, Said("why it was not done")] = ""
    because: Annotated[Words, Said("why it was not done, in words")] = ""
    pieces: Annotated[Back | None, Said("pieces counted")] = None
    found: Annotated[Literal["", "all", "not all", "none"], Said("pieces found")] = ""
    prepared: Annotated[bool, Said("new face prepared")] = False
    old_belt: Annotated[Words, Said("why the old belt goes back on")] = ""
    by: Name = ""
    at: str = ""


NOTHING_DONE = ItemDone()


@dataclass(frozen=True)
class Righting:
    """Something to be put right: the `items` of one clutch it settles, the first the one it is said of, by `remedy`.

    `remedy` is None while no way has been chosen. `broke`, whether one of them left pieces; `decided`, whether replace
    is still what is decided.
    """

    side: Side
    items: tuple[WearItem, ...]
    remedy: Remedy | None
    broke: bool = False
    decided: bool = True

    @property
    def place(self) -> Place:
        """The item it is said of."""
        return self.side, self.items[0].key

    @property
    def part(self) -> str:
        """The part at whose step it is said."""
        return self.items[0].part

    @property
    def needs(self) -> tuple[PartsNeeded, ...]:
        return tuple(self.remedy.parts) if self.remedy else ()

    @property
    def name(self) -> str:
        return " and ".join(item.name.lower() for item in self.items)

    @property
    def ways(self) -> tuple[How, ...]:
        """What may have been done: what takes no part is done or not."""
        return ("new", "used", "dressed", "not done") if self.needs or not self.remedy else ("dressed", "not done")

    @property
    def new_sheave(self) -> bool:
        """Whether it brings a face that no belt has run on."""
        return any(need.kind.endswith("sheave") for need in self.needs)


NOTHING_SAID: Mapping[Place, ItemDone] = {}


def rightings(inspection: Inspection, done: Mapping[Place, ItemDone] = NOTHING_SAID) -> list[Righting]:
    """What was decided to be replaced, in tear-down order: items put right by the same parts are one, asked once.

    Parameters: `done`, what hands said: what was fitted or dressed stays told, whatever is decided afterwards.
    """
    found: dict[tuple[object, ...], list[WearItem]] = {}
    remedies: dict[tuple[object, ...], Remedy | None] = {}
    for side, item in inspection.items():
        was = done.get((side, item.key), NOTHING_DONE)
        if inspection.verdict(side, item).decision != "replace" and was.how not in (*FITTED, "dressed"):
            continue
        chosen = inspection.look(side, item).remedy
        remedy = next((each for each in item.remedy if each.key == chosen or len(item.remedy) == 1), None)
        alone = remedy is None or not remedy.parts
        parts = () if remedy is None else tuple((part.kind, part.pieces) for part in remedy.parts)
        key = (side, item.key) if alone or remedy is None else (side, remedy.key, parts)
        found.setdefault(key, []).append(item)
        remedies[key] = remedy
    return [
        Righting(
            _side(key), tuple(items), remedies[key],
            any(inspection.look(_side(key), item).grade in IN_PIECES for item in items),
            any(inspection.verdict(_side(key), item).decision == "replace" for item in items),
        )
        for key, items in found.items()
    ]  # fmt: skip


def _side(key: tuple[object, ...]) -> Side:
    return "primary" if key[0] == "primary" else "secondary"


def settled(righting: Righting, done: ItemDone, new_belt: bool | None) -> Iterator[str]:
    """What is still to be said of it, in words.

    Parameters: `new_belt`, whether a new belt goes on; None where the visit has no belt.
    """
    name = righting.name
    if not done.how:
        yield f"{name}: replace was decided; what was done is not said"
        return
    if done.how == "not done":
        if done.why == "not in stock":
            yield f"waits for {wanted(righting)}: not in stock"
        elif not done.why:
            yield f"{name}: why it was not done"
        elif done.why == "other" and not done.because.strip():
            yield f"{name}: why it was not done, in words"
    if righting.broke and (done.pieces is None or not done.found):
        yield f"{name}: pieces counted, and found or not"
    if righting.new_sheave and done.how in FITTED:
        if not done.prepared:
            yield f"{name}: its face prepared"
        if new_belt is False and not done.old_belt.strip():
            yield f"{name}: a new belt, or why the old one goes back on"


def wanted(righting: Righting) -> str:
    """What it takes, in words: the parts of its remedy, else the items themselves."""
    parts = [f"{need.kind} ×{need.pieces}" if need.pieces > 1 else need.kind for need in righting.needs]
    return ", ".join(parts) or righting.name


def waiting(inspection: Inspection, done: Mapping[Place, ItemDone]) -> list[Righting]:
    """What is still to be ordered: nothing was fitted yet, and nobody said that it is left."""
    found = []
    for each in rightings(inspection, done):
        held = done.get(each.place, NOTHING_DONE)
        if not held.how or (held.how == "not done" and held.why == "not in stock"):
            found.append(each)
    return found


def told(righting: Righting, done: ItemDone) -> str:
    """What was done, as a page says it: only what a hand said."""
    number = f" {done.number}" if done.number else ", number not noted"
    said = {
        "new": f"new fitted{number}",
        "used": f"used one fitted{f' {done.number}' if done.number else ''}",
        "dressed": "cleaned or dressed, not replaced",
        "not done": f"not replaced: {_why(done)}",
        "": "replace was decided; fitting not recorded",
    }[done.how]
    words = [said]
    if righting.broke and done.found:
        count = "" if done.pieces is None else f"{done.pieces} "
        words.append(f"{count}pieces, {FOUND[done.found]}")
    if done.prepared and righting.new_sheave:
        words.append("its face prepared")
    if done.old_belt.strip() and righting.new_sheave:
        words.append(f"the old belt goes back on: {done.old_belt.strip()}")
    return "; ".join(words)


FOUND = {"all": "all found", "not all": "not all found", "none": "not found"}


def _why(done: ItemDone) -> str:
    because = done.because.strip()
    if done.why in ("", "other"):
        return because or "no reason given"
    return f"{done.why}, {because}" if because else done.why


def check_after(item: WearItem, done: ItemDone, odometer: Odometer) -> Check:
    """When an item decided to be replaced is looked at again: a new part after the usual distance, any other sooner.

    An item without a usual distance is looked at before the next season.
    """
    part = 1.0 if done.how == "new" else WATCHED_PART
    km = None if item.check_km is None or odometer.km is None else round(odometer.km + item.check_km * part, 1)
    hours = None if item.check_h is None or odometer.h is None else odometer.h + item.check_h * part
    return Check(km, hours, item.season or (km is None and hours is None))


WHY_DUE: Mapping[How, str] = {
    "new": "new fitted, usual check",
    "used": "used one fitted, looked at sooner",
    "dressed": "cleaned or dressed, looked at sooner",
    "not done": "not replaced, looked at sooner",
    "": "decided; fitting not recorded, looked at sooner",
}
