"""A log read as a technician reads it: the figures of its pulls, each with its doubt, or why there is none."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.run.chop import back_shift
from jaxel.core.mechanism.run.grid import Grid, gridded
from jaxel.core.mechanism.run.log import Log
from jaxel.core.mechanism.run.pulls import Pull, find_pulls
from jaxel.core.mechanism.run.reading import Found, Reading, Unread
from jaxel.core.mechanism.run.road import Haul, hauled, overall_gearing, time_to_distance, time_to_speed
from jaxel.core.mechanism.run.shifting import Shift, shift_of
from jaxel.core.mechanism.run.slip import Slip, slips_of
from jaxel.core.mechanism.run.take_off import Lock, Motion, engagement, first_motion, locked, motion_of
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.core.units import KPH, MPH, RPM

Mark = Literal["engagement", "shift_start", "full_shift", "reopened", "recovered"]
"""What a hand may move along the trace."""

MARK_WORDS: Mapping[str, str] = {
    "engagement": "first motion",
    "shift_start": "shift starts",
    "full_shift": "full shift",
    "reopened": "throttle open again",
    "recovered": "back from the chop",
}
"""What the marks are called."""

Marks = Mapping[Mark, float]
"""Marks that were moved, each at a stamp of the log [s]."""

MARGIN = 2.0
"""What is looked at before and after a pull [s]."""

TIMES: dict[str, float] = {"to_30_mph_s": 30 * MPH, "to_60_mph_s": 60 * MPH}
DISTANCES: dict[str, float] = {"to_200_m_s": 200.0, "to_400_m_s": 400.0}


@dataclass(frozen=True)
class PullReading:
    """Everything one pull gives [SI], each figure or why there is none, on the stretch of the grid about it."""

    number: int
    grid: Grid
    pull: Pull
    engagement: Found
    shift: Shift
    dip: Found
    recovery: Found
    times: dict[str, Found]
    gearing: Found
    haul: Haul
    full_throttle: Found
    slips: tuple[Slip, ...]
    lock: Lock | None

    @property
    def marks(self) -> dict[Mark, float]:
        """Where the marks of this pull stand, by the log's stamps [s]."""
        shift = self.shift
        places: dict[Mark, int | None] = {
            "engagement": self.engagement.at,
            "shift_start": shift.start.at,
            "full_shift": shift.full_shift.at if isinstance(shift.full_shift, Reading) else None,
            "reopened": self.pull.chops[0].reopened if self.pull.chops else None,
            "recovered": self.recovery.at,
        }
        return {mark: float(self.grid.stamped[at]) for mark, at in places.items() if at is not None}


@dataclass(frozen=True)
class Sheaves:
    """Lowest and highest gear the sheaves allow, engine over secondary, and the speed that an engine turn a minute
    gives at a ratio of 1 [km/h per rpm]."""

    low_ratio: float
    high_ratio: float
    kph_per_rpm: float


