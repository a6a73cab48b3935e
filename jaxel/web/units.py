"""The units a request is answered in: those of the hand at the browser, else the workshop's."""

from collections.abc import Iterable
from typing import TypeVar

from flask import g
from pydantic import BaseModel

from jaxel.core.errors import InvalidValue
from jaxel.core.units import Units
from jaxel.store import workshop

from .database import connection
from .fields import hand

Told = TypeVar("Told", bound=BaseModel)


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


def retold(words: str) -> str:
    """Words of the application with their readings in this hand's units."""
    return units().retold(words)


def retold_all(words: Iterable[str]) -> list[str]:
    """The same, of several."""
    return [retold(each) for each in words]
