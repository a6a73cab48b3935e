"""Exact factors between the units people read and type and the SI units the core computes in.

Reference: NIST Special Publication 811 (2008), Appendix B; every factor marked there in bold is exact.
"""

import math
import re
import unicodedata
from dataclasses import dataclass, fields
from fractions import Fraction
from typing import Literal, get_args

from .errors import InvalidValue

MM = 1e-3
GRAM = 1e-3
INCH = 0.0254
FOOT = 0.3048
MILE = 1609.344
POUND = 0.45359237
POUND_FORCE = POUND * 9.80665
FOOT_POUND = FOOT * POUND_FORCE
HORSEPOWER = 550 * FOOT_POUND
METRIC_HORSEPOWER = 75 * 9.80665
KPH = 1 / 3.6
MPH = MILE / 3600
RPM = math.pi / 30
DEG = math.pi / 180
HPA = 100.0

# For each unit the application stores, the units that may be typed in its place: name -> (factor, offset).
_TYPED: dict[str, dict[str, tuple[float, float]]] = {
    "mm": {"mm": (1, 0), "cm": (10, 0), "in": (25.4, 0)},
    "g": {"g": (1, 0), "kg": (1000, 0), "oz": (POUND / 16 * 1000, 0), "gr": (0.06479891, 0)},
    "N": {"N": (1, 0), "kN": (1000, 0), "lbf": (POUND_FORCE, 0), "kgf": (9.80665, 0)},
    "km": {"km": (1, 0), "mi": (1.609344, 0)},
    "m": {"m": (1, 0), "cm": (0.01, 0), "km": (1000, 0), "ft": (FOOT, 0)},
    "°C": {"°C": (1, 0), "°F": (5 / 9, -160 / 9)},
    "km/h": {"km/h": (1, 0), "mph": (1.609344, 0)},
    "rpm": {"rpm": (1, 0)},
    "deg": {"deg": (1, 0)},
    "%": {"%": (1, 0)},
    "": {},
    "h": {"h": (1, 0)},
    "N·m/deg": {"N·m/deg": (1, 0), "ft-lb/deg": (FOOT_POUND, 0), "in-lb/deg": (FOOT_POUND / 12, 0)},
    "N·m": {"N·m": (1, 0), "ft-lb": (FOOT_POUND, 0), "in-lb": (FOOT_POUND / 12, 0)},
    "N/mm": {"N/mm": (1, 0), "lbf/in": (POUND_FORCE / 25.4, 0)},
    "N/100 rpm": {"N/100 rpm": (1, 0), "lbf/100 rpm": (POUND_FORCE, 0)},
    "kg": {"kg": (1, 0), "g": (1e-3, 0), "lb": (POUND, 0)},
    "kW": {"kW": (1, 0), "hp": (HORSEPOWER / 1000, 0), "PS": (METRIC_HORSEPOWER / 1000, 0)},
    "turns": {"turns": (1, 0)},
}

_SPELT: dict[str, tuple[str, ...]] = {
    "mm": ("millimetres", "millimeters"),
    "in": ('"', "inch", "inches", "''"),
    "g": ("gram", "grams", "gm"),
    "oz": ("ounce", "ounces"),
    "gr": ("grain", "grains"),
    "N": ("newton", "newtons"),
    "lbf": ("lb", "lbs", "pound", "pounds", "#"),
    "kgf": ("kg", "kp"),
    "km": ("kms", "kilometres", "kilometers"),
    "mi": ("mile", "miles"),
    "m": ("metres", "meters"),
    "ft": ("'", "foot", "feet"),
    "°C": ("c", "degc", "degreesc", "celsius"),
    "°F": ("f", "degf", "degreesf", "fahrenheit"),
    "km/h": ("kph", "kmh"),
    "deg": ("°", "degree", "degrees"),
    "%": ("percent", "pct"),
    "h": ("hr", "hrs", "hour", "hours"),
    "N·m/deg": ("nm/deg", "nm/°"),
    "N·m": ("nm", "n-m", "newtonmetres", "newtonmeters"),
    "ft-lb": (
        "ftlb", "ftlbs", "ft-lbs", "ft·lb", "ft·lbs", "ftlbf", "ft-lbf", "ft·lbf",
        "lbft", "lb-ft", "lb·ft", "lbsft", "lbs-ft", "lbs·ft", "lbfft", "lbf-ft", "lbf·ft",
    ),
    "in-lb": (
        "inlb", "inlbs", "in-lbs", "in·lb", "in·lbs", "inlbf", "in-lbf", "in·lbf",
        "lbin", "lb-in", "lb·in", "lbsin", "lbs-in", "lbs·in", "lbfin", "lbf-in", "lbf·in",
    ),
    "lb": ("lbs", "pound", "pounds", "lbf", "#"),
    "kg": ("kilogram", "kilograms"),
    "hp": ("bhp",),
    "PS": ("cv", "pk"),
    "turns": ("turn",),
}  # fmt: skip
"""Other ways in which a unit is written, without spaces and full stops."""

