"""How tight a fastener is to be: what sources say of it, where they conflict, in which order, and what was done."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal, cast

from jaxel.core.errors import Expected, Implausible, InvalidValue
from jaxel.core.words import q

from ..kinds.kind_file import Compound, Fastener, Tightness
from ..record.facts import NOT_RECORDED, RANK, Fact, OnMachine, Origin
from ..record.quantities import Name, Short, Torque, Words
from ..record.said import Said
from .torque import Means

ALIKE = 0.02
"""Two torques closer than this share are one: a value rounded in another unit; from memory."""

SLACK = 1.1
"""How far outside the window of common practice a torque is taken without being asked about; from memory."""


@dataclass(frozen=True)
class Stated:
    """How tight somebody says a fastener is: `torque_nm` [N·m] where it is a torque.

    `own`, whether it holds of the machine it is looked at from; `whose`, by whose word it is there: its origin where it
    is its own, else that it is another's, by name, or that nobody recorded whose; `ours`, whether it may be withdrawn
    there: what is known to be another machine's is withdrawn at that one; `touches`, of how many machines it holds.
    """

    id: int
    tightness: Tightness
    torque_nm: float | None
    origin: Origin
    stated_by: str = ""
    own: bool = False
    whose: str = NOT_RECORDED
    ours: bool = True
    touches: int = 1

    @property
    def words(self) -> str:
        """What it says, and who."""
        value = f"{q(self.torque_nm, 'N·m', 2)}" if self.torque_nm is not None else self.tightness
        return f"{value}, {self.whose}"


def stated(fact: Fact, on: OnMachine, touches: int = 1) -> Stated:
    """A statement as it is seen from a machine."""
    tightness, own = cast(Tightness, fact.tightness), fact.of(on)
    ours = own or (fact.machine_id is None and not fact.model)
    return Stated(fact.id, tightness, fact.value, fact.origin, fact.stated_by, own, fact.whose(on), ours, touches)


@dataclass(frozen=True)
class Wanted:
    """How tight a fastener is to be here: `by`, the statement that holds, None where only the kind's word is known.

    `conflict`, every statement in force where they differ and the workshop has not chosen for this machine.
    """

    tightness: Tightness
    torque_nm: float | None
    source: str
    by: Stated | None
    statements: tuple[Stated, ...]
    conflict: bool


def wanted(fastener: Fastener, statements: Sequence[Stated], chosen: int | None) -> Wanted:
    """What holds of a fastener: the statement chosen for the machine, else its best source, its latest word.

    Only what was stated at this machine holds; another's is offered beside it, never gone by.

    Parameters: `statements` in force of its kind, `chosen`, the id of one of them.
    """
    order = sorted(statements, key=lambda each: (not each.own, RANK.index(each.origin), -each.id))
    own = [each for each in order if each.own]
    choice = next((each for each in own if each.id == chosen), None)
    by = choice or (own[0] if own else None)
    if by is None:
        return Wanted(fastener.tightness, None, fastener.origin, None, tuple(order), False)
    conflict = choice is None and any(_differ(by, each) for each in own[1:])
    return Wanted(by.tightness, by.torque_nm, by.origin, by, tuple(order), conflict)


def _differ(one: Stated, other: Stated) -> bool:
    if one.tightness != other.tightness or one.torque_nm is None or other.torque_nm is None:
        return one.tightness != other.tightness
    return abs(one.torque_nm - other.torque_nm) > ALIKE * max(one.torque_nm, other.torque_nm)


def lacking(fastener: Fastener, words: str) -> str:
    """What a fastener lacks, said with its name."""
    return f"{fastener.place[:1].lower()}{fastener.place[1:]}: {words}"


def misses(torque_nm: float, wanted_nm: float | None) -> bool:
    """Whether a torque [N·m] is another than what holds of its fastener; nothing is where nothing holds.

    >>> misses(70.0, 68.0), misses(108.0, 68.0), misses(61.0, 68.0), misses(108.0, None)
    (False, True, True, False)
    """
    return wanted_nm is not None and not wanted_nm / SLACK <= torque_nm <= wanted_nm * SLACK


def ask_about(field: str, fastener: Fastener, torque_nm: float, wanted_nm: float | None = None) -> None:
    """Ask about a torque [N·m] no such fastener takes; refuse one not above 0.

    Parameters: `wanted_nm`, what it is to be, where that is known; else the window of common practice. Raises
    InvalidValue and Implausible.
    """
    if not torque_nm > 0:
        raise InvalidValue(field, "must be above 0")
    window = fastener.plausible
    if wanted_nm is not None:
        low, high = wanted_nm / SLACK, wanted_nm * SLACK
        reason = f"is not the {q(wanted_nm, 'N·m', 2)} it is to be"
    elif window is not None:
        low, high = window.low / SLACK, window.high * SLACK
        reason = f"is far from what such a fastener takes, {q(window.low, 'N·m', bare=True)} to {q(window.high, 'N·m')}"
    else:
        return
    if low <= torque_nm <= high:
        return
    place = f"{fastener.place[:1].lower()}{fastener.place[1:]}"
    told = f"{q(torque_nm, 'N·m', 2)} on the {place} {reason}"
    raise Implausible(field, told, expected=Expected("N·m", low, high, wanted_nm or 0.0))


def sequence(count: int) -> list[int]:
    """Places round a circle, from 0 clockwise, in the order they are tightened: criss-cross, each far from the last.

    An even circle goes by opposite pairs, the pairs themselves criss-cross; an odd one strides by half of it.

    >>> sequence(6), sequence(8), sequence(5)
    ([0, 3, 1, 4, 2, 5], [0, 4, 2, 6, 1, 5, 3, 7], [0, 2, 4, 1, 3])

    Source: common practice.
    """
    half = count // 2
    if count < 3:
        return list(range(count))
    if count % 2:
        return [place * half % count for place in range(count)]
    return [place for start in sequence(half) for place in (start, start + half)]


Thread = Literal["", "right-hand", "left-hand"]


@dataclass(frozen=True)
class Size:
    """What a machine's fastener is turned with: the size of its drive, the direction of its thread."""

    size: str = ""
    thread: Thread = ""


