"""A number of a set-up as the instrument shows it: what stands on the caliper where the set-up keeps a radius."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi, sin
from typing import Any

from jaxel.core.formats.paths import unit_of, value_at
from jaxel.core.formats.reading import Part
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.errors import Impossible
from jaxel.core.units import said
from jaxel.core.words import q

from .reading import Reading


@dataclass(frozen=True)
class Measure:
    """A number as a hand reads it: `value` and its deviation `sd` in `unit`, None where that is not known."""

    value: float
    sd: float | None
    unit: str


def as_read(document: SetupDocument, reading: Reading) -> Measure | None:
    """What a reading shows where the set-up is as it stands; None of a table, which no one number tells.

    A radius is read across, so its deviation doubles with it; a roll-out is 2πr; a ratio is counted.

    >>> from jaxel.core.trade.stranger.packages import packages
    >>> from jaxel.core.trade.stranger.reading import readings
    >>> quad = packages()["quad-variator-500"].document
    >>> hub = next(each for each in readings(quad) if each.key == "hub")
    >>> hub.paths, quad.geometry.primary.hub_radius_mm, quad.belt.cord_depth_mm
    (('geometry.primary.hub_radius_mm',), 28.0, 4.2)
    >>> as_read(quad, hub)
    Measure(value=64.4, sd=2.0, unit='mm')
    """
    path = reading.paths[0]
    value, known = value_at(document, path), (document.evidence or {}).get(path)
    if isinstance(value, bool) or not isinstance(value, int | float):
        return None
    factor, more, unit = 1.0, 0.0, unit_of(path) or ""
    if reading.form == "over_belt":
        factor, more = 2.0, 2 * document.belt.cord_depth_mm
    elif reading.form == "pivot":
        factor = chord(document)
    elif reading.form == "ramps":
        factor = 2.0
    elif reading.form == "roll_out":
        factor, unit = 2 * pi / 1000, "m"
    elif reading.form in ("ratio_low", "ratio_high"):
        return _ratio(document, high=reading.form == "ratio_high")
    sd = known.sd * factor if known and known.sd else None
    return Measure(round(value * factor + more, 6), sd, unit)


def chord(document: SetupDocument) -> float:
    """How far neighbouring pins of its arms are apart, in radii of their circle [-]: 2 sin(π/n)."""
    return 2 * sin(pi / max(2, document.primary.weights.count))


def _ratio(document: SetupDocument, *, high: bool) -> Measure | None:
    try:
        ratios = document.core().drive.shift_path(2).ratio
    except Impossible:
        return None
    return Measure(round(float(ratios[-1 if high else 0]), 3), None, "")


def stands(document: SetupDocument, reading: Reading) -> str:
    """What is known now of what a reading settles: as it would be read, with its deviation, in words.

    >>> from jaxel.core.trade.stranger.packages import packages
    >>> from jaxel.core.trade.stranger.reading import readings
    >>> from jaxel.core.words import told
    >>> quad = packages()["quad-variator-500"].document
    >>> [told(stands(quad, each)) for each in readings(quad) if each.key in ("centre_distance", "hub", "rolling")]
    ['238 ± 1.8 mm centre to centre', '64.4 ± 2 mm over the belt', '1.95 ± 0.097 m one turn']
    """
    path = reading.paths[0]
    value, known = value_at(document, path), (document.evidence or {}).get(path)
    measure = as_read(document, reading)
    if measure is None:
        words = in_words(path, value)
        return f"{words} ± {said(round(known.sd * 100, 1))} %" if known and known.sd else words
    return f"{as_words(measure)} {reading.of}".strip()


def as_words(measure: Measure) -> str:
    """A measure as it is said, with its deviation to two digits."""
    sd = float(f"{measure.sd:.2g}") if measure.sd else None
    return str(q(round(measure.value, 2), measure.unit, sd=sd))


def in_words(path: str, value: Any) -> str:
    """What stands at a path, in words; of a table its ends, of an engine's curve its peak power."""
    if isinstance(value, list):
        rows = [row_value(row) for row in value]
        if path == "engine.curve":
            return f"{q(peak_kw(value), 'kW', 0)}"
        unit = "mm" if path.endswith("path") else "deg"
        ends = [str(q(row, unit, 1)) for row in (rows[0], rows[-1])]
        return ends[0] if len(rows) == 1 else "–".join(ends)
    return str(q(float(value), unit_of(path) or "", 2))


def peak_kw(curve: Sequence[Any]) -> float:
    """The most power an engine's curve gives at its points [kW]."""
    return float(max(p.torque_nm * p.rpm for p in curve)) * pi / 30 / 1000


def scale(value: Any) -> float | None:
    """One number for what stands at a path: of a table its rows' mean; None for what has none."""
    if isinstance(value, list):
        rows = [row_value(row) for row in value]
        return sum(rows) / len(rows)
    return float(value) if isinstance(value, int | float) else None


def row_value(row: Part) -> float:
    """What a table's row holds."""
    name = next(each for each in ("deg", "radius_mm", "pretwist_deg", "torque_nm") if each in type(row).model_fields)
    return float(getattr(row, name))
