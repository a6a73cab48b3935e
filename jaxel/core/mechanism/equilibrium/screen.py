"""A first look at a stock of parts: every primary with every secondary on one belt path, closed on tables.

Where one set-up takes milliseconds, a hundred thousand must take seconds. The clamp a belt asks for, per unit of pull,
is one smooth curve of the squeeze at each node, the same for every set-up on the path; read from a table in single
precision it gives the held speed to a fraction of a turn. What is shown is worked out exactly elsewhere.
"""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from os import cpu_count
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..clutch.balance import tension_log, wrap_integral
from ..clutch.primary import touch_speed
from ..numerics.roots import first_fall, first_rise
from ..numerics.tables import Array
from ..vehicle.drivetrain import Drivetrain
from .shift import bite_speed, window, window_mean, window_spread

Single = NDArray[np.float32]

ROWS = 1024
"""Set-ups solved together: few enough for the processor's cache, enough to outweigh a call's own time."""

TORQUE_POINTS, CLAMP_POINTS = 2048, 2048

LEAST, MOST = -28.0, 14.0
"""ln(squeeze·seat2 − 1/μ_e): from a belt that only just holds, to a thousand times what any clutch squeezes."""

SCAN, STEPS, TOLERANCE = 8, 7, 1e-5
"""Places looked at for the first rise, steps that close it, and the relative width at which they stop."""


@dataclass(frozen=True)
class PrimarySide:
    """P primaries on a belt path of n nodes.

    `weights` A(x) with friction [P, n, kg·m]; `spring` [P, n, N]; `touch`, `bite` [P, rad/s].
    """

    weights: Array
    spring: Array
    touch: Array
    bite: Array


@dataclass(frozen=True)
class SecondarySide:
    """S secondaries on a belt path of n nodes, NaN those that cannot work: `clamp` without torque [S, n, N] and
    `per_torque` on the secondary [S, n, 1/m]."""

    clamp: Array
    per_torque: Array


@dataclass(frozen=True)
class Screened:
    """Figures of k = P·S set-ups, primaries outermost, NaN of those that cannot work.

    `bite`, `mean`, `spread`, `full_shift` [k, rad/s]; `least_grip` over the shift window [k].
    """

    bite: Array
    mean: Array
    spread: Array
    full_shift: Array
    least_grip: Array


def primary_side(
    base: Drivetrain, nodes: int, weights: Callable[[Array], Array], spring: Callable[[Array], Array]
) -> PrimarySide:
    """The primaries whose A(x) [P, m, kg·m] and spring force [P, m, N] are given at any m travels [m].

    `base` lends belt, vehicle and friction. NaN where the weights would not push the sheave closed.

    >>> from jaxel.demo.workshop import document
    >>> sled = document("mountain-sled").core()
    >>> still = primary_side(sled, 5, lambda x: np.zeros((1, len(x))), lambda x: np.full((1, len(x)), 600.0))
    >>> bool(np.isnan(still.weights).all())  # no weights, no push
    True

    Reference: as shift.engagement.
    """
    path, way = base.drive.nodes(nodes), base.drive.release_way
    with np.errstate(invalid="ignore", divide="ignore"):
        on_way, held = weights(way), spring(way)
        on_way = np.where(on_way > 0, on_way, np.nan)
        touch = touch_speed(on_way, held)
        bite = bite_speed(base, touch, on_way[:, -1], held[:, -1])
        at = weights(path)
        return PrimarySide(np.where(at > 0, at, np.nan), spring(path), touch, bite)


