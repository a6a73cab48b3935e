"""What is due, as a calendar file (RFC 5545)."""

from collections.abc import Iterable
from datetime import date, datetime, timedelta

from icalendar import Calendar, Event

from jaxel.core.formats.due_event import CALENDAR_FORMAT
from jaxel.core.words import q
from jaxel.store.db import now
from jaxel.store.visit.dues import MachineDue

from ..units import told


def calendar_of(dues: Iterable[MachineDue]) -> bytes:
    """Everything that has a date, a whole day each."""
    calendar = Calendar()
    calendar.add("prodid", "-//Jaxel//what is due//EN")
    calendar.add("version", "2.0")
    calendar.add("x-jaxel-format", CALENDAR_FORMAT)
    for each in dues:
        if each.due.on is not None:
            calendar.add_component(_event(each, each.due.on))
    data: bytes = calendar.to_ical()
    return data


def _event(found: MachineDue, on: date) -> Event:
    event = Event()
    # The same thing due of the same machine keeps its identity, so that a calendar moves it instead of doubling it.
    event.add("uid", f"machine-{found.machine_id}-{found.due.key}@jaxel")
    event.add("summary", told(f"{found.machine_name}: {found.due.name}"))
    event.add("description", told(f"{found.due.why} {_when(found)}".strip()))
    event.add("dtstart", on)
    event.add("dtend", on + timedelta(days=1))
    event.add("dtstamp", datetime.fromisoformat(now().replace("Z", "+00:00")))
    return event


def _when(found: MachineDue) -> str:
    check = found.due.check
    said = []
    if check.km is not None:
        said.append(f"at {q(check.km, 'km', 0)}")
    if check.h is not None:
        said.append(f"at {check.h:,.0f} h")
    if check.season:
        said.append("before the next season")
    first = ", whichever is first" if len(said) > 1 else ""
    return f"Due {' or '.join(said)}{first}." if said else ""
