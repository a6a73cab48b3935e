"""What was taken apart: the parts of each clutch that came off at this visit, and so have to go back."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import get_args

from .inspection import reached
from .kind_file import ClutchPart, Depth, Fastener
from .kinds import SECONDARY_SLOTS, Kind, Kinds, Side
from .slots import Depth as SlotDepth
from .slots import Slot
from .strip import Inspection, clutches

DEPTHS: tuple[Depth, ...] = get_args(Depth)

Depths = Mapping[Side, Depth]
"""How far each clutch was opened for something other than looking: to change its set-up, to take the belt off."""

_OPENS: Mapping[SlotDepth, Depth] = {
    SlotDepth.ON_THE_MACHINE: "on machine",
    SlotDepth.WEIGHT_SCREW: "on machine",
    SlotDepth.COVER_OFF: "cover off",
    SlotDepth.SPRING_MOVED: "full strip",
    SlotDepth.SECONDARY_SPRING: "full strip",
    SlotDepth.SPIDER_OFF: "full strip",
    SlotDepth.HELIX: "full strip",
}


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


def deepest(*depths: Depth | None) -> Depth | None:
    """The deepest of some depths; None where there is none."""
    return max((each for each in depths if each is not None), key=DEPTHS.index, default=None)


def opened_by(changed: list[Slot], before: Depths) -> dict[Side, Depth]:
    """How far the clutches are open once these slots were changed besides."""
    found = dict(before)
    for slot in changed:
        secondary = slot.key in SECONDARY_SLOTS or slot.key == "washer:secondary"
        side: Side = "secondary" if secondary else "primary"
        deeper = deepest(found.get(side), _OPENS[slot.depth])
        if deeper is not None:
            found[side] = deeper
    return found


def for_the_belt(kinds: Kinds) -> dict[Side, Depth]:
    """How far the clutches are opened to take the belt off: nothing where both stay whole on their shafts."""
    return {side: "cover off" for side, kind in clutches(kinds) if not kind.guide.belt_off.clutch_stays}


def opened(inspection: Inspection, otherwise: Depths, left_on: tuple[str, ...] = ()) -> list[Opened]:
    """The clutches that were opened, the primary first, each with what came off.

    As deep as the strip went where a hand was at that clutch at all, or as the change of set-up or the belt called for.
    Parameters: `left_on`, parts as `side.part` that a hand said stayed where they were.
    """
    found = []
    for side, kind in clutches(inspection.kinds):
        looked = _looked_into(inspection, side, kind)
        depth = deepest(inspection.strip.depth if looked else None, otherwise.get(side))
        if depth is None:
            continue
        off = [
            part
            for part in kind.guide.part
            if DEPTHS.index(part.depth) <= DEPTHS.index(depth)
            and f"{side}.{part.key}" not in left_on
            and (not part.stays or side in otherwise or _taken_off(inspection, side, kind, part))
        ]
        if off:
            found.append(Opened(side, kind, tuple(off)))
    return found


def _looked_into(inspection: Inspection, side: Side, kind: Kind) -> bool:
    """Whether this clutch was opened at all: not where everything of it is said to have been passed over."""
    if inspection.strip.depth is None:
        return False
    looks = [inspection.look(side, item) for item in reached(kind.guide, inspection.strip.depth)]
    return not looks or not all(look.looked in ("not reached", "left alone") for look in looks)


def _taken_off(inspection: Inspection, side: Side, kind: Kind, part: ClutchPart) -> bool:
    return any(inspection.look(side, item).looked == "removed" for item in kind.guide.item if item.part == part.key)