def screen(
    base: Drivetrain, primaries: PrimarySide, secondaries: SecondarySide, watch: Callable[[float], None] | None = None
) -> Screened:
    """Figures of every primary with every secondary on `base`'s belt and engine.

    Speeds within about 1 rpm of the exact solver's, least grip within 0.01. `watch` is told the share done, and may
    raise to give the rest up.

    >>> from jaxel.demo.workshop import document
    >>> sled = document("mountain-sled").core()
    >>> still = primary_side(sled, 5, lambda x: np.zeros((1, len(x))), lambda x: np.full((1, len(x)), 600.0))
    >>> none = SecondarySide(np.full((1, 5), 2000.0), np.full((1, 5), 30.0))
    >>> bool(np.isfinite(screen(sled, still, none).mean).any())  # a clutch that never closes has no shift
    False

    Reference: as shift.predict, closed on tables.
    """
    count = len(secondaries.clamp)
    tables = _Tables(base, primaries.weights.shape[1])
    sides = [each.astype(np.float32) for each in (primaries.weights, primaries.spring, secondaries.clamp,
                                                  secondaries.per_torque * tables.ratio)]  # fmt: skip
    close = np.isfinite(primaries.weights).all(axis=1) & np.isfinite(primaries.bite)
    works = np.outer(close, np.isfinite(secondaries.clamp).all(axis=1)).ravel()
    rows = np.flatnonzero(works)

    def solved(part: NDArray[np.intp]) -> Array:
        p, s = np.divmod(part, count)
        return tables.figures(sides[0][p], sides[1][p], sides[2][s], sides[3][s])

    parts = np.array_split(rows, max(1, len(rows) // ROWS))
    blocks = []
    with ThreadPoolExecutor(cpu_count() or 1) as pool:
        try:
            for done, block in enumerate(pool.map(solved, parts), start=1):
                blocks.append(block)
                if watch:
                    watch(done / len(parts))
        except BaseException:
            pool.shutdown(wait=False, cancel_futures=True)
            raise
    every = np.full((4, len(works)), np.nan)
    every[:, rows] = np.concatenate(blocks, axis=1)
    return Screened(np.repeat(primaries.bite, count), *every)


class _Tables:
    """Torque over speed, and clamp and K over squeeze at each node, on even steps.

    With u = ln(squeeze·seat2 − 1/μ_e) the clamp required per unit of pull, G = S(θ1, T1)/(ΔT·2·tan β·seat1), is one
    smooth curve a node.
    """

    def __init__(self, base: Drivetrain, nodes: int):
        path = base.drive.shift_path(nodes)
        seat, self.seat = base.seats
        self.friction, self.closing, share = (
            base.wedge_friction,
            base.drive.closing_per_radius,
            base.belt.adhesion_share,
        )
        self.ratio, self.primary_wrap = path.ratio, path.primary_wrap.astype(np.float32)
        self.secondary_wrap = path.secondary_wrap.astype(np.float32)
        self.least = max(LEAST, float(np.log(max((self.seat - 1) / self.friction, 1e-12))))
        reach = np.linspace(self.least, MOST, CLAMP_POINTS)
        k = tension_log(np.exp(reach)[:, None] + 1 / self.friction, path.secondary_wrap, self.friction, share)
        summed = wrap_integral(path.primary_wrap, 1 / -np.expm1(-k), 1.0, k, self.friction, share)
        self.clamp = np.ascontiguousarray((summed / (self.closing * seat)).T.astype(np.float32)).ravel()
        self.logs = np.ascontiguousarray(k.T.astype(np.float32)).ravel()
        self.step = float(reach[1] - reach[0])
        self.offset = (np.arange(nodes) * CLAMP_POINTS).astype(np.int32)
        self.primary_radius = path.primary_radius.astype(np.float32)
        self.limit = self.closing * self.friction
        self.curve, self.factor, self.rev_limit = base.engine.torque, base.torque_factor, base.engine.rev_limit
        self.slowest, self.fastest = self.curve.first, self.curve.last
        even = np.linspace(self.slowest, self.fastest, TORQUE_POINTS)
        self.torque = (self.factor * self.curve(even)).astype(np.float32)
        self.speed_step = (self.fastest - self.slowest) / (TORQUE_POINTS - 1)
        self.highest = float(self.factor * self.curve.highest)

    def figures(self, weights: Single, spring: Single, clamp: Single, per_torque: Single) -> Array:
        """Mean, spread, end and least grip [4, k] of set-ups [k, n]; `per_torque` on the primary."""
        limit = np.float32(self.limit) * self.primary_radius
        left = 1 - limit * per_torque
        hold = np.where(left > 0, limit * clamp / np.where(left > 0, left, 1), np.inf)  # as balance.holding_torque

        def excess(speed: Array) -> Array:
            return weights * speed**2 - spring - self._required(self._torque(speed), clamp, per_torque, hold)[0]

        held = np.maximum(spring, np.float32(0))
        peak: Array = np.full(1, self.highest, np.float32)
        most = self._required(peak, clamp, per_torque, hold)[0]
        low, high = np.sqrt(held / weights), 1.02 * np.sqrt((held + most) / weights)
        speed = first_rise(excess, low, high, scan=SCAN, tolerance=TOLERANCE, most=STEPS)
        grip = self._grip(self._torque(speed), clamp, per_torque, hold)[:, window(speed.shape[1])]
        speed = self._engine_speed(speed, hold)
        return np.array([window_mean(speed), window_spread(speed), speed[:, -1], grip.min(axis=1)])

    def _engine_speed(self, held: Array, hold: Array) -> Array:
        """Where the engine runs, as Forces.engine_speed has it."""
        slips = self._torque(held) > hold
        if not slips.any():
            return held
        speed = held.copy()
        speed[slips] = first_fall(self.curve, hold[slips] / self.factor, held[slips].astype(float), self.rev_limit)
        return speed

    def _torque(self, speed: Array) -> Array:
        place = (np.clip(speed, self.slowest, self.fastest) - self.slowest) / self.speed_step
        index = np.minimum(place.astype(np.int32), TORQUE_POINTS - 2)
        below = self.torque[index]
        return below + (place - index).astype(np.float32) * (self.torque[index + 1] - below)

    def _required(
        self, torque: Array, clamp: Single, per_torque: Single, hold: Array
    ) -> tuple[Array, Array, Array, Array]:
        """The primary clamp needed and that of a belt that holds [N], the pull carried [N], the place in the table."""
        carried = np.minimum(torque, hold)
        pull = carried / self.primary_radius
        squeeze = self.closing * (clamp + per_torque * carried) / pull
        place = (np.log(np.maximum(squeeze * self.seat - 1 / self.friction, 1e-12)) - self.least) / self.step
        place = np.clip(place, 0.0, CLAMP_POINTS - 1.001).astype(np.float32)
        seated = pull * self._read(self.clamp, place)
        return np.maximum(seated, pull / self.limit), seated, pull, place

    def _read(self, table: Single, place: Array) -> Any:
        index = place.astype(np.int32)
        part = place - index.astype(np.float32)
        index += self.offset
        below = table[index]
        return below + part * (table[index + 1] - below)

    def _grip(self, torque: Array, clamp: Single, per_torque: Single, hold: Array) -> Array:
        """The smaller grip reserve of the two clutches [k, n]: the primary's of what is carried, the secondary's of
        the whole torque."""
        _, seated, pull, place = self._required(torque, clamp, per_torque, hold)
        reach = self.friction / self._read(self.logs, place)
        whole = self.limit * (clamp + per_torque * torque) * self.primary_radius / torque
        wrap = np.minimum(self.primary_wrap, self.secondary_wrap)
        return np.minimum(np.minimum(whole, self.limit * seated / pull), wrap * reach)
