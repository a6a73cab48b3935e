"""Sets of runs as they are compared: what each pull gave, what is the same of both sets, and what their air makes."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import ConditionsPart, SetupDocument, written_setup
from jaxel.core.mechanism.errors import Impossible
from jaxel.core.mechanism.run.reading import Found, Reading
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.units import KPH, MPH, RPM
from jaxel.core.words import q

from ...setup.calibration import Calibration
from ...setup.discrepancy import Discrepancy, Figure
from ...setup.figures import ENGAGEMENT, FULL_SHIFT, MEAN, figures_of
from ..reader import PullReading, RunReader
from ..road_test import Measured
from .difference import ROAD, SET_FIGURES, Difference, Sample, SetFigure, TimeFigure, difference, judged

SAME_WIDTH_MM = 0.15
"""Widths so close are of one belt as it wears over an afternoon; from memory."""

TIMED: tuple[TimeFigure, ...] = ("to_30_mph_s", "to_60_mph_s", "to_200_m_s", "to_400_m_s")

ROAD_REL = 0.2
"""What the model may miss of the air's effect on times and power, as a share of it; from memory."""


@dataclass(frozen=True)
class SetRun:
    """One run of a set: what it is called, the day, the set-up as it is recorded now, by its `revision_id` and with the
    run's belt and air, who rode where; its log's reader, None where figures were typed; and whether its set-up was
    put right since."""

    run_id: int
    revision_id: int
    name: str
    day: str
    setup: SetupDocument
    rider: str
    strip: str
    reader: RunReader | None
    typed: Measured
    corrected: bool = False

    @property
    def pulls(self) -> list[PullReading]:
        """The pulls of its log."""
        return self.reader.readings if self.reader else []


What = Literal["set-up", "strip", "rider", "belt", "air", "day"]
State = Literal["same", "different", "not said"]


@dataclass(frozen=True)
class Sameness:
    """Whether something is the same of both sets: `state`, and in words what it is, or what follows."""

    what: What
    state: State
    words: str


@dataclass(frozen=True)
class Compared:
    """Two sets beside each other: what differs, what could not be compared and why, what is the same, what limits it;
    `told_rpm`, what the model tells of the shift's change, None where a set-up cannot work."""

    differences: list[Difference]
    left_out: list[tuple[SetFigure, str]]
    same: list[Sameness]
    limits: list[str]
    told_rpm: float | None


def compare_sets(
    a: Sequence[SetRun], b: Sequence[SetRun], others: Sequence[Sequence[SetRun]] = (), known: Calibration | None = None
) -> Compared:
    """Set two sets of runs beside each other, figure by figure.

    Parameters: runs of one set-up in each set; `others`, what else of this machine was run, by set-up; `known`, the
    machine's calibration that changes are told by, None where there is none. Raises InvalidValue (field `a`, `b`) for a
    set that is empty, holds runs of two set-ups, or a run of the other.
    """
    for field, some in (("a", a), ("b", b)):
        if not some:
            raise InvalidValue(field, "holds no run")
        if len({each.revision_id for each in some}) > 1:
            raise InvalidValue(field, "holds runs of two set-ups: a set is of one")
    if shared := {each.run_id for each in a} & {each.run_id for each in b}:
        name = next(each.name for each in b if each.run_id in shared)
        raise InvalidValue("b", f"holds {name}, as the other set does")
    same = list(_same(a, b))
    state = {each.what: each.state for each in same}
    window = _window([*a, *b])
    sides = [_samples(some, window) for some in (a, b)]
    repeated = [_samples(some, window) for some in others]
    told = known.discrepancy if known else Discrepancy.of_the_study()
    air = _air_effect(a, b, told) if state["air"] == "different" else {}
    found, left_out = [], []
    for figure in SET_FIGURES:
        one, other = (side.get(figure, []) for side in sides)
        if not one and not other:
            continue
        if not one or not other:
            left_out.append((figure, f"only {'B' if other else 'A'} gives it"))
        elif figure in ROAD and (why := _not_of_road(state)):
            left_out.append((figure, why))
        else:
            known_of = [each[figure] for each in repeated if figure in each]
            found.append(difference(figure, one, other, known_of, air.get(figure, (0.0, 0.0))))
    done = judged(found)
    return Compared(done, left_out, same, list(_limits(a, b, done, state)), _told_change(a, b, known))


