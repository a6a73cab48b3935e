"""What a visit holds any number of: its runs, the marks on its belt, what its rider said."""

import sqlite3
from dataclasses import dataclass, fields

from jaxel.core.trade.belt.look import Mark
from jaxel.core.trade.run.like import Like
from jaxel.core.trade.run.rider_word import RiderWord
from jaxel.core.trade.run.road_test import Figures, Measured, Ride, read_counted, ride, run_figures
from jaxel.core.trade.run.scores import PredictedFigures

from ..edits import record_of


@dataclass(frozen=True)
class TestRun:
    """A run on the road: what was measured, on which set-up, belt and in which air, and what was predicted that day.

    Air and prediction are None for a run from before they were kept; the prediction also where there was none.
    """

    id: int
    revision_id: int
    belt_width_mm: float
    engagement_rpm: float | None
    shift_rpm: float | None
    note: str
    taken_at: str
    elevation_m: float | None
    temperature_c: float | None
    humidity_pct: float | None
    predicted: PredictedFigures | None
    set_aside: str = ""
    second_roll_on_rpm: float | None = None
    third_roll_on_rpm: float | None = None
    counted: tuple[Like, ...] = ()
    log_name: str | None = None
    log_counts: int | None = None
    log_state: str | None = None
    rider: str = ""
    strip: str = ""

    @property
    def figures(self) -> Figures:
        """What it measured, by its log or as it was typed."""
        typed = Measured(self.engagement_rpm, self.second_roll_on_rpm, self.third_roll_on_rpm, self.shift_rpm)
        return run_figures(typed, self.counted)

    @property
    def ride(self) -> Ride:
        """Engagement and shift as they are scored."""
        return ride(self.revision_id, self.figures)


@dataclass(frozen=True)
class FoundMark:
    """A mark found on the belt at this visit, under its number."""

    id: int
    mark: Mark


@dataclass(frozen=True)
class FoundWord:
    """What a rider said at this visit, under its number, and when."""

    id: int
    word: RiderWord
    said_at: str


def marks_of(connection: sqlite3.Connection, visit_id: int) -> tuple[FoundMark, ...]:
    """Marks found on the belt at a visit."""
    rows = connection.execute("SELECT * FROM belt_mark WHERE visit_id = ? ORDER BY id", (visit_id,))
    return tuple(FoundMark(row["id"], Mark(row["kind"], row["place"], row["flank"], row["length_mm"])) for row in rows)


def words_of(connection: sqlite3.Connection, visit_id: int) -> tuple[FoundWord, ...]:
    """What riders said at a visit, oldest first."""
    rows = connection.execute("SELECT * FROM rider_word WHERE visit_id = ? ORDER BY id", (visit_id,))
    return tuple(FoundWord(row["id"], record_of("rider_word", row), row["said_at"]) for row in rows)


def run_of(row: sqlite3.Row) -> TestRun:
    """A run from its row."""
    values = {each.name: row[each.name] for each in fields(TestRun) if each.name not in ("predicted", "counted")}
    kept = {each.name: row[f"predicted_{each.name}"] for each in fields(PredictedFigures)[1:]}
    predicted = PredictedFigures(row["model_version"], **kept) if row["model_version"] is not None else None
    return TestRun(**values, predicted=predicted, counted=read_counted(row["counted"]))
