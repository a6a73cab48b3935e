"""What two sheaves must squeeze for a belt to pull: the integrated wraps as curves over the tension ratio.

A wrap scales with its tension, so one curve a sheave tells all: S/T_in over K = ln(T1/T2). The driven is entered by the
slack side, the driver by the tight one.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .geometry import Path
from .wrap import Array, Flanks, wrapped

RATIOS = np.array([0.05, 0.15, 0.3, 0.5, 0.75, 1.0, 1.3, 1.6, 2.0, 2.4, 2.9, 3.5])
"""ln(T1/T2) at which a wrap is integrated [k]; beyond the last a belt counts as slipping."""

HALVINGS, CHORDS = 10, 7
"""How often the creep's bounds are halved, and then drawn together by chords: K to some 1e-4."""

TENSION, CREEP = 1000.0, 0.5
"""A tension [N], and the creep under it beyond which any belt slips as a whole, either way."""


@dataclass(frozen=True)
class Groove:
    """A belt on its path; curves [n, k] over RATIOS."""

    flanks: Flanks
    path: Path

    @cached_property
    def _thrusts(self) -> tuple[Array, Array]:
        """S/T_in of driver and driven [n, k]: the creep that pulls each K is searched, all at once."""
        path = self.path
        wraps = np.stack([path.primary_wrap, path.secondary_wrap])[:, :, None]
        radii = np.stack([path.primary_radius, path.secondary_radius])[:, :, None]
        wanted = np.stack([-RATIOS, RATIOS])[:, None, :]
        shape = np.broadcast_shapes(wraps.shape, wanted.shape)
        low, high = np.full(shape, -CREEP), np.full(shape, CREEP)
        under, over = np.full(shape, -10.0), np.full(shape, 10.0)
        for step in range(HALVINGS + CHORDS):
            share = 0.5 if step < HALVINGS else -under / (over - under)
            creep = low + share * (high - low)
            off = np.log(wrapped(self.flanks, TENSION, creep, wraps, radii).leaving / TENSION) - wanted
            short = off < 0
            low, under = np.where(short, creep, low), np.where(short, off, under)
            high, over = np.where(short, high, creep), np.where(short, over, off)
            if step >= HALVINGS:  # an end that stays counts for half: the Illinois rule
                under, over = np.where(short, under, under / 2), np.where(short, over / 2, over)
        creep = low - under / (over - under) * (high - low)
        thrust = wrapped(self.flanks, TENSION, creep, wraps, radii).thrust / TENSION
        return thrust[0], thrust[1]

    @cached_property
    def squeezes(self) -> Array:
        """Thrust of the driven over the pull, F2/ΔT, at each K [n, k]; falls along K."""
        return np.asarray(self._thrusts[1] / np.expm1(RATIOS))

    @cached_property
    def clamps(self) -> Array:
        """Thrust the driver needs over the pull, F1/ΔT, at each K [n, k]."""
        return np.asarray(self._thrusts[0] * np.exp(RATIOS) / np.expm1(RATIOS))
