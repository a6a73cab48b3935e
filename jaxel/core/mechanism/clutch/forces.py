"""The forces on the primary's moving sheave at every node of many set-ups at once, and the speed that balances them.

Shapes: k set-ups of n nodes. One prediction is k = 1; a band, the steps of every slot and a whole stock of parts are
one call each. Arrays broadcast to [k, n], so that what set-ups share stands once.
"""

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from functools import cached_property
from typing import Any

import numpy as np

from ..numerics.roots import first_fall, first_rise
from ..numerics.tables import Array, HeldCurve, Mask
from ..vehicle.drivetrain import Drivetrain
from .balance import Balance, balance, holding_torque, seated_clamp
from .geometry import BeltPath


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
        return cls.made(
            drivetrain, path, drivetrain.primary.weight_factor(path.travel, backshift=backshift),
            drivetrain.primary.spring.force(path.travel),
            drivetrain.secondary.clamp_terms(path.secondary_opening, backshift=backshift),
        )  # fmt: skip

    @classmethod
    def made(
        cls, drivetrain: Drivetrain, path: BeltPath, weights: Array, spring: Array, clamp_terms: tuple[Array, Array]
    ) -> "Forces":
        """The forces of one set-up [n] from what its primary and its secondary give along the path."""
        clamp, per_torque = clamp_terms
        primary_seat, secondary_seat = drivetrain.seats
        return cls(
            path=path,
            weights=weights,
            spring=spring,
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
        arrays = [np.empty((len(each), *each[0].weights.shape)) for _ in each[0]._arrays()]
        for row, one in enumerate(each):
            for all_of_it, values in zip(arrays, one._arrays(), strict=True):
                all_of_it[row] = values
        return each[0]._with(arrays)

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

    def balance(self, speed: Array) -> Balance:
        """The belt at full throttle at engine speeds [rad/s, k × n or any axes before them]."""
        return balance(
            self.path.primary_radius,
            self.path.primary_wrap,
            self.path.secondary_wrap,
            self.torque_factor * self.torque(speed),
            self.clamp,
            self.clamp_per_torque,
            closing=self.closing,
            friction=self.friction,
            adhesion_share=self.adhesion_share,
            primary_seat=self.primary_seat,
            secondary_seat=self.secondary_seat,
        )

    def running(self, held: Array, speed: Array) -> Balance:
        """The belt at the speeds that balance it, the engine running on at others where the secondary slips.

        The belt carries what is held; the primary squeezes with what its weights give at the engine's own speed.
        Parameters: `held` and `speed` [rad/s, k × n].
        """
        found = self.balance(held)
        given = self.weights * speed**2 - self.spring
        return replace(found, primary_clamp=np.where(found.secondary_slips, given, found.primary_clamp))

    @cached_property
    def hold(self) -> Array:
        """Torque on the primary that the secondary holds at each node [N·m, k × n]."""
        return holding_torque(
            self.path.primary_radius, self.clamp, self.clamp_per_torque, closing=self.closing, friction=self.friction
        )

    def excess(self, speed: Array) -> Array:
        """F1_available − F1_required at engine speeds [N, shape of `speed`]."""
        return self.weights * speed**2 - self.spring - self.required(self.torque_factor * self.torque(speed))

    def required(self, torque: Array) -> Array:
        """Primary clamp the belt asks for under a torque [N]: of what the secondary does not hold, nothing."""
        carried = np.minimum(torque, self.hold)
        pull = carried / self.path.primary_radius
        seated, _ = seated_clamp(
            pull, self.closing * (self.clamp + self.clamp_per_torque * carried) / pull, self.path.primary_wrap,
            self.path.secondary_wrap, closing=self.closing, friction=self.friction,
            adhesion_share=self.adhesion_share, primary_seat=self.primary_seat, secondary_seat=self.secondary_seat,
        )  # fmt: skip
        return np.maximum(seated, pull / (self.closing * self.friction))

    def bracket(self) -> tuple[Array, Array]:
        """Speeds [rad/s] below which nothing is carried, and above which the weights always win.

        Below the release speed of a node nothing is carried; above the speed that would carry the engine's peak torque
        the weights always win.
        """
        most = self.required(np.asarray(self.torque.highest * self.torque_factor))
        held = np.maximum(self.spring, 0.0)
        return np.sqrt(held / self.weights) + 0 * most, 1.01 * np.sqrt((held + most) / self.weights)

    def held_speed(self) -> Array:
        """The lowest engine speed at which the weights come to outweigh what they must hold [rad/s, k × n].

        Solves F1_available(ω, x) = F1_required(M(ω), x).
        """
        return first_rise(self.excess, *self.bracket())

    def slips(self, held: Array) -> Mask:
        """Where the secondary cannot hold what the engine gives at the speeds that balance the belt [k × n]."""
        return np.asarray(self.torque_factor * self.torque(held) > self.hold)

    def engine_speed(self, held: Array, rev_limit: float) -> Array:
        """Where the engine runs at the speeds that balance the belt, `held` [rad/s, k × n].

        It is held there but where the secondary slips: what it gives beyond what is held speeds it on, up to the lowest
        speed at which the curve has fallen to that, at most to the `rev_limit` [rad/s].
        """
        slips = self.slips(held)
        if not slips.any():
            return held
        factor, hold = (np.broadcast_to(each, held.shape)[slips] for each in (self.torque_factor, self.hold))
        speed = held.copy()
        speed[slips] = first_fall(self.torque, hold / factor, held[slips], rev_limit)
        return speed
