"""What a visit is for, and who it can be for."""

from collections.abc import Mapping
from typing import Literal

Scope = Literal["belt", "service", "tune", "rebuild", "bench"]
"""What a visit is for: bench is a clutch without its machine."""

ALL_SCOPES: frozenset[Scope] = frozenset({"belt", "service", "tune", "rebuild", "bench"})
SET_UP_SCOPES: frozenset[Scope] = frozenset({"tune", "rebuild", "bench"})

SCOPE_NAMES: Mapping[Scope, str] = {
    "belt": "Belt only",
    "service": "Service",
    "tune": "Tune",
    "rebuild": "Rebuild",
    "bench": "Clutch on the bench",
}

BARE_CLUTCH = "bare clutch"
"""The kind of what stands here without a machine."""


def scopes_for(machine_kind: str) -> list[Scope]:
    """The scopes a machine can be here for: a bare clutch only the bench, what brought its machine all but that."""
    return ["bench"] if machine_kind == BARE_CLUTCH else ["belt", "service", "tune", "rebuild"]
