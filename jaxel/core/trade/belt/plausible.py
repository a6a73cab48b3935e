"""Widths of a belt that could be but hardly are; the windows are from memory."""

from jaxel.core.errors import Implausible
from jaxel.core.words import q

from ..record.plausible import likely

WEAR_DEPTHS = 2.0
"""A belt thinner than new by more than this many times its wear allowance is measured again."""


def belt_width(field: str, mm: float, new_mm: float, limit_mm: float) -> None:
    """Ask about a belt [mm] worn far beyond any that still drives; raises Implausible."""
    thinnest = new_mm - WEAR_DEPTHS * (new_mm - limit_mm)
    if mm >= thinnest:
        return
    words, meant = likely(mm, "mm", new_mm, thinnest)
    raise Implausible(
        field,
        f"{q(mm, 'mm')} is {q(new_mm - mm, 'mm', 2)} narrower than a new belt, {q(new_mm, 'mm')}: "
        "measure across the top, cords between the jaws",
        words,
        {field: meant} if words else {},
    )
