"""What somebody states of a machine, and by whose word: origins, their rank, and whose it is.

A limit, an item's limit and a torque are one thing with three uses: a value, its origin, who said so and when, the
machine it was stated at where that is known. One that is withdrawn stays on record and holds no more.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal, get_args

Origin = Literal["manual", "part maker's sheet", "common practice", "from memory"]
RANK: tuple[Origin, ...] = get_args(Origin)
"""From the best word to the weakest."""

ELSEWHERE = "another machine's or not known whose"
"""Of what was not stated at the machine it is looked at from: never that machine's manual."""


@dataclass(frozen=True)
class Fact:
    """Something stated, and by whom (UTC ISO 8601).

    `name`, what it is of: a limit, or an item or a fastener of a `kind` of clutch; `value` in its unit, None for a
    `tightness` that is no torque; `machine_id`, the machine it was stated at, None where that is not known.
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

    def of(self, machine_id: int | None) -> bool:
        """Whether it was stated at this machine."""
        return machine_id is not None and self.machine_id == machine_id


def by_rank(facts: Iterable[Fact], machine_id: int | None) -> list[Fact]:
    """Facts of one subject in the order they hold for a machine: its own first, the best origin, the latest."""
    return sorted(facts, key=lambda each: (not each.of(machine_id), RANK.index(each.origin), -each.id))
