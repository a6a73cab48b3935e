"""A planner's answer in words: what to tell whoever rides the machine, and why an answer stands behind another."""

from collections.abc import Sequence
from typing import Literal

from jaxel.core.formats.plan.plan import Answer, PlannedChange
from jaxel.core.units import said

TuningOrder = Literal["weights", "spring"]
"""The school a workshop tunes by, as in core/data/schools.toml."""

_GROUPS = {
    "arms": "weights",
    "load": "weights",
    "shim": "weights",
    "clicker": "weights",
    "limiter": "weights",
    "primary_spring": "spring",
    "washer:primary": "spring",
}

_ORDERS: dict[str, tuple[str, ...]] = {"spring": ("spring", "weights"), "weights": ("weights", "spring")}

LAST = 9
"""The rank of a slot that neither school puts first: the secondary's come last in both."""


def tuning_rank(order: TuningOrder, slot: str) -> int:
    """Where a slot comes in a workshop's order of tuning, 0 first.

    >>> tuning_rank("spring", "primary_spring"), tuning_rank("spring", "arms"), tuning_rank("spring", "helix")
    (0, 1, 9)

    Source: common practice, two schools.
    """
    group = _GROUPS.get("load" if slot.startswith("load:") else slot)
    return _ORDERS[order].index(group) if group else LAST


_MORE: dict[str, tuple[str, str, str]] = {
    "arms": ("lighter weights", "heavier weights", "other weights"),
    "load": ("less weight in the arms", "more weight in the arms", "another load in the arms"),
    "primary_spring": ("a softer primary spring", "a stiffer primary spring", "another primary spring"),
    "washer:primary": ("less preload on the primary spring", "more preload on the primary spring", "another washer"),
    "limiter": ("a shorter shift limiter", "a longer shift limiter", "another shift limiter"),
    "shim": ("a thinner shim", "a thicker shim", "another shim"),
    "clicker": ("the clickers turned down", "the clickers turned up", "the clickers turned"),
    "helix": ("a shallower helix", "a steeper helix", "another helix"),
    "secondary_spring": ("a softer secondary spring", "a stiffer secondary spring", "another secondary spring"),
    "washer:secondary": ("less preload on the secondary", "more preload on the secondary", "another washer"),
    "holes": ("the secondary spring wound less", "the secondary spring wound more", "the secondary spring moved"),
}
"""What a slot changed downward, upward or otherwise is called across the counter."""


def _called(change: PlannedChange) -> str:
    slot = "load" if change.slot.startswith("load:") else change.slot
    down, up, other = _MORE[slot]
    if slot == "holes":
        return other
    before, after = _first(change.from_), _first(change.to)
    if before is None or after is None or before == after:
        return other
    return up if after > before else down


def _first(words: str) -> float | None:
    """The number a slot's words come to: pieces times mass, else the first of it."""
    plain = words.replace(",", "").replace("−", "-").split()
    try:
        if len(plain) > 2 and plain[1] == "×":
            return float(plain[0]) * float(plain[2])
        return float(plain[0].rstrip("°"))
    except (ValueError, IndexError):
        return None


def for_rider(changes: Sequence[PlannedChange], engagement_rpm: float, shift_rpm: float, probability: float) -> str:
    """One sentence a technician can repeat to whoever rides the machine."""
    what = [_called(each) for each in changes]
    parts = what[0] if len(what) == 1 else ", ".join(what[:-1]) + " and " + what[-1]
    engages, holds = (said(round(each, -1)) for each in (engagement_rpm, shift_rpm))
    tenths = round(probability * 10)
    odds = "as good as sure" if tenths == 10 else f"{tenths} in 10" if tenths else "hardly right yet"
    return f"{parts[0].upper()}{parts[1:]}: it takes up near {engages} and pulls near {holds} rpm, {odds}."


NEAREST = 0.05
"""Merits closer than this rank alike; from memory."""


BLEMISH = 0.15
"""What a blemish takes off an answer's probability where answers are ranked; from memory."""


def _blemishes(answer: Answer) -> int:
    return round((answer.probability - answer.merit) / BLEMISH)


def behind(answer: Answer, before: Answer) -> str:
    """Why an answer stands behind the one before it; merits are compared to the nearest twentieth, as ranked."""
    reasons = []
    one, other = len(answer.changes), len(before.changes)
    slips = answer.least_grip < before.least_grip - 0.02 and answer.least_grip < 1.1
    if slips:
        reasons.append(f"nearer to slipping, least grip {answer.least_grip:.2f}")
    if not slips and _blemishes(answer) > _blemishes(before):
        reasons.append(f"less straight, spread {answer.spread_rpm:,.0f} rpm")
    if round(answer.probability / NEAREST) < round(before.probability / NEAREST):
        reasons.append(f"less likely, {answer.probability:.0%} against {before.probability:.0%}")
    if one > other:
        reasons.append(f"{one} changes instead of {other}: cause and effect are harder to tell apart")
    if answer.depth > before.depth:
        reasons.append(f"goes deeper: {answer.teardown}")
    if answer.price > before.price + 0.005:
        reasons.append(f"costs {said(round(answer.price - before.price, 2))} more")
    if answer.minutes > before.minutes:
        reasons.append(f"takes {said(round(answer.minutes - before.minutes))} min more")
    return "; ".join(reasons) or "as good as alike: the order of tuning decides"
