"""Close: what was taken off or put on is counted out and in, what was moved for access is back, the guard is on."""

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from ..kinds.kind_file import BeltWay
from ..kinds.kinds import of_side
from ..rebuild.opened import Opened
from ..record.quantities import Back, Note, Out
from ..record.said import Said

Sort = Literal["fastener", "small part", "tool", "access", "brake line"]

MOVED: tuple[Sort, ...] = ("access", "brake line")
"""Parts moved only to get at the work: each goes back with its own torque or adjustment."""

TOOLS = "tools"
"""Every tool in one line, ticked once."""

NAME_LIMIT = 300

NOTHING: Mapping[str, int] = {}


@dataclass(frozen=True)
class Count:
    """Something counted: how many went `out`, and how many are `back`, None while nobody has counted.

    `key` names it; for a part moved only for access, `note` is its own torque or adjustment. `goes_in`, how many are
    to go back where that is another number, and `by_sheet`, whose sheet says so: what is fitted may want a washer more.
    """

    key: str
    name: str
    sort: Sort
    out: Annotated[Out, Said("out")]
    back: Annotated[Back | None, Said("back")] = None
    note: Annotated[Note, Said("its own torque or adjustment")] = ""
    goes_in: Annotated[Back | None, Said("that go in")] = None
    by_sheet: Annotated[Note, Said("by whose sheet")] = ""
    id: int | None = None

    @property
    def due(self) -> int:
        """How many are to be back."""
        return self.out if self.goes_in is None else self.goes_in


def on_list(expected: Iterable[Count], held: Iterable[Count]) -> list[Count]:
    """What is to be counted: what the work took off, as a hand has counted it, then what a hand added."""
    said = {each.key: each for each in held}
    asked = list(expected)
    keys = {each.key for each in asked}
    return [*(said.get(each.key, each) for each in asked), *(each for each in said.values() if each.key not in keys)]


def lacks(counts: Sequence[Count]) -> Iterator[tuple[str, str]]:
    """What a close still lacks, as (field, words): what nobody has counted in one line, each of the rest by name."""
    waiting = [each for each in counts if each.back is None and each.due and each.sort not in MOVED]
    if waiting:
        names = ", ".join(_counted(each) for each in waiting)
        yield f"count_{waiting[0].key}", f"not counted in: {names}"
    yield from missing(each for each in counts if each not in waiting)


def _counted(count: Count) -> str:
    """How many of what; the tools of one line name themselves."""
    return _name(count) if count.due == 1 or count.sort == "tool" else f"{count.due} × {_name(count)}"


def _name(count: Count) -> str:
    return f"{count.name[:1].lower()}{count.name[1:]}"


def missing(counts: Iterable[Count]) -> Iterator[tuple[str, str]]:
    """What is not back yet, as (field, words)."""
    for each in counts:
        name = _name(each)
        if each.sort in MOVED:
            if not each.back:
                yield f"count_{each.key}", f"{name}: not refitted"
            elif not each.note.strip():
                yield f"count_{each.key}", f"{name}: its own torque or adjustment"
        elif each.goes_in not in (None, each.out) and not each.by_sheet.strip():
            yield f"count_{each.key}", f"{name}: {each.out} out, {each.goes_in} go in: by whose sheet"
        elif not each.due:  # not there, or not used
            if each.back:
                yield f"count_{each.key}", f"{name}: {each.back} in, none went out"
        elif each.back is None:
            yield f"count_{each.key}", f"{name}: {each.out} out, not counted in"
        elif each.back < each.due:
            yield f"count_{each.key}", f"{name}: {each.back} of {each.due} {_back(each)}"
        elif each.back > each.due:
            yield f"count_{each.key}", f"{name}: {each.back} in, {each.due} {_went(each)}"


def _back(count: Count) -> str:
    return "back" if count.goes_in is None else f"in, by {count.by_sheet.strip()}"


def _went(count: Count) -> str:
    return "went out" if count.goes_in is None else f"go in by {count.by_sheet.strip()}"


def brake_moved(counts: Iterable[Count]) -> bool:
    """Whether a bracket of a brake line was moved to get at the work."""
    return any(each.sort == "brake line" for each in counts)


def totals(counts: Iterable[Count]) -> tuple[int, int]:
    """How many fasteners and small parts are to be back, and how many are counted in."""
    small = [each for each in counts if each.sort in ("fastener", "small part")]
    return sum(each.due for each in small), sum(each.back or 0 for each in small)


def to_count(
    opened: Iterable[Opened],
    way: BeltWay | None,
    held: Iterable[Count],
    usual: Mapping[str, int] = NOTHING,
    seen: Collection[str] = (),
) -> list[Count]:
    """What is counted out and in: what came off each clutch, the tools for it, and what a hand added.

    Parameters: `way`, the one the belt came off by, None where it stayed on or its tool is said to be out; `usual`, how
    many of a thing this machine was last found to have, by key: they stand in for what its kind usually has; `seen`,
    keys of what went back in the hand's sight as the clutch was rebuilt: it is not counted again.
    """
    expected: list[Count] = []
    tools: dict[str, None] = dict.fromkeys(way.tools if way else ())
    for clutch in opened:
        parts = {part.key for part in clutch.parts}
        for fastener in clutch.fasteners:
            name = of_side(fastener.place, clutch.side)
            expected.append(Count(f"{clutch.side}.{fastener.key}", name, "fastener", fastener.count))
            tools |= dict.fromkeys(fastener.tools)
        for each in clutch.kind.guide.loose:
            if each.part in parts:
                name = of_side(each.name, clutch.side)
                expected.append(Count(f"{clutch.side}.{each.key}", name, "small part", each.count))
    expected = [replace(each, out=usual.get(each.key, each.out)) for each in expected]
    said = list(held)
    alone = {each.key for each in said}  # counted by itself, as an earlier version asked
    together = [name for name in tools if f"tool.{name.replace(' ', '_')}" not in alone]
    if together:
        expected.append(Count(TOOLS, f"Tools out: {', '.join(together)}"[:NAME_LIMIT], "tool", len(together)))
    counted = on_list(expected, said)
    return [replace(each, back=each.due) if each.back is None and each.key in seen else each for each in counted]
