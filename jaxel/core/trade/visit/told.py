"""Hand-over: what the rider is told; and what a visit itself keeps."""

from dataclasses import dataclass
from typing import Annotated

from ..record.quantities import Distance, Hours, Name, Story, Words
from ..record.said import Said
from ..record.scope import Scope


@dataclass(frozen=True)
class HandOver:
    """What the rider is told to watch, and when to come back; `guard_on`, whether guard and duct are back on;
    `brake_held`, whether the brake was tried and found holding after a line of it had been moved."""

    watch: Annotated[Story, Said("what to watch")] = ""
    next_service_km: Annotated[Distance | None, Said("next service")] = None
    next_service_h: Annotated[Hours | None, Said("next service")] = None
    guard_on: Annotated[bool, Said("guard and duct on")] = False
    brake_held: Annotated[bool, Said("brake tried and found holding")] = False


@dataclass(frozen=True)
class Head:
    """What a visit keeps of itself."""

    scope: Annotated[Scope, Said("what it is here for", hand=False, station="intake")] = "tune"
    signed_off_by: Annotated[Name, Said("signed off by", hand=False)] = ""
    unrepaired: Annotated[Words, Said("closed unrepaired", hand=False)] = ""


@dataclass(frozen=True)
class StatedKinds:
    """Of which kinds a machine's clutches are said to be."""

    primary_kind: Annotated[str | None, Said("kind of primary", hand=False)] = None
    secondary_kind: Annotated[str | None, Said("kind of secondary", hand=False)] = None
