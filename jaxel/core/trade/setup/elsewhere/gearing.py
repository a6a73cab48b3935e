"""Final gearing: what teeth and tyre make of the clutch's ratios, and the rule of thumb beside it."""

import re
from dataclasses import dataclass

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.units import INCH, KPH, MM

RULE = 3.17
"""Divisor of the torque converter's rule, in inches; common practice, no source."""


@dataclass(frozen=True)
class Teeth:
    """A pair of sprockets or gears: teeth of the one that drives and of the one that is driven."""

    driving: int
    driven: int

    @property
    def ratio(self) -> float:
        """Turns of the driving one for each of the driven one."""
        return self.driven / self.driving


def with_teeth(drive_ratio: float, now: Teeth, then: Teeth) -> float:
    """The final drive with another pair of teeth in it, whatever else is in it unchanged.

    drive_ratio·(z₂'/z₁')/(z₂/z₁)

    Raises InvalidValue (field `teeth`) for a pair without teeth.

    >>> with_teeth(4.6, Teeth(10, 46), Teeth(10, 60))
    6.0
    """
    if min(now.driving, now.driven, then.driving, then.driven) < 1:
        raise InvalidValue("teeth", "must be 1 or more on each sprocket")
    return round(drive_ratio * then.ratio / now.ratio, 6)


def rule_of_thumb(output_teeth: int, tyre_mm: float) -> float:
    """Teeth of the rear sprocket that a torque converter wants: output teeth × tyre diameter in inches ÷ 3.17.

    Source: common practice, no source; for small torque converters alone.

    >>> round(rule_of_thumb(10, 19 * 25.4))
    60
    """
    return output_teeth * tyre_mm * MM / INCH / RULE


CONVERTER = "light-torque-converter"
"""The kind of clutch the rule is of."""


def tried_teeth(now: str, then: str) -> tuple[Teeth, Teeth] | None:
    """Teeth as typed, driving/driven, those fitted and those tried; None where neither is.

    Raises InvalidValue, field `teeth_now` or `teeth`, for words that are no pair, or one without the other.

    >>> tried_teeth("10/46", "10 / 60")
    (Teeth(driving=10, driven=46), Teeth(driving=10, driven=60))
    """
    if not now.strip() and not then.strip():
        return None
    pairs = []
    for field, words in (("teeth_now", now), ("teeth", then)):
        found = re.fullmatch(r"\s*(\d{1,3})\s*/\s*(\d{1,3})\s*", words)
        if found is None:
            raise InvalidValue(field, "must be teeth of the driving sprocket / of the driven one, as 10/46")
        pair = Teeth(int(found[1]), int(found[2]))
        if not pair.driving or not pair.driven:
            raise InvalidValue(field, "must be 1 or more on each sprocket")
        pairs.append(pair)
    return pairs[0], pairs[1]


@dataclass(frozen=True)
class Promise:
    """What gearing makes of a set-up: engine turns per turn of the wheel at the start and at full shift, the speed
    there [km/h], and the push at the wheel at the start for a torque of the engine [N per N·m]."""

    overall_low: float
    overall_high: float
    top_kph: float
    push: float


def promise(document: SetupDocument) -> Promise:
    """What the gearing of a set-up promises, on its belt; raises InvalidValue where it cannot work.

    overall = i·drive_ratio;  push = i_low·drive_ratio·efficiency/R

    Reference: gear train, any text on machine design.
    """
    core = document.core()
    shift = predict(core).shift
    vehicle, ratio = core.vehicle, shift.path.ratio
    low, high = (float(each) * vehicle.drive_ratio for each in (ratio[0], ratio[-1]))
    return Promise(
        round(low, 3), round(high, 3), round(float(shift.vehicle_speed[-1]) / KPH, 1),
        round(low * core.belt.drive_efficiency / vehicle.rolling_radius, 3),
    )  # fmt: skip
