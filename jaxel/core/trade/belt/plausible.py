"""Widths of a belt that could be but hardly are; the windows are from memory."""

from jaxel.core.errors import Expected, Implausible
from jaxel.core.words import q

from ..record.plausible import likely

WEAR_DEPTHS = 2.0
"""A belt thinner than new by more than this many times its wear allowance is measured again."""


OFF_NUMBER_MM = 0.4
"""How far a belt's width may be from what its number says before it is asked about."""


def going_on(field: str, mm: float, new_mm: float, limit_mm: float, *, used: bool) -> None:
    """Ask about a belt [mm] that is to go on: one at its limit, or not as wide as its number says; raises Implausible.

    Parameters: `used`, whether it has run: then only its limit is looked at, and what no belt of its number has.
    """
    if mm <= limit_mm:
        raise Implausible(field, f"{q(mm, 'mm')} is at its limit, {q(limit_mm, 'mm')}, before it has run here")
    if mm - new_mm > OFF_NUMBER_MM or (not used and new_mm - mm > OFF_NUMBER_MM):
        side = "wider" if mm > new_mm else "narrower"
        told = f"{q(mm, 'mm')} is {q(abs(mm - new_mm), 'mm', 2)} {side} than its number says, {q(new_mm, 'mm')}"
        words, meant = likely(mm, "mm", new_mm, new_mm - OFF_NUMBER_MM, new_mm + OFF_NUMBER_MM)
        expected = Expected("mm", new_mm - OFF_NUMBER_MM, new_mm + OFF_NUMBER_MM, new_mm)
        raise Implausible(field, told, words, {field: meant} if words else {}, expected)


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