_ONE_DOT = str.maketrans({"⋅": "·", "•": "·", "∙": "·", "*": "·", "‑": "-", "–": "-"})
"""Signs a hand, or its keyboard, puts for the multiplication dot and the hyphen."""

_THOUSANDS = {"rpm", "N", "km", "m"}
"""Units whose readings reach thousands: there “1,435” and “1 435” group digits; elsewhere a comma is a decimal one."""

_NUMBER = re.compile(
    r"^(?P<sign>[-+−]?) ?(?:(?P<whole>\d+)[ -]+)?(?:(?P<top>\d+) ?/ ?(?P<bottom>\d+)"
    r"|(?P<decimal>\d{1,3}(?:,\d{3})+(?:\.\d+)?|\d{1,3}(?:\.\d{3})+,\d+|\d{1,3}(?:\.\d{3}){2,}|\d*[.,]?\d+|\d+[.,]))"
    r" ?(?P<unit>[^\d .,].*)?$"
)
_GROUPED = re.compile(r"^([-+−]?[1-9]\d{0,2})((?: \d{3})+)(?![\d/])")


def parse_quantity(text: str, unit: str) -> float:
    """Read a number the way it is typed at a bench: a decimal point or comma, a fraction, a unit behind it.

    Parameters: `text`, at most 40 characters; `unit`, the unit wanted (`mm`, `g`, `N`, `rpm`, …).
    Returns the value in `unit`. Raises InvalidValue (field empty) when the text is no such number.

    A lone comma before three digits groups them in rpm, N, km and m, as a space does, and is a decimal comma in
    other units; a comma behind grouping points is one everywhere.

    >>> parse_quantity("35,4", "mm"), parse_quantity("7 900 rpm", "rpm"), parse_quantity("1.435,5", "km")
    (35.4, 7900.0, 1435.5)
    >>> round(parse_quantity("1½ in", "mm"), 6), round(parse_quantity("14 deg F", "°C"), 6)
    (38.1, -10.0)

    Reference: factors from NIST SP 811.
    """
    value, typed = number_and_unit(text, unit)
    check_size(value)
    return in_unit(value, typed, unit)


SMALLEST = 1e-9
"""No instrument reads less in any unit; beneath it a quotient runs out of a computer's numbers."""


def check_size(value: float) -> None:
    """Refuse a number that is not 0 and yet too small for any reading; raises InvalidValue (field empty)."""
    if value != 0 and abs(value) < SMALLEST:
        raise InvalidValue("", "is smaller than anything that is read")


def in_unit(value: float, typed: str, unit: str) -> float:
    """A number typed in one of the units of a unit, in that unit.

    >>> round(in_unit(48, "in-lb", "N·m"), 3)
    5.423
    """
    factor, offset = _TYPED[unit].get(typed, (1.0, 0.0))
    return value * factor + offset


def units_of(unit: str) -> tuple[str, ...]:
    """The units that may be typed for a unit, itself among them."""
    return tuple(_TYPED[unit])


def number_and_unit(text: str, unit: str) -> tuple[float, str]:
    """A number as it is typed, and the unit behind it, the wanted one where there is none; raises as parse_quantity.

    >>> number_and_unit("48 lb·in", "N·m")
    (48.0, 'in-lb')
    """
    plain = _plain(text) if len(text) <= 40 else ""
    if unit in _THOUSANDS:
        plain = _GROUPED.sub(lambda found: found[1] + found[2].replace(" ", ""), plain)
    found = _NUMBER.match(plain)
    if not found:
        raise InvalidValue("", f"“{text[:40]}” is not a number")
    if found["top"]:
        if int(found["bottom"]) == 0:
            raise InvalidValue("", f"“{text}” divides by zero")
        value = float(int(found["whole"] or 0) + Fraction(int(found["top"]), int(found["bottom"])))
    elif found["whole"]:
        raise InvalidValue("", f"“{text}” holds two numbers")
    else:
        value = _decimal(found["decimal"], unit)
    typed = _unit_typed(found["unit"], unit) if found["unit"] else unit
    return -value if found["sign"] in ("-", "−") else value, typed


def said(value: float) -> str:
    """A number as it is said: thousands grouped, at most three decimals, a true minus.

    >>> said(1e6), said(35.40), said(-12.0)
    ('1,000,000', '35.4', '−12')
    """
    text = f"{value:,.3f}".rstrip("0").rstrip(".").replace("-", "−")
    return "0" if text == "−0" else text


Force = Literal["N", "lbf"]
Length = Literal["mm", "in"]
Distance = Literal["km", "mi"]
Altitude = Literal["m", "ft"]
Temperature = Literal["°C", "°F"]
Torque = Literal["N·m", "ft-lb"]


