"""A machine as it is: its set-up in hidden truth, and the speeds it runs at with the throttle held open."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from math import pi
from typing import Any

import numpy as np

from .clutches import Rubs, secondary_push, spring_push, weights_push
from .engine import Engine
from .geometry import Loop, Path
from .groove import RATIOS, Groove
from .wrap import Array, Flanks, Mask

PLACES = 11
"""Of the shift at which the belt is integrated."""

SPEEDS = 400
"""Speeds at which a balance is looked for, before it is closed between two of them."""

GRAVITY = 9.80665

WINDOW = (0.20, 0.95)
"""Part of the shift its mean is taken over."""


@dataclass(frozen=True)
class Physics:
    """What no reading at the bench tells of a machine.

    `friction` of the belt; `stiffness`, `shear`, `cord` as in `Flanks`; `rubs` inside the clutches; `strength` of the
    engine against its curve and `own_share` of its friction; `efficiency` of what follows the secondary.
    """

    friction: float = 0.35
    stiffness: float = 4e7
    shear: float = 0.4
    cord: float = 2e5
    rubs: Rubs = field(default_factory=Rubs)
    strength: float = 1.0
    own_share: float = 0.18
    efficiency: float = 0.9


@dataclass(frozen=True)
class Figures:
    """What the machine does [rpm]: where it bites, the mean of its shift, its spread, and the end of it; `held`, the
    speeds along the shift [n]; `slips`, whether the belt does anywhere in it; `low`, `high` ratio [-]."""

    engagement: float
    mean: float
    spread: float
    full_shift: float
    held: Array
    slips: bool
    low: float
    high: float


GROOVES: dict[tuple[Any, ...], Groove] = {}
"""Belts that were integrated once: a change of arms or springs leaves the belt's way as it was."""

MOST_GROOVES = 64


@dataclass(frozen=True)
class Machine:
    """`document`, a jaxel-setup in its fitted form, with the true number in every place; `physics`."""

    document: Mapping[str, Any]
    physics: Physics = field(default_factory=Physics)

    @cached_property
    def loop(self) -> Loop:
        return Loop.of(dict(self.document))

    @cached_property
    def groove(self) -> Groove:
        of = self.physics
        key = (self.loop, of.friction, of.stiffness, of.shear, of.cord)
        if key not in GROOVES:
            if len(GROOVES) >= MOST_GROOVES:
                GROOVES.pop(next(iter(GROOVES)))
            flanks = Flanks(of.friction, self.loop.half_angle, of.stiffness, of.shear, of.cord)
            GROOVES[key] = Groove(flanks, self.loop.path(PLACES))
        return GROOVES[key]

    @property
    def path(self) -> Path:
        return self.groove.path

    @cached_property
    def engine(self) -> Engine:
        return Engine.of(dict(self.document), self.physics.strength, self.physics.own_share)

    def closing(self, travel: Array) -> tuple[Array, Array]:
        """The weights' push per squared speed, friction left out [n, kg·m], and the spring's force [n, N]."""
        primary = self.document["primary"]
        weights = weights_push(dict(self.document), self.physics.rubs, travel)
        return weights, spring_push(primary["spring"], primary.get("washer_mm", 0.0), travel)

    @cached_property
    def figures(self) -> Figures:
        """The machine's figures with the throttle held open; speeds NaN where it finds no balance."""
        held, slips = self._held()
        part = np.linspace(0.0, 1.0, PLACES)
        fine = np.linspace(*WINDOW, 40)
        speeds = np.interp(fine, part, held) * 30 / pi
        return Figures(
            engagement=self.engagement * 30 / pi,
            mean=float(speeds.mean()),
            spread=float(np.ptp(speeds)),
            full_shift=float(held[-1]) * 30 / pi,
            held=held * 30 / pi,
            slips=bool(slips[2:-1].any()),
            low=float(self.path.ratio[0]),
            high=float(self.path.ratio[-1]),
        )

    @cached_property
    def engagement(self) -> float:
        """Speed at which the slipping primary first carries the rolling resistance [rad/s]."""
        vehicle, path, loop = self.document["vehicle"], self.path, self.loop
        way = np.linspace(0.0, loop.gripped, 30)
        weights, spring = self.closing(way)
        gives = weights * (1 - self.physics.rubs.primary)
        let_go = float(np.sqrt(np.max(np.maximum(spring, 0.0) / gives)))
        rolling = vehicle["rolling_coefficient"] * vehicle["mass_kg"] * GRAVITY * vehicle["rolling_radius_mm"] / 1e3
        pull = rolling / (path.ratio[0] * vehicle["drive_ratio"] * self.physics.efficiency) / path.primary_radius[0]
        clamp = pull * self.groove.clamps[0, -1]
        return max(let_go, float(np.sqrt((spring[-1] + clamp) / gives[-1])))

    def _held(self) -> tuple[Array, Mask]:
        """Speed that balances the belt at each place [n, rad/s], and whether the belt slips there [n]."""
        speeds = np.linspace(self.engine.speeds[0], self.engine.rev_limit * 1.3, SPEEDS)
        travel, path = self.path.travel, self.path
        weights, spring = self.closing(travel)
        gives = weights * (1 - self.physics.rubs.primary)
        pull = np.maximum(self.engine.torque(speeds), 1.0)[None, :] / path.primary_radius[:, None]
        needed, slips = self.needed(pull)
        surplus = gives[:, None] * speeds[None, :] ** 2 - spring[:, None] - needed
        rises = (surplus[:, :-1] < 0) & (surplus[:, 1:] >= 0)
        first = np.argmax(rises, axis=1)
        rows = np.arange(len(travel))
        low, high = surplus[rows, first], surplus[rows, first + 1]
        held = speeds[first] + (speeds[1] - speeds[0]) * -low / (high - low)
        return np.where(rises.any(axis=1), held, np.nan), slips[rows, first]

    def needed(self, pull: Array) -> tuple[Array, Mask]:
        """Clamp the primary needs under pulls at each place [n, m, N], and whether the belt slips [n, m]."""
        path, groove = self.path, self.groove
        fixed, per_torque = secondary_push(dict(self.document), self.physics.rubs, path.opening)
        given = fixed[:, None] + per_torque[:, None] * pull * path.secondary_radius[:, None]
        squeeze = given / pull
        needed = np.empty_like(pull)
        for place in range(len(path.travel)):
            k = np.interp(-squeeze[place], -groove.squeezes[place], RATIOS)
            needed[place] = pull[place] * np.interp(k, RATIOS, groove.clamps[place])
        return needed, squeeze < groove.squeezes[:, -1:]
