"""Words with quantities in them: a sentence is made once, and told in a hand's units at the edge.

A quantity stands in a sentence as a mark of its own, between two characters nobody types; sentences are joined like any
other words. `told` puts each in the units of whoever reads. No text is searched for numbers: what is not marked stays.
"""

import re
from dataclasses import dataclass
from datetime import UTC, datetime, tzinfo
from math import floor, log10

from .units import IMPERIAL, METRIC, Units, said

PREFERRED = {unit: {each.shown(unit).name for each in (METRIC, IMPERIAL)} for unit in METRIC.table()}
"""The names under which hands read each unit that is kept."""

OPEN, CLOSE = "\ue000", "\ue001"
"""From Unicode's private use area; what a hand sends may hold neither."""


@dataclass(frozen=True)
class Quantity:
    """A value [in `unit`, as it is kept], to so many `digits` in it, at most three where that is not said.

    `bare` tells the number alone, where its unit follows with another; `sd`, its deviation, told behind it.
    """

    value: float
    unit: str
    digits: int | None = None
    bare: bool = False
    sd: float | None = None

    def __format__(self, _: str) -> str:
        return str(self)

    def __str__(self) -> str:
        if len(PREFERRED.get(self.unit, ())) < 2:
            return self.told(METRIC)  # every hand reads it in this unit
        digits, sd = "" if self.digits is None else self.digits, "" if self.sd is None else repr(float(self.sd))
        return f"{OPEN}{float(self.value)!r};{self.unit};{digits};{int(self.bare)};{sd}{CLOSE}"

    def told(self, units: Units) -> str:
        """As a hand reads it.

        >>> from jaxel.core.units import IMPERIAL
        >>> Quantity(35.56, "mm", 1).told(METRIC), Quantity(35.56, "mm", 1).told(IMPERIAL)
        ('35.6 mm', '1.4 in')
        >>> Quantity(238, "mm", sd=1.8).told(METRIC), Quantity(11, "°C", sd=2).told(IMPERIAL)
        ('238 ± 1.8 mm', '51.8 ± 3.6 °F')
        """
        shown = units.shown(self.unit)
        own = shown.name == self.unit
        value = self.value if own else shown.of(self.value)
        digits = self.digits if own else max(shown.digits, 1 if self.sd is not None else 0, _two_figures(value))
        figure = said(value if digits is None else round(value, digits))
        if self.sd is not None:
            spread = self.sd / (1 if own else shown.factor)
            figure += f" ± {said(spread if digits is None else round(spread, digits))}"
        if self.bare:
            return figure
        return f"{figure}°" if shown.name in ("deg", "°") else f"{figure} {shown.name}".rstrip()


def q(value: float, unit: str, digits: int | None = None, *, bare: bool = False, sd: float | None = None) -> Quantity:
    """A quantity, to stand in a sentence."""
    return Quantity(value, unit, digits, bare, sd)


def t(iso: str) -> str:
    """A moment (UTC ISO 8601), to stand in a sentence as the time of day where it is read."""
    return f"{OPEN}{iso}{CLOSE}"


def day(iso: str) -> str:
    """A moment (UTC ISO 8601), to stand in a sentence as its day where it is read."""
    return f"{OPEN}day {iso}{CLOSE}"


def told(words: str, units: Units = METRIC, zone: tzinfo = UTC) -> str:
    """Words in a hand's units, times of day in its zone.

    >>> from jaxel.core.units import IMPERIAL
    >>> told(f"{q(35.56, 'mm')}, far from the {q(640, 'N')} of “12 mm”", IMPERIAL)
    '1.4 in, far from the 143.9 lbf of “12 mm”'
    >>> from datetime import timedelta, timezone
    >>> told(f"runs since {t('2026-11-29T13:05:00Z')}", zone=timezone(timedelta(hours=2)))
    'runs since 15:05'
    >>> told(f"signed {day('2026-11-29T23:05:00Z')}", zone=timezone(timedelta(hours=2)))
    'signed 30 Nov 2026'
    """

    def tell(mark: re.Match[str]) -> str:
        if ";" in mark[1]:
            return _read(mark[1]).told(units)
        moment = datetime.fromisoformat(mark[1].removeprefix("day ")).astimezone(zone)
        return f"{moment.day} {moment:%b %Y}" if mark[1].startswith("day ") else f"{moment:%H:%M}"

    return _MARK.sub(tell, words)


def _read(mark: str) -> Quantity:
    value, unit, digits, bare, sd = mark.split(";")
    return Quantity(float(value), unit, int(digits) if digits else None, bare == "1", float(sd) if sd else None)


def _two_figures(value: float) -> int:
    """Decimals that leave a small value two figures."""
    return 1 - floor(log10(abs(value))) if 0 < abs(value) < 1 else 0


_MARK = re.compile(f"{OPEN}([^{OPEN}{CLOSE}]*){CLOSE}")


def well_marked(text: str) -> bool:
    """Whether every mark in a text is one that can be told, and none stands half.

    >>> well_marked(f"about {q(3.5, 'mm')}"), well_marked(f"{OPEN}3.5"), well_marked(f"{OPEN}soon{CLOSE}")
    (True, False, False)
    """
    rest = _MARK.sub("", text)
    if OPEN in rest or CLOSE in rest:
        return False
    try:
        told(text)
    except (ValueError, KeyError, IndexError, TypeError, OverflowError):
        return False
    return True
