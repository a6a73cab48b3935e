"""What wears what, as an item's panel draws it."""

from jaxel.core.trade.kinds.kind_file import WearItem
from jaxel.core.trade.kinds.kinds import Side
from jaxel.core.trade.strip.chain import Chain
from jaxel.store.visit.visits import Visit

from ..record.model import Model


class ChainLink(Model):
    """An item of a chain: what was decided of it, empty where nothing was."""

    key: str
    name: str
    decision: str


class ChainView(Model):
    """What may have worn an item, nearest last, what it wears, nearest first, and whether the belt is."""

    before: list[ChainLink]
    after: list[ChainLink]
    belt: bool


def chain_view(visit: Visit, side: Side, chain: Chain) -> ChainView:
    def link(item: WearItem) -> ChainLink:
        decision = visit.inspection.verdict(side, item).decision
        return ChainLink(key=item.key, name=item.name, decision=decision or "")

    return ChainView(
        before=[link(each) for each in chain.before], after=[link(each) for each in chain.after], belt=chain.belt
    )