@dataclass(frozen=True)
class Shown:
    """How a unit the application stores is read by a hand: shown = (stored − offset)/factor, to so many digits."""

    name: str
    factor: float
    offset: float
    digits: int

    def of(self, value: float) -> float:
        """A stored value as it is read.

        >>> IMPERIAL.shown("mm").of(25.4), round(IMPERIAL.shown("°C").of(-40.0), 9)
        (1.0, -40.0)
        """
        return (value - self.offset) / self.factor


@dataclass(frozen=True)
class Units:
    """The units a hand reads in, by quantity; masses of parts are weighed in grams everywhere."""

    force: Force = "N"
    length: Length = "mm"
    distance: Distance = "km"
    altitude: Altitude = "m"
    temperature: Temperature = "°C"
    torque: Torque = "N·m"

    def shown(self, unit: str) -> Shown:
        """How a stored unit is read; one no preference is of, as it is stored."""
        name = self._names().get(unit, unit)
        factor, offset = _TYPED.get(unit, {}).get(name, (1.0, 0.0))
        return Shown(name, factor, offset, _DIGITS.get(name, 1))

    def table(self) -> dict[str, Shown]:
        """Every unit the application stores, and how it is read."""
        return {unit: self.shown(unit) for unit in (*_TYPED, "")}

    def _names(self) -> dict[str, str]:
        pounds, feet = self.force == "lbf", self.torque == "ft-lb"
        return {
            "N": self.force,
            "N/mm": "lbf/in" if pounds else "N/mm",
            "N/100 rpm": "lbf/100 rpm" if pounds else "N/100 rpm",
            "kg": "lb" if pounds else "kg",
            "mm": self.length,
            "km": self.distance,
            "km/h": "mph" if self.distance == "mi" else "km/h",
            "m": self.altitude,
            "°C": self.temperature,
            "N·m": self.torque,
            "N·m/deg": "ft-lb/deg" if feet else "N·m/deg",
            "kW": "hp" if feet else "kW",
        }


METRIC = Units()
IMPERIAL = Units("lbf", "in", "mi", "ft", "°F", "ft-lb")
MIXED = Units("lbf", "mm", "km", "m", "°C", "ft-lb")
"""As the trade mixes them: springs and wrenches in pounds, all else metric (common practice)."""

PRESETS = {"Metric": METRIC, "Imperial": IMPERIAL, "As the trade mixes them": MIXED}


def unit_choices() -> dict[str, tuple[str, ...]]:
    """The quantities a hand has a preference for, and the units each may be read in.

    >>> unit_choices()["force"]
    ('N', 'lbf')
    """
    return {each.name: get_args(each.type) for each in fields(Units)}


_DIGITS: dict[str, int] = {
    "": 2, "rpm": 0, "g": 1, "deg": 1, "%": 0, "h": 0, "turns": 1,
    "N": 0, "lbf": 1, "mm": 1, "in": 3, "km": 0, "mi": 0, "km/h": 0, "mph": 0, "m": 0, "ft": 0, "°C": 0, "°F": 0,
    "kg": 0, "lb": 0, "kW": 0, "hp": 0, "PS": 0, "N·m": 1, "ft-lb": 1, "N/mm": 1, "lbf/in": 1,
    "N/100 rpm": 0, "lbf/100 rpm": 1, "N·m/deg": 3, "ft-lb/deg": 3,
}  # fmt: skip
"""Decimals a reading deserves in each unit: a caliper's tenth of a millimetre is four thousandths of an inch."""


def other_units(unit: str) -> dict[str, tuple[float, float]]:
    """The units that may stand in place of one, as (factor, offset) to it."""
    return {name: scale for name, scale in _TYPED[unit].items() if name != unit}


def _plain(text: str) -> str:
    """One space at most between things; vulgar fractions written out, `1½` as `1 1/2`."""
    spelt = "".join(
        f" {unicodedata.normalize('NFKC', each)}" if unicodedata.decomposition(each).startswith("<fraction>") else each
        for each in text
    )
    return " ".join(spelt.replace("\N{FRACTION SLASH}", "/").replace("’", "'").replace("”", '"').split())


def _decimal(digits: str, unit: str) -> float:
    if digits.count(".") > 1 or re.fullmatch(r"\d{1,3}(\.\d{3})+,\d+", digits):
        return float(digits.replace(".", "").replace(",", "."))
    grouped = digits.count(",") > 1 or (
        unit in _THOUSANDS and re.fullmatch(r"[1-9]\d{0,2},\d{3}(\.\d+)?", digits) is not None
    )
    return float(digits.replace(",", "") if grouped or "." in digits else digits.replace(",", "."))


def _unit_typed(typed: str, unit: str) -> str:
    """The unit meant by what is typed behind a number; raises InvalidValue for what is no unit in place of `unit`."""
    spelt = re.sub(r"[\s.]", "", typed).lower().translate(_ONE_DOT)
    for name in _TYPED[unit]:
        if spelt == name.lower() or spelt in _SPELT.get(name, ()):
            return name
    if typed == unit:
        return unit
    raise InvalidValue("", f"“{typed.strip()}” is not a unit " + (f"for {unit}" if unit else "here"))