def _told_change(a: Sequence[SetRun], b: Sequence[SetRun], known: Calibration | None) -> float | None:
    """What the model tells of the shift's change from one set-up to the other, in one air [rpm]."""
    one, other = a[0].setup, b[0].setup.model_copy(update={"conditions": a[0].setup.conditions})
    try:
        before, after = (known or Calibration.none(one)).estimates([one, other])
    except InvalidValue:
        return None
    return after.mean - before.mean


def _not_of_road(state: Mapping[What, State]) -> str:
    asked: tuple[What, ...] = ("strip", "rider")
    others = [each for each in asked if state[each] == "different"]
    return f"another {' and another '.join(others)}: it says nothing of the clutch" if others else ""


def _same(a: Sequence[SetRun], b: Sequence[SetRun]) -> Iterator[Sameness]:
    one_setup = len({each.revision_id for each in (*a, *b)}) == 1
    twice = "the same set-up twice: what differs is noise, or the day"
    yield Sameness("set-up", *(("same", twice) if one_setup else ("different", "set-up")))
    for what in ("strip", "rider"):
        names = {getattr(each, what).strip().casefold() for each in (*a, *b)}
        if "" in names:
            yield Sameness(what, "not said", f"{what} not said of every run")
        else:
            yield Sameness(what, *(("same", what) if len(names) == 1 else ("different", f"another {what}")))
    belts = [each.setup.belt for each in (*a, *b)]
    widths = [each.top_width_mm for each in belts]
    alike = max(widths) - min(widths) <= SAME_WIDTH_MM and len({each.outer_circumference_mm for each in belts}) == 1
    ends = [sum(each.setup.belt.top_width_mm for each in some) / len(some) for some in (a, b)]
    words = "belt" if alike else f"another belt, {q(ends[0], 'mm')} and {q(ends[1], 'mm')}: part of what differs"
    yield Sameness("belt", "same" if alike else "different", words)
    airs = [_air_of(some) for some in (a, b)]
    factors = [each.core().power_factor for each in airs]
    warmer = airs[1].temperature_c - airs[0].temperature_c
    if abs(factors[1] / factors[0] - 1) < 0.002:
        yield Sameness("air", "same", "air")
    else:
        one, other = airs
        parts = [f"{q(one.temperature_c, '°C', 0)} and {q(other.temperature_c, '°C', 0)}"] if abs(warmer) >= 1 else []
        if abs(other.elevation_m - one.elevation_m) >= 10:
            parts.append(f"{q(one.elevation_m, 'm', 0)} and {q(other.elevation_m, 'm', 0)}")
        yield Sameness("air", "different", f"air {', '.join(parts) or 'another'}: taken out by the model")
    days = [{each.day for each in some} for some in (a, b)]
    one_day = days[0] == days[1] and len(days[0]) == 1
    yield Sameness("day", *(("same", "day") if one_day else ("different", "days apart")))


def _air_of(some: Sequence[SetRun]) -> ConditionsPart:
    airs = [each.setup.conditions for each in some]
    count = len(airs)
    return ConditionsPart(
        elevation_m=sum(each.elevation_m for each in airs) / count,
        temperature_c=sum(each.temperature_c for each in airs) / count,
        relative_humidity=sum(each.relative_humidity for each in airs) / count,
    )


def _limits(
    a: Sequence[SetRun], b: Sequence[SetRun], found: Sequence[Difference], state: Mapping[What, State]
) -> Iterator[str]:
    for name, some in (("A", a), ("B", b)):
        pulls = max((each.count_a if name == "A" else each.count_b for each in found), default=0)
        if pulls == 1:
            yield f"{name} is one pull: how far it repeats is taken from the rest"
        if any(each.corrected for each in some):
            yield f"the set-up of {name} was put right since: it is compared as it is recorded now"
    if found and not any(each.within.own for each in found):
        yield "nothing was repeated on one set-up: how far pulls repeat is the usual, from memory"
    if state["day"] == "different" and not any(each.between and each.between.own for each in found):
        yield "no set-up was ridden on two days: what a day makes is the usual, from memory"
    if "not said" in (state["strip"], state["rider"]):
        yield "of another strip or rider times, speed and power would say nothing of the clutch"
    yield "gains of separate pairs are not added up"


def _window(runs: Sequence[SetRun]) -> tuple[float, float] | None:
    """The part of the travel that every pull covers; None where they share none, or not all know the travel."""
    covered = [
        (each.shift.over, each.shift.covered) for run in runs for each in run.pulls if each.shift.covered is not None
    ]
    if not covered or len({over for over, _ in covered}) > 1:
        return None
    low, high = max(each[0] for _, each in covered if each), min(each[1] for _, each in covered if each)
    return (low, high) if high - low > 0.1 else None


