"""The set-ups of a visit: as found, as left, and what was tried on each but not recorded."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Annotated, Any

from ..record.quantities import Id, Words
from ..record.said import Said


@dataclass(frozen=True)
class SetUp:
    """The set-ups as found and as left, and what was tried on each but not recorded: numbers of slots by key.

    `found_origins`, how what was found in a slot is known, where a hand said so; `changed`, the slots of
    which a change was recorded, by key: what came off for it follows from the clutches' kinds; `offered`, the answer
    of the planner that was put on the bench, with the draft it came to.
    """

    found_revision_id: Annotated[Id, Said("what is fitted, looked at", hand=False, station="intake")]
    left_revision_id: Annotated[Id, Said("change recorded as fitted", hand=False)]
    found_draft: Annotated[Mapping[str, float], Said("what is fitted", hand=False, station="intake")] = field(
        default_factory=dict
    )
    found_origins: Annotated[Mapping[str, str], Said("how a part is known", hand=False, station="intake")] = field(
        default_factory=dict
    )
    left_draft: Annotated[Mapping[str, float], Said("tried on the bench", hand=False)] = field(default_factory=dict)
    reason: Annotated[Words, Said("reason for the change", hand=False)] = ""
    changed: tuple[str, ...] = ()
    offered: Mapping[str, Any] = field(default_factory=dict)


def lacks(set_up: SetUp) -> Iterator[tuple[str, str]]:
    """What a set-up still lacks, as (field, words)."""
    if set_up.left_draft:
        yield "reason", "set-up change tried but not recorded as fitted"
