"""The kinds a clutch can be, to choose from."""

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.kinds.kinds import Side, kinds_for

from ..record.model import Model


class KindOption(Model):
    key: str
    name: str


def kind_options(document: SetupDocument, side: Side) -> list[KindOption]:
    """The kinds a set-up's clutch on this side can be."""
    return [KindOption(key=kind.key, name=kind.name) for kind in kinds_for(document, side)]
