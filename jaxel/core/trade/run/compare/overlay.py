"""Pulls of two sets laid over each other along time, speed or distance."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.run.road import start_of
from jaxel.core.units import KPH, RPM

from ..reader import PullReading
from .sets import SetRun

Axis = Literal["time", "speed", "distance"]

POINTS = 90
"""Places along the axis at which pulls are laid over each other."""


@dataclass(frozen=True)
class LaidOver:
    """Pulls of two sets along one axis: `at` [points]; engine speed of each pull of `a` and of `b`, of their means, and
    of B less A with half of its 95 % interval [rpm], None where there is no second pull to say it."""

    axis: Axis
    at: list[float]
    a: list[list[float]]
    b: list[list[float]]
    mean_a: list[float]
    mean_b: list[float]
    difference: list[float]
    half: list[float] | None


def laid_over(a: Sequence[SetRun], b: Sequence[SetRun], axis: Axis) -> LaidOver | None:
    """The full-throttle pulls of two sets over each other, where all of them went; None where they share no stretch."""
    sides = [[_along(each, axis) for run in some for each in run.pulls if each.pull.stabbed] for some in (a, b)]
    known = [[each for each in side if each is not None] for side in sides]
    if not all(known):
        return None
    every = [each for side in known for each in side]
    low, high = max(float(x[0]) for x, _ in every), min(float(x[-1]) for x, _ in every)
    if not high > low:
        return None
    at = np.linspace(low, high, POINTS)
    one, other = (np.array([np.interp(at, x, y) for x, y in side]) for side in known)
    off = other.mean(axis=0) - one.mean(axis=0)
    freedom = len(one) + len(other) - 2
    half = None
    if freedom > 0:
        from scipy.special import stdtrit  # slow to import: a server answers before it needs it

        squares = ((one - one.mean(axis=0)) ** 2).sum(axis=0) + ((other - other.mean(axis=0)) ** 2).sum(axis=0)
        pooled = np.sqrt(np.median(squares) / freedom)  # of the whole stretch: a point alone has few pulls
        wide = float(stdtrit(freedom, 0.975) * pooled * np.sqrt(1 / len(one) + 1 / len(other)))
        half = [round(wide, 1)] * POINTS

    def listed(values: Array) -> list[float]:
        rounded: list[float] = np.round(values, 2).tolist()
        return rounded

    return LaidOver(
        axis, listed(at), [listed(each) for each in one], [listed(each) for each in other],
        listed(one.mean(axis=0)), listed(other.mean(axis=0)), listed(off), half,
    )  # fmt: skip


def _along(one: PullReading, axis: Axis) -> tuple[Array, Array] | None:
    """Engine speed of a pull along an axis [rpm], from where it moves to its end; None without what that takes."""
    grid, pull = one.grid, one.pull
    if grid["engine"] is None or (axis != "time" and grid["speed"] is None):
        return None
    here = slice(pull.start, pull.chops[0].shut if pull.chops else pull.stop)
    engine = grid.level("engine", 0.2)[here] / RPM
    began = start_of(grid, pull)
    clock = grid.time[here] - (began if began is not None else grid.time[pull.start])
    if axis == "time":
        x = clock
    else:
        speed = grid.level("speed", 0.5)[here]
        if axis == "speed":
            x = np.maximum.accumulate(np.nan_to_num(speed)) / KPH
        else:
            x = np.concatenate([[0.0], np.cumsum(np.nan_to_num(speed[1:] + speed[:-1]) / 2 * grid.step)])
    good = np.isfinite(engine) & np.isfinite(x) & (clock >= 0)
    rising = good & np.concatenate([[True], np.diff(x) > 0])
    return (x[rising], engine[rising]) if rising.sum() > 10 else None
