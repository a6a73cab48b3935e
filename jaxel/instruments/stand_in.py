"""Stand-ins for the bench's devices: what is under them is read with their resolution, their noise and a hand's own.

A stand-in answers only of a machine whose truth is made up. Its zero is off by an amount that stays until it is zeroed;
one that warms up drifts there; its unit switch may stand on the other unit. The sizes are from memory.
"""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from math import exp, sqrt

import numpy as np

from jaxel.core.formats.device_reading import DEVICES
from jaxel.core.units import in_unit, units_of

from .device import Reading


@dataclass(frozen=True)
class Build:
    """How a device is built, in its quantity's first unit.

    `resolution`, the step of its display; `noise`, one standard deviation of its own; `relative`, more of it as a share
    of the value; `hand`, what the hand that holds it adds, one standard deviation; `zero`, how far its zero may be off,
    one standard deviation; `warm_up`, how far it is off when just switched on, and in how many seconds that falls to a
    third of it.
    """

    resolution: float
    noise: float
    relative: float = 0.0
    hand: float = 0.0
    zero: float = 0.0
    warm_up: float = 0.0
    warm_s: float = 90.0

    def sd(self, value: float) -> float:
        """What a device's sheet and a hand promise of one reading: noise, hand and display, the zero set."""
        return sqrt(self.noise**2 + (self.relative * value) ** 2 + self.hand**2 + self.resolution**2 / 12)


BUILDS: dict[str, Build] = {
    "caliper": Build(0.01, 0.01, hand=0.04, zero=0.03),
    "feeler gauge": Build(0.05, 0.0, hand=0.03),
    "scale": Build(0.1, 0.05, hand=0.02, zero=0.1, warm_up=0.4),
    "spring tester": Build(1.0, 0.5, relative=0.008, hand=2.0, zero=2.0, warm_up=3.0),
    "torque wrench": Build(0.1, 0.0, relative=0.02, hand=0.3),
    "tachometer": Build(10.0, 10.0, hand=20.0),
    "thermometer": Build(0.1, 0.3, hand=1.0, warm_up=1.5, warm_s=30.0),
    "alignment bar": Build(0.1, 0.05, hand=0.15),
    "angle gauge": Build(0.1, 0.05, hand=0.1, zero=0.15),
}

OTHER_UNIT = {"mm": "in", "g": "oz", "N": "lbf", "N·m": "ft-lb", "°C": "°F"}
"""What a device's unit switch turns to."""

WRONG_UNIT = 0.02
"""How often the last hand left the unit switch on the other unit."""


@dataclass
class StandIn:
    """A device in a hand, laid on something whose true value is known to it alone.

    `key` of its kind; `true`, the value under it in its quantity's first unit; `rng`, its luck, the same for one seed;
    `on_for`, seconds since it was switched on; `zero_off` and `unit`, as the last hand left them.
    """

    key: str
    true: float
    rng: np.random.Generator
    on_for: float = 1e9
    zero_off: float = 0.0
    unit: str = ""
    clock: Callable[[], datetime] = field(default=lambda: datetime.now(UTC))

    @classmethod
    def picked_up(cls, key: str, true: float, seed: int | tuple[int, ...], on_for: float = 1e9) -> "StandIn":
        """A device as the last hand left it: its zero off by its luck, seldom its unit the other one."""
        rng = np.random.default_rng(seed)
        unit = DEVICES[key].unit
        off, other = float(rng.normal(0, BUILDS[key].zero)), bool(rng.random() < WRONG_UNIT)
        return cls(key, true, rng, on_for, off, OTHER_UNIT.get(unit, unit) if other else unit)

    def zeroed(self) -> "StandIn":
        """The same with its zero set: to half a step of its display."""
        half = BUILDS[self.key].resolution / 2
        return replace(self, zero_off=float(self.rng.uniform(-half, half)))

    def switched(self, unit: str) -> "StandIn":
        """The same with its switch on a unit; raises ValueError for one that is not of its quantity."""
        if unit not in units_of(DEVICES[self.key].unit):
            raise ValueError(f"{unit} is no unit of a {self.key}")
        return replace(self, unit=unit)

    def at_rest(self) -> float:
        """What it shows of nothing [its unit]: its zero and what is left of its warm-up."""
        return self._shown(self._standing())

    def _standing(self) -> float:
        build = BUILDS[self.key]
        return self.zero_off + build.warm_up * exp(-self.on_for / build.warm_s)

    def read(self) -> Reading:
        build = BUILDS[self.key]
        spread = sqrt(build.noise**2 + (build.relative * self.true) ** 2 + build.hand**2)
        value = self.true + self._standing() + float(self.rng.normal(0, spread))
        return Reading(self._shown(value), self.unit, build.sd(self.true) / self._scale(), self.clock())

    def _scale(self) -> float:
        """How much of its quantity's own unit one of the unit it stands on is."""
        base = DEVICES[self.key].unit
        return in_unit(1.0, self.unit, base) - in_unit(0.0, self.unit, base)

    def _shown(self, value: float) -> float:
        """A value as its display has it: to its step, on another unit to one about as fine."""
        step = BUILDS[self.key].resolution
        base = DEVICES[self.key].unit
        if self.unit != base:
            value = (value - in_unit(0.0, self.unit, base)) / self._scale()
            step = 10.0 ** round(float(np.log10(step / self._scale())))
        return round(round(value / step) * step, 10)
