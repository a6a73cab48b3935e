"""A rider's word of a set-up: better, worse or no change, and where. It scores a direction, never a number."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from ..record.quantities import Id, Note
from ..record.said import Said

Place = Literal["take-up", "mid", "top", "back-shift"]
Word = Literal["better", "no change", "worse"]

PLACES: Mapping[Place, str] = {
    "take-up": "at take-up",
    "mid": "in the middle",
    "top": "at the top",
    "back-shift": "coming back on the throttle",
}


@dataclass(frozen=True)
class RiderWord:
    """What a rider says of the set-up that was ridden, beside the one before it."""

    revision_id: Annotated[Id, Said("set-up ridden", hand=False)]
    place: Annotated[Place, Said("where", hand=False)]
    word: Annotated[Word, Said("rider's word", hand=False)]
    note: Annotated[Note, Said("rider's own words", hand=False)] = ""

    @property
    def sentence(self) -> str:
        """The word as it is read on a page.

        >>> RiderWord(1, "top", "better").sentence
        'better at the top'
        """
        return f"{self.word} {PLACES[self.place]}"


def word_evidence(words: Iterable[RiderWord]) -> dict[str, bool]:
    """What the network of causes learns of a rider's words: worse somewhere shows there, better shows it does not; the
    last word of a place counts, and no change shows nothing.

    >>> word_evidence([RiderWord(1, "top", "worse"), RiderWord(2, "top", "better"), RiderWord(2, "mid", "no change")])
    {'word:top': False}
    """
    last = {each.place: each.word for each in words}
    return {f"word:{place}": word == "worse" for place, word in last.items() if word != "no change"}


@dataclass(frozen=True)
class Predicted:
    """What was predicted of a set-up [rpm]: where it bites, the mean of its shift, and its end; None where it cannot
    be."""

    engagement_rpm: float | None
    shift_rpm: float | None


LEAST = 15.0
"""Change of a figure's distance from its target that a rider could feel at all [rpm]; from memory."""


def direction(before: Predicted, after: Predicted, place: Place, engagement: float, shift: float) -> Word | None:
    """Which way a change was predicted to go for its rider: nearer to the target is better, further is worse. None of a
    place that the prediction does not speak of.

    Parameters: `engagement` and `shift`, the targets [rpm].

    >>> direction(Predicted(4000.0, 7700.0), Predicted(4000.0, 7850.0), "top", 4000.0, 7900.0)
    'better'
    """
    figures = {
        "take-up": (before.engagement_rpm, after.engagement_rpm, engagement),
        "mid": (before.shift_rpm, after.shift_rpm, shift),
        "top": (before.shift_rpm, after.shift_rpm, shift),
    }
    if place not in figures:
        return None
    was, now, target = figures[place]
    if was is None or now is None:
        return None
    nearer = abs(was - target) - abs(now - target)
    return "no change" if abs(nearer) < LEAST else "better" if nearer > 0 else "worse"


@dataclass(frozen=True)
class DirectionScore:
    """Rider's words against the direction that was predicted: how many there were, and how many went that way."""

    place: Place
    count: int
    agreed: int


def direction_scores(rows: Sequence[tuple[Place, Word, Word | None]]) -> list[DirectionScore]:
    """Words by place, of (place, what the rider said, what was predicted); a place that nothing was predicted of is
    left out.

    >>> direction_scores([("top", "better", "better"), ("top", "worse", "better"), ("back-shift", "better", None)])
    [DirectionScore(place='top', count=2, agreed=1)]
    """
    found = []
    for place in PLACES:
        here = [(said, told) for its, said, told in rows if its == place and told is not None]
        if here:
            found.append(DirectionScore(place, len(here), sum(said == told for said, told in here)))
    return found
