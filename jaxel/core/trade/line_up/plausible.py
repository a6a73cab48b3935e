"""Gaps of a bar that could be but hardly are; the window is from memory."""

from jaxel.core.errors import Expected, Implausible
from jaxel.core.words import q

from ..record.plausible import likely
from .line_up import LineUp

FAR_OUT_MM = 10.0
"""A gap further than this from what it should be: no shims take that up (from memory)."""

GAPS = ("front_mm", "rear_mm")


def gap(field: str, read: LineUp) -> None:
    """Ask about a gap just typed, or about what gaps should be, where the clutches stood far out of line.

    Parameters: `read`, the line-up with it. Raises Implausible.
    """
    wanted = read.nominal_mm
    for each in (field,) if field in GAPS else GAPS:
        mm = getattr(read, each)
        if mm is None or wanted is None or abs(mm - wanted) <= FAR_OUT_MM:
            continue
        typed, other = (wanted, mm) if field == "nominal_mm" else (mm, wanted)
        low, high = other - FAR_OUT_MM, other + FAR_OUT_MM
        words, meant = likely(typed, "mm", other, low, high)
        out = round(abs(mm - wanted), 3)
        raise Implausible(
            field,
            f"{q(mm, 'mm')} where it should be {q(wanted, 'mm')} stands {q(out, 'mm', 1)} out of line",
            words,
            {field: meant} if words else {},
            Expected("mm", low, high, other),
        )
