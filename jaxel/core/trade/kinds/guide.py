"""The bench guide: what is known of a kind, as pages a hand can follow, with a search over all of it."""

import re
import tomllib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Annotated

from pydantic import Field

from jaxel.core.formats.reading import Part, validate

from .glossary import glossary
from .kinds import Kind, kinds
from .schools import questions


@dataclass(frozen=True)
class Found:
    """A line of the guide: the kind it belongs to (empty for a question on which practitioners differ), its section and
    the heading over it."""

    kind: str
    kind_name: str
    section: str
    heading: str
    text: str
    origin: str


HAZARDS = {
    "spring": "Springs fly off: compressor on, face over no cover.",
    "heat": "Torch away from fluids and fumes; hot parts stay hot.",
    "taper": "A taper lets go suddenly: one hand on the clutch, nobody in line.",
    "dust": "Dust: mask and glasses, outdoors, never blown toward a face.",
    "pinch": "Sheaves close with force: fingers out of the gap.",
}
"""Where a hand is at risk, at the part where it is (common practice)."""


def _lines(kind: Kind) -> list[Found]:
    guide = kind.guide

    def line(section: str, heading: str, text: str, origin: str) -> Found:
        return Found(kind.key, kind.name, section, heading, text, origin)

    found = [
        line("Belt off", way.name, text, way.origin)
        for way in guide.way
        for text in filter(None, (*way.steps, way.stop, way.back))
    ]
    found += [line("Housing", "", each.text, each.origin) for each in guide.housing]
    found += [line("Job", each.name, each.text, each.origin) for each in guide.procedure]
    for part in guide.part:
        first = part.mark and f"Mark: {part.mark}"
        text = " ".join(filter(None, (part.held, first, part.off, part.heat, part.trap, part.look)))
        if part.hazard:
            text = f"{text} {HAZARDS[part.hazard]}"
        found.append(line("Tear-down", part.name, text, part.origin))
    for part in guide.part:
        if text := " ".join(filter(None, (part.back, part.facing, part.stop))):
            found.append(line("Rebuild", part.name, text, part.origin))
    for item in guide.item:
        text = " ".join(filter(None, (item.how, item.assembled, item.normal, item.consequence)))
        found.append(line("Wear", item.name, text, item.origin))
    found += [line("Lubrication", each.where, each.text, each.origin) for each in guide.lubrication]
    for each in guide.fastener:
        words = [
            each.tightness,
            each.drive,
            each.compound.kind if each.compound else "",
            each.note,
            ", ".join(each.tools),
        ]
        found.append(line("Fasteners", f"{each.place}, {each.count}", "; ".join(filter(None, words)), each.origin))
    found += [line("Counted", each.name, f"{each.name}, {each.count}", each.origin) for each in guide.loose]
    found += [line("Variants", each.question, "; ".join(each.answers.values()), each.origin) for each in guide.variant]
    return found


@cache
def lines() -> tuple[Found, ...]:
    """Everything the guide says, kind by kind, then the questions on which practitioners differ, then the glossary."""
    found = [line for kind in kinds().values() for line in _lines(kind)]
    for question in questions().values():
        text = "; ".join(f"{school.name}: {school.why}" for school in question.schools)
        found.append(Found("", "", "Where practice differs", question.name, text, "common practice"))
    for term in glossary().values():
        also = f" Also: {', '.join(term.also)}." if term.also else ""
        found.append(Found("", "", "Glossary", term.name, f"{term.text}{also}", "own words"))
    return tuple(found)


class _Saying(Part):
    says: Annotated[list[str], Field(min_length=1)]
    finds: Annotated[list[str], Field(min_length=1)]


class _Sayings(Part):
    word: list[_Saying]


@cache
def _sayings() -> tuple[_Saying, ...]:
    """What a hand says and the words under which the guide has it; the longest saying first."""
    text = resources.files("jaxel.core.data").joinpath("hand-words.toml").read_text(encoding="utf-8")
    return tuple(validate(_Sayings, tomllib.loads(text)).word)


SMALL_WORDS = frozenset({"a", "an", "and", "at", "it", "its", "of", "on", "or", "my", "the", "is", "to", "with"})


def search(words: str, more: Sequence[Found] = (), limit: int = 60) -> list[Found]:
    """Lines that hold what is looked for, in the order of the guide; a hand's own words find what the guide calls it.

    Parameters: `more`, lines that come first, of what the guide knows from elsewhere.

    >>> {each.kind for each in search("needle cages")}
    {'adjustable-cam-primary'}
    >>> "Secondary bolt" in {each.heading for each in search("won't come off")}
    True
    """
    wanted = _wanted(words)
    if not wanted:
        return []
    return [line for line in (*more, *lines()) if _holds(line, wanted)][:limit]


def _wanted(words: str) -> list[tuple[str, ...]]:
    """What a line has to hold: of each group any."""
    text = " ".join(words.casefold().replace("’", "'").split())
    groups: list[tuple[str, ...]] = []
    sayings = sorted(((said, each.finds) for each in _sayings() for said in each.says), key=lambda pair: -len(pair[0]))
    for said, finds in sayings:
        if re.search(rf"(?<!\w){re.escape(said)}(?!\w)", text):
            groups.append((said, *finds))
            text = text.replace(said, " ")
    return groups + [(word,) for word in text.split() if word not in SMALL_WORDS]


def _holds(line: Found, wanted: Sequence[tuple[str, ...]]) -> bool:
    text = f"{line.kind_name} {line.section} {line.heading} {line.text}".casefold()
    return all(any(each in text for each in group) for group in wanted)
