"""What the eye finds on a belt: marks at their place, patterns that belong together, and a belt that has no width."""

import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import Part, validate
from jaxel.core.words import q

from ..kinds.kind_file import FINDINGS, Finding

Flank = Literal["inner", "outer", "both", "back"]
"""Flanks by the machine: inner toward the engine; back, the side with the lettering or ribs."""

Failure = Literal["", "snapped", "shredded", "cogs", "cord", "burnt", "unknown"]
NoWidth = Literal["broke", "lost cord", "in pieces", "missing"]

FAILURES = {
    "snapped": "Snapped clean across: shock, a launch against something that did not move, or a nick.",
    "shredded": "Shredded along its length: it turned over or ran out of line.",
    "cogs": "Cogs stripped: snatched load on a hard or old belt.",
    "cord": "Cord pulled out at an edge: out of line, or a burr on a sheave.",
    "burnt": "Burnt through at one place: the sheave spun while the belt stood.",
    "unknown": "Nothing left to tell it by.",
}
"""How a belt failed, and what it says (common practice, no source)."""

SEARCHES = {
    "pieces": "pieces of the belt, counted against the whole",
    "ducts": "ducts cleared of cord",
    "clutches": "both clutches cleared of cord",
    "seals": "seals behind both clutches searched for cord",
    "faces": "faces felt for burrs",
}
"""What is searched after a belt that failed, each asked before the machine leaves."""

SEARCHED: Mapping[str, str] = {"clear": "clear", "found": "found, removed", "not reached": "not reached"}
PIECES: Mapping[str, str] = {"clear": "all there", "found": "some missing", "not reached": "not counted"}


def answers_to(search: str) -> Mapping[str, str]:
    """What may be said of a search, in words: of the belt's own pieces, whether they are all there.

    >>> answers_to("pieces")["found"], answers_to("ducts")["found"]
    ('some missing', 'found, removed')
    """
    return PIECES if search == "pieces" else SEARCHED


def failure_in_short(failure: str) -> str:
    """How a belt failed, as a page says it, without what it may mean; the key itself where it is none.

    >>> failure_in_short("cogs")
    'cogs stripped'
    """
    return FAILURES.get(failure, failure).partition(":")[0].rstrip(".").lower()


NEAR = 0.04
"""Share of the way round within which marks on both flanks are at one place; from memory."""


class _Mark(Part):
    name: str
    finding: Finding


class _Pattern(Part):
    key: str
    name: str
    needs: list[str]
    both_flanks: bool = False
    one_flank: bool = False
    spread: float = 0.0
    means: str
    finding: Finding
    shows: list[str]


class _File(Part):
    mark: dict[str, _Mark]
    pattern: list[_Pattern]


@dataclass(frozen=True)
class MarkKind:
    key: str
    name: str
    finding: Finding


@dataclass(frozen=True)
class Mark:
    """A mark on a belt: `place`, share of the way round from the lettering [0 to 1); its `length_mm` where measured."""

    kind: str
    place: float
    flank: Flank
    length_mm: float | None = None


@dataclass(frozen=True)
class Pattern:
    """Marks that belong together, what they mean, and the checks of the diagnosis they show."""

    key: str
    name: str
    means: str
    finding: Finding
    shows: tuple[str, ...]


@cache
def _file() -> _File:
    text = resources.files("jaxel.core.data").joinpath("belt-marks.toml").read_text(encoding="utf-8")
    return validate(_File, tomllib.loads(text))


@cache
def mark_kinds() -> dict[str, MarkKind]:
    """What the eye can find on a belt, by key. Source: common practice."""
    return {key: MarkKind(key, each.name, each.finding) for key, each in _file().mark.items()}


def check_mark(mark: Mark, round_mm: float) -> None:
    """Refuse a mark that cannot be, naming the field.

    Parameters: `round_mm`, how long the belt is round [mm].
    """
    if mark.kind not in mark_kinds():
        raise InvalidValue("kind", f"must be one of: {', '.join(mark_kinds())}")
    if not 0 <= mark.place < 1:
        raise InvalidValue("place", "must be from 0 to below 1, once round the belt")
    if mark.length_mm is not None and not 0 < mark.length_mm <= round_mm:
        raise InvalidValue("length_mm", f"must be above 0 and no longer than the belt is round, {q(round_mm, 'mm', 0)}")


def patterns(marks: Sequence[Mark], round_mm: float) -> list[Pattern]:
    """What the marks of a belt mean together, in the order of the file.

    >>> [each.key for each in patterns([Mark("cup", 0.30, "inner"), Mark("cup", 0.31, "outer")], 1140)]
    ['cups']

    Source: common practice (cups on both flanks at one place prove a belt held still while a sheave turned).
    """
    return [
        Pattern(each.key, each.name, each.means, each.finding, tuple(each.shows))
        for each in _file().pattern
        if _fits(each, [mark for mark in marks if mark.kind in each.needs], round_mm)
    ]


def look_finding(marks: Sequence[Mark], round_mm: float) -> Finding | None:
    """The worst of a belt's marks and of what they mean together; None where there are none."""
    kinds = mark_kinds()
    found = [kinds[mark.kind].finding for mark in marks if mark.kind in kinds] + [
        each.finding for each in patterns(marks, round_mm)
    ]
    return max(found, key=FINDINGS.index, default=None)


def _fits(pattern: _Pattern, marks: list[Mark], round_mm: float) -> bool:
    if {mark.kind for mark in marks} != set(pattern.needs):
        return False
    if pattern.both_flanks and not _on_both(marks):
        return False
    if pattern.one_flank and len({mark.flank for mark in marks} & {"inner", "outer", "both"}) != 1:
        return False
    if pattern.one_flank and any(mark.flank == "both" for mark in marks):
        return False
    return _covered(marks, round_mm) >= pattern.spread


def _on_both(marks: list[Mark]) -> bool:
    if any(mark.flank == "both" for mark in marks):
        return True
    return any(
        apart(one.place, other.place) <= NEAR
        for one in marks
        for other in marks
        if one.flank == "inner" and other.flank == "outer"
    )


def apart(one: float, other: float) -> float:
    """How far two places are apart, the shorter way round [share].

    >>> round(apart(0.95, 0.05), 2)
    0.1
    """
    away = abs(one - other) % 1
    return min(away, 1 - away)


def _covered(marks: list[Mark], round_mm: float) -> float:
    """Share of the way round that marks speak for: their lengths, or the way round less its largest gap."""
    if not marks:
        return 0.0
    lengths = sum(mark.length_mm or 0.0 for mark in marks) / round_mm
    places = sorted(mark.place for mark in marks)
    gaps = [(after - place) % 1 for place, after in zip(places, [*places[1:], places[0]], strict=True)]
    spread = 1 - max(gaps) if len(places) > 2 else 0.0
    return max(lengths, spread)
