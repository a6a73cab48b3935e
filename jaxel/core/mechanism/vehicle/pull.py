"""A full-throttle pull on a simulated strip: engine, clutch, belt and vehicle through time.

States: engine speed ω, vehicle speed v, sheave travel x, belt temperature. The belt carries torque by a smooth
sign function of its slip up to what the clamps can hold; the moving sheave follows the surplus of the weights'
force with a time constant near 40 ms, and stays where it is inside the clutch's friction band.

The step is implicit in the slip, whose own time constant is far below any step worth taking, and explicit in
the rest. What the model needs of the clutch is tabulated once over the travel.
"""

from bisect import bisect_right
from functools import partial
from math import copysign, inf, pi, tanh
from typing import NamedTuple

import numpy as np

from ..clutch.balance import primary_clamp_of_one
from ..errors import Impossible
from .atmosphere import GRAVITY
from .drivetrain import Drivetrain
from .trace import COLUMNS, Energy, PullTrace, Strip

STEP = 0.002  # [s], the longest step
SHEAVE_TIME = 0.04  # [s]; from memory
SLIP_SCALE = 4.0  # [rad/s] of slip at which the belt carries three quarters of what it can; from memory
TABLE_POINTS = 241
LEAST_TORQUE = 0.05  # [N·m], under which a belt counts as idle
LIMITER_RANGE = 2 * pi * 100 / 60  # [rad/s] past the rev limit over which the ignition fades to nothing; from memory
IDLE_STIFFNESS = 0.3  # [N·m per rad/s] below idle with which the idle is held; from memory
STILL_DRAG = 0.3  # [-], share of a shut engine's drag at the rev limit that it has at rest; from memory
TOP_SPEED = 1.3  # [-], end of the torque table over the rev limit
SPEED_POINTS = 400


def simulate(drivetrain: Drivetrain, strip: Strip | None = None, hz: float = 50.0) -> PullTrace:
    """Drive a set-up down the strip from rest.

    J·dω/dt = M(ω) − M_b;  m·dv/dt = push − c_rr·m·g − ½·ρ·c_d·A·v² − m·g·grade
    push = M_b·i·drive_ratio·efficiency/R, at most ground_grip·m·g
    M_b = M_cap·tanh(slip/s₀), M_cap the torque at which the first clutch would slip as a whole (Eytelwein)
    c·dx/dt = F1_available(ω, x) − F1_required(M_b, x), upshift and backshift each with its own friction

    On the overrun the helix is taken to give no clamp (its faces part), and the belt's pull to count as on drive.

    Parameters: `hz`, samples a second the logger takes [1–1000]. Returns the trace.
    Raises Impossible for a rate, duration or throttle trace that cannot be.

    >>> from jaxel.demo.workshop import document
    >>> trace = simulate(document("mountain-sled").core(), Strip(duration=5))
    >>> len(trace.time), round(trace.time_to_speed(13.4), 1)
    (251, 3.9)

    Reference: Newton's second law; belt forces as in `balance`; heat balance of one lump. Constants from memory.
    """
    strip = strip or Strip()
    _check(strip, hz)
    substeps = max(1, int(np.ceil(1 / hz / STEP)))
    stepper = _Stepper(drivetrain, strip, 1 / hz / substeps)
    rows = [stepper.sample()]
    for _ in range(round(strip.duration * hz)):
        for _ in range(substeps):
            stepper.step()
        rows.append(stepper.sample())
    columns = dict(zip(COLUMNS, np.array(rows).T, strict=True))
    return PullTrace(**columns, energy=stepper.closed_energy())


def _check(strip: Strip, hz: float) -> None:
    if not 1 <= hz <= 1000:
        raise Impossible("hz", "must be from 1 to 1000 samples a second")
    if not 0 < strip.duration <= 600:
        raise Impossible("duration", "must be above 0 and at most 600 s")
    if not -0.5 <= strip.grade <= 0.5:
        raise Impossible("grade", "must be from -0.5 to 0.5")
    times = [time for time, _ in strip.throttle]
    if not times or times != sorted(times) or len(set(times)) < len(times):
        raise Impossible("throttle", "needs points in order of time")
    if any(not 0 <= opening <= 1 for _, opening in strip.throttle):
        raise Impossible("throttle", "must stay between 0 and 1")


