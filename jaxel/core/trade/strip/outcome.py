"""What a diagnosis came to: whether a cause that was ranked was the cause, and how often the first one was."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Ge, Le

from ..record.quantities import Key
from ..record.said import Said

Outcome = Literal["was it", "was not"]


@dataclass(frozen=True)
class CauseOutcome:
    """Whether a cause was the cause, and at which place it was ranked when that was said."""

    cause: Annotated[Key, Said("cause", hand=False)]
    rank: Annotated[int, Ge(1), Le(40), Said("place in the ranking", hand=False)]
    outcome: Annotated[Outcome, Said("what it came to", hand=False)]


@dataclass(frozen=True)
class FirstRanked:
    """How often a visit whose cause was found had it ranked first: `first` of `told`."""

    told: int
    first: int


def first_ranked(visits: Sequence[Sequence[CauseOutcome]]) -> FirstRanked:
    """How often the first-ranked cause was the cause, over the visits that say; one that only says what it was not
    tells of the first where that is what it was not.

    >>> it, other = CauseOutcome("a", 1, "was it"), CauseOutcome("b", 3, "was it")
    >>> first_ranked([[it], [other], [CauseOutcome("c", 1, "was not")], [CauseOutcome("c", 2, "was not")]])
    FirstRanked(told=3, first=1)
    """
    told = first = 0
    for outcomes in visits:
        found = any(each.outcome == "was it" for each in outcomes)
        denied = any(each.outcome == "was not" and each.rank == 1 for each in outcomes)
        told += found or denied
        first += any(each.outcome == "was it" and each.rank == 1 for each in outcomes)
    return FirstRanked(told, first)
