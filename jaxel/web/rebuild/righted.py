"""What was decided to be replaced, as its step asks it: what was done, from which part, what is still to be said."""

from jaxel.core.trade.kinds.kinds import Side
from jaxel.core.trade.rebuild.done import How, ItemDone, Righting, settled, wanted
from jaxel.store.shelf.parts import Part
from jaxel.store.visit.visits import Visit

from ..record.model import Model


class PartKnown(Model):
    """A part number the workshop knows: its price a pack, and pieces at hand, None where nobody counted."""

    number: str
    make: str
    price: float | None
    pack: int
    at_hand: int | None


class RightedView(Model):
    """Something decided to be replaced, asked where its part goes back.

    `wanted`, what it takes; `ways`, what may have been done; `offers`, numbers known for it; whether it left pieces to
    be counted, brings a new face, and is asked about the old belt; what is still to be said of it; `decided`, whether
    replace is still what is decided.
    """

    side: Side
    item: str
    name: str
    wanted: str
    ways: list[How]
    offers: list[PartKnown]
    decided: bool
    broke: bool
    new_sheave: bool
    old_belt: bool
    done: ItemDone
    open: list[str]


def righted_view(visit: Visit, righting: Righting, done: ItemDone, stock: list[Part]) -> RightedView:
    """Something decided to be replaced, with what was done; `stock`, the part numbers the workshop knows."""
    kind = righting.needs[0].kind if righting.needs else ""
    new_belt = visit.bench.new_belt
    return RightedView(
        side=righting.side,
        item=righting.items[0].key,
        name=righting.name,
        wanted=wanted(righting),
        ways=list(righting.ways),
        offers=[
            PartKnown(number=each.number, make=each.make, price=each.price, pack=each.pack, at_hand=each.pieces)
            for each in stock
            if each.kind == kind and not each.superseded_by
        ],
        decided=righting.decided,
        broke=righting.broke,
        new_sheave=righting.new_sheave,
        old_belt=righting.new_sheave and new_belt is False,
        done=done,
        open=list(settled(righting, done, new_belt)),
    )
