"""Like with like: a log's figures beside those of the same reader on a simulated run of the set-up.

What a reader finds is not what a prediction says: the first motion lies above the bite, a run passes the sheave's
travel in its own time. The same reader on a simulated run with the logged throttle finds the same differences, and
what the log says beyond them, measured less simulated, is what corrects the model.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import hypot, sqrt

import numpy as np

from jaxel.core.formats.run.runs import RunFigure
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.run.reading import Found, Reading
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.core.units import RPM

from ..setup.figures import FIGURES, figures_of
from .reader import Marks, RunReader
from .twin import simulated_twin

REPEAT: dict[RunFigure, float] = {
    "engagement_rpm": 40.0,
    "shift_mean_rpm": 20.0,
    "slope_rpm": 40.0,
    "full_shift_rpm": 30.0,
    "low_ratio": 0.05,
    "high_ratio": 0.01,
}
"""Standard deviation of a figure of a good log from run to run, until a machine's own repeats say; from memory."""

ENOUGH = 3
"""Runs on one set-up from which their own deviation is taken."""

LEAST_OWN = 0.25
"""Least that own repeats may say, as a share of the usual: three runs can lie together by chance."""


@dataclass(frozen=True)
class Like:
    """One figure of a log [rpm, ratio]: as `read` with `read_sd`; what the same reader finds on the `simulated` run;
    and `counted`, what it stands for in the model's own terms: its prediction and measured less simulated."""

    figure: RunFigure
    read: float
    read_sd: float
    simulated: float
    counted: float

    @property
    def miss(self) -> float:
        """Measured less simulated."""
        return self.read - self.simulated

    def sd(self, repeat: Mapping[RunFigure, float] = REPEAT) -> float:
        """What it is in doubt by: √(read² + repeat²)."""
        return hypot(self.read_sd, repeat[self.figure])


def compared(reader: RunReader, setup: SetupDocument, marks: Mapping[int, Marks] | None = None) -> list[Like]:
    """The figures of a log that can be set beside a simulated run of the set-up it was made with.

    Engagement of the roll-on, the shift of the full-throttle pull and its ratios; a figure that either lacks is left
    out. Without a throttle full throttle is simulated within the pull, which says nothing of a roll-on.

    Parameters: `setup` with the belt and the air of the run; `marks` a hand moved, by pull.
    """
    drivetrain = reader.drivetrain or setup.core()
    static = dict(zip(FIGURES, figures_of([setup]).values[0], strict=True))
    pairs: list[tuple[RunFigure, Found, Found]] = []
    engaged, shifted = reader.of_engagement, reader.of_shift
    if engaged is not None and engaged.pull.known and isinstance(engaged.engagement, Reading):
        marked = reader.pull(engaged.number, (marks or {}).get(engaged.number))
        twin = simulated_twin(reader, marked, drivetrain)
        if twin is not None:
            pairs.append(("engagement_rpm", marked.engagement, twin.readings[0].engagement))
    if shifted is not None and isinstance(shifted.shift.mean, Reading) and (shifted.pull.known or shifted.pull.stabbed):
        pairs += _of_shift(reader, shifted.number, (marks or {}).get(shifted.number), drivetrain)
    return list(_told(pairs, static))


def _told(pairs: Sequence[tuple[RunFigure, Found, Found]], static: Mapping[RunFigure, float]) -> Iterator[Like]:
    for figure, read, simulated in pairs:
        if isinstance(read, Reading) and isinstance(simulated, Reading) and np.isfinite(static[figure]):
            factor = 1.0 if figure in ("low_ratio", "high_ratio") else 1 / RPM
            miss = (read.value - simulated.value) * factor
            yield Like(figure, read.value * factor, read.sd * factor, simulated.value * factor,
                       float(static[figure]) + miss)  # fmt: skip


def _of_shift(
    reader: RunReader, number: int, marks: Marks | None, drivetrain: Drivetrain
) -> list[tuple[RunFigure, Found, Found]]:
    """The shift of a pull and of its twin, over the window both cover."""
    read = reader.pull(number, marks)
    twin = simulated_twin(reader, read, drivetrain)
    if twin is None:
        return []
    other = twin.readings[0]
    if read.shift.covered is None or other.shift.covered is None or read.shift.over != other.shift.over:
        return []
    window = (max(read.shift.covered[0], other.shift.covered[0]), min(read.shift.covered[1], other.shift.covered[1]))
    read, other = reader.pull(number, marks, window), twin.pull(other.number, None, window)
    pairs: list[tuple[RunFigure, Found, Found]] = [
        ("shift_mean_rpm", read.shift.mean, other.shift.mean),
        ("slope_rpm", read.shift.slope, other.shift.slope),
        ("full_shift_rpm", read.shift.full_shift, other.shift.full_shift),
    ]
    if read.shift.over == "travel":
        pairs.append(("low_ratio", read.shift.low, other.shift.low))
        if isinstance(read.shift.full_shift, Reading) and isinstance(other.shift.full_shift, Reading):
            pairs.append(("high_ratio", read.shift.high, other.shift.high))
    return pairs


def repeats(groups: Sequence[Sequence[tuple[float, float]]], figure: RunFigure) -> tuple[float, int]:
    """Deviation of a figure from run to run, and how many runs it is known from, 0 where it is the usual one.

    s² = Σ(x − x̄)² / Σ(n − 1) over runs on one set-up, less what each was read with; the usual REPEAT until ENOUGH runs
    on one set-up exist.

    Parameters: `groups` of (value, read_sd), each of runs on one set-up of a machine.

    >>> repeats([[(7900.0, 2.0), (7910.0, 2.0)]], "shift_mean_rpm")
    (20.0, 0)
    >>> repeats([[(7900.0, 2.0), (7910.0, 2.0), (7920.0, 2.0)]], "shift_mean_rpm")
    (9.797958971132712, 3)

    Reference: pooled variance, any text on statistics.
    """
    enough = [group for group in groups if len(group) >= ENOUGH]
    if not enough:
        return REPEAT[figure], 0
    squares = sum((value - sum(x for x, _ in group) / len(group)) ** 2 for group in enough for value, _ in group)
    freedom = sum(len(group) - 1 for group in enough)
    read = [sd**2 for group in enough for _, sd in group]
    own = sqrt(max(squares / freedom - sum(read) / len(read), 0.0))
    return max(own, LEAST_OWN * REPEAT[figure]), sum(len(group) for group in enough)
