"""One combination of a stock's parts that a plan has looked at."""

from dataclasses import dataclass

from jaxel.core.formats.setup.setup import SetupDocument

from ..setup.slot import Depth
from .stock import MINUTES, Kit, Option


@dataclass(frozen=True)
class Candidate:
    """A set-up to be worked out: the options it takes, by slot, or a kit's."""

    options: tuple[Option, ...]
    kit: Kit | None = None

    def write(self, document: SetupDocument) -> SetupDocument:
        for each in self.options:
            document = each.write(document)
        return document

    @property
    def depth(self) -> Depth:
        return max((each.depth for each in self.options), default=Depth.ON_THE_MACHINE)

    @property
    def minutes(self) -> float:
        """What is opened is opened once, however much is changed inside."""
        if self.kit and self.kit.minutes is not None:
            return self.kit.minutes
        opened = {each.depth for each in self.options if each.minutes is None}
        return sum(MINUTES[depth] for depth in opened) + sum(each.minutes or 0.0 for each in self.options)

    @property
    def price(self) -> float:
        return (self.kit.price if self.kit else 0.0) + sum(each.price for each in self.options)
