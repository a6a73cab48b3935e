"""Readings of a wear item that could be but hardly are; the windows are from memory."""

from jaxel.core.errors import Implausible
from jaxel.core.words import q

from ..kinds.kind_file import WearItem
from ..record.plausible import likely

PART = (0.6, 1.6)
"""A reading against that of a new part."""
FAR_WORN = 8.0
"""A play so many times its limit is looked at again."""


def item_reading(field: str, item: WearItem, value: float, limit: float | None, rated: float | None) -> None:
    """Ask about a reading of a wear item, in its unit, far beyond where it would have been renewed; raises Implausible.

    Parameters: `limit` it is judged by, `rated`, what a new one should read; nothing is asked where neither is known.
    """
    measure = item.measure
    new = rated if rated is not None else measure.new if measure else None
    if measure is None or limit is None:
        return
    high = limit * FAR_WORN if measure.wears == "up" else (new or limit) * PART[1]
    low = 0.0 if measure.wears == "up" else limit * PART[0]
    if low <= value <= high:
        return
    words, meant = likely(value, measure.unit, new or limit, low) if value < low else ("", 0.0)
    raise Implausible(
        field,
        f"{q(value, measure.unit)} of {measure.name} is far from the limit, {q(limit, measure.unit)}: look again",
        words,
        {field: meant} if words else {},
    )
