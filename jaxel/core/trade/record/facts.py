"""What somebody states of a machine, and by whose word: origins, their rank, and whose it is.

A limit, an item's limit and a torque are one thing with three uses: a value, its origin, who said so and when, and the
machine it is of, or every one of a make and model, by a manual that is named. Another machine's may be offered, named
as such; it holds nowhere else. One that is withdrawn stays on record and holds no more.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal, get_args

Origin = Literal["manual", "part maker's sheet", "common practice", "from memory"]
RANK: tuple[Origin, ...] = get_args(Origin)
"""From the best word to the weakest."""

NOT_RECORDED = "machine and manual not recorded"
"""Of what was stated before anybody was asked for which machine: it holds nowhere until it is stated for one."""


@dataclass(frozen=True)
class OnMachine:
    """The machine facts are looked at from: its id, and its make and model as its plate says, empty where not typed."""

    id: int | None
    model: str = ""


@dataclass(frozen=True)
class Fact:
    """Something stated, and by whom (UTC ISO 8601).

    `name`, what it is of: a limit, or an item or a fastener of a `kind` of clutch; `value` in its unit, None for a
    `tightness` that is no torque; `machine_id`, the machine it was stated at, None where that is not known, and its
    name; `model`, where it is of every one of a make and model, and the `manual` that says so.
    """

    id: int
    kind: str
    name: str
    value: float | None
    tightness: str | None
    origin: Origin
    stated_at: str
    stated_by: str
    machine_id: int | None
    model: str = ""
    manual: str = ""
    machine_name: str = ""

    def of(self, on: OnMachine) -> bool:
        """Whether it holds of this machine: stated for it, or for every one of its make and model."""
        at = on.id is not None and self.machine_id == on.id
        return at or (self.model != "" and same_model(self.model, on.model))

    def whose(self, on: OnMachine) -> str:
        """By whose word it is, as it is seen from a machine."""
        if self.model:
            every = f"every {self.model}: {self.manual}"
            return every if self.of(on) else f"another make and model's: {self.model}, {self.manual}"
        if self.of(on):
            return self.origin
        if self.machine_id is None:
            return NOT_RECORDED
        return f"another machine's: {self.machine_name}, its {self.origin}"


def same_model(one: str, other: str) -> bool:
    """Whether two makes and models are one: case and spaces aside."""
    return "".join(one.split()).casefold() == "".join(other.split()).casefold()


def by_rank(facts: Iterable[Fact], on: OnMachine) -> list[Fact]:
    """Facts of one subject in the order they hold for a machine: its own first, the best origin, the latest."""
    return sorted(facts, key=lambda each: (not each.of(on), RANK.index(each.origin), -each.id))
