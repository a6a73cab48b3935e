"""A ride: engine, belt and vehicle through a throttle trace, as the columns a logger would have of it.

Two speeds and a travel: the engine against what the belt takes, the vehicle against rolling, air and the ground's grip,
the sheave against its surplus of force. The belt sticks or slips as a dry clutch does; ratio, clamp and friction come
from the integrated wraps.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import inf, pi

import numpy as np

from .clutches import secondary_push
from .groove import RATIOS
from .machine import GRAVITY, Machine
from .wrap import Array

STEP = 0.004
"""Of time [s]."""

FINE = 81
"""Places between the integrated ones at which the belt's curves are laid out."""

LIMITER = 150 * pi / 30
"""Speed past the limit at which every spark is gone [rad/s]; from memory."""

Trace = Sequence[tuple[float, float]]
"""Throttle: (time [s], opening 0–1), straight between."""

AFTERNOON: Trace = ((0.0, 0.0), (1.0, 0.0), (33.0, 0.0), (44.0, 0.0), (44.1, 1.0), (65.0, 1.0), (65.1, 0.0),
                    (66.5, 0.0), (66.6, 1.0), (71.0, 1.0), (71.3, 0.0), (74.0, 0.0))  # fmt: skip
"""A stop after the roll-on, a pull with a chop in it."""

ROLL_ON = (1.0, 33.0)
"""Between these times [s] the hand brings the engine up evenly, by its tachometer."""

ROLL_RATE, ROLL_GAIN, ROLL_QUICK, ROLL_MOST = 110 * pi / 30, 6e-4, 4e-3, 0.5
"""How fast it does that [rad/s²], the throttle it adds each second and at once for a speed that lags [1/rad], and how
much at most."""


@dataclass(frozen=True)
class Ground:
    """What it is ridden on and with.

    `inertia` of engine and primary [kg·m²]; `idle` [rad/s]; `drag` of a shut engine as a share of its torque, the more
    the faster it turns; `settling` of the sheave [N·s/m]; `warm` [°C] at the start; `hz`, rows a second. From memory.
    """

    inertia: float = 0.035
    idle: float = 1350 * pi / 30
    drag: float = 0.27
    settling: float = 4000.0
    warm: float = 35.0
    hz: float = 50.0


def ridden(machine: Machine, throttle: Trace = AFTERNOON, ground: Ground | None = None) -> dict[str, Array]:
    """Columns of a ride [samples]: `time_s`, `engine_rpm`, `secondary_rpm`, `speed_kph`, `throttle_pct`,
    `belt_temp_c`. Raises ValueError for a machine whose belt cannot lie in its sheaves."""
    ride = _Ride(machine, ground or Ground())
    if not np.isfinite(ride.laid).all():
        raise ValueError("the belt of this machine has no way to lie")
    times, opens = (np.array(each) for each in zip(*throttle, strict=True))
    steps = int(times[-1] / STEP)
    opening = np.interp(np.arange(steps) * STEP, times, opens)
    every = max(1, round(1 / (ride.ground.hz * STEP)))
    rows = []
    hand = 0.0
    for step in range(steps):
        time = step * STEP
        if ROLL_ON[0] <= time < ROLL_ON[1] and throttle is AFTERNOON:
            wanted = ride.ground.idle + ROLL_RATE * (time - ROLL_ON[0])
            hand = min(max(hand + ROLL_GAIN * (wanted - ride.speed) * STEP, 0.0), ROLL_MOST)
            held = min(hand + ROLL_QUICK * max(0.0, wanted - ride.speed), ROLL_MOST)
        else:
            held = float(opening[step])
        if step % every == 0:
            rows.append((time, *ride.shown(held)))
        ride.step(held)
    names = ("time_s", "engine_rpm", "secondary_rpm", "speed_kph", "throttle_pct", "belt_temp_c")
    return dict(zip(names, np.array(rows).T, strict=True))


