"""The units a request is answered in: those of the hand at the browser, else the workshop's."""

from datetime import UTC, tzinfo
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from flask import g, request

from jaxel.core.errors import InvalidValue
from jaxel.core.units import Units
from jaxel.core.words import told as tell
from jaxel.store.workshop import workshop

from .database import connection
from .record.fields import hand


def units() -> Units:
    """The units of this request's hand, read once."""
    if "units" not in g:
        held = workshop.get(connection())
        try:
            g.units = held.units_of(hand())
        except InvalidValue:  # a name that cannot be read has no units of its own; a write of it is refused
            g.units = held.units
    known: Units = g.units
    return known


def told(words: str) -> str:
    """Words of the application with their quantities in this hand's units, their times in its zone."""
    return tell(words, units(), zone())


def zone() -> tzinfo:
    """The zone of this request's browser: the header `Jaxel-Zone`, by its IANA name; UTC where there is none."""
    try:
        return ZoneInfo(request.headers.get("Jaxel-Zone", "UTC"))
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return UTC
