"""Back-shift in a log: how far the engine drops after a chop, and how long it takes to come back.

Its limits are from memory, tried on simulated logs.
"""

from math import sqrt

import numpy as np

from ..numerics.tables import Array
from .grid import Grid
from .pulls import Chop, Pull
from .reading import Found, Reading, Unread
from .shifting import NEAR, back_from
from .smooth import level_noise

CALM = 0.15
"""Length over which the engine is smoothed [s]."""


def back_shift(grid: Grid, pull: Pull, marks: tuple[int | None, int | None] = (None, None)) -> tuple[Found, Found]:
    """The drop of the engine's speed after the throttle was opened again [rad/s], and the time until it is back within
    NEAR of its speed before [s]; of the pull's first chop.

    Parameters: `marks`, points where a hand says the throttle opened again and the engine was back.
    """
    engine = grid["engine"]
    if engine is None:
        return Unread("no engine"), Unread("no engine")
    if not pull.chops:
        return Unread("no chop"), Unread("no chop")
    chop = pull.chops[0]
    stop = pull.chops[1].shut if len(pull.chops) > 1 else pull.stop
    calm = grid.level("engine", CALM) if grid.step < CALM / 2.5 else engine
    opened = chop.reopened if pull.known else _turns(grid, calm, chop, stop)
    opened = marks[0] if marks[0] is not None else opened
    before = float(np.nanmedian(engine[max(0, chop.shut - grid.span(0.5)) : max(1, chop.shut - grid.span(0.05))]))
    after = calm[chop.shut : min(stop, opened + grid.span(3.0))]
    if not np.any(np.isfinite(after)):
        return Unread("blank"), Unread("blank")
    white = level_noise(grid.noise["engine"], max(grid.every["engine"], grid.step), CALM)
    least = int(np.nanargmin(after))
    dip = Reading(before - float(after[least]), white * sqrt(1.5), grid.span(CALM), chop.shut + least)
    back = marks[1] if marks[1] is not None else back_from(grid, engine, chop.shut, opened, stop)
    if back is None:
        return dip, Unread("not recovered")
    if back <= opened:
        return dip, Unread("crossed")
    gains = max(float(grid.rate("engine", CALM)[back]), NEAR * before)
    late = white / gains
    return dip, Reading(
        float(grid.time[back] - grid.time[opened]), sqrt(late**2 + grid.step**2 / 3), back - opened, back
    )


def _turns(grid: Grid, calm: Array, chop: Chop, stop: int) -> int:
    """Without a throttle: where the engine is lowest about the end of a chop."""
    last = min(stop, chop.reopened + grid.span(1.0))
    return chop.shut + int(np.nanargmin(calm[chop.shut : last]))
