"""What a log tells, in words and a person's units: the run summary of a reader."""

from collections.abc import Callable
from dataclasses import dataclass
from math import isfinite, sqrt

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.summary import (
    BackshiftPart,
    FigurePart,
    PullPart,
    RunSummaryDocument,
    ShiftPart,
    SlipPart,
    TimesPart,
)
from jaxel.core.mechanism.run.grid import Grid
from jaxel.core.mechanism.run.reading import Found, Reading, Reason, Unread
from jaxel.core.mechanism.run.shifting import Over, Shift
from jaxel.core.mechanism.run.smooth import level, level_noise
from jaxel.core.units import RPM
from jaxel.core.words import q

from .reader import DISTANCES, TIMES, Mark, Marks, PullReading, RunReader

WHY: dict[Reason, str] = {
    "no engine": "no engine speed was logged",
    "no motion": "no vehicle or secondary speed was logged",
    "no set-up": "needs the machine's set-up",
    "moving": "the vehicle was already moving when the pull began",
    "fast": "not readable: the engine sped up past it before anything moved",
    "slipped": "not readable: the belt slipped until the shift began",
    "no pull": "no pull was found",
    "part": "no start at full throttle",
    "short": "too little of the shift at full throttle",
    "still shifting": "the ratio was still falling when the pull ended",
    "no chop": "the throttle was not chopped",
    "not reached": "was not reached",
    "no temperature": "no belt temperature was logged",
    "blank": "readings are missing there",
    "crossed": "its marks stand the wrong way round",
    "not recovered": "the engine did not come back before the pull ended",
}

OVER: dict[Over, str] = {
    "travel": "over sheave travel, from ratio and geometry",
    "ratio": "over equal steps of ratio: no set-up gives the travel",
    "time": "over time at full throttle: without a speed the ratio is not known",
}

HAULED = "most over a second: mass times acceleration and the set-up's road load"


def summary(reader: RunReader, number: int | None = None, marks: Marks | None = None) -> RunSummaryDocument:
    """The whole run, each figure from the pull that shows it best; or one pull, with marks as a hand moved them.

    Parameters: `number`, a pull counted from 0. Raises InvalidValue (field `pull`) where there is none such.
    """
    if number is None:
        return _document(reader, reader.of_engagement, reader.of_shift, reader.of_chop, reader.of_start, {})
    if not 0 <= number < len(reader.pulls):
        raise InvalidValue("pull", f"is not in this log: it holds {len(reader.pulls)}")
    one = reader.pull(number, marks) if marks else reader.readings[number]
    return _document(reader, one, one, one, one, marks or {})


@dataclass(frozen=True)
class _Teller:
    """Tells the figures of one pull, or of none; `of`, the words that name it where there are several."""

    reading: PullReading | None
    marks: Marks
    of: str

    def figure(
        self, of: Callable[[PullReading], Found], how: str, factor: float = 1.0, mark: Mark | None = None
    ) -> FigurePart:
        found = of(self.reading) if self.reading else Unread("no pull")
        if isinstance(found, Reading) and not isfinite(found.value + found.sd):
            found = Unread("blank", at=found.at)
        at = None if found.at is None or self.reading is None else _stamp(self.reading.grid, found.at)
        if isinstance(found, Unread):
            bound = None if found.bound is None else round(found.bound * factor, 1)
            return FigurePart(why=WHY[found.reason], bound=bound, mark_s=at)
        by_hand = ", the mark moved by hand" if mark is not None and mark in self.marks else ""
        return FigurePart(
            value=_rounded(found.value * factor), read_sd=_rounded(found.sd * factor), samples=found.samples,
            how=how + self.of + by_hand, mark_s=at,
        )  # fmt: skip

    def shift(self) -> ShiftPart:
        shift = self.reading.shift if self.reading else Shift.unread("no pull")
        how, rpm = _over(shift), 1 / RPM
        return ShiftPart(
            mean_rpm=self.figure(lambda one: one.shift.mean, f"mean {how}", rpm),
            spread_rpm=self.figure(lambda one: one.shift.spread, f"highest less lowest {how}", rpm),
            slope_rpm=self.figure(lambda one: one.shift.slope, f"least squares {how}, for the whole of it", rpm),
            start_rpm=self.figure(lambda one: one.shift.start, "where the mean begins", rpm, "shift_start"),
            full_shift_rpm=self.figure(
                lambda one: one.shift.full_shift, "where the ratio comes to its end", rpm, "full_shift"
            ),
            over_run_rpm=self.figure(lambda one: one.shift.over_run, "highest past full shift, less full shift", rpm),
            over=shift.over if shift.covered else None,
            from_share=round(shift.covered[0], 4) if shift.covered else None,
            to_share=round(shift.covered[1], 4) if shift.covered else None,
        )


