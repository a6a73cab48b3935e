"""What is asked about before it is taken: readings that could be but hardly are, with what was likely meant.

Every window here is from memory: it decides whether to ask, never what is right. A hand that says so is believed.
"""

import math
from collections.abc import Mapping

from jaxel.core.errors import Expected, Implausible
from jaxel.core.units import IMPERIAL, in_unit, number_and_unit, other_units, said, unit_choices, units_of
from jaxel.core.words import q

ENGAGEMENT_RPM = (800.0, 7000.0)
SHIFT_RPM = (1500.0, 13000.0)

READ_IN = frozenset(getattr(IMPERIAL, name) for name in unit_choices())
"""Units a hand may read in besides the application's own."""

SLIP, OTHER_UNIT = 1.12, 1.4
"""How near what was likely meant must come: as a factor, for a slipped decimal point and for another unit."""


def engagement(field: str, rpm: float, near: float) -> None:
    """Ask about an engagement [rpm] no clutch has, `near` the one it should have."""
    within(field, rpm, ENGAGEMENT_RPM, "rpm", near, "is no speed a clutch engages at")


def shift(field: str, rpm: float, near: float) -> None:
    """Ask about a shift [rpm] no engine holds, `near` the one it should have."""
    within(field, rpm, SHIFT_RPM, "rpm", near, "is no speed an engine shifts at")


def in_order(field: str, speeds: Mapping[str, float | None]) -> None:
    """Ask about an engagement above the shift.

    Parameters: `field` just typed; `speeds` [rpm], engagement and shift by field. Raises Implausible, likely meant
    the other way round.
    """
    (first, low), (second, high) = speeds.items()
    if low is None or high is None or low < high:
        return
    words = f"engagement {said(high)}, shift {said(low)} rpm" if low > high else ""
    raise Implausible(
        field,
        f"puts the engagement, {said(low)} rpm, "
        + ("above" if low > high else "at")
        + f" the shift, {said(high)} rpm: a clutch engages below the speed it shifts at",
        words,
        {first: high, second: low} if words else {},
    )


def within(field: str, value: float, window: tuple[float, float], unit: str, near: float, reason: str) -> None:
    """Ask about a value outside a window, `near` the one it should have; raises Implausible."""
    low, high = window
    if low <= value <= high:
        return
    words, meant = likely(value, unit, near, low, high)
    expected = Expected(unit, low, high, near)
    raise Implausible(field, f"{figure(value, unit)} {reason}", words, {field: meant} if words else {}, expected)


def read_otherwise(text: str, expected: Expected) -> tuple[str, str]:
    """Another reading of a number as it was typed that lies where it was looked for, in words and as one would type it.

    The number is the hand's: read in another unit, or its decimal point slipped; never an arithmetic of what it came
    to. Where nobody knows what it should be, another unit goes before a slip. Both empty where there is none.

    >>> read_otherwise("48 in-lb", Expected("N·m", 40, 60, 48))
    ('48 N·m', '48 N·m')
    """
    number, typed = number_and_unit(text, expected.unit)
    low, high = expected.low, expected.high
    near = expected.near or (math.sqrt(low * high) if low > 0 and high < math.inf else 0.0)
    found: list[tuple[bool, float, str, str]] = []

    def offer(figure_: float, unit: str, share: float) -> None:
        value = in_unit(figure_, unit, expected.unit)
        if not low <= value <= high or value <= 0 or (expected.near and _apart(value, near) > math.log(share)):
            return
        said_so = f"{said(figure_)} {unit}"
        words = (
            said_so if unit == expected.unit else f"{said_so}, which is {figure(float(f'{value:.3g}'), expected.unit)}"
        )
        slipped = not expected.near and unit == typed
        found.append((slipped, _apart(value, near) if near else 0.0, words, said_so))

    if number > 0:
        for unit in units_of(expected.unit):
            if unit != typed:
                offer(number, unit, OTHER_UNIT)
        for slip in (1000, 100, 10, 0.1, 0.01, 0.001):
            offer(round(number * slip, 9), typed, OTHER_UNIT if slip == 1000 else SLIP)
    _, _, words, meant = min(found, key=lambda each: each[:2], default=(False, 0.0, "", ""))
    return words, meant


def likely(value: float, unit: str, near: float, low: float, high: float = math.inf) -> tuple[str, float | str]:
    """What was likely meant, in words and as it would be typed: a slipped decimal point, or another unit."""
    if value <= 0 or near <= 0:
        return "", value
    options: list[tuple[float, str, float | str]] = []
    for slip in (1000, 100, 10, 0.1, 0.01, 0.001):
        moved = round(value * slip, 6)
        # A point that groups thousands, 7.810, is a habit of typing; another slip must come close.
        if moved > 0 and _apart(moved, near) <= math.log(OTHER_UNIT if slip == 1000 else SLIP):
            options.append((moved, figure(moved, unit), moved))
    for name, (factor, offset) in other_units(unit).items():
        moved = value * factor + offset
        if moved > 0 and _apart(moved, near) <= math.log(OTHER_UNIT):
            typed = f"{said(value)} {name}"
            options.append((moved, f"{typed}, which is {figure(float(f'{moved:.4g}'), unit)}", typed))
        back = (value - offset) / factor  # typed for this unit where a hand reads in the other
        if name in READ_IN and back > 0 and _apart(back, near) <= math.log(OTHER_UNIT):
            plain = float(f"{back:.4g}")
            options.append((back, figure(plain, unit), f"{said(plain)} {unit}"))
    options = [each for each in options if low <= each[0] <= high]
    _, words, meant = min(options, key=lambda each: _apart(each[0], near), default=(0.0, "", value))
    return words, meant


def _apart(one: float, other: float) -> float:
    return abs(math.log(one / other))


def figure(value: float, unit: str) -> str:
    """A value with its unit, as it is said."""
    return str(q(value, unit))
