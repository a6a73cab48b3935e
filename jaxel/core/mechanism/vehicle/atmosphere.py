"""The air the engine breathes: pressure, humidity, density, and what they do to its power."""

from dataclasses import dataclass
from math import exp, sqrt

SEA_LEVEL_PRESSURE = 101325.0  # [Pa]
SEA_LEVEL_TEMPERATURE = 288.15  # [K]
LAPSE_RATE = 0.0065  # [K/m]
GRAVITY = 9.80665  # [m/s²]
DRY_AIR = 8314.32 / 28.9644  # [J/(kg·K)], the constants of the 1976 standard
WATER_VAPOUR = 461.5  # [J/(kg·K)]
EARTH_RADIUS = 6356766.0  # [m], the standard's effective radius
_EXPONENT = GRAVITY / (DRY_AIR * LAPSE_RATE)


@dataclass(frozen=True)
class Conditions:
    """Where and in what weather the machine runs.

    `elevation` [m], `temperature` [°C], `relative_humidity` [0–1], `barometer` [Pa] or None for the
    standard atmosphere at the elevation.
    """

    elevation: float
    temperature: float
    relative_humidity: float
    barometer: float | None = None

    @property
    def pressure(self) -> float:
        """Station pressure [Pa]."""
        return self.barometer if self.barometer is not None else standard_pressure(self.elevation)

    @property
    def vapour_pressure(self) -> float:
        """Partial pressure of water vapour [Pa]."""
        return self.relative_humidity * saturation_pressure(self.temperature)

    @property
    def dry_pressure(self) -> float:
        """Partial pressure of dry air [Pa]."""
        return self.pressure - self.vapour_pressure

    @property
    def density(self) -> float:
        """Density of the moist air [kg/m³]: two ideal gases sharing a volume."""
        kelvin = self.temperature + 273.15
        return self.dry_pressure / (DRY_AIR * kelvin) + self.vapour_pressure / (WATER_VAPOUR * kelvin)

    @property
    def density_altitude(self) -> float:
        """Geopotential height [m] in the standard atmosphere at which dry air has this density."""
        ratio = self.density / (SEA_LEVEL_PRESSURE / (DRY_AIR * SEA_LEVEL_TEMPERATURE))
        return SEA_LEVEL_TEMPERATURE / LAPSE_RATE * (1 - ratio ** (1 / (_EXPONENT - 1)))

    @property
    def power_factor(self) -> float:
        """Share of the reference power a naturally aspirated engine makes in this air [-]."""
        return power_factor(self.dry_pressure, self.temperature)


def standard_pressure(elevation: float) -> float:
    """Pressure of the standard atmosphere.

    p = p0·(1 − L·H/T0)^(g/(R·L)) with the geopotential height H = r0·z/(r0 + z)

    Parameters: `elevation` z [m], −500 to 11,000. Returns the pressure [Pa].

    >>> round(standard_pressure(1000.0))
    89876

    Reference: U.S. Standard Atmosphere 1976 (NOAA-S/T 76-1562), equations 18 and 33a.
    """
    height = EARTH_RADIUS * elevation / (EARTH_RADIUS + elevation)
    return SEA_LEVEL_PRESSURE * (1 - LAPSE_RATE * height / SEA_LEVEL_TEMPERATURE) ** _EXPONENT


def saturation_pressure(temperature: float) -> float:
    """Saturation pressure of water vapour over water.

    e = 611.21·exp((18.678 − t/234.5)·t/(257.14 + t))

    Over water below freezing too: relative humidity is reported that way (WMO-No. 8).
    Parameters: `temperature` t [°C], −50 to 60. Returns the pressure [Pa].

    >>> round(saturation_pressure(20.0))
    2338

    Reference: A. L. Buck, J. Appl. Meteorol. 20 (1981) 1527, with the 1996 coefficients.
    """
    return 611.21 * exp((18.678 - temperature / 234.5) * temperature / (257.14 + temperature))


def power_factor(dry_pressure: float, temperature: float) -> float:
    """Power of a naturally aspirated engine in this air over its power in the reference air.

    1/CA, CA = 1.18·(990/p_d)·√((T + 273)/298) − 0.18 with p_d in hPa

    Parameters: `dry_pressure` p_d [Pa], `temperature` T [°C]. Returns the factor [-].

    >>> power_factor(99000.0, 25.0)
    1.0

    Reference: SAE J1349, spark-ignition correction; reference air 990 hPa dry, 25 °C.
    """
    return 1 / (1.18 * (990 / (dry_pressure / 100)) * sqrt((temperature + 273) / 298) - 0.18)
