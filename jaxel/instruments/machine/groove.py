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

SEARCH = 26
"""Halvings of the creep's bounds: K to some 1e-3."""

CREEP = 0.2
"""Creep beyond which any belt slips as a whole, either way."""


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
        for _ in range(SEARCH):
            middle = (low + high) / 2
            pulled = np.log(wrapped(self.flanks, 1.0, middle, wraps, radii).leaving)
            low, high = np.where(pulled < wanted, middle, low), np.where(pulled < wanted, high, middle)
        thrust = wrapped(self.flanks, 1.0, (low + high) / 2, wraps, radii).thrust
        return thrust[0], thrust[1]

    @cached_property
    def squeezes(self) -> Array:
        """Thrust of the driven over the pull, F2/ΔT, at each K [n, k]; falls along K."""
        return np.asarray(self._thrusts[1] / np.expm1(RATIOS))

    @cached_property
    def clamps(self) -> Array:
        """Thrust the driver needs over the pull, F1/ΔT, at each K [n, k]."""
        return np.asarray(self._thrusts[0] * np.exp(RATIOS) / np.expm1(RATIOS))
