"""The parts room's shelf: which slots of a machine a part fills, how many pieces that takes, and the stock a plan
chooses from."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import prod
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.plan.stock import LoadInStock, StockDocument
from jaxel.core.formats.reading import Part
from jaxel.core.formats.setup.primary import RampRollerPart, SwingArmPart
from jaxel.core.formats.setup.setup import SetupDocument

from ..kinds.kinds import NOT_STATED, Kinds, kinds, side_of
from ..setup.slots import numbers
from .part_specs import GROUPS, Group, KitSpec, LoadSpec, ThicknessSpec, UnmeasuredSpec
from .stock import Option, option_of, options


@dataclass(frozen=True)
class StockPart:
    """A part of the workshop's that changes a set-up.

    `id` and `number`; `kind` of part; `spec`; `fits`, the kind of clutch it is made for, empty for any; `price` of one
    piece; `pieces` at hand, None where nobody counted; `members` of a kit that fill slots, `besides`, what it brings
    that fills none, in words.
    """

    id: int
    number: str
    kind: str
    make: str
    spec: Part
    fits: str = ""
    price: float | None = None
    pieces: int | None = None
    members: tuple["StockPart", ...] = ()
    besides: tuple[str, ...] = ()

    @property
    def group(self) -> Group:
        return GROUPS[self.kind]

    def in_stock(self, *, counted: bool = True) -> Part:
        """The part as an entry of a `jaxel-stock` document; not `counted`, as if there were enough of it."""
        told: dict[str, Any] = {"price": self.price or 0.0, "pieces": self.pieces if counted else None}
        if "name" in type(self.spec).model_fields:
            told["name"] = self.number
        return self.spec.model_copy(update=told)


def slots_of(document: SetupDocument, part: StockPart) -> list[str]:
    """The slots a part could go in, by key."""
    if part.group == "kits":
        return [slot for member in part.members for slot in slots_of(document, member)[:1]]
    spec = part.spec
    if isinstance(spec, LoadSpec):
        return [f"load:{each.name}" for each in document.primary.stations if spec.station in (None, each.name)]
    sides = ("primary", "secondary")
    by_group: dict[str, list[str]] = {
        "weights": ["arms"] if _turns_there(document, part.kind) else [],
        "primary_springs": ["primary_spring"],
        "secondary_springs": ["secondary_spring"],
        "helixes": ["helix"],
        "shims": ["shim"],
        "washers": [f"washer:{side}" for side in sides if getattr(spec, "side", None) in (None, side)],
        "limiters": ["limiter"],
    }
    return by_group[part.group]


def _turns_there(document: SetupDocument, kind: str) -> bool:
    """Whether weights of a kind go in this clutch: an arm in no roller's pocket, a roller on no arm's pin."""
    has_arms = isinstance(document.primary.profile, SwingArmPart)
    return {"arm": has_arms, "variator roller": not has_arms}.get(kind, True)


def _check_size_known(document: SetupDocument, part: StockPart) -> None:
    """A roller's size code comes before its mass: of one, or of pockets, whose size nobody knows, it is asked first."""
    profile = document.primary.profile
    if part.group != "weights" or not isinstance(profile, RampRollerPart):
        return
    pocket, own = profile.size or document.primary.weights.size, getattr(part.spec, "size", None)
    if pocket and not own:
        raise InvalidValue("part", f"{part.number}: of which size is it? The pockets take {pocket}")
    if own and not pocket:
        raise InvalidValue("part", f"{part.number} is {own}: of which size are the rollers that are in? Said at Intake")


def check_made_for(part: StockPart, on: Kinds) -> None:
    """Raises InvalidValue (field `part`) for a part made for another kind of clutch than this machine's."""
    known = kinds().get(part.fits)
    if known is None:
        return
    sides = ("primary", "secondary") if known.side == "both" else (known.side,)
    stated = [getattr(on, side) for side in sides]
    if any(each is not None and each != part.fits for each in stated):
        raise InvalidValue("part", f"{part.number} is for another clutch: {known.name.lower()}")


