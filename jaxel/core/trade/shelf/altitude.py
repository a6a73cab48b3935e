"""The target shift held from the sea to the high country by one slot: what to change on the way up."""

from collections.abc import Sequence

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import with_value
from jaxel.core.formats.plan.plan import AltitudeTable, HeldAt
from jaxel.core.formats.setup.primary import Load
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.numerics.tables import Array

from ..setup.calibration import Calibration
from ..setup.figures import ENGAGEMENT, MEAN
from ..setup.parts import with_load
from .window import checked_target

HEIGHTS_M = tuple(range(0, 3501, 500))

LAPSE_C_PER_M = 0.0065
"""The air's cooling with height (U.S. Standard Atmosphere 1976)."""

MOST_LOAD_G = 40.0
"""The heaviest load looked at for one station; from memory."""


def altitude_table(
    document: SetupDocument, slot: str, calibration: Calibration | None = None, *, also_m: float | None = None
) -> AltitudeTable:
    """What a slot must hold at each altitude for the target shift, and the figures there.

    The air is the set-up's own, cooled with height, at the standard pressure of the altitude. Parameters: `slot`,
    `arms`, `clicker` or `load:STATION`; `calibration` of its machine; `also_m`, a height asked for besides. Changes are
    told by their factors. A position of a clicker is the nearest there is; a mass is None where none holds the target.

    Raises InvalidValue for a slot that is none of these, or that this clutch has not.

    Reference: scipy.optimize.brentq on the model's shift mean.
    """
    from scipy.optimize import brentq  # slow to import: a server answers before it needs it

    target, known = checked_target(document), calibration or Calibration.none(document)
    primary = document.primary
    station = slot.removeprefix("load:") if slot.startswith("load:") else None
    if station is not None and station not in {each.name for each in primary.stations}:
        raise InvalidValue("altitude", f"“{station}” is no station of this clutch")
    if slot == "clicker" and primary.clicker is None:
        raise InvalidValue("altitude", "this clutch has no clicker")
    if slot not in ("arms", "clicker") and station is None:
        raise InvalidValue("altitude", "must be arms, clicker or load:STATION")
    (now,) = known.estimates([document], 41)
    here = np.array([now.engagement, now.mean])

    def at(height: float, value: float) -> SetupDocument:
        air = document.conditions
        temperature = float(np.clip(air.temperature_c - LAPSE_C_PER_M * (height - air.elevation_m), -50, 60))
        there = air.model_copy(update={"elevation_m": height, "temperature_c": temperature, "barometer_hpa": None})
        put = with_value(document, "conditions", there)
        if slot == "arms":
            return with_value(put, "primary.weights.base_mass_g", value)
        if station is not None:
            return with_load(put, station, Load(station=station, mass_g=value))
        return with_value(put, "primary.clicker.position", int(value))

    def figures(height: float, values: Sequence[float]) -> Array:
        """Engagement and shift mean [values, 2, rpm]."""
        return here + known.changes(document, [at(height, value) for value in values])[:, [ENGAGEMENT, MEAN]]

    def held(height: float) -> float | None:
        """The value that holds the target; of positions the nearest, of masses None where none does."""
        shifts = figures(height, tried)[:, 1] - target.shift_rpm
        if np.isnan(shifts).all():
            return None
        if slot == "clicker":
            return tried[int(np.nanargmin(np.abs(shifts)))]
        crossing = np.flatnonzero(shifts[:-1] * shifts[1:] <= 0)
        if not len(crossing):
            return None
        low, high = tried[crossing[0]], tried[crossing[0] + 1]
        return float(brentq(lambda mass: figures(height, [mass])[0, 1] - target.shift_rpm, low, high, xtol=1e-3))

    tried = _tried(document, slot)
    rows = []
    for height in sorted({*HEIGHTS_M, *([] if also_m is None else [also_m])}):
        value = held(height)
        bite, mean = (None, None) if value is None else (round(float(each), 1) for each in figures(height, [value])[0])
        air = at(height, tried[0] if value is None else value).conditions.core()
        rows.append(
            HeldAt(
                elevation_m=height,
                temperature_c=round(air.temperature, 1),
                power_factor=1.0 if document.engine.boost_compensated else round(air.power_factor, 4),
                value=None if value is None else round(value, 2),
                engagement_rpm=bite,
                shift_mean_rpm=mean,
            )
        )
    return AltitudeTable(slot=slot, unit="" if slot == "clicker" else "g", rows=rows)


def _tried(document: SetupDocument, slot: str) -> list[float]:
    """Values of a slot among which the one that holds the target is looked for."""
    primary = document.primary
    if slot == "clicker" and primary.clicker:
        return [float(position) for position in range(1, primary.clicker.positions + 1)]
    if slot == "arms":
        mass = primary.weights.base_mass_g
        return [float(each) for each in np.linspace(mass / 2, 1.6 * mass, 23)]
    return [float(each) for each in np.linspace(0.0, MOST_LOAD_G, 21)]
