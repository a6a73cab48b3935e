"""The belt at a visit: what was found of the one that came in, what was decided, and the one that goes on."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from ..record.quantities import Gap, Id, Name, Price, Ride, RoundBelt, Short, SideGap, Width, Words
from ..record.said import Said
from .look import SEARCHES, Failure, NoWidth
from .wear import assess

Decision = Literal["run on", "spare", "discard"]
Search = Literal["", "clear", "found", "not reached"]
WentOn = Literal["", "as it came off", "by its arrow", "turned round"]
"""Which way round: as it came off, unless that was against its arrow; a new one by its arrow or its lettering."""


@dataclass(frozen=True)
class BeltCheck:
    """The belt that came in, what was decided of it, and the one that goes on.

    `direction`, which way it ran, noted before it came off; `way`, by which of its kinds' ways that was; `no_width`,
    why it has none, `failure`, how it failed, and what was found where its pieces go, `cause` of it, and what that was;
    `side_gap_mm`, both sides together before it was off, `deflection_mm` and `ride_mm`, how far it lies below the
    secondary's rim.

    Of the one that goes on: a spare of this machine, or one that is new or used elsewhere, with the number on it, its
    length where that differs and its price; its width, or that it is `next_as_numbered`; `waits`, why none went on.
    `went_on`, which way round a belt went on, and `risen`, whether the tool was out and it was turned by hand until it
    rode where it should.
    """

    belt_id: Id
    decision: Annotated[Decision | None, Said("belt decision")] = None
    reason: Annotated[Words, Said("reason for the belt decision")] = ""
    unmeasured: Annotated[Words, Said("why its width was not measured")] = ""
    next_belt_id: Annotated[Id | None, Said("spare belt going on")] = None
    next_width_mm: Annotated[Width | None, Said("width of the belt going on")] = None
    next_is: Annotated[Literal["", "new", "used"], Said("what goes on")] = ""
    next_number: Annotated[Short, Said("number of the belt going on")] = ""
    next_as_numbered: Annotated[bool, Said("width of the belt going on, as its number says")] = False
    next_length_mm: Annotated[RoundBelt | None, Said("length of the belt going on")] = None
    next_price: Annotated[Price | None, Said("price of the belt going on")] = None
    waits: Annotated[Literal["", "not in stock"], Said("why no belt went on")] = ""
    went_on: Annotated[WentOn, Said("way round it went on")] = ""
    risen: Annotated[bool, Said("tool out, belt risen")] = False
    direction: Annotated[Name, Said("way it ran")] = ""
    way: Annotated[Literal["", "A", "B", "C", "D"], Said("way it came off")] = ""
    no_width: Annotated[NoWidth | None, Said("belt without a width")] = None
    failure: Annotated[Failure, Said("how the belt failed")] = ""
    cause: Annotated[Literal["", "found", "not found", "not looked for"], Said("cause of the failure")] = ""
    cause_words: Annotated[Words, Said("what caused it")] = ""
    clutches: Annotated[Search, Said("both clutches, for cord")] = ""
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
        return self.replaced and self.next_belt_id is None and self.next_is != "used"

    def on_again(self, widths_mm: Mapping[int, float]) -> bool:
        """Whether a belt has to go on: the one that came off, or another; which of them is decided first."""
        decided = self.decision is not None or bool(self.no_width)
        return decided and self.came_off(widths_mm) and not self.waits


def lacks(belt: BeltCheck, widths_mm: Mapping[int, float], limits_mm: tuple[float, float]) -> Iterator[tuple[str, str]]:
    """What a belt check still lacks, as (field, words); `limits_mm`, its width when new and its wear limit."""
    if belt.no_width:
        yield from _failed(belt)
    elif belt.decision is None:
        yield "decision", "belt: run on, keep as spare or discard"
    if not belt.no_width and belt.decision != "discard" and not belt.unmeasured.strip():
        for place in (1, 2, 3):
            if place not in widths_mm:
                yield f"place_{place}", f"belt width at place {place}"
    worn = bool(widths_mm) and assess([widths_mm[place] for place in sorted(widths_mm)], *limits_mm)
    overruled = belt.decision == "run on" and worn and worn.finding == "replace"
    explained = (
        belt.reason.strip() or belt.no_width or (belt.decision == "discard" and worn and worn.finding == "replace")
    )
    if (belt.replaced or overruled) and not explained:
        yield "reason", "reason for the belt decision"
    yield from _going_on(belt)
    if belt.on_again(widths_mm):
        if not belt.went_on:
            yield "went_on", "which way round the belt went on"
        if not belt.risen:
            yield "risen", "tool out, and the belt turned by hand until it rides where it should"


def _going_on(belt: BeltCheck) -> Iterator[tuple[str, str]]:
    """What is still to be said of the belt that goes on in place of the one that came in."""
    if not belt.replaced:
        return
    if belt.waits:
        yield "waits", "waits for a belt: not in stock"
        return
    if belt.next_belt_id is None:
        if not belt.next_is:
            yield "next_is", "belt going on: new, or used elsewhere"
        if not belt.next_number.strip():
            yield "next_number", "number of the belt going on, or that it has none"
    if belt.next_width_mm is None and not belt.next_as_numbered:
        yield "next_width_mm", "width of the belt going on, or as its number says"


def _failed(belt: BeltCheck) -> Iterator[tuple[str, str]]:
    """What a belt without a width still leaves to be asked."""
    if not belt.failure:
        yield "failure", "how the belt failed"
    for place, words in SEARCHES.items():
        if not getattr(belt, place):
            yield place, words
    if not belt.cause:
        yield "cause", "cause of the failure: found, not found or not looked for"
    elif belt.cause == "found" and not belt.cause_words.strip():
        yield "cause_words", "what caused it"
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