def options_of(document: SetupDocument, slot: str, part: StockPart, on: Kinds = NOT_STATED) -> list[Option]:
    """What a part makes of a slot: of a load every number of pieces that its pocket takes.

    Raises InvalidValue, field `part`, for one that does not go there, or does not fit this clutch.
    """
    check_made_for(part, on)
    if part.group == "kits":
        member = next((each for each in part.members if slot in slots_of(document, each)[:1]), None)
        if member is None:
            raise InvalidValue("part", f"{part.number} brings nothing for this slot")
        return options_of(document, slot, member, on)
    if slot not in slots_of(document, part):
        raise InvalidValue("part", f"{part.number} does not go there: it is {_article(part.kind)}")
    _check_size_known(document, part)
    try:
        return option_of(document, slot, part.in_stock(counted=False))
    except InvalidValue as error:
        raise InvalidValue("part", f"{part.number}: {error.reason}") from None


def _article(kind: str) -> str:
    return f"{'an' if kind[0] in 'aeiou' else 'a'} {kind}"


def filled(document: SetupDocument, chosen: Mapping[str, StockPart], on: Kinds = NOT_STATED) -> SetupDocument:
    """The set-up with parts in its slots, weights first; raises InvalidValue as `options_of`."""
    for slot in sorted(chosen, key=lambda each: each != "arms"):
        document = options_of(document, slot, chosen[slot], on)[0].write(document)
    return document


def check_whole(document: SetupDocument, kit: StockPart, on: Kinds = NOT_STATED) -> None:
    """Raises InvalidValue (field `part`) for a kit that brings nothing for a slot here, or a part that goes nowhere on
    what is here: on this clutch, or of a bare one on its half."""
    if not kit.members:
        raise InvalidValue("part", f"{kit.number} brings nothing for a slot: enter its parts in the parts room")
    for member in kit.members:
        if not any(side_of(slot) in on.sides for slot in slots_of(document, member)):
            raise InvalidValue(
                "part", f"{kit.number}: {member.number} goes nowhere here: it is {_article(member.kind)}"
            )


def begins_with(document: SetupDocument, kit: StockPart, on: Kinds = NOT_STATED) -> dict[str, float]:
    """The numbers a kit's sheet begins with, by the key of each; raises InvalidValue (field `part`) for one this clutch
    has not."""
    if not isinstance(kit.spec, KitSpec):
        return {}
    here = numbers(document, on)
    for each in kit.spec.starts:
        if each.key not in here:
            raise InvalidValue("part", f"{kit.number}: its sheet begins with {each.key}, which this clutch has not")
    return {each.key: each.value for each in kit.spec.starts}


def needed(document: SetupDocument, chosen: Mapping[str, StockPart]) -> dict[int, int]:
    """Pieces a set-up holds of each part chosen for a slot, by the part's id; a kit is one, whatever it fills."""
    count: dict[int, int] = {}
    loads = {f"load:{each.station}": each.pieces for each in document.primary.weights.loads}
    for slot, part in chosen.items():
        if part.group == "kits":
            count[part.id] = 1
        elif part.group == "weights":
            count[part.id] = count.get(part.id, 0) + document.primary.weights.count
        elif part.group == "loads":
            count[part.id] = count.get(part.id, 0) + document.primary.weights.count * loads.get(slot, 1)
        else:
            count[part.id] = count.get(part.id, 0) + 1
    return count


def stock_of(
    document: SetupDocument, parts: Sequence[StockPart], on: Kinds = NOT_STATED, may: frozenset[str] | None = None
) -> StockDocument | None:
    """The stock a plan for this machine chooses from: parts that fit it, and every position it has.

    Parameters: `may`, the slots that may be changed, by key, None for all. Hole pairs and clicker positions are always
    at hand. Returns None where there is nothing to choose from. Parts for other clutches are left out, and of a bare
    clutch those of the half that is not here.
    """

    def allowed(slot: str) -> bool:
        return (may is None or slot in may) and side_of(slot) in on.sides

    groups: dict[str, Any] = {}
    for part in parts:
        slots = slots_of(document, part)
        if part.group == "kits":
            if all(map(allowed, slots)) and (kit := _kit(document, part, on)):
                groups.setdefault("kits", []).append(kit)
            continue
        if isinstance(part.spec, UnmeasuredSpec):
            continue  # nothing is known of what it would do
        for slot in slots:
            if not allowed(slot) or not _fits(document, slot, part, on):
                continue
            name, entry = _entry(slot, part)
            if slot.startswith("load:"):
                groups.setdefault("loads", {}).setdefault(slot.removeprefix("load:"), []).append(entry)
            else:
                groups.setdefault(name, []).append(entry)
    for name in _THICKNESSES.values():
        if name in groups:
            groups[name] = sorted({0.0, *groups[name]})
    holes, clicker = document.secondary.holes, document.primary.clicker
    if holes and allowed("holes"):
        groups["hole_pairs"] = [{"sheave": row.sheave, "helix": row.helix} for row in holes.table]
    if clicker and allowed("clicker"):
        groups["clicker"] = list(range(1, clicker.positions + 1))
    return StockDocument.model_validate(groups) if groups else None


