"""Exact factors between the units people read and type and the SI units the core computes in.

Reference: NIST Special Publication 811 (2008), Appendix B; every factor marked there in bold is exact.
"""

import math
import re
from fractions import Fraction

from .errors import InvalidValue

MM = 1e-3
GRAM = 1e-3
INCH = 0.0254
FOOT = 0.3048
MILE = 1609.344
POUND = 0.45359237
POUND_FORCE = POUND * 9.80665
FOOT_POUND = FOOT * POUND_FORCE
KPH = 1 / 3.6
MPH = MILE / 3600
RPM = math.pi / 30
DEG = math.pi / 180
HPA = 100.0

# For each unit the application stores, the units that may be typed in its place: name -> (factor, offset).
_TYPED: dict[str, dict[str, tuple[float, float]]] = {
    "mm": {"mm": (1, 0), "cm": (10, 0), "in": (25.4, 0), '"': (25.4, 0), "inch": (25.4, 0)},
    "g": {"g": (1, 0), "kg": (1000, 0), "oz": (POUND / 16 * 1000, 0), "gr": (0.06479891, 0)},
    "N": {"n": (1, 0), "kn": (1000, 0), "lbf": (POUND_FORCE, 0), "lb": (POUND_FORCE, 0), "kgf": (9.80665, 0)},
    "km": {"km": (1, 0), "mi": (1.609344, 0), "mile": (1.609344, 0), "miles": (1.609344, 0)},
    "m": {"m": (1, 0), "km": (1000, 0), "ft": (FOOT, 0), "'": (FOOT, 0)},
    "°C": {"°c": (1, 0), "c": (1, 0), "°f": (5 / 9, -160 / 9), "f": (5 / 9, -160 / 9)},
    "km/h": {"km/h": (1, 0), "kph": (1, 0), "mph": (1.609344, 0)},
    "rpm": {"rpm": (1, 0)},
    "deg": {"deg": (1, 0), "°": (1, 0)},
    "%": {"%": (1, 0)},
    "": {},
    "h": {"h": (1, 0), "hours": (1, 0), "hr": (1, 0)},
    "N·m/deg": {"n·m/deg": (1, 0), "nm/deg": (1, 0)},
}

_THOUSANDS = {"rpm", "N", "km", "m"}
"""Units whose readings reach thousands: there “1,435” groups digits; elsewhere a lone comma is a decimal comma."""

_NUMBER = re.compile(
    r"^\s*(?P<sign>[-+−]?)\s*(?:(?P<whole>\d+)[\s-]+)?(?:(?P<top>\d+)\s*/\s*(?P<bottom>\d+)"
    r"|(?P<decimal>\d{1,3}(?:,\d{3})+(?:\.\d+)?|\d*[.,]?\d+|\d+[.,]))\s*(?P<unit>[^\d\s].*)?$"
)


def parse_quantity(text: str, unit: str) -> float:
    """Read a number the way it is typed at a bench: a decimal point or comma, a fraction, a unit behind it.

    Parameters: `text`, at most 40 characters; `unit`, the unit wanted (`mm`, `g`, `N`, `rpm`, …).
    Returns the value in `unit`. Raises InvalidValue (field empty) when the text is no such number.

    A lone comma before three digits groups them in rpm, N, km and m and is a decimal comma in other units.

    >>> parse_quantity("35,4", "mm"), parse_quantity("7,900 rpm", "rpm"), parse_quantity("-8", "°C")
    (35.4, 7900.0, -8.0)
    >>> round(parse_quantity("1 1/2 in", "mm"), 6)
    38.1

    Reference: factors from NIST SP 811.
    """
    found = _NUMBER.match(text) if len(text) <= 40 else None
    if not found:
        raise InvalidValue("", f"“{text[:40]}” is not a number")
    if found["top"]:
        if int(found["bottom"]) == 0:
            raise InvalidValue("", f"“{text}” divides by zero")
        value = float(int(found["whole"] or 0) + Fraction(int(found["top"]), int(found["bottom"])))
    elif found["whole"]:
        raise InvalidValue("", f"“{text}” holds two numbers")
    else:
        digits = found["decimal"]
        grouped = digits.count(",") > 1 or (
            unit in _THOUSANDS and re.fullmatch(r"[1-9]\d{0,2},\d{3}(\.\d+)?", digits) is not None
        )
        value = float(digits.replace(",", "") if grouped or "." in digits else digits.replace(",", "."))
    typed = (found["unit"] or unit).strip().lower()
    factors = _TYPED[unit]
    if typed not in factors and typed != unit.lower():
        raise InvalidValue("", f"“{found['unit'].strip()}” is not a unit for {unit}")
    factor, offset = factors.get(typed, (1, 0))
    return (-value if found["sign"] in ("-", "−") else value) * factor + offset
