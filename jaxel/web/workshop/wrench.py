"""The wrenches for a torque, as a page shows them."""

from jaxel.core.trade.rebuild.torque import Reach, WrenchChoice

from ..record.model import Model


class ReachView(Model):
    """A wrench, what it is set to [N·m], and what is to be said of it."""

    name: str
    setting_nm: float
    words: str


class WrenchView(Model):
    """The wrench for a torque, the others with why not, and what is left where none fits."""

    best: ReachView | None
    others: list[ReachView]
    instead: list[str]


def wrench_view(choice: WrenchChoice) -> WrenchView:
    """The wrenches for a torque as a page shows them."""

    def view(reach: Reach) -> ReachView:
        return ReachView(name=reach.wrench.name, setting_nm=reach.setting_nm, words=reach.words)

    return WrenchView(
        best=view(choice.best) if choice.best else None,
        others=[view(each) for each in choice.others],
        instead=list(choice.instead),
    )