@dataclass(frozen=True)
class _Place:
    """A machine at one travel of its sheave; `near`, the nearest place with curves of its own."""

    ratio: float
    radius: float
    driven: float
    weights: float
    spring: float
    fixed: float
    per_torque: float
    fixed_back: float
    per_torque_back: float
    slope: float
    near: int = 0


class _Ride:
    """A machine under way."""

    def __init__(self, machine: Machine, ground: Ground):
        self.ground, self.engine = ground, machine.engine
        vehicle, path, loop = machine.document["vehicle"], machine.path, machine.loop
        self.mass = vehicle["mass_kg"]
        self.per_metre = vehicle["drive_ratio"] / (vehicle["rolling_radius_mm"] / 1e3)
        self.efficiency = machine.physics.efficiency
        self.rolling = vehicle["rolling_coefficient"] * self.mass * GRAVITY
        grip = vehicle.get("ground_grip") or (0.5 if vehicle["rolling_coefficient"] >= 0.09 else 0.7)
        self.most_push = grip * self.mass * GRAVITY
        self.air = 0.5 * 1.2 * vehicle["cd_a_m2"]
        fine = np.linspace(path.travel[0], path.travel[-1], FINE)
        self.first, self.last, self.gap = loop.gripped, float(path.travel[-1]), loop.gap
        self.fine_step = (self.last - self.first) / (FINE - 1)

        def laid(values: Array) -> Array:
            return np.interp(fine, path.travel, values)

        ratio = laid(path.ratio)
        self.squeezes = np.array([laid(column) for column in machine.groove.squeezes.T]).T
        self.clamps = np.array([laid(column) for column in machine.groove.clamps.T]).T
        physics, opening = machine.physics.rubs, laid(path.opening)
        document = dict(machine.document)
        self.laid = np.column_stack([
            ratio, laid(path.primary_radius), laid(path.secondary_radius), *machine.closing(fine),
            *secondary_push(document, physics, opening), *secondary_push(document, physics, opening, opens=False),
            -np.gradient(ratio, fine) * self.per_metre,
        ])  # fmt: skip
        way = np.linspace(0.0, max(self.first, 1e-6), 12)
        self.way, (self.way_weights, self.way_spring) = way, machine.closing(way)
        self.rub = machine.physics.rubs.primary
        self.speed, self.road, self.travel = ground.idle, 0.0, 0.0
        self.heat, self.slipping = ground.warm, 0.0

    def shown(self, opening: float) -> tuple[float, ...]:
        """What a logger's sensors have in front of them."""
        return (self.speed * 30 / pi, self.road * self.per_metre * 30 / pi, self.road * 3.6, 100 * opening, self.heat)

    def _engine(self, opening: float) -> float:
        most = float(self.engine.torque(self.speed))
        # A limiter takes one spark after the other, the more the further it is passed.
        over = max(0.0, self.speed - self.engine.rev_limit) / LIMITER
        most *= max(-self.ground.drag, 1.0 - over)
        idling = max(0.0, self.ground.idle - self.speed) * 0.4
        shut = -self.ground.drag * abs(most) * max(0.0, self.speed - self.ground.idle) / self.engine.rev_limit
        share = 1 - (1 - opening) ** 1.7
        return share * most + (1 - share) * shut + idling

    def _needed(self, at: "_Place", torque: float, opens: bool) -> float:
        """Clamp the primary needs to carry a torque [N]."""
        fixed, per_torque = (at.fixed, at.per_torque) if opens else (at.fixed_back, at.per_torque_back)
        pull = max(abs(torque), 0.5) / at.radius
        squeeze = (fixed + per_torque * max(torque, 0.0) * at.ratio) / pull
        k = np.interp(-squeeze, -self.squeezes[at.near], RATIOS)
        return float(pull * np.interp(k, RATIOS, self.clamps[at.near]))

    def _most(self, at: "_Place", clamp: float) -> float:
        """Torque at which one of the clutches slips [N·m]."""
        left = self.squeezes[at.near, -1] - at.per_torque * at.driven
        secondary = at.fixed / left if left > 0 else inf
        return float(at.radius * min(clamp / self.clamps[at.near, -1], secondary))

    def _at(self, travel: float) -> "_Place":
        """Everything at one travel, between its two neighbours."""
        along = min(max((travel - self.first) / self.fine_step, 0.0), FINE - 1.001)
        low = int(along)
        share = along - low
        values = (self.laid[low] * (1 - share) + self.laid[low + 1] * share).tolist()
        return replace(_Place(*values), near=round(along))

    def step(self, opening: float) -> None:
        at = self._at(self.travel)
        square = self.speed**2
        gripped = self.travel >= self.first - 1e-9
        if gripped:
            out = at.weights * (1 - self.rub) * square - at.spring
            back = at.weights * (1 + self.rub) * square - at.spring
        else:
            weights, spring = (np.interp(self.travel, self.way, each) for each in (self.way_weights, self.way_spring))
            out = float(weights * (1 - self.rub) * square - spring)
            back = float(weights * (1 + self.rub) * square - spring)
        torque = self._engine(opening)
        resists = self.rolling + self.air * self.road**2
        held_back = resists if self.road > 0.01 else 0.0
        per_metre = at.ratio * self.per_metre
        belt, push, moved = 0.0, 0.0, 0.0
        self.slipping = 0.0
        if gripped and out > 0:
            most = self._most(at, out)
            inertia, eased = self.ground.inertia, self.efficiency
            ground = self.most_push
            gives = 1 / inertia + per_metre**2 * eased / self.mass
            gains = torque / inertia + held_back / self.mass * per_metre
            if gains / gives * per_metre * eased > ground:  # the ground takes no more: what is beyond it spins
                gives, gains = 1 / inertia, torque / inertia - (ground - held_back) / self.mass * per_metre
            # A ratio that falls slows the engine, and the belt carries what its inertia gives.
            slope = at.slope * self.road / gives
            moved = self._moved(at, out, back, gains / gives, slope)
            moved = min(max(moved, (self.first - self.travel) / STEP), (self.last - self.travel) / STEP)
            slip = self.speed - self.road * per_metre
            sticks = (slip / STEP + gains) / gives + slope * moved
            belt = min(max(sticks, -most), most)
            push = belt * per_metre * (eased if belt > 0 else 1.0)
            push = min(max(push, -ground), ground)
            self.slipping = STEP * gives * (sticks - belt)
            if self.slipping:
                moved = self._moved(at, out, back, belt, 0.0)
        else:
            moved = (out if out > 0 else min(back, 0.0)) / self.ground.settling
        self.speed = max(0.0, self.speed + STEP * (torque - belt) / self.ground.inertia)
        against = resists if self.road > 0 else min(push, resists)
        self.road = max(0.0, self.road + STEP * (push - against) / self.mass)
        lost = abs(belt * self.slipping) + 0.02 * abs(belt) * self.speed
        carried = 8.0 + 0.8 * self.speed * at.radius
        self.heat += STEP * (lost - carried * (self.heat - self.ground.warm)) / 1400.0
        least, end = (self.first if gripped and out > 0 else 0.0), (self.last if gripped else self.first)
        self.travel = min(end, max(least, self.travel + STEP * moved))

    def _moved(self, at: "_Place", out: float, back: float, torque: float, per_speed: float) -> float:
        """Speed of the sheave by its surplus of force [m/s]; between closing and opening it stays.

        `per_speed`, torque that its own moving adds to the belt's [N·m per m/s]: it pays for that in clamp.
        """
        needed, settling = self._needed(at, torque, True), self.ground.settling
        if out > needed:
            if per_speed:
                more = 0.1 * abs(torque) + 1.0
                settling += max(0.0, per_speed * (self._needed(at, torque + more, True) - needed) / more)
            return (out - needed) / settling
        return min(0.0, back - self._needed(at, torque, False)) / settling  # friction holds it in between