def narrowed(
    document: SetupDocument, parts: Sequence[StockPart], on: Kinds, may: frozenset[str] | None, most: int
) -> tuple[StockDocument | None, list[str]]:
    """A stock of at most so many combinations, and the stations left out for it.

    Pieces in every pocket multiply: stations are left out from the middle of the arm outward, for heel and tip tell
    engagement and top end apart. Where that does not do, the stock is as large as it is.
    """
    stations = document.primary.stations
    middle = sum(each.distance_mm for each in stations) / max(len(stations), 1)
    nearest = sorted(stations, key=lambda each: abs(each.distance_mm - middle))
    left_out: list[str] = []
    stock = stock_of(document, parts, on, may)
    for station in nearest:
        if stock is None or prod(len(each) for each in options(document, stock).values()) <= most:
            break
        if station.name in stock.loads:
            left_out.append(f"load:{station.name}")
            kept = {name: each for name, each in stock.loads.items() if name != station.name}
            stock = stock.model_copy(update={"loads": kept})
    return stock, left_out


_THICKNESSES = {"shims": "shims_mm", "washers": "washers_mm", "limiters": "limiters_mm"}

_IN_KIT = {
    "arms": "weights",
    "shim": "shim_mm",
    "washer:primary": "washer_primary_mm",
    "washer:secondary": "washer_secondary_mm",
    "limiter": "limiter_mm",
}
"""What a slot is called among a kit's changes, where not by its own key."""


def _entry(slot: str, part: StockPart, *, counted: bool = True) -> tuple[str, Any]:
    """The group of a stock a part belongs to, and its entry there."""
    spec = part.in_stock(counted=counted)
    if isinstance(spec, ThicknessSpec):
        return _THICKNESSES[part.group], spec.thickness_mm
    if slot.startswith("load:"):
        return "loads", LoadInStock(**spec.model_dump(exclude={"station"}))
    return part.group, spec.model_dump(exclude={"rated_start_n"}, exclude_none=True)


def _kit(document: SetupDocument, part: StockPart, on: Kinds) -> dict[str, Any] | None:
    """A kit as an entry of a stock; None where it, or a member, is not for this machine."""
    if (part.pieces is not None and part.pieces < 1) or not part.members:
        return None
    changes: dict[str, Any] = {}
    for member in part.members:
        if isinstance(member.spec, UnmeasuredSpec):
            return None  # what the whole would do cannot be told
        slot = next(iter(slots_of(document, member)), None)
        try:
            if slot is None or not options_of(document, slot, part, on):
                return None
        except InvalidValue:
            return None
        entry = _entry(slot, member, counted=False)[1]
        if slot.startswith("load:"):
            changes.setdefault("loads", {})[slot.removeprefix("load:")] = entry
        else:
            changes[_IN_KIT.get(slot, slot)] = entry
    return {"name": part.number, "price": part.price or 0.0, "changes": changes}


def _fits(document: SetupDocument, slot: str, part: StockPart, on: Kinds) -> bool:
    try:
        whole = options_of(document, slot, part, on)
        needs = document.primary.weights.count if part.group in ("weights", "loads") else 1
        return bool(whole) and (part.pieces is None or part.pieces >= needs)
    except InvalidValue:
        return False


def part_named(
    document: SetupDocument, parts: Sequence[StockPart], slot: str, number: str, numbers: Mapping[str, float]
) -> StockPart | None:
    """The part of the shelf an answer means: by its number, or, of parts that have no name in a plan, by what it is."""
    if number:
        return next((each for each in parts if each.number == number), None)
    station = slot.removeprefix("load:")
    for part in parts:
        if slot not in slots_of(document, part):
            continue
        if isinstance(part.spec, LoadSpec) and part.spec.mass_g == numbers.get(f"load_g.{station}"):
            return part
        if isinstance(part.spec, ThicknessSpec) and part.spec.thickness_mm in numbers.values():
            return part
    return None
