"""Close: what was taken off or put on is counted out and in, what was moved for access is back, the guard is on."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

Sort = Literal["fastener", "small part", "tool", "access"]


@dataclass(frozen=True)
class Count:
    """Something counted: how many went `out`, and how many are `back`, None while nobody has counted.

    `key` names it; for a part moved only for access, `note` is its own torque or adjustment.
    """

    key: str
    name: str
    sort: Sort
    out: int
    back: int | None = None
    note: str = ""
    id: int | None = None


def on_list(expected: Iterable[Count], held: Iterable[Count]) -> list[Count]:
    """What is to be counted: what the work took off, as a hand has counted it, then what a hand added."""
    said = {each.key: each for each in held}
    asked = list(expected)
    keys = {each.key for each in asked}
    return [*(said.get(each.key, each) for each in asked), *(each for each in said.values() if each.key not in keys)]


def lacks(counts: Sequence[Count]) -> Iterator[tuple[str, str]]:
    """What a close still lacks, as (field, words): what nobody has counted in one line, each of the rest by name."""
    waiting = [each for each in counts if each.back is None and each.sort != "access"]
    if waiting:
        names = ", ".join(f"{each.out} × {_name(each)}" if each.out > 1 else _name(each) for each in waiting)
        yield f"count_{waiting[0].key}", f"not counted in: {names}"
    yield from missing(each for each in counts if each not in waiting)


def _name(count: Count) -> str:
    return f"{count.name[:1].lower()}{count.name[1:]}"


def missing(counts: Iterable[Count]) -> Iterator[tuple[str, str]]:
    """What is not back yet, as (field, words)."""
    for each in counts:
        name = _name(each)
        if each.sort == "access":
            if not each.back:
                yield f"count_{each.key}", f"{name}: not refitted"
            elif not each.note.strip():
                yield f"count_{each.key}", f"{name}: its own torque or adjustment"
        elif each.back is None:
            yield f"count_{each.key}", f"{name}: {each.out} out, not counted in"
        elif each.back < each.out:
            yield f"count_{each.key}", f"{name}: {each.back} of {each.out} back"
        elif each.back > each.out:
            yield f"count_{each.key}", f"{name}: {each.back} in, {each.out} went out"


def totals(counts: Iterable[Count]) -> tuple[int, int]:
    """How many fasteners and small parts went out, and how many are counted in."""
    small = [each for each in counts if each.sort in ("fastener", "small part")]
    return sum(each.out for each in small), sum(each.back or 0 for each in small)
