"""Break-in of a new belt: heat cycles by the workshop's school, timed by the server, and when it is released."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from jaxel.core.words import q

from ..record.quantities import BeltTemperature, Words
from ..record.said import Said

WARM_MIN, COOL_MIN = 15.0, 20.0
"""Minutes to working temperature, about fifteen (common practice), and to cool right down; the latter from memory."""

WARM_C, HOT_C = 45.0, 85.0
"""Between which belt temperatures a heat counts as warmed through and not as scorched; from memory."""

COOL_ABOVE_C = 10.0
"""How far above the air a belt is cool right down; from memory."""

CYCLES = {"two": 2, "three": 3, "first_ride": 1}
"""Heat cycles of each school."""

Released = Literal["", "by the rider", "released", "overruled"]
Phase = Literal["warming", "warm", "cooling", "done"]


@dataclass(frozen=True)
class HeatCycle:
    """One heating and cooling: when each began and ended (UTC ISO 8601, empty where it has not), and the belt's
    temperature then [°C], None where it was not taken."""

    id: int
    began_at: str
    warm_at: Annotated[str, Said("belt warmed through", hand=False)] = ""
    warm_c: Annotated[BeltTemperature | None, Said("belt temperature, warm", hand=False)] = None
    cool_at: Annotated[str, Said("belt cooled down", hand=False)] = ""
    cool_c: Annotated[BeltTemperature | None, Said("belt temperature, cool", hand=False)] = None


@dataclass(frozen=True)
class BreakIn:
    """Break-in of a visit: whether its rider does it, it was released to the road, or overruled with a reason.

    `asked`, how many cycles the workshop's school asked for on that day, None until then.
    """

    released: Annotated[Released, Said("break-in")] = ""
    reason: Annotated[Words, Said("why the break-in was overruled")] = ""
    asked: int | None = None


def minutes_between(began: str, ended: str) -> float:
    """Minutes from one time to another (UTC ISO 8601)."""
    return (datetime.fromisoformat(ended) - datetime.fromisoformat(began)).total_seconds() / 60


def phase(cycle: HeatCycle, now: str) -> tuple[Phase, float]:
    """Where a cycle is, and for how many minutes it has been: warming, warm enough, cooling, or done."""
    if not cycle.warm_at:
        run = minutes_between(cycle.began_at, now)
        return ("warm" if run >= WARM_MIN else "warming"), run
    if not cycle.cool_at:
        return "cooling", minutes_between(cycle.warm_at, now)
    return "done", minutes_between(cycle.warm_at, cycle.cool_at)


def remarks(cycle: HeatCycle, air_c: float) -> list[str]:
    """What a cycle was not as it should be, in words; empty where it counts."""
    told = []
    if cycle.warm_at and (ran := minutes_between(cycle.began_at, cycle.warm_at)) < WARM_MIN:
        told.append(f"warmed for {ran:.0f} of {WARM_MIN:.0f} minutes")
    if cycle.warm_c is not None and cycle.warm_c < WARM_C:
        told.append(f"{q(cycle.warm_c, '°C', 0)} is not working temperature")
    if cycle.warm_c is not None and cycle.warm_c > HOT_C:
        told.append(f"{q(cycle.warm_c, '°C', 0)} scorches a new belt")
    if cycle.cool_at and cycle.cool_c is None and (cooled := minutes_between(cycle.warm_at, cycle.cool_at)) < COOL_MIN:
        told.append(f"cooled for {cooled:.0f} of {COOL_MIN:.0f} minutes")
    if cycle.cool_c is not None and cycle.cool_c > air_c + COOL_ABOVE_C:
        told.append(f"{q(cycle.cool_c, '°C', 0)} is not cooled right down")
    return told


def counted(cycles: Sequence[HeatCycle], air_c: float) -> int:
    """How many cycles are done and were as they should be."""
    return sum(1 for each in cycles if each.cool_at and not remarks(each, air_c))


def instruction(cycles: int) -> str:
    """What a rider is told who breaks a belt in.

    Source: common practice.
    """
    times = "once" if cycles == 1 else "twice" if cycles == 2 else f"{cycles} times"
    return (
        f"no full throttle, the speed varied all the time, about {WARM_MIN:.0f} minutes to working temperature, "
        f"then cooled right down; {times}"
    )


def lacks(held: BreakIn, cycles: Sequence[HeatCycle], asked: int, air_c: float) -> list[tuple[str, str]]:
    """What the break-in of a new belt still lacks, as (field, words)."""
    if held.released == "by the rider":
        return []
    if held.released == "overruled":
        return [] if held.reason.strip() else [("break_in_reason", "why the break-in was overruled")]
    short = asked - counted(cycles, air_c)
    if short > 0:
        return [("break_in", f"new belt: {short} of {asked} heat cycles to go, or overruled with a reason")]
    return [] if held.released else [("break_in", "new belt: broken in, not yet released to the road")]
