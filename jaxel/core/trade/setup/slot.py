"""A slot: a place where a hand changes something, its numbers, and a change between two set-ups."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import IntEnum
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.units import Units, parse_quantity

STEPS = {"g": 1.0, "N": 50.0, "lbf": 10.0, "deg": 1.0, "mm": 1.0, "in": 1 / 32, "": 1.0}
"""One step by the unit it is read in: a gram, 50 N or 10 lbf, a degree, a millimetre or a thirty-second of an inch, a
click or hole (common practice)."""

STEP_WORDS = {"g": "+1 g", "N": "+50 N", "lbf": "+10 lbf", "deg": "+1°", "mm": "+1 mm", "in": "+1/32 in", "": "+1"}


def step_of(unit: str, units: Units) -> float:
    """One step of a number, in the unit it is stored in, for a hand that reads in these units.

    >>> from jaxel.core.units import IMPERIAL, METRIC
    >>> step_of("mm", METRIC), round(step_of("mm", IMPERIAL), 5)
    (1.0, 0.79375)
    """
    shown = units.shown(unit)
    return STEPS[shown.name] * shown.factor


class Depth(IntEnum):
    """How deep a hand must go to reach a slot; a lower one is less work (common practice)."""

    ON_THE_MACHINE = 1
    WEIGHT_SCREW = 2
    COVER_OFF = 3
    SPRING_MOVED = 4
    SECONDARY_SPRING = 5
    SPIDER_OFF = 6
    HELIX = 7


@dataclass(frozen=True)
class Number:
    """One number of a slot.

    `key` names it in requests; `label` what it is called in its slot; `unit` and `value` as a person reads them,
    the value None where the set-up has none; `at`, the document's field; `options`, names of its positions where it
    has some, `value` then being a position from 1; `weighed`, of how many weights one mass stands for; `typed`,
    whether it is changed alone or only comes with its part.
    """

    key: str
    label: str
    unit: str
    value: float | None
    at: str
    write: Callable[[dict[str, Any], float], None]
    options: tuple[str, ...] = ()
    weighed: int = 1
    typed: bool = True

    def parse(self, text: str) -> float:
        """What a person types for it; weights may be given as weighed one by one, `62.0 / 62.1 / 61.9`.

        Raises InvalidValue whose field is its key.
        """
        if not text.strip():
            raise InvalidValue(self.key, "needs a number")
        try:
            given = weighings(text.strip()) if self.weighed > 1 else [text.strip()]
            found = [parse_quantity(each, self.unit) for each in given]
            return found[0] if len(found) == 1 else equal_mass(found, self.weighed)
        except InvalidValue as error:
            raise InvalidValue(self.key, error.reason) from None


@dataclass(frozen=True)
class Slot:
    """A place where a hand changes something.

    `key` names it; `name` as the trade calls it; `depth` of the teardown; `numbers` of what fills it; `rest`, what
    else there is of it, only to be compared: an arm's shape, a clutch's table of holes.
    """

    key: str
    name: str
    depth: Depth
    numbers: tuple[Number, ...]
    rest: object = None

    def step_words(self, units: Units) -> str:
        """One step of its numbers in words, for a hand that reads in these units."""
        return STEP_WORDS[units.shown(self.numbers[0].unit).name]


@dataclass(frozen=True)
class Change:
    """One number that differs between two set-ups; None on the side that has none.

    `label` is “another part”, with no numbers, where what differs cannot be said in one.
    """

    slot: Slot
    key: str
    label: str
    unit: str
    found: float | None
    left: float | None


EQUAL_WITHIN_G = 0.2
"""Arms of one clutch that differ by more than this [g] are not a set; from memory, the manual wins."""


def equal_mass(masses: Sequence[float], count: int) -> float:
    """Mean of weights weighed one by one, which must be alike: a clutch with unequal arms is out of balance.

    Parameters: `masses` [g, `count` of them]. Returns the mean [g]. Raises InvalidValue when one is missing
    or they differ by more than EQUAL_WITHIN_G.

    >>> round(equal_mass([62.0, 62.1, 61.9], 3), 3)
    62.0
    """
    if len(masses) != count:
        raise InvalidValue("masses", f"takes one mass, or all {count} weighed: {len(masses)} were given")
    spread = max(masses) - min(masses)
    if spread > EQUAL_WITHIN_G + 1e-9:
        raise InvalidValue(
            "masses",
            f"the arms are unequal, {min(masses):g} to {max(masses):g} g: all {count} must be alike "
            f"within {EQUAL_WITHIN_G:g} g",
        )
    return sum(masses) / count


def weighings(text: str) -> list[str]:
    """Masses weighed one by one: apart by spaces, spaced strokes or semicolons, or three and more by strokes alone.

    >>> weighings("62.0/62.1/61.9"), weighings("62 1/2 g")
    (['62.0', '62.1', '61.9'], ['62 1/2 g'])
    """
    if re.fullmatch(r"[\d.,]*\d(\s+[\d.,]*\d)+(\s*g)?", text):
        return text.removesuffix("g").split()
    if re.fullmatch(r"[\d.,]+(/[\d.,]+){2,}", text):
        return text.split("/")
    return re.split(r"\s*/\s+|\s+/\s*|\s*;\s*", text)