class RunReader:
    """A log on its even clock, with what is known of the machine; reads its pulls, as found or with marks moved.

    Raises InvalidValue (field `log`) for a log too short to hold anything.
    """

    def __init__(self, grid: Grid, drivetrain: Drivetrain | None = None):
        self.grid, self.drivetrain = grid, drivetrain
        if len(self.grid.time) < 8 or not self.grid.channels:
            raise InvalidValue("log", "is too short to hold a run")
        vehicle = drivetrain.vehicle if drivetrain else None
        self.gear = vehicle.drive_ratio / vehicle.rolling_radius if vehicle else None
        self.motion: Motion | None = motion_of(self.grid, self.gear)
        self.pulls = find_pulls(self.grid, self.motion.values if self.motion else None)
        self.twins: dict[int, RunReader | None] = {}  # its pulls simulated on its own machine, by number

    @staticmethod
    def of(log: Log, drivetrain: Drivetrain | None = None) -> "RunReader":
        """A reader of a log as it was logged."""
        return RunReader(gridded(log), drivetrain)

    @cached_property
    def readings(self) -> list[PullReading]:
        """Every pull as it was found."""
        return [self.pull(number) for number in range(len(self.pulls))]

    def pull(self, number: int, marks: Marks | None = None, most: tuple[float, float] | None = None) -> PullReading:
        """One pull, counted from 0; `marks` as a hand moved them, `most` the window of the shift to be read."""
        whole = self.pulls[number]
        begin = max(0, whole.start - self.grid.span(MARGIN))
        end = min(len(self.grid.time), whole.stop + self.grid.span(MARGIN))
        grid, pull = self.grid.cut(begin, end), whole.within(begin, end)
        motion = self.motion and self.motion.cut(begin, end)
        at = {mark: grid.place(stamp) for mark, stamp in (marks or {}).items()}
        moved = first_motion(grid, motion, pull) if motion else Unread("no motion")
        lock = None
        if motion and isinstance(moved, Reading) and moved.at is not None:
            lock = locked(grid, motion, pull, at.get("engagement", moved.at))
        shift = shift_of(grid, motion, pull, lock, self.drivetrain,
                         (at.get("shift_start"), at.get("full_shift")), most)  # fmt: skip
        dip, recovery = back_shift(grid, pull, (at.get("reopened"), at.get("recovered")))
        times: dict[str, Found] = {
            name: time_to_speed(grid, pull, speed) if pull.stabbed else Unread("part") for name, speed in TIMES.items()
        } | {
            name: time_to_distance(grid, pull, way) if pull.stabbed else Unread("part")
            for name, way in DISTANCES.items()
        }
        seconds = float(pull.full.sum()) * grid.step
        return PullReading(
            number, grid, pull, engagement(grid, motion, pull, at.get("engagement")), shift, dip, recovery, times,
            overall_gearing(grid, shift.high, self.drivetrain), hauled(grid, pull, self.drivetrain),
            Reading(seconds, grid.step / 2, int(pull.full.sum())),
            tuple(slips_of(grid, motion, pull, lock, self.gear)), lock,
        )  # fmt: skip

    def best(self, figure: Callable[[PullReading], Found], last: Callable[[PullReading], float]) -> PullReading | None:
        """The pull that gives a figure, of several the one with the most of `last`; without any, the first that says
        why not."""
        giving = [each for each in self.readings if isinstance(figure(each), Reading)]
        if giving:
            return max(giving, key=last)
        return max(self.readings, key=last, default=None)

    @cached_property
    def sheaves(self) -> "Sheaves | None":
        """What the machine's sheaves allow, None where its set-up is not known."""
        if self.drivetrain is None:
            return None
        drive, vehicle = self.drivetrain.drive, self.drivetrain.vehicle
        low, high = (float(each) for each in drive.shift_path(2).ratio)
        return Sheaves(low, high, RPM * vehicle.rolling_radius / vehicle.drive_ratio / KPH)

    @cached_property
    def of_shift(self) -> PullReading | None:
        """The pull the shift is read from: the one that covers the most of it."""

        def covers(each: PullReading) -> float:
            low, high = each.shift.covered or (0.0, 0.0)
            return high - low + 1e-3 * float(each.pull.full.sum()) * self.grid.step / 1e3

        return self.best(lambda each: each.shift.mean, covers)

    @cached_property
    def of_engagement(self) -> PullReading | None:
        """The pull engagement is read from: the longest roll-on that shows it."""
        return self.best(
            lambda each: each.engagement, lambda each: (not each.pull.stabbed) * 1e6 + each.pull.stop - each.pull.start
        )

    @cached_property
    def of_chop(self) -> PullReading | None:
        """The pull the back-shift is read from: the first with a chop."""
        return self.best(lambda each: each.dip, lambda each: -each.number)

    @cached_property
    def of_start(self) -> PullReading | None:
        """The pull times are read from: the first that starts from rest at full throttle."""
        return self.best(lambda each: each.times["to_30_mph_s"], lambda each: -each.number)