def _document(
    reader: RunReader, engaged: PullReading | None, shifted: PullReading | None, chopped: PullReading | None,
    started: PullReading | None, marks: Marks,
) -> RunSummaryDocument:  # fmt: skip
    grid = reader.grid

    def teller(reading: PullReading | None) -> _Teller:
        of = f", pull {reading.number + 1}" if reading and len(reader.pulls) > 1 else ""
        return _Teller(reading, marks, of)

    of_shift, of_chop, of_start = teller(shifted), teller(chopped), teller(started)
    turns = "secondary" if grid["secondary"] is not None else "vehicle"
    scaled = reader.drivetrain is not None or grid["secondary"] is not None

    def ratio(which: Callable[[Shift], Found], how: str) -> FigurePart:
        return of_shift.figure(lambda one: which(one.shift) if scaled else Unread("no set-up"), how)

    return RunSummaryDocument(
        engagement_rpm=teller(engaged).figure(
            lambda one: one.engagement,
            f"engine speed where the {turns} first moves on a roll-on",
            1 / RPM,
            "engagement",
        ),
        shift=of_shift.shift(),
        low_ratio=ratio(lambda shift: shift.low, "engine over secondary, the belt gripped, before the shift"),
        high_ratio=ratio(lambda shift: shift.high, "least engine over secondary"),
        backshift=BackshiftPart(
            dip_rpm=of_chop.figure(lambda one: one.dip, "speed before the chop less the lowest after it", 1 / RPM),
            recovery_s=of_chop.figure(
                lambda one: one.recovery,
                "from throttle open again to within 2 % of the speed before",
                1.0,
                "recovered",
            ),
        ),
        overall_gearing=of_shift.figure(
            lambda one: one.gearing, "engine turns per turn of the axle at the least ratio"
        ),
        wheel_power_kw=of_shift.figure(lambda one: one.haul.power, HAULED, 1e-3),
        wheel_torque_nm=of_shift.figure(lambda one: one.haul.torque, HAULED),
        times=TimesPart(**{name: of_start.figure(_time(name), "from first motion") for name in (*TIMES, *DISTANCES)}),
        full_throttle_s=_full_throttle(reader),
        slip_flags=[
            SlipPart(what=each.what, from_s=_stamp(one.grid, each.start), to_s=_stamp(one.grid, each.stop - 1),
                     slip_pct=round(100 * each.share, 1))
            for one in reader.readings for each in one.slips
        ],
        belt_temp_max_c=_hottest(grid),
        pulls=[
            PullPart(kind=each.kind, from_s=_stamp(grid, each.start), to_s=_stamp(grid, each.stop - 1))
            for each in reader.pulls
        ],
        samples=grid.rows,
        dropped=sum(grid.dropped.values()),
        dropped_by={reason: count for reason, count in grid.dropped.items() if count},
        columns=sorted(grid.channels),
        limits=_limits(reader),
    )  # fmt: skip


def _time(name: str) -> Callable[[PullReading], Found]:
    return lambda one: one.times[name]


def _limits(reader: RunReader) -> list[str]:
    """What cannot be said of this log, for want of what."""
    grid, found = reader.grid, []
    if grid["engine"] is None:
        found.append("No engine speed: times and road figures alone.")
    if reader.motion is None:
        found.append("No vehicle or secondary speed: no engagement, no ratio, the shift's mean over time.")
    elif reader.drivetrain is None and grid["secondary"] is None:
        found.append("No set-up: the ratio's scale is not known, the shift's mean is over equal steps of it.")
    elif reader.drivetrain is None:
        found.append("No set-up: the shift's mean is over equal steps of ratio, and nothing is said of the wheel.")
    if grid["throttle"] is None:
        found.append("No throttle: pulls are told from engine and speed, full throttle is taken throughout each.")
    if grid["belt_temperature"] is None:
        found.append("No belt temperature.")
    if not reader.pulls:
        found.append("No pull was found.")
    return found


def _over(shift: Shift) -> str:
    if shift.covered is None:
        return OVER[shift.over]
    low, high = (round(100 * each) for each in shift.covered)
    return f"{OVER[shift.over]}, {low}–{high} %"


def _full_throttle(reader: RunReader) -> FigurePart:
    if not reader.pulls:
        return FigurePart(why=WHY["no pull"])
    points = sum(int(each.full.sum()) for each in reader.pulls)
    step = reader.grid.step
    how = "throttle within 5 % of its widest" if reader.pulls[0].known else "within the pulls: no throttle was logged"
    doubt = _rounded(step / 2 * sqrt(len(reader.pulls)))
    return FigurePart(value=round(points * step, 2), read_sd=doubt, samples=points, how=how)


def _hottest(grid: Grid) -> FigurePart:
    belt = grid["belt_temperature"]
    if belt is None or not np.any(np.isfinite(belt)):
        return FigurePart(why=WHY["no temperature"])
    calm = level(belt, grid.step, 1.0)
    calm = calm if np.any(np.isfinite(calm)) else belt
    top = int(np.nanargmax(calm))
    doubt = level_noise(grid.noise["belt_temperature"], max(grid.every["belt_temperature"], grid.step), 1.0)
    return FigurePart(
        value=round(float(calm[top]), 2), read_sd=_rounded(doubt), samples=grid.span(1.0),
        how=f"highest mean of {q(1, 's')}", mark_s=_stamp(grid, top),
    )  # fmt: skip


def _stamp(grid: Grid, point: int) -> float:
    return round(float(grid.stamped[point]), 4)


def _rounded(value: float) -> float:
    """Five digits, which is more than a log can tell."""
    return float(f"{value:.5g}")
