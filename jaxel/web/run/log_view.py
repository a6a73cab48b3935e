"""A run's log as a page shows it: a file on its way in, its traces, its pulls and their marks, what it counts as."""

import sqlite3
from typing import Literal

from jaxel.core.formats.run.gpx_log import is_gpx
from jaxel.core.formats.run.header import FIELDS
from jaxel.core.formats.run.layout import lay_out
from jaxel.core.formats.run.summary import RunSummaryDocument
from jaxel.core.trade.run.fault.verdict import VERDICTS, Verdict
from jaxel.core.trade.run.reader import Mark, RunReader
from jaxel.core.trade.run.summary import summary
from jaxel.store.db import NotFound
from jaxel.store.run import log_uploads, loggers, run_logs

from ..jobs import Job
from ..jobs import State as JobState
from ..record.model import Model

State = Literal["waiting", "reading", "read", "refused", "given up"]
_STATES: dict[JobState, State] = {"working": "reading", "done": "read"}


class LogColumnView(Model):
    """A column of a file: its heading, the field it is read as, why that cannot be told, and its first cells."""

    heading: str
    field: str | None
    asks: str
    sample: list[str]


class UploadView(Model):
    """A file on its way in: what came of it [bytes], how its reading goes, and its columns once it is all here.

    `drawn`, whether it is kept and can be drawn, though not all is worked out yet; `remembered`, what an earlier hand
    called this logger, None where none said its columns; `fields`, what a column may be read as; `refusal_field` and
    `refusal`, why it cannot be read as it stands.
    """

    id: int
    name: str
    size: int
    came: int
    part: int
    state: State
    progress: float
    drawn: bool
    doing: str
    refusal_field: str
    refusal: str
    remembered: str | None
    columns: list[LogColumnView]
    fields: list[str]


class TraceView(Model):
    """One channel as it is drawn."""

    field: str
    unit: str
    least: list[float | None]
    most: list[float | None]


class TracesView(Model):
    """Traces of a stretch: `size` points of the even clock in each step, the stamps at which they begin [s]."""

    first: int
    size: int
    stamps: list[float]
    traces: list[TraceView]


class TraceMarkView(Model):
    """A mark of a pull: where it was found, None where it was not, and where a hand put it [the log's s]."""

    mark: Mark
    found_s: float | None
    moved_s: float | None


class PullView(Model):
    """A pull: how it was opened, when [the log's s], from which point of the even clock up to which, and its marks."""

    number: int
    kind: Literal["stab", "roll-on", "chop"]
    from_s: float
    to_s: float
    first: int
    last: int
    marks: list[TraceMarkView]


class CountedView(Model):
    """A figure as it counts [rpm, ratio]: read, its simulated twin's, and what both stand for in the model's terms."""

    figure: str
    read: float
    read_sd: float
    simulated: float
    counted: float
    sd: float


class GearView(Model):
    """One end of the gearing: what was reached, None where not read, what this belt allows, and a new one."""

    reached: float | None
    reached_sd: float | None
    belt: float
    new: float


class ChanceOf(Model):
    """A kind of verdict and its chance."""

    kind: str
    name: str
    chance: float


class VerdictView(Model):
    """What a run says is at fault: how likely, why, what would settle it, what else it may be, and the gearing."""

    kind: str
    name: str
    probability: float
    sure: bool
    reasons: list[str]
    settle: list[str]
    chances: list[ChanceOf]
    low: GearView
    high: GearView


class ToldView(Model):
    """The verdict of a log, None where its pull could not be simulated."""

    verdict: VerdictView | None


class RunLogView(Model):
    """The log of a run: its file, its clock, its pulls with their figures, the whole run's summary, and what counts.

    `stale`, whether its set-up was put right since it was counted; the ratios the sheaves allow with this belt, and the
    speed an engine turn a minute gives at a ratio of 1.
    """

    run_id: int
    name: str
    size: int
    kept_at: str
    kept_by: str
    counts: bool
    points: int
    step: float
    from_s: float
    to_s: float
    summary: RunSummaryDocument
    pulls: list[PullView]
    counted: list[CountedView]
    stale: bool
    low_ratio: float | None
    high_ratio: float | None
    kph_per_rpm: float | None


