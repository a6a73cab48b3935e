"""The bench guide: what is known of a kind, as pages a hand can follow, with a search over all of it."""

from dataclasses import dataclass
from functools import cache

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
    """Everything the guide says, kind by kind, then the questions on which practitioners differ."""
    found = [line for kind in kinds().values() for line in _lines(kind)]
    for question in questions().values():
        text = "; ".join(f"{school.name}: {school.why}" for school in question.schools)
        found.append(Found("", "", "Where practice differs", question.name, text, "common practice"))
    return tuple(found)


def search(words: str, limit: int = 60) -> list[Found]:
    """Lines that hold every word, in the order of the guide.

    >>> {each.kind for each in search("needle cages")}
    {'adjustable-cam-primary'}
    """
    wanted = words.casefold().split()
    if not wanted:
        return []
    return [
        line
        for line in lines()
        if all(word in f"{line.kind_name} {line.heading} {line.text}".casefold() for word in wanted)
    ][:limit]
