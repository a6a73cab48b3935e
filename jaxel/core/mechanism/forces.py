"""The forces on the primary's moving sheave at every node of many set-ups at once, and the speed that balances them.

Shapes: k set-ups of n nodes. One prediction is k = 1; a band, the steps of every slot and a whole stock of parts are
one call each. Arrays broadcast to [k, n], so that what set-ups share stands once.
"""

from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, fields, replace
from os import cpu_count
from typing import Any

import numpy as np

from .balance import Balance, balance, tension_log, wrap_integral
from .drivetrain import Drivetrain
from .geometry import BeltPath
from .roots import false_position, first_rise
from .tables import Array, HeldCurve, Mask

ROWS = 1024
"""Set-ups solved together: few enough for the processor's cache, enough to outweigh a call's own time."""

TABLE_FROM = 400
"""Set-ups from which tables of torque and clamp pay for their making."""

TORQUE_POINTS, CLAMP_POINTS = 2048, 2048
HELD_WITHIN = 1e-5
"""Share of the clamp to which a held speed balances it; more is left only at a jump."""

CLOSE = 1e-3
"""Relative distance from the root found with the tables within which the exact one is looked for."""


@dataclass(frozen=True)
class Forces:
    """What acts on the sheaves; every array broadcasts to [k, n].

    `path` of the belt; `weights` A(x) with friction [kg·m]; `spring` of the primary [N]; `clamp` of the secondary
    without torque [N] and `clamp_per_torque` per torque on the primary [1/m]; `torque_factor` on the engine's curve
    [-]; `friction` μ_e [-]; `closing` 2·tan β [-]; `primary_seat` and `secondary_seat` [-]; `torque`, the engine's
    curve; `adhesion_share` λ [-].
    """

    path: BeltPath
    weights: Array
    spring: Array
    clamp: Array
    clamp_per_torque: Array
    torque_factor: Array
    friction: Array
    closing: Array
    primary_seat: Array
    secondary_seat: Array
    torque: HeldCurve
    adhesion_share: float

    @classmethod
    def of(cls, drivetrain: Drivetrain, path: BeltPath, *, backshift: bool = False) -> "Forces":
        """The forces of one set-up [n]; raises Impossible where the weights cannot close the sheave."""
        clamp, per_torque = drivetrain.secondary.clamp_terms(path.secondary_opening, backshift=backshift)
        primary_seat, secondary_seat = drivetrain.seats
        return cls(
            path=path,
            weights=drivetrain.primary.weight_factor(path.travel, backshift=backshift),
            spring=drivetrain.primary.spring.force(path.travel),
            clamp=clamp,
            clamp_per_torque=per_torque * path.ratio,
            torque_factor=np.asarray(drivetrain.torque_factor),
            friction=np.asarray(drivetrain.wedge_friction),
            closing=np.asarray(drivetrain.drive.closing_per_radius),
            primary_seat=np.asarray(primary_seat),
            secondary_seat=np.asarray(secondary_seat),
            torque=drivetrain.engine.torque,
            adhesion_share=drivetrain.belt.adhesion_share,
        )

    @classmethod
    def stacked(cls, each: Sequence["Forces"]) -> "Forces":
        """Set-ups of n nodes each as one [k, n]; they share engine and adhesion share."""
        shape = each[0].weights.shape
        columns = zip(*(one._arrays() for one in each), strict=True)
        return each[0]._with([np.stack([np.broadcast_to(values, shape) for values in column]) for column in columns])

    def _arrays(self) -> list[Array]:
        """What has a value a node: the path's arrays, then the forces'."""
        path = [getattr(self.path, part.name) for part in fields(BeltPath)]
        return [*path, self.weights, self.spring, self.clamp, self.clamp_per_torque, self.torque_factor,
                self.friction, self.closing, self.primary_seat, self.secondary_seat]  # fmt: skip

    def _with(self, arrays: Sequence[Array]) -> "Forces":
        """The same engine and groove with other values, in the order of `_arrays`."""
        path, forces = arrays[: len(fields(BeltPath))], arrays[len(fields(BeltPath)) :]
        named: dict[str, Any] = dict(zip([each.name for each in fields(Forces)[1:]], forces, strict=False))
        return replace(self, path=BeltPath(*path), **named)

    def rows(self, which: slice | Mask) -> "Forces":
        """Some of the k set-ups; what has no axis of set-ups is shared."""
        count = len(self.weights)
        return self._with([v[which] if v.ndim == 2 and len(v) == count else v for v in self._arrays()])

    def balance(self, speed: Array) -> Balance:
        """The belt at full throttle at engine speeds [rad/s, k × n or any axes before them]."""
        return self._under(self.torque_factor * self.torque(speed))

    def held(self, speed: Array) -> Balance:
        """The belt at the speeds it is held at [rad/s, k × n].

        The clamp required jumps where the secondary begins to slip. A node held at that jump slips: its clamp is what
        the weights give there.
        """
        found = self.balance(speed)
        given = self.weights * speed**2 - self.spring
        jumped: Mask = np.abs(given - found.primary_clamp) > HELD_WITHIN * given
        if not jumped.any():
            return found
        slipping = self._under(self.torque_factor * self.torque(speed), slipping=jumped | found.secondary_slips)
        return replace(slipping, primary_clamp=np.where(jumped, given, slipping.primary_clamp))

    def _under(self, torque: Array, slipping: Mask | None = None) -> Balance:
        return balance(
            self.path.primary_radius,
            self.path.primary_wrap,
            self.path.secondary_wrap,
            torque,
            self.clamp + self.clamp_per_torque * torque,
            closing=self.closing,
            friction=self.friction,
            adhesion_share=self.adhesion_share,
            primary_seat=self.primary_seat,
            secondary_seat=self.secondary_seat,
            slipping=slipping,
        )

    def excess(self, speed: Array) -> Array:
        """F1_available − F1_required at engine speeds [N, shape of `speed`]."""
        return self.weights * speed**2 - self.spring - self.balance(speed).primary_clamp

    def bracket(self) -> tuple[Array, Array]:
        """Speeds [rad/s] below which nothing is carried, and above which the weights always win.

        Below the release speed of a node nothing is carried; above the speed that would carry the engine's peak
        torque, whether the secondary held it or slipped, the weights always win.
        """
        peak = np.asarray(self.torque.highest * self.torque_factor)
        most = np.maximum(self._under(peak).primary_clamp, self._under(peak, slipping=np.array(False)).primary_clamp)
        held = np.maximum(self.spring, 0.0)
        return np.sqrt(held / self.weights) + 0 * most, 1.01 * np.sqrt((held + most) / self.weights)

    def held_speed(self) -> Array:
        """The lowest engine speed at which the weights come to outweigh what they must hold [rad/s, k × n].

        Solves F1_available(ω, x) = F1_required(M(ω), x). Many set-ups on one belt path are first closed on tables
        and then exactly within CLOSE of that; the few whose root does not lie there are solved like one set-up.
        """
        if self.weights.ndim < 2 or len(self.weights) < TABLE_FROM or self.path.primary_radius.ndim > 1:
            return first_rise(self.excess, *self.bracket())
        tables = _Tables(self)
        parts = list(_slices(len(self.weights), ROWS))
        with ThreadPoolExecutor(cpu_count() or 1) as pool:
            return np.concatenate(list(pool.map(lambda part: self.rows(part)._near(tables), parts)))

    def _near(self, tables: "_Tables") -> Array:
        low, high = tables.bracket(self)
        near = first_rise(lambda speed: tables.excess(self, speed), low, high, tolerance=1e-5)
        a, b = near * (1 - CLOSE), near * (1 + CLOSE)
        at_a, at_b = self.excess(a), self.excess(b)
        astray: Mask = ~np.all((at_a < 0) & (at_b >= 0), axis=-1)
        speed = np.empty_like(near)
        if astray.any():
            few = self.rows(astray)
            speed[astray] = first_rise(few.excess, *few.bracket())
        sure = ~astray
        if sure.any():
            rest = self.rows(sure)
            speed[sure] = false_position(rest.excess, a[sure], b[sure], at_a[sure], at_b[sure], 1e-9)
        return speed


