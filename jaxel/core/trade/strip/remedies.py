"""What putting an item right costs, now and next time: parts in pieces and packs, tools bought once, and waiting."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from math import ceil

from ..kinds.kind_file import Remedy


@dataclass(frozen=True)
class PartOffer:
    """A part number the workshop knows: price of a pack, pieces in it, and how long it lasts, None unknown."""

    number: str
    kind: str
    make: str
    price: float | None
    pack: int
    life_km: float | None = None
    life_h: float | None = None
    superseded_by: str = ""
    supplier_note: str = ""


@dataclass(frozen=True)
class Line:
    """A line of a parts list: pieces needed, packs to order, pieces left over, price of the packs (None unknown)."""

    kind: str
    pieces: int
    offer: PartOffer | None

    @property
    def packs(self) -> int:
        """Packs that hold the pieces: counted against the pack, not against a picture of it.

        >>> Line("arm bushing", 3, PartOffer("A-1", "arm bushing", "", 19.0, 2)).packs
        2
        """
        return ceil(self.pieces / (self.offer.pack if self.offer else 1))

    @property
    def left_over(self) -> int:
        return self.packs * (self.offer.pack if self.offer else 1) - self.pieces

    @property
    def price(self) -> float | None:
        return None if self.offer is None or self.offer.price is None else self.packs * self.offer.price


@dataclass(frozen=True)
class Alternative:
    """One way to put an item right, with what it costs.

    `now` includes a tool bought once; `next_time`, the same again with what was left over and the tool at hand; both
    None where a price is not known, `lacks` naming which.
    """

    key: str
    name: str
    now: float | None
    next_time: float | None
    lines: tuple[Line, ...]
    tool: str
    tool_price: float | None
    minutes: int
    manual: str
    life_km: float | None
    lacks: tuple[str, ...]


def alternatives(
    remedies: Iterable[Remedy], offers: Mapping[str, PartOffer], tools: Mapping[str, float | None]
) -> list[Alternative]:
    """Ways to put an item right, as they stand in its kind.

    Parameters: `offers` by kind of part; `tools`, price by name of a tool the workshop has not got: one it has is left
    out of the mapping and costs nothing, one without a price is named as lacking.
    """
    return [_alternative(remedy, offers, tools) for remedy in remedies]


def _alternative(remedy: Remedy, offers: Mapping[str, PartOffer], tools: Mapping[str, float | None]) -> Alternative:
    lines = tuple(Line(need.kind, need.pieces, offers.get(need.kind)) for need in remedy.parts)
    lacks = [line.kind for line in lines if line.price is None]
    tool_price = tools.get(remedy.tool, 0.0) if remedy.tool else 0.0
    if tool_price is None:
        lacks.append(remedy.tool)
    # A reduced sum would look like a cheap answer: one price unknown leaves the whole unknown.
    now = None if lacks else sum(line.price or 0.0 for line in lines) + (tool_price or 0.0)
    again = None if [line for line in lines if line.price is None] else sum(_again(line) for line in lines)
    lives = [line.offer.life_km for line in lines if line.offer and line.offer.life_km]
    return Alternative(
        remedy.key,
        remedy.name,
        now,
        again,
        lines,
        remedy.tool,
        tool_price if remedy.tool in tools else None,
        remedy.minutes,
        remedy.manual,
        min(lives, default=None),
        tuple(lacks),
    )


def _again(line: Line) -> float:
    """Price of the same pieces once more, those left over from the first packs used up first."""
    offer = line.offer
    if offer is None or offer.price is None:
        return 0.0
    return ceil(max(0, line.pieces - line.left_over) / offer.pack) * offer.price


def parts_list(chosen: Iterable[tuple[str, Remedy]], offers: Mapping[str, PartOffer]) -> list[Line]:
    """Everything to order for what was decided, by kind of part.

    Parameters: `chosen`, (clutch, remedy) of every item to put right. Two items of one clutch put right by the same
    remedy need its parts once: three new arms are three, for their faces and for their bushings.
    """
    once = {(side, remedy.key, tuple((part.kind, part.pieces) for part in remedy.parts)) for side, remedy in chosen}
    pieces: dict[str, int] = {}
    for _, _, parts in sorted(once):
        for kind, count in parts:
            pieces[kind] = pieces.get(kind, 0) + count
    return [Line(kind, count, offers.get(kind)) for kind, count in sorted(pieces.items())]


def belts_of_waiting(check_km: float | None, belt_life_km: float | None, share: float = 0.5) -> float | None:
    """Belts that waiting until the next check costs, where a worn part eats them.

    belts = share · distance to the check / life of a belt

    Parameters: `share` of a belt's life lost to the worn part (0.5, from memory). None where either is not known.

    >>> belts_of_waiting(1600, 3200)
    0.25
    """
    return None if not check_km or not belt_life_km else share * check_km / belt_life_km
