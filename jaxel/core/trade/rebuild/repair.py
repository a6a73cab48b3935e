"""Worth it or not: what putting a clutch right takes in parts and minutes, beside a used one and a new one."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..stranger.as_found import FAULT_KINDS, FoundFault
from ..strip.remedies import PartOffer, parts_list
from ..strip.strip import Inspection
from .done import rightings

NO_PRICES: Mapping[str, PartOffer] = {}


@dataclass(frozen=True)
class Repair:
    """What putting a clutch right takes, and what stands against it.

    `parts`, their price, None where one of them has none here, `lacks` naming those; `minutes` of the ways chosen;
    `undecided`, items to be replaced for which no way is chosen, and faults no item stands for; `least_left`, of what
    stays in, the measured item nearest to its limit and the share left of the way there; `used` and `new`, what another
    clutch costs, `hour`, what an hour of work costs here, None where nobody said.
    """

    parts: float | None
    lacks: tuple[str, ...]
    minutes: int
    undecided: tuple[str, ...]
    least_left: tuple[str, float] | None
    used: float | None
    new: float | None
    hour: float | None = None

    @property
    def whole(self) -> float | None:
        """Parts and work as one sum; the parts alone where nobody said what an hour costs, None where one has no price.

        >>> Repair(48.0, (), 15, (), None, None, None, 80.0).whole
        68.0
        """
        if self.parts is None:
            return None
        return self.parts + (self.hour or 0.0) * self.minutes / 60

    def words(self) -> Iterator[str]:
        """The comparison in sentences; what is not known is said so, and decides nothing."""
        if self.parts is None:
            told = f"parts not all priced here: {', '.join(self.lacks)}"
        else:
            told = f"parts {self.parts:,.2f}" if self.parts else "no parts"
        work = f"{self.minutes} min"
        if self.hour is not None:
            work += f" at {self.hour:,.2f} an hour"
            if self.whole is not None:
                work += f": {self.whole:,.2f}"
        yield f"Repair: {told}, {work}"
        if self.undecided:
            yield f"Not in it, no way to put right chosen yet: {', '.join(self.undecided)}"
        others = (("a used one", self.used), ("a new one", self.new))
        for name, price in others:
            if price is None:
                continue
            yield f"{name[:1].upper()}{name[1:]}: {price:,.2f}{self._beside(price)}"
        if self.least_left:
            name, share = self.least_left
            yield f"Of what stays in, nearest to its limit: {name}, {share:.0%} of the way left"

    def _beside(self, price: float) -> str:
        if self.whole is None or self.undecided:
            return ""
        than = "the parts alone" if self.hour is None else "the repair"
        more = self.whole - price
        if abs(more) < 0.005:
            return f", as much as {than}"
        return f", {abs(more):,.2f} {'less' if more > 0 else 'more'} than {than}"


def repair(
    inspection: Inspection,
    offers: Mapping[str, PartOffer] = NO_PRICES,
    faults: Sequence[FoundFault] = (),
    hour: float | None = None,
) -> Repair:
    """What putting right everything decided to be replaced takes, as the strip stands.

    Parameters: `offers`, by kind of part, what the workshop would order; `faults` as found: of those not put right, one
    that no item stands for is named as left out; `hour`, what an hour of work costs, None where nobody said.
    """
    todo = [each for each in rightings(inspection) if each.decided]
    lines = parts_list(((each.side, each.remedy) for each in todo if each.remedy), offers)
    lacks = tuple(line.kind for line in lines if line.price is None)
    left = [
        (item.name.lower(), 1 - verdict.wear)
        for side, item in inspection.items()
        if (verdict := inspection.verdict(side, item)).wear is not None and verdict.decision != "replace"
    ]
    return Repair(
        None if lacks else sum(line.price or 0.0 for line in lines),
        lacks,
        sum(each.remedy.minutes for each in todo if each.remedy),
        (*(each.name for each in todo if each.remedy is None), *_left_out(faults)),
        min(left, key=lambda pair: pair[1], default=None),
        inspection.strip.used_price,
        inspection.strip.new_price,
        hour,
    )


SPRINGS = ("primary_spring", "secondary_spring")
"""Slots whose faults are an item's finding too: a broken spring is graded where it is looked at."""


def _left_out(faults: Sequence[FoundFault]) -> Iterator[str]:
    for each in faults:
        name = each.fault.name
        if not each.fault.put_right and FAULT_KINDS[each.fault.kind].slot not in SPRINGS:
            yield f"{name[:1].lower()}{name[1:]}"
