"""The twin of a pull: the same pull with the logged throttle, simulated on a set-up and read by the same reader."""

import numpy as np

from jaxel.core.mechanism.errors import Impossible
from jaxel.core.mechanism.run.grid import gridded
from jaxel.core.mechanism.run.log import log_of
from jaxel.core.mechanism.run.pulls import Pull
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip, Throttle

from .reader import PullReading, RunReader

LONGEST = 120.0
"""Longest stretch of a pull that is simulated [s]."""

LEAD = 1.0
"""What is simulated before the pull [s]."""


def simulated_twin(
    reader: RunReader, read: PullReading, drivetrain: Drivetrain, read_as: Drivetrain | None = None
) -> RunReader | None:
    """The same pull simulated and read; None where it cannot be, or shows no pull. That of the reader's own machine is
    simulated once.

    Parameters: `drivetrain`, the machine that is simulated; `read_as`, the one its reader takes it for.
    """
    if drivetrain is not reader.drivetrain:
        return _made(read, drivetrain, read_as or drivetrain)
    if read.number not in reader.twins:
        reader.twins[read.number] = _made(read, drivetrain, drivetrain)
    return reader.twins[read.number]


def _made(read: PullReading, drivetrain: Drivetrain, read_as: Drivetrain) -> RunReader | None:
    grid, pull = read.grid, read.pull
    begin = max(0, pull.start - grid.span(LEAD))
    seconds = min((pull.stop - begin) * grid.step, LONGEST)
    lead = (pull.start - begin) * grid.step
    hz = float(np.clip(1 / grid.step, 1.0, 100.0))
    try:
        strip = Strip(duration=seconds, throttle=_throttle(read, pull, begin, seconds, lead), idle=_idle(read, begin))
        trace = simulate(drivetrain, strip, hz)
    except Impossible:
        return None
    found = RunReader(gridded(log_of(trace, tuple(grid.channels))), read_as)
    return found if found.pulls else None


def _idle(read: PullReading, begin: int) -> float:
    """The engine's speed before the pull, where it idles there; else the usual one."""
    engine = read.grid["engine"]
    if engine is None or read.pull.start - begin < 3:
        return Strip().idle
    before = float(np.nanmedian(engine[begin : read.pull.start]))
    return before if 60.0 < before < 260.0 else Strip().idle


def _throttle(read: PullReading, pull: Pull, begin: int, seconds: float, lead: float) -> Throttle:
    """The logged throttle from the pull's lead on; without one full throttle within the pull."""
    grid = read.grid
    throttle = grid["throttle"]
    if pull.known and throttle is not None:
        every = grid.span(0.05)
        points = np.arange(begin, min(pull.stop, len(throttle)), every)
        openings = np.clip(np.nan_to_num(throttle[points]), 0.0, 1.0)
        times = (points - begin) * grid.step
        kept = times < seconds
        return tuple(zip(times[kept].tolist(), openings[kept].tolist(), strict=True))
    edges: list[tuple[float, float]] = [(0.0, 0.0), (max(lead, 0.05), 0.0), (max(lead, 0.05) + 0.1, 1.0)]
    for chop in pull.chops:
        shut, opened = ((each - begin) * grid.step for each in (chop.shut, chop.reopened))
        edges += [(shut, 1.0), (shut + 0.05, 0.0), (max(opened, shut + 0.1), 0.0), (max(opened, shut + 0.1) + 0.1, 1.0)]
    times_only = [time for time, _ in edges]
    return tuple(edges) if times_only == sorted(set(times_only)) else tuple(edges[:3])