NOT_SAID = Size()


@dataclass(frozen=True)
class Tightened:
    """What was done about a fastener of a visit.

    `state` done or owed, empty while it waits; `torque_nm` [N·m] it clicked at; `means`; `wrench`, its name; `by`, who,
    and `at`, when; `first_at`, when the first pass was round; `compound_at`, when its compound went on. `size` of its
    drive and the direction of its `thread`, which stay the machine's; `used_instead` of the tool that is named;
    `did`, who did it where another hand wrote it down.
    """

    state: Annotated[Literal["", "done", "owed"], Said("tightened")] = ""
    torque_nm: Annotated[Torque | None, Said("torque")] = None
    means: Annotated[Means | Literal[""], Said("tightened with")] = ""
    wrench: Annotated[Short, Said("wrench")] = ""
    note: Annotated[Words, Said("note")] = ""
    by: Name = ""
    at: str = ""
    first_at: Annotated[str, Said("first pass round", hand=False)] = ""
    compound_at: Annotated[str, Said("compound on", hand=False)] = ""
    size: Annotated[Short, Said("size")] = ""
    thread: Annotated[Thread, Said("thread")] = ""
    used_instead: Annotated[Short, Said("used instead")] = ""
    did: Annotated[Name, Said("done by")] = ""

    @property
    def who(self) -> str:
        """Who did it, and who wrote it down where that is another."""
        return f"{self.did}, written by {self.by}" if self.did and self.did != self.by else self.by


UNTOUCHED = Tightened()

CompoundPhase = Literal["", "working", "setting", "cured"]


def compound_phase(compound: Compound | None, minutes: float | None) -> CompoundPhase:
    """Where a compound is that has been on for so many minutes; empty where none is."""
    if compound is None or minutes is None:
        return ""
    if minutes < compound.working_min:
        return "working"
    return "setting" if minutes < compound.cure_min else "cured"


def settled(done: Tightened, to_be: Tightness) -> str:
    """What a fastener still lacks, in words; empty where it is tightened."""
    if done.state == "owed":
        return "torque owed"
    if done.state != "done":
        return "not tightened"
    if to_be == "torque" and done.torque_nm is None and done.means not in ("index mark", "by hand"):
        return "the torque it was given"
    return ""