def upload_view(connection: sqlite3.Connection, run_id: int, upload_id: int, reading: Job | None) -> UploadView:
    """How it goes with a file; raises NotFound for one that nobody sent."""
    try:
        found = log_uploads.of_run(connection, run_id, upload_id)
    except NotFound:
        if reading is None:
            raise
        found = log_uploads.Upload(upload_id, run_id, "", 0, 0)  # read and kept, or given up: gone from here
    at_work = reading is not None and reading.state != "refused"
    columns, remembered = ([], None) if at_work or found.came < found.size else _columns(connection, upload_id)
    return UploadView(
        id=found.id,
        name=found.name,
        size=found.size,
        came=found.came,
        part=log_uploads.PART,
        state=_STATES.get(reading.state, reading.state) if reading else "waiting",
        progress=reading.share if reading else 0.0,
        drawn=bool(reading and reading.share >= run_logs.DRAWN),
        doing=reading.doing if reading else "",
        refusal_field=reading.field if reading else "",
        refusal=reading.reason if reading else "",
        remembered=remembered,
        columns=columns,
        fields=list(FIELDS),
    )


def _columns(connection: sqlite3.Connection, upload_id: int) -> tuple[list[LogColumnView], str | None]:
    """The columns of a file that is all here, and what the hand that said what they hold called its logger."""
    head = log_uploads.head(connection, upload_id)
    if is_gpx(head):
        return [], None
    try:
        layout = lay_out(head)
    except ValueError:
        return [], None
    known = loggers.known(connection, head)
    return [
        LogColumnView(
            heading=each.heading,
            field=(known.field(each.heading) if known else None) or each.guess.field,
            asks=each.guess.asks or "",
            sample=[row[place] if place < len(row) else "" for row in layout.sample[:3]],
        )
        for place, each in enumerate(layout.columns)
    ], known.name if known else None


def log_view(connection: sqlite3.Connection, kept: run_logs.RunLog) -> RunLogView:
    """Everything that was read of a log."""
    reader = run_logs.reader(connection, kept)
    counted, stale = run_logs.counts_as(connection, kept)
    grid, sheaves = reader.grid, reader.sheaves
    return RunLogView(
        run_id=kept.run_id, name=kept.name, size=run_logs.size(connection, kept), kept_at=kept.kept_at,
        kept_by=kept.kept_by, counts=kept.said.counts, points=len(grid.time), step=grid.step,
        from_s=float(grid.stamped[0]), to_s=float(grid.stamped[-1]),
        summary=summary(reader),
        pulls=[_pull(kept, reader, number) for number in range(min(len(reader.pulls), MOST_PULLS))],
        counted=[
            CountedView(figure=each.figure, read=each.read, read_sd=each.read_sd, simulated=each.simulated,
                        counted=each.counted, sd=each.sd())
            for each in counted
        ],
        stale=stale, low_ratio=sheaves and sheaves.low_ratio, high_ratio=sheaves and sheaves.high_ratio,
        kph_per_rpm=sheaves and sheaves.kph_per_rpm,
    )  # fmt: skip


def told_view(verdict: Verdict | None) -> ToldView:
    """A verdict as it is shown; of the chances those that matter."""
    if verdict is None:
        return ToldView(verdict=None)
    ranked = sorted(verdict.chances.items(), key=lambda each: -each[1])
    return ToldView(
        verdict=VerdictView(
            kind=verdict.kind, name=verdict.name, probability=verdict.probability, sure=verdict.sure,
            reasons=list(verdict.reasons), settle=list(verdict.settle),
            chances=[
                ChanceOf(kind=kind, name=VERDICTS[kind], chance=chance) for kind, chance in ranked if chance >= SHOWN
            ],
            low=GearView(**vars(verdict.low)), high=GearView(**vars(verdict.high)),
        )
    )  # fmt: skip


SHOWN = 0.03
"""Chance from which a kind of verdict is named."""

MOST_PULLS = 60
"""Pulls of a log that are shown."""


def _pull(kept: run_logs.RunLog, reader: RunReader, number: int) -> PullView:
    pull, one = reader.pulls[number], reader.readings[number]
    moved = kept.marks.get(number, {})
    begin, end = pull.start, pull.stop
    found = one.marks
    return PullView(
        number=number, kind=pull.kind, from_s=float(reader.grid.stamped[begin]),
        to_s=float(reader.grid.stamped[end - 1]), first=begin, last=end,
        marks=[
            TraceMarkView(mark=mark, found_s=found.get(mark), moved_s=moved.get(mark))
            for mark in run_logs.MARKS if mark in found or mark in moved
        ],
    )  # fmt: skip
