"""Procedures: whole jobs on one clutch, by their trade names: what each opens, looks at, and wants laid out."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..kinds.kind_file import ClutchPart, PartsNeeded, Procedure, WearItem
from ..kinds.kinds import Kind, Kinds, Side, clutches


@dataclass(frozen=True)
class Job:
    """A procedure on a clutch of a machine."""

    side: Side
    kind: Kind
    procedure: Procedure

    @property
    def key(self) -> str:
        """What it is chosen by, `side.procedure`."""
        return f"{self.side}.{self.procedure.key}"

    @property
    def parts(self) -> list[ClutchPart]:
        """What comes off for it, in tear-down order; what this clutch lacks is left out."""
        return [part for part in self.kind.guide.part if part.key in self.procedure.opens]

    @property
    def items(self) -> list[WearItem]:
        """What is looked at, in the order of the kind's list; what this clutch lacks is left out."""
        return [item for item in self.kind.guide.item if item.key in self.procedure.looks]

    @property
    def tools(self) -> list[str]:
        """What is laid out for it: its own tools, those of its fasteners, those its usual remedies need; each once."""
        off = {part.key for part in self.parts}
        fasteners = [name for each in self.kind.guide.fastener if each.part in off for name in each.tools]
        remedies = [item.remedy[0].tool for item in self.items if item.remedy and item.remedy[0].tool]
        return list(dict.fromkeys((*fasteners, *self.procedure.tools, *remedies)))

    @property
    def may_need(self) -> list[PartsNeeded]:
        """The parts its items may want, by the first way of putting each right: several want the same set once."""
        return _once(need for item in self.items if item.remedy for need in item.remedy[0].parts)


def _once(needs: Iterable[PartsNeeded]) -> list[PartsNeeded]:
    found: dict[str, int] = {}
    for need in needs:
        found[need.kind] = max(found.get(need.kind, 0), need.pieces)
    return [PartsNeeded(kind=kind, pieces=pieces) for kind, pieces in found.items()]


def laid_out(some: Sequence[Job]) -> tuple[list[str], list[PartsNeeded]]:
    """The tools and the parts of several jobs together, each once: a set for one clutch serves all jobs on it."""
    tools = dict.fromkeys(name for job in some for name in job.tools)
    needs: dict[str, int] = {}
    for side in dict.fromkeys(job.side for job in some):
        for need in _once(need for job in some if job.side == side for need in job.may_need):
            needs[need.kind] = needs.get(need.kind, 0) + need.pieces
    return list(tools), [PartsNeeded(kind=kind, pieces=pieces) for kind, pieces in needs.items()]


def jobs(kinds: Kinds) -> list[Job]:
    """Every procedure there is for a machine of these kinds, the primary's first.

    >>> [each.key for each in jobs(Kinds("roller-variator-primary"))]
    ['primary.weights']
    """
    return [Job(side, kind, each) for side, kind in clutches(kinds) for each in kind.guide.procedure]


def chosen(keys: Sequence[str], kinds: Kinds) -> Iterator[Job]:
    """The jobs chosen, by key; a key of a kind that is no longer the clutch's is passed over."""
    return (each for each in jobs(kinds) if each.key in keys)


def asked_by(keys: Sequence[str], kinds: Kinds) -> Mapping[Side, set[str]]:
    """The items the jobs chosen ask to be looked at, by clutch."""
    found: dict[Side, set[str]] = {}
    for job in chosen(keys, kinds):
        found.setdefault(job.side, set()).update(item.key for item in job.items)
    return found


def off_for(keys: Sequence[str], off: Iterable[str], kinds: Kinds) -> dict[Side, list[str]]:
    """The parts that come off for the jobs chosen, and those a hand said are off, as `side.part`; by clutch."""
    said = set(off)
    found: dict[Side, list[str]] = {}
    for side, kind in clutches(kinds):
        wanted = {part.key for job in chosen(keys, kinds) if job.side == side for part in job.parts}
        came = [each.key for each in kind.guide.part if each.key in wanted or f"{side}.{each.key}" in said]
        if came:
            found[side] = came
    return found
