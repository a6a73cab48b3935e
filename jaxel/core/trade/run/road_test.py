"""The road test of a visit: its runs, and what it still lacks."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated

from ..record.quantities import Rpm, RunNote
from ..record.said import Said


@dataclass(frozen=True)
class Measured:
    """What a hand writes of a run; None where not read."""

    engagement_rpm: Annotated[Rpm | None, Said("engagement")] = None
    shift_rpm: Annotated[Rpm | None, Said("shift")] = None
    note: Annotated[RunNote, Said("note")] = ""


@dataclass(frozen=True)
class Ride:
    """One run of the road test on a set-up revision [rpm]; None where not read."""

    revision_id: int
    engagement_rpm: float | None
    shift_rpm: float | None


def lacks(rides: Sequence[Ride], left_revision_id: int) -> Iterator[tuple[str, str]]:
    """What a road test still lacks on the set-up as left, as (field, words)."""
    on_left = [ride for ride in rides if ride.revision_id == left_revision_id]
    if not any(ride.engagement_rpm for ride in on_left):
        yield "engagement_rpm", "measured engagement on the set-up as left"
    if not any(ride.shift_rpm for ride in on_left):
        yield "shift_rpm", "measured shift rpm on the set-up as left"
