"""What is due of a machine and when: by distance, hours or season, whichever comes first, with a date for each."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from ..strip.inspection import Check, Odometer

What = Literal["belt", "item", "service"]
Urgency = Literal["overdue", "soon", "later", "undated"]

SOON_DAYS = 30
"""Days ahead within which something is due soon; from memory."""

SEASON_STARTS = {"sled": (11, 15)}
OTHER_SEASON = (4, 1)
"""Month and day on which a kind of machine's season begins; from memory."""


@dataclass(frozen=True)
class Use:
    """How fast a machine is used: distance [km] and hours a day, None where its visits do not tell."""

    km_a_day: float | None = None
    h_a_day: float | None = None


@dataclass(frozen=True)
class Due:
    """Something due: `key` stable for as long as it is the same thing; `on`, the first of its dates."""

    key: str
    what: What
    name: str
    why: str
    check: Check
    on: date | None
    urgency: Urgency


def use_of(readings: Sequence[tuple[date, Odometer]]) -> Use:
    """Use a day from the first and the last of a machine's odometer readings.

    >>> use_of([(date(2026, 1, 1), Odometer(km=100)), (date(2026, 4, 11), Odometer(km=1100))]).km_a_day
    10.0
    """

    def a_day(name: str) -> float | None:
        read = [(day, getattr(odometer, name)) for day, odometer in readings if getattr(odometer, name) is not None]
        if len(read) < 2:
            return None
        (first, low), (last, high) = read[0], read[-1]
        days = (last - first).days
        return (high - low) / days if days > 0 and high > low else None

    return Use(a_day("km"), a_day("h"))


def next_season(machine_kind: str, after: date) -> date:
    """The first day of the next season of a kind of machine after a day.

    >>> next_season("sled", date(2026, 11, 25))
    datetime.date(2027, 11, 15)
    """
    month, day = SEASON_STARTS.get(machine_kind, OTHER_SEASON)
    this = date(after.year, month, day)
    return this if this > after else date(after.year + 1, month, day)


def due_on(check: Check, now: Odometer, read_on: date, use: Use, machine_kind: str, said_on: date) -> date | None:
    """The first day on which a check falls due.

    Parameters: `now`, the odometer as last read, on `read_on`; `said_on`, the day the check was set: its season is the
    one that begins after it. None where neither a date nor the use of the machine tells.
    """
    days = [next_season(machine_kind, said_on)] if check.season else []
    for aim, read, rate in ((check.km, now.km, use.km_a_day), (check.h, now.h, use.h_a_day)):
        if aim is None or read is None:
            continue
        if aim <= read:
            days.append(read_on)
        elif rate:
            days.append(read_on + timedelta(days=min(36500, round((aim - read) / rate))))
    return min(days, default=None)


def urgency(on: date | None, today: date) -> Urgency:
    """How pressing a date is."""
    if on is None:
        return "undated"
    if on <= today:
        return "overdue"
    return "soon" if on <= today + timedelta(days=SOON_DAYS) else "later"


def in_order(dues: Iterable[Due]) -> list[Due]:
    """The most pressing first; what has no date last."""
    return sorted(dues, key=lambda each: (each.on is None, each.on or date.max, each.name))
