"""What was taken apart: the parts of each clutch that came off at this visit, and so have to go back."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import get_args

from ..kinds.kind_file import BeltWay, ClutchPart, Depth, Fastener
from ..kinds.kinds import Kind, Kinds, Side, clutches, side_of, usual_ways
from ..strip.inspection import reached
from ..strip.strip import Inspection

DEPTHS: tuple[Depth, ...] = get_args(Depth)

OFF: Depth = "off the machine"

Opens = Mapping[Side, Sequence[str]]
"""Parts of each clutch that came off for something other than looking: to change its set-up, to take the belt off."""


@dataclass(frozen=True)
class Opened:
    """A clutch that was opened: its parts that came off, in tear-down order."""

    side: Side
    kind: Kind
    parts: tuple[ClutchPart, ...]

    @property
    def fasteners(self) -> list[Fastener]:
        """The fasteners that came out with them, in tear-down order."""
        return [each for part in self.parts for each in self.kind.guide.fastener if each.part == part.key]


def together(first: Opens, second: Opens) -> dict[Side, list[str]]:
    """The parts that came off for either of two reasons, each once."""
    return {
        side: list(dict.fromkeys((*first.get(side, ()), *second.get(side, ()))))
        for side in dict.fromkeys((*first, *second))
    }


def opened_by(changed: Iterable[str], kinds: Kinds) -> dict[Side, list[str]]:
    """The parts that come off to change slots, by key, as the kinds say; of a slot they do not name, the cover's."""
    found: dict[Side, list[str]] = {}
    for slot in changed:
        at, kind = _clutch_of(slot, kinds)
        if kind is not None:
            parts = _said_of(slot, kind)
            found = together(found, {at: to_depth(kind, "cover off") if parts is None else parts})
    return found


def worked_on(changed: Iterable[str], kinds: Kinds) -> dict[Side, list[str]]:
    """The parts whose loads are changed where they sit: they stay on, and are looked at all the same."""
    found: dict[Side, list[str]] = {}
    for slot in changed:
        at, kind = _clutch_of(slot, kinds)
        if kind is not None and slot.startswith("load:"):
            holds = [each.part for each in kind.guide.matched if each.of == "weights"]
            found = together(found, {at: [part for part in holds if part not in (_said_of(slot, kind) or holds)]})
    return found


def kinds_asked(changed: Iterable[str], kinds: Kinds) -> list[Side]:
    """The clutches on which something was changed though nobody has said of which kind they are."""
    return list(dict.fromkeys(at for at, kind in (_clutch_of(slot, kinds) for slot in changed) if kind is None))


def _clutch_of(slot: str, kinds: Kinds) -> tuple[Side, Kind | None]:
    """The clutch a slot is of, and its kind; driver and driven of one kit come apart as one clutch."""
    side = side_of(slot)
    known = clutches(kinds)
    return next(((of, kind) for of, kind in known if of == side or kind.side == "both"), (side, None))


def _said_of(slot: str, kind: Kind) -> list[str] | None:
    """What a kind says comes off for a slot; None where it does not name it."""
    name = slot.partition(":")[0]
    asked = {"load": "loads", "washer": f"{slot.partition(':')[2]}_spring"}.get(name, name)
    return next((each.opens for each in kind.guide.slot if each.key == asked), None)


def to_depth(kind: Kind, depth: Depth) -> list[str]:
    """The parts that come off to open a clutch so far; off the machine, those that hold it there."""
    if depth == OFF:
        return [part.key for part in kind.guide.part if part.frees]
    reach = DEPTHS.index(depth)
    return [part.key for part in kind.guide.part if DEPTHS.index(part.depth) <= reach and not part.stays]


def down_to(kind: Kind, part: str) -> list[str]:
    """The parts that come off to take one out: itself, and those before it in tear-down order."""
    order = [each.key for each in kind.guide.part]
    return [each.key for each in kind.guide.part[: order.index(part) + 1] if not each.stays or each.key == part]


def ways_of(kinds: Kinds) -> list[BeltWay]:
    """The ways the belt comes off a machine of these kinds, A to D: the secondary's own word of one goes first.

    The usual ones where no kind is stated.
    """
    found: dict[str, BeltWay] = {}
    for _, kind in reversed(clutches(kinds)):
        for way in kind.guide.way:
            found.setdefault(way.key, way)
    return [found[key] for key in sorted(found)] or list(usual_ways())


def way_taken(kinds: Kinds, said: str) -> BeltWay:
    """The way the belt came off; where nobody said, the first there is: it has the tools that must come out again."""
    ways = ways_of(kinds)
    return next((each for each in ways if each.key == said), ways[0])


def for_the_belt(kinds: Kinds, way: str) -> dict[Side, list[str]]:
    """The parts that came off with the belt, by the way it was taken off; where that is not said, those that must."""
    found: dict[Side, list[str]] = {}
    for side, kind in clutches(kinds):
        ways = kind.guide.way
        gone = [each for each in ways if each.key == way] or (ways if not way and len(ways) == 1 else [])
        opens = [part for each in gone for part in each.opens]
        if opens:
            found[side] = opens
    return found


def opened(inspection: Inspection, otherwise: Opens, left_on: tuple[str, ...] = ()) -> list[Opened]:
    """The clutches that were opened, the primary first, each with what came off.

    As deep as the strip went where a hand was at that clutch at all, what was looked at removed, and what the change of
    set-up or the belt called for. Parameters: `left_on`, parts as `side.part` that a hand said stayed where they were.
    """
    found = []
    for side, kind in clutches(inspection.kinds):
        depth = inspection.strip.depth_of(side) if _looked_into(inspection, side, kind) else None
        came = {*(to_depth(kind, depth) if depth else ()), *otherwise.get(side, ())}
        off = [
            part
            for part in kind.guide.part
            if (part.key in came or (depth and _taken_off(inspection, side, kind, part)))
            and f"{side}.{part.key}" not in left_on
        ]
        if off:
            found.append(Opened(side, kind, tuple(off)))
    return found


def _looked_into(inspection: Inspection, side: Side, kind: Kind) -> bool:
    """Whether this clutch was opened at all: not where everything of it is said to have been passed over."""
    depth = inspection.strip.depth_of(side)
    if depth is None:
        return False
    looks = [inspection.look(side, item) for item in reached(kind.guide, depth)]
    return not looks or not all(look.looked in ("not reached", "left alone") for look in looks)


def _taken_off(inspection: Inspection, side: Side, kind: Kind, part: ClutchPart) -> bool:
    return any(inspection.look(side, item).looked == "removed" for item in kind.guide.item if item.part == part.key)
