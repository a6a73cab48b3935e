"""What eats what: an item's place in the chain from what wears it to what it wears, and what waiting costs."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from jaxel.core.words import q

from ..kinds.kind_file import KindFile, WearItem
from .remedies import PartOffer, belts_of_waiting

BELT = "belt"
"""The end of every chain: what a grooved face wears."""


@dataclass(frozen=True)
class Chain:
    """The items that may have worn one, nearest last, and those it wears, nearest first; `belt`, the belt too."""

    before: tuple[WearItem, ...]
    after: tuple[WearItem, ...]
    belt: bool

    @property
    def alone(self) -> bool:
        """Whether nothing wears it and it wears nothing."""
        return not (self.before or self.after or self.belt)


def chain_of(kind: KindFile, item: WearItem) -> Chain:
    """An item's chain on its clutch, as far as it reaches either way (common practice).

    >>> from jaxel.core.trade.kinds.kinds import kinds
    >>> tower = kinds()["tower-and-button-primary"].as_fitted({}).guide
    >>> face = next(each for each in tower.item if each.key == "arm_face")
    >>> [each.name for each in chain_of(tower, face).before]
    ['Spider rollers']
    """
    by_key = {each.key: each for each in kind.item}
    wears = {each.key: _worn_by(kind, each) for each in kind.item}

    def worn_from(each: WearItem) -> list[WearItem]:
        return [by_key[key] for key, worn in wears.items() if each.key in worn]

    after = _reach(item, lambda each: [by_key[key] for key in wears[each.key]])
    before = _reach(item, worn_from)
    return Chain(tuple(reversed(before)), tuple(after), any(each.eats_belts for each in (item, *after)))


def _worn_by(kind: KindFile, item: WearItem) -> list[str]:
    here = {each.key for each in kind.item}
    named = [each.key for each in kind.item if item.key in each.causes]
    return list(dict.fromkeys((*named, *(key for key in item.eats if key in here))))


def _reach(item: WearItem, step: Callable[[WearItem], Sequence[WearItem]]) -> list[WearItem]:
    """Everything a step leads to, the nearest first, the item itself aside."""
    found: list[WearItem] = []
    at = [item]
    while at:
        at = [each for one in at for each in step(one) if each is not item and each not in found]
        at = [each for place, each in enumerate(at) if each not in at[:place]]
        found += at
    return found


def price_of_waiting(
    item: WearItem, chain: Chain, offers: Mapping[str, PartOffer], belt_life_km: float | None
) -> Iterator[str]:
    """What waiting to the next usual check may cost, in words: of a belt, and of what the item wears next.

    Parameters: `offers`, by kind of part, what the workshop would order; `belt_life_km`, how long a belt lasts, None
    where nobody knows. The share of a belt is from memory (`belts_of_waiting`).
    """
    belts = belts_of_waiting(item.check_km, belt_life_km) if item.eats_belts else None
    if belts is not None and item.check_km:
        offer = offers.get(BELT)
        priced = "" if offer is None or offer.price is None else f", {belts * offer.price / offer.pack:,.2f}"
        yield f"{q(item.check_km, 'km', 0)} more cost about {belts:.2g} of a belt{priced} (from memory)"
    for each in chain.after:
        if not each.remedy:
            continue
        first = each.remedy[0]
        known = [offers.get(need.kind) for need in first.parts]
        prices = [
            need.pieces * offer.price / offer.pack
            for need, offer in zip(first.parts, known, strict=True)
            if offer is not None and offer.price is not None
        ]
        whole = first.parts and len(prices) == len(first.parts)
        priced = f", {sum(prices):,.2f} in parts" if whole else ", not priced here"
        yield f"What it may wear next, {each.name.lower()}: {first.name.lower()}{priced}, {first.minutes} min"
