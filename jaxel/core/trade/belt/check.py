"""The belt at a visit: what was found of the one that came in, what was decided, and the one that goes on."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from ..record.quantities import Gap, Id, Name, Ride, SideGap, Width, Words
from ..record.said import Said
from .look import SEARCHES, Failure, NoWidth
from .wear import assess

Decision = Literal["run on", "spare", "discard"]
Search = Literal["", "clear", "found", "not reached"]


@dataclass(frozen=True)
class BeltCheck:
    """The belt that came in, what was decided of it, and the one that goes on.

    `direction`, which way it ran, noted before it came off; `way`, by which of its kinds' ways that was; `no_width`,
    why it has none, `failure`, how it failed, and what was found where its pieces go; `side_gap_mm`, both sides
    together before it was off, `deflection_mm` and `ride_mm`, how far it lies below the secondary's rim.
    """

    belt_id: Id
    decision: Annotated[Decision | None, Said("belt decision")] = None
    reason: Annotated[Words, Said("reason for the belt decision")] = ""
    next_belt_id: Annotated[Id | None, Said("spare belt going on")] = None
    next_width_mm: Annotated[Width | None, Said("width of the belt going on")] = None
    direction: Annotated[Name, Said("way it ran")] = ""
    way: Annotated[Literal["", "A", "B", "C", "D"], Said("way it came off")] = ""
    no_width: Annotated[NoWidth | None, Said("belt without a width")] = None
    failure: Annotated[Failure, Said("how the belt failed")] = ""
    pieces: Annotated[Search, Said("pieces of the belt")] = ""
    ducts: Annotated[Search, Said("ducts")] = ""
    seals: Annotated[Search, Said("seals")] = ""
    faces: Annotated[Search, Said("faces, for burrs")] = ""
    side_gap_mm: Annotated[SideGap | None, Said("side gap")] = None
    deflection_mm: Annotated[Gap | None, Said("deflection")] = None
    ride_mm: Annotated[Ride | None, Said("ride below the rim")] = None

    @property
    def replaced(self) -> bool:
        """Whether another belt goes on."""
        return self.decision in ("spare", "discard")

    def came_off(self, widths_mm: Mapping[int, float]) -> bool:
        """Whether it was taken off: a hand said how, or measured it, or decided upon it."""
        return bool(self.way or widths_mm) or self.decision is not None

    def way_off(self, widths_mm: Mapping[int, float]) -> str | None:
        """The way it was taken off, empty where nobody said which; None where it stayed on."""
        return self.way if self.came_off(widths_mm) else None

    @property
    def new_one(self) -> bool:
        """Whether a belt that has never run goes on: a spare of the workshop's was broken in long ago."""
        return self.replaced and self.next_belt_id is None


def lacks(belt: BeltCheck, widths_mm: Mapping[int, float], limits_mm: tuple[float, float]) -> Iterator[tuple[str, str]]:
    """What a belt check still lacks, as (field, words); `limits_mm`, its width when new and its wear limit."""
    if belt.no_width:
        yield from _failed(belt)
    else:
        for place in (1, 2, 3):
            if place not in widths_mm:
                yield f"place_{place}", f"belt width at place {place}"
        if belt.decision is None:
            yield "decision", "belt: run on, keep as spare or discard"
    worn = bool(widths_mm) and assess([widths_mm[place] for place in sorted(widths_mm)], *limits_mm)
    overruled = belt.decision == "run on" and worn and worn.finding == "replace"
    if (belt.replaced or overruled) and not belt.reason.strip():
        yield "reason", "reason for the belt decision"
    if belt.replaced and belt.next_width_mm is None:
        yield "next_width_mm", "width of the belt going on"


def _failed(belt: BeltCheck) -> Iterator[tuple[str, str]]:
    """What a belt without a width still leaves to be asked."""
    if not belt.failure:
        yield "failure", "how the belt failed"
    for place, words in SEARCHES.items():
        if not getattr(belt, place):
            yield place, words
    if belt.decision != "discard":
        yield "decision", "belt: discarded, it has no width"


@dataclass(frozen=True)
class BeltReading:
    """The width of a belt at one place."""

    width_mm: Annotated[Width, Said("belt width")]


@dataclass(frozen=True)
class KnownBelt:
    """What a visit moves of a belt as it is known."""

    width_mm: Annotated[Width, Said("belt width, as it is known", hand=False)]