def _slices(count: int, size: int) -> Iterator[slice]:
    return (slice(start, start + size) for start in range(0, count, size))


class _Tables:
    """Torque over speed, and clamp over squeeze at each node, on even steps: what a search far from the root needs.

    With u = ln(squeeze·seat2 − 1/μ_e) the clamp required per unit of pull, G = S(θ1, T1)/(ΔT·2·tan β·seat1), is one
    smooth curve a node, the same for every set-up on the path; where the secondary slips it is one number a node.
    """

    LEAST, MOST = -28.0, 14.0  # u: from a belt that slips to a thousand times what any clutch squeezes

    def __init__(self, forces: Forces):
        self.friction, closing = float(np.max(forces.friction)), float(np.max(forces.closing))
        self.seat, seat = float(np.max(forces.secondary_seat)), float(np.max(forces.primary_seat))
        path, nodes = forces.path, forces.path.primary_radius.shape[-1]
        reach = np.linspace(self.LEAST, self.MOST, CLAMP_POINTS)
        squeeze = np.exp(reach)[:, None] + 1 / self.friction
        k = tension_log(squeeze, path.secondary_wrap, self.friction, forces.adhesion_share)
        tight = 1 / -np.expm1(-k)
        summed = wrap_integral(path.primary_wrap, tight, 1.0, k, self.friction, forces.adhesion_share)
        self.clamp = np.ascontiguousarray((summed / (closing * seat)).T)
        whole = self.friction * path.secondary_wrap
        slipping = wrap_integral(
            path.primary_wrap, 1 / -np.expm1(-whole), 1.0, whole, self.friction, forces.adhesion_share
        )
        self.slipping = slipping / closing
        self.clamp_step = float(reach[1] - reach[0])
        # The clamp per pull of a secondary that only just holds.
        only_just = np.log(max((self.seat - 1) / self.friction, np.exp(self.LEAST)))
        self.at_slip = self.clamp[:, int((only_just - self.LEAST) / self.clamp_step)]
        self.offset = np.arange(nodes) * CLAMP_POINTS
        self.pull_per_torque = 1 / path.primary_radius
        self.slowest, self.fastest = forces.torque.first, forces.torque.last
        self.torque = forces.torque(np.linspace(self.slowest, self.fastest, TORQUE_POINTS))
        self.speed_step = (self.fastest - self.slowest) / (TORQUE_POINTS - 1)
        self.highest = forces.torque.highest

    def required(self, forces: Forces, torque: Array) -> Array:
        """Primary clamp the belt asks for under a torque [N]."""
        pull = torque * self.pull_per_torque
        squeeze = forces.closing * (forces.clamp + forces.clamp_per_torque * torque) / pull
        slips = squeeze * self.friction <= 1
        place = (np.log(np.maximum(squeeze * self.seat - 1 / self.friction, 1e-12)) - self.LEAST) / self.clamp_step
        place = np.clip(place, 0.0, CLAMP_POINTS - 1.001)
        index = place.astype(np.int64)
        part = place - index
        index += self.offset
        below = self.clamp.ravel()[index]
        held = below + part * (self.clamp.ravel()[index + 1] - below)
        return pull * np.where(slips, self.slipping, held)

    def excess(self, forces: Forces, speed: Array) -> Array:
        """F1_available − F1_required at engine speeds [N]."""
        place = (np.clip(speed, self.slowest, self.fastest) - self.slowest) / self.speed_step
        index = np.minimum(place.astype(np.int64), TORQUE_POINTS - 2)
        below = self.torque[index]
        torque = forces.torque_factor * (below + (place - index) * (self.torque[index + 1] - below))
        return forces.weights * speed**2 - forces.spring - self.required(forces, torque)

    def bracket(self, forces: Forces) -> tuple[Array, Array]:
        """As Forces.bracket, from the tables."""
        peak = np.asarray(self.highest * forces.torque_factor)
        most = np.maximum(self.required(forces, peak), peak * self.pull_per_torque * self.at_slip)
        held = np.maximum(forces.spring, 0.0)
        return np.sqrt(held / forces.weights) + 0 * most, 1.02 * np.sqrt((held + most) / forces.weights)