def _samples(some: Sequence[SetRun], window: tuple[float, float] | None) -> dict[SetFigure, list[Sample]]:
    found: dict[SetFigure, list[Sample]] = {}
    for run in some:
        for figure, value in _values(run, window):
            found.setdefault(figure, []).append(Sample(value, run.day))
    return found


def _values(run: SetRun, window: tuple[float, float] | None) -> Iterator[tuple[SetFigure, float]]:
    """Every figure that a run's pulls give, over the window they share; of one without a log, what was typed."""
    if run.reader is None:
        for rolled in (run.typed.engagement_rpm, run.typed.second_roll_on_rpm, run.typed.third_roll_on_rpm):
            if rolled is not None:
                yield "engagement_rpm", rolled
        if run.typed.shift_rpm is not None:
            yield "shift_mean_rpm", run.typed.shift_rpm
        return
    for each in run.pulls:
        shared = run.reader.pull(each.number, None, window) if window and each.shift.covered else each
        figures: tuple[tuple[SetFigure, Found, float], ...] = (
            ("engagement_rpm", each.engagement, RPM),
            ("shift_mean_rpm", shared.shift.mean, RPM),
            ("spread_rpm", shared.shift.spread, RPM),
            ("full_shift_rpm", each.shift.full_shift, RPM),
            ("low_ratio", each.shift.low, 1.0),
            ("dip_rpm", each.dip, RPM),
            ("recovery_s", each.recovery, 1.0),
            ("wheel_power_kw", each.haul.power, 1000.0),
            *((name, each.times[name], 1.0) for name in TIMED),
        )
        for figure, found, unit in figures:
            if isinstance(found, Reading):
                yield figure, found.value / unit
        if isinstance(each.shift.full_shift, Reading) and isinstance(each.shift.high, Reading):
            yield "high_ratio", each.shift.high.value
        speed = each.grid["speed"]
        if each.pull.stabbed and speed is not None and isinstance(each.shift.full_shift, Reading):
            here = each.grid.level("speed", 0.5)[each.pull.start : each.pull.stop]
            if np.any(np.isfinite(here)):
                yield "top_kph", float(np.nanmax(here)) / KPH


def _air_effect(a: Sequence[SetRun], b: Sequence[SetRun], told: Discrepancy) -> dict[SetFigure, tuple[float, float]]:
    """What B has more for its air, by the model, with what the model may miss of that."""
    there, here = (b[0].setup.model_copy(update={"conditions": _air_of(some)}) for some in (a, b))
    values = figures_of([there, here]).values
    off = values[1] - values[0]
    found: dict[SetFigure, tuple[float, float]] = {}
    rows: tuple[tuple[SetFigure, int, Figure], ...] = (
        ("engagement_rpm", ENGAGEMENT, "engagement"), ("shift_mean_rpm", MEAN, "shift"),
        ("full_shift_rpm", FULL_SHIFT, "full_shift"),
    )  # fmt: skip
    for figure, place, name in rows:
        telling = told.tellings["air", name]
        if np.isfinite(off[place]):
            doubt = float(np.hypot(telling.rel, telling.factor_sd) * abs(off[place]))
            found[figure] = (float(telling.factor * off[place]), doubt)
    one, other = (_on_strip(each.model_dump_json()) for each in (there, here))
    for timed in {*one} & {*other}:
        found[timed] = (other[timed] - one[timed], ROAD_REL * abs(other[timed] - one[timed]))
    return found


@lru_cache(maxsize=32)
def _on_strip(setup: str) -> dict[SetFigure, float]:
    """Times and top speed of a simulated pull; nothing of a set-up that cannot work."""
    try:
        trace = simulate(written_setup(setup).core())
    except (Impossible, ValueError):
        return {}
    times: dict[SetFigure, float | None] = {
        "to_30_mph_s": trace.time_to_speed(30 * MPH), "to_60_mph_s": trace.time_to_speed(60 * MPH),
        "to_200_m_s": trace.time_to_distance(200.0), "to_400_m_s": trace.time_to_distance(400.0),
        "top_kph": float(trace.vehicle_speed.max()) / KPH,
    }  # fmt: skip
    return {name: value for name, value in times.items() if value is not None}