class _Place(NamedTuple):
    """What the clutch is at one travel: a row of the pull's table.

    `spring` [N]; `weights` A on upshift and `weights_back` on backshift [kg·m]; belt radii [m] and wraps [rad];
    the secondary's clamp without torque [N] and per torque [1/m], each also on backshift; di/dx [1/m].
    """

    spring: float
    weights: float
    weights_back: float
    primary_radius: float
    secondary_radius: float
    primary_wrap: float
    secondary_wrap: float
    clamp: float
    clamp_per_torque: float
    clamp_back: float
    clamp_per_torque_back: float
    ratio_slope: float

    @property
    def ratio(self) -> float:
        return self.secondary_radius / self.primary_radius


class _Stepper:
    """One pull in the making: scalar arithmetic on tables, because its steps depend on each other."""

    def __init__(self, drivetrain: Drivetrain, strip: Strip, step: float):
        drive, primary, vehicle = drivetrain.drive, drivetrain.primary, drivetrain.vehicle
        self.drivetrain, self.strip, self.dt = drivetrain, strip, step
        self.friction = drivetrain.wedge_friction
        self.closing, self.efficiency = drive.closing_per_radius, drivetrain.belt.drive_efficiency
        primary_seat, secondary_seat = drivetrain.seats
        self.required = partial(
            primary_clamp_of_one,
            closing=self.closing,
            friction=self.friction,
            adhesion_share=drivetrain.belt.adhesion_share,
            primary_seat=primary_seat,
            secondary_seat=secondary_seat,
        )
        self.mass, self.gear = vehicle.mass, vehicle.drive_ratio / vehicle.rolling_radius
        self.drag = 0.5 * drivetrain.conditions.density * vehicle.drag_area
        self.rolling, self.push_limit = vehicle.rolling_resistance, vehicle.push_limit
        self.engage, self.end = drive.engagement_travel, drive.end_travel
        self.rev_limit = drivetrain.engine.rev_limit

        at = np.linspace(0.0, self.end, TABLE_POINTS)
        path = drive.at(at)
        fixed, per_torque = drivetrain.secondary.clamp_terms(path.secondary_opening)
        back_fixed, back_per_torque = drivetrain.secondary.clamp_terms(path.secondary_opening, backshift=True)
        self.pitch = self.end / (TABLE_POINTS - 1)
        self.table = np.column_stack([
            primary.spring.force(at), primary.weight_factor(at), primary.weight_factor(at, backshift=True),
            path.primary_radius, path.secondary_radius, path.primary_wrap, path.secondary_wrap,
            fixed, per_torque, back_fixed, back_per_torque, np.gradient(path.ratio, at),
        ]).tolist()  # fmt: skip
        speeds = np.linspace(0.0, TOP_SPEED * self.rev_limit, SPEED_POINTS)
        self.speed_pitch = float(speeds[1])
        self.torque = drivetrain.engine.full_throttle(speeds, drivetrain.torque_factor).tolist()
        self.shut_drag = strip.closed_drag * drivetrain.engine.torque.highest
        peak = drivetrain.engine.torque.highest * drivetrain.torque_factor
        most = self._required(self._row(self.end / 2), peak)
        self.damping = SHEAVE_TIME * most / self.end
        self.clamp_per_torque = most / peak

        self.steps = 0
        self.vehicle_speed = self.distance = self.travel = 0.0
        self.speed = strip.idle
        self.temperature = drivetrain.conditions.temperature
        self.belt_torque = self.slip = 0.0
        self.energy = Energy()
        self.kinetic_start = self._kinetic()

    @property
    def time(self) -> float:
        return round(self.steps * self.dt, 9)

    def _row(self, travel: float) -> _Place:
        place = min(travel / self.pitch, TABLE_POINTS - 1.000001)
        index = int(place)
        part = place - index
        below, above = self.table[index], self.table[index + 1]
        return _Place(*[low + part * (high - low) for low, high in zip(below, above, strict=True)])

    def _opening(self) -> float:
        trace = self.strip.throttle
        index = bisect_right(trace, self.time, key=lambda point: point[0])
        if index == 0:
            return trace[0][1]
        if index == len(trace):
            return trace[-1][1]
        (before, low), (after, high) = trace[index - 1], trace[index]
        return low + (high - low) * (self.time - before) / (after - before)

    def _engine_torque(self, opening: float) -> float:
        """Torque at the crank: the curve by throttle, drag when shut, cut past the limit, held at idle."""
        place = min(self.speed / self.speed_pitch, len(self.torque) - 1.000001)
        index = int(place)
        full = self.torque[index] + (place - index) * (self.torque[index + 1] - self.torque[index])
        over = (self.speed - self.rev_limit) / LIMITER_RANGE
        if over > 0:
            opening *= max(0.0, 1 - over)
        drag = self.shut_drag * (STILL_DRAG + (1 - STILL_DRAG) * self.speed / self.rev_limit)
        torque = opening * full - (1 - opening) * drag
        if self.speed < self.strip.idle:
            torque = max(torque, 0.0) + (self.strip.idle - self.speed) * IDLE_STIFFNESS
        return torque

    def _required(self, at: _Place, torque: float, *, backshift: bool = False) -> float:
        """Primary clamp the belt asks for while it carries a torque."""
        clamp, per_torque = (at.clamp_back, at.clamp_per_torque_back) if backshift else (at.clamp, at.clamp_per_torque)
        given = clamp + per_torque * max(torque, 0.0) * at.ratio
        pull = max(abs(torque), LEAST_TORQUE) / at.primary_radius
        return self.required(pull, at.primary_wrap, at.secondary_wrap, given)

    def _capacity(self, at: _Place, available: float) -> float:
        """Torque at which the whole wrap of one of the clutches would slide [N·m]."""
        limit = self.closing * self.friction
        gain = 1 - limit * at.clamp_per_torque * at.secondary_radius
        secondary = limit * at.clamp / gain if gain > 0 else inf
        return at.primary_radius * min(limit * available, secondary)

    def step(self) -> None:
        """Advance everything by one step."""
        dt = self.dt
        at = self._row(self.travel)
        square = self.speed * self.speed
        rising, falling = at.weights * square - at.spring, at.weights_back * square - at.spring
        gripped = self.travel >= self.engage - 1e-9 and rising > 0
        engine = self._engine_torque(self._opening())
        to_wheel = at.ratio * self.gear  # engine turns [rad] per metre of road
        resistance = self._resistance()

        belt = steady = push = 0.0
        slip = self.speed - self.vehicle_speed * to_wheel
        if gripped:
            capacity = self._capacity(at, rising)
            turned = 1 / self.strip.inertia
            carried = to_wheel * to_wheel * self.efficiency / self.mass
            gained = engine * turned + resistance / self.mass * to_wheel
            held, belt = _settle(slip + dt * gained, dt * (turned + carried), capacity)
            push = self._push(belt, to_wheel)
            if abs(push) > self.push_limit:
                # The ground takes no more: what the belt carries beyond that moves nothing.
                push = copysign(self.push_limit, push)
                gained, carried = engine * turned - (push - resistance) / self.mass * to_wheel, 0.0
                held, belt = _settle(slip + dt * gained, dt * turned, capacity)
            _, steady = _settle(self.slip + dt * gained, dt * (turned + carried), capacity)
            slip = held
        self.speed = max(0.0, self.speed + dt * (engine - belt) / self.strip.inertia)
        before = self.vehicle_speed
        held_back = resistance if before > 0 else max(resistance, self.rolling)  # at rest it resists any push
        self.vehicle_speed = max(0.0, before + dt * (push - held_back) / self.mass)
        moved = 0.5 * (before + self.vehicle_speed) * dt
        self._account(engine, belt, slip, to_wheel, push, moved)

        self.distance += moved
        self.belt_torque, self.slip = belt, slip if gripped else 0.0
        self._warm(belt, self.slip, at.primary_radius)
        self._move_sheave(at, rising, falling, steady, gripped)
        self.steps += 1

    def _resistance(self) -> float:
        climb = self.mass * GRAVITY * self.strip.grade
        if self.vehicle_speed <= 0 and climb <= 0:
            return 0.0 if self.belt_torque <= 0 else self.rolling
        return self.rolling + self.drag * self.vehicle_speed**2 + climb

    def _push(self, belt: float, to_wheel: float) -> float:
        """What the belt's torque would push the vehicle with [N]."""
        return belt * to_wheel * (self.efficiency if belt > 0 else 1.0)

    def _account(self, engine: float, belt: float, slip: float, to_wheel: float, push: float, moved: float) -> None:
        energy, dt = self.energy, self.dt
        energy.engine += engine * self.speed * dt
        energy.slip += belt * slip * dt
        energy.drive += belt * to_wheel * moved * ((1 - self.efficiency) if belt > 0 else 0.0)
        energy.ground_slip += (self._push(belt, to_wheel) - push) * moved
        energy.rolling += self.rolling * moved
        energy.drag += self.drag * self.vehicle_speed**2 * moved
        energy.climb += self.mass * GRAVITY * self.strip.grade * moved

    def _warm(self, belt: float, slip: float, radius: float) -> None:
        strip = self.strip
        lost = abs(belt * slip) + strip.flexing * abs(belt) * self.speed
        carried_off = strip.still_loss + strip.moving_loss * self.speed * radius
        excess = self.temperature - self.drivetrain.conditions.temperature
        self.temperature += self.dt * (lost - carried_off * excess) / strip.belt_heat

    def _move_sheave(self, at: _Place, rising: float, falling: float, steady: float, gripped: bool) -> None:
        """Follow the surplus of force; inside the friction band between closing and opening, stay.

        `steady` is the belt's torque had the ratio not moved. Moving it brakes or speeds the engine's inertia,
        which the belt must pay for in clamp: a damping of its own, larger than the sheave's, taken implicitly.
        """
        damping = self.damping
        if gripped:
            closing = rising - self._required(at, steady)
            opening = falling - self._required(at, steady, backshift=True) if closing < 0 else 0.0
            turning = self.vehicle_speed * self.gear * abs(at.ratio_slope)
            damping += self.strip.inertia * turning * self.clamp_per_torque
        else:
            closing, opening = rising, falling
        surplus = closing if closing > 0 else min(opening, 0.0)
        lowest = self.engage if gripped else 0.0
        self.travel = min(self.end, max(lowest, self.travel + self.dt * surplus / damping))
        if not gripped:
            self.travel = min(self.travel, self.engage)

    def _kinetic(self) -> float:
        return 0.5 * (self.strip.inertia * self.speed**2 + self.mass * self.vehicle_speed**2)

    def closed_energy(self) -> Energy:
        """The account with what still moves at the end entered."""
        self.energy.kinetic_gain = self._kinetic() - self.kinetic_start
        return self.energy

    def sample(self) -> tuple[float, ...]:
        """One row of the trace, in the order of PullTrace's fields."""
        at = self._row(self.travel)
        slip = self.slip / self.speed if self.speed > 0 else 0.0
        secondary = self.vehicle_speed * self.gear
        return (self.time, self.speed, secondary, self.vehicle_speed, self.distance, self._opening(), at.ratio, slip,
                self.temperature, self.travel)  # fmt: skip


def _settle(free: float, compliance: float, capacity: float) -> tuple[float, float]:
    """Slip and torque at the end of a step: s = free − compliance·capacity·tanh(s/s₀), solved by Newton."""
    if capacity <= 0:
        return free, 0.0
    reach = compliance * capacity
    slip = free / (1 + reach / SLIP_SCALE) if abs(free) < reach else free - reach * (1 if free > 0 else -1)
    for _ in range(12):
        carried = tanh(slip / SLIP_SCALE)
        error = slip + reach * carried - free
        if abs(error) < 1e-9:
            break
        slip -= error / (1 + reach * (1 - carried * carried) / SLIP_SCALE)
    return slip, capacity * tanh(slip / SLIP_SCALE)
