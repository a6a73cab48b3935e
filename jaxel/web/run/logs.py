"""Logs of runs: sent in parts, mapped, read off the request's thread, drawn, marked, and given back."""

from typing import Annotated, Literal

from flask import Response, current_app, request
from flask_openapi3 import RawModel
from pydantic import Field

from jaxel.core.formats.reading import validate
from jaxel.core.formats.run.gpx_log import is_gpx
from jaxel.core.formats.run.header import FIELDS, LoggerDocument, MappedColumn
from jaxel.core.formats.run.layout import lay_out
from jaxel.core.formats.run.summary import RunSummaryDocument
from jaxel.core.trade.run.reader import Mark, RunReader
from jaxel.core.trade.run.summary import summary
from jaxel.core.trade.run.trace import drawn
from jaxel.store.db import NotFound
from jaxel.store.run import log_files, log_uploads, loggers, run_logs, traces
from jaxel.store.run.reading import ReadingRoom, State

from ..database import connection
from ..record.answer import answer, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Id, hand, once
from ..record.model import Model, Request
from .road_tests import RunPath

api = Blueprint("run_logs", "/api/visits/<int:visit_id>/runs/<int:run_id>/log")


class UploadPath(RunPath):
    upload_id: Id


class LogPartPath(UploadPath):
    number: Annotated[int, Field(ge=0, le=12)]


class OnePull(RunPath):
    pull: Annotated[int, Field(ge=0, le=10_000)]


class Announced(Request):
    """A log as a hand is about to send it: its file's name and size [bytes]."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    size: Annotated[int, Field(ge=0, le=10**12)]


class Part(RawModel):
    """Bytes of a file as they stand in it."""

    mimetypes = ["application/octet-stream"]  # noqa: RUF012 (declared so where it is inherited from)


class LogColumnView(Model):
    """A column of a file: its heading, the field it is read as, why that cannot be told, and its first cells."""

    heading: str
    field: str | None
    asks: str
    sample: list[str]


class UploadView(Model):
    """A file on its way in: what came of it [bytes], how its reading goes, and its columns once it is all here.

    `drawn`, whether it is kept and can be drawn, though not all is worked out yet; `fields`, what a column may be read
    as; `refusal_field` and `refusal`, why it cannot be read as it stands.
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
    remembered: bool
    columns: list[LogColumnView]
    fields: list[str]


class Mapped(Request):
    """Which columns hold what, as a hand says; without any, what the headings and an earlier hand say."""

    columns: Annotated[list[MappedColumn], Field(max_length=200, default_factory=list)]


class Stretch(Request):
    """A stretch of the traces: from one point of the even clock up to another, by about `points` stretches."""

    first: Annotated[int, Field(ge=0)] = 0
    last: Annotated[int, Field(ge=1)] = 10**9
    points: Annotated[int, Field(ge=50, le=4000)] = 1200


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


class Moved(Request):
    """A mark as a hand puts it [the log's s]: None where it was found; `was`, where it stood."""

    pull: Annotated[int, Field(ge=0, le=10_000)]
    mark: Mark
    was: float | None = None
    now: float | None = None


class TriedMarks(Request):
    """Marks of a pull while they are dragged [the log's s]."""

    pull: Annotated[int, Field(ge=0, le=10_000)]
    marks: Annotated[dict[Mark, float], Field(max_length=8)]


class Counts(Request):
    counts: bool


def room() -> ReadingRoom:
    """The reading room of this application's database."""
    found: ReadingRoom = current_app.extensions["reading_room"]
    return found


@api.post("/uploads", responses={"201": UploadView})
def begin(path: RunPath, body: Announced) -> tuple[Response, int]:
    """Announce a file; refused by its size before a byte of it is sent."""
    run_logs.check_of_visit(connection(), path.visit_id, path.run_id)
    upload = log_uploads.begin(connection(), path.run_id, body.name, body.size, hand())
    room().warm()
    return answer(_upload(path.run_id, upload)), 201


@api.put("/uploads/<int:upload_id>/parts/<int:number>", responses={"200": UploadView})
def part(path: LogPartPath, raw: Part) -> Response:
    """One part of the file, 4 MB or what is left of it."""
    _mine(path)
    log_uploads.put(connection(), path.upload_id, path.number, request.get_data(cache=False))
    return answer(_upload(path.run_id, path.upload_id))


@api.get("/uploads/<int:upload_id>", responses={"200": UploadView})
def upload(path: UploadPath) -> Response:
    """How it goes with a file."""
    return answer(_upload(path.run_id, path.upload_id))


@api.post("/uploads/<int:upload_id>/read", responses={"200": UploadView})
def read(path: UploadPath, body: Mapped) -> Response:
    """Have it read; its columns as a hand says, remembered for this logger."""
    _mine(path)
    log_uploads.whole(connection(), path.upload_id)
    logger = validate(LoggerDocument, {"columns": body.model_dump()["columns"]}) if body.columns else None
    room().begin(path.upload_id, logger, hand())
    return answer(_upload(path.run_id, path.upload_id))


@api.post("/uploads/<int:upload_id>/cancel", responses={"200": UploadView})
def cancel(path: UploadPath, body: Request) -> Response:
    """Give it up; nothing of it is kept."""
    room().give_up(path.upload_id)
    shown = _upload(path.run_id, path.upload_id)
    log_uploads.drop(connection(), path.upload_id)
    return answer(shown)


@api.get("", responses={"200": RunLogView})
def log(path: RunPath) -> Response:
    """The log of a run with everything that was read of it."""
    kept = _log(path)
    return answer(_view(kept))


@api.get("/pulls/<int:pull>", responses={"200": RunSummaryDocument})
def of_pull(path: OnePull) -> Response:
    """The figures of one pull, as its marks stand."""
    kept = _log(path)
    return answer(summary(run_logs.reader(connection(), kept), path.pull, kept.marks.get(path.pull)))


@api.get("/traces", responses={"200": TracesView})
def trace(path: RunPath, query: Stretch) -> Response:
    """A stretch of the traces, as fine as it can be drawn."""
    kept = _log(path)
    first, size, stamps, channels = traces.window(
        connection(), path.run_id, kept.grid, query.first, query.last, query.points
    )
    shown = [TraceView.model_validate(vars(each)) for each in drawn(channels)]
    return answer(TracesView(first=first, size=size, stamps=stamps.round(4).tolist(), traces=shown))


@api.post("/tried", responses={"200": RunSummaryDocument})
def tried(path: RunPath, body: TriedMarks) -> Response:
    """The figures of a pull with marks as they are dragged; nothing is kept."""
    reader = run_logs.reader(connection(), _log(path))
    return answer(summary(reader, body.pull, body.marks))


@api.patch("/marks")
def move(path: RunPath, body: Moved) -> Response:
    run_logs.move_mark(connection(), path.visit_id, path.run_id, body.pull, body.mark, body.now, body.was, hand())
    return visit_answer(path.visit_id)


@api.post("/counts")
def counts(path: RunPath, body: Counts) -> Response:
    """Set the log aside, so that only what was typed counts, or let it count again."""
    once(lambda: run_logs.let_count(connection(), path.visit_id, path.run_id, body.counts, hand()))
    return visit_answer(path.visit_id)


@api.post("/again")
def again(path: RunPath, body: Request) -> Response:
    """Set it anew beside a simulated run: the set-up it was made on was put right since."""
    _log(path)
    run_logs.again(connection(), path.run_id)
    return visit_answer(path.visit_id)


@api.get("/file", responses={"200": None})
def file(path: RunPath) -> Response:
    """The file as it was sent."""
    kept = _log(path)
    response = Response(log_files.parts(connection(), kept.digest), mimetype="application/octet-stream")
    response.headers.set("Content-Disposition", "attachment", filename=_ascii(kept.name))
    response.headers["X-Content-Type-Options"] = "nosniff"
    return response


def _ascii(name: str) -> str:
    return "".join(each if each.isascii() and each.isprintable() and each not in '"\\/' else "_" for each in name)


def _mine(path: UploadPath) -> None:
    run_logs.check_of_visit(connection(), path.visit_id, path.run_id)


def _log(path: RunPath) -> run_logs.RunLog:
    run_logs.check_of_visit(connection(), path.visit_id, path.run_id)
    return run_logs.get(connection(), path.run_id)


def _upload(run_id: int, upload_id: int) -> UploadView:
    reading = room().of(upload_id)
    try:
        found = log_uploads.of_run(connection(), run_id, upload_id)
    except NotFound:
        if reading is None:
            raise
        found = log_uploads.Upload(upload_id, run_id, "", 0, 0)  # read and kept, or given up: gone from here
    at_work = reading is not None and reading.state != "refused"
    columns, remembered = ([], False) if at_work or found.came < found.size else _columns(upload_id)
    return UploadView(
        id=found.id,
        name=found.name,
        size=found.size,
        came=found.came,
        part=log_uploads.PART,
        state=reading.state if reading else "waiting",
        progress=reading.part if reading else 0.0,
        drawn=bool(reading and reading.part >= run_logs.DRAWN),
        doing=reading.doing if reading else "",
        refusal_field=reading.field if reading else "",
        refusal=reading.reason if reading else "",
        remembered=remembered,
        columns=columns,
        fields=list(FIELDS),
    )


def _columns(upload_id: int) -> tuple[list[LogColumnView], bool]:
    """The columns of a file that is all here, and whether an earlier hand said what they hold."""
    head = log_uploads.head(connection(), upload_id)
    if is_gpx(head):
        return [], False
    try:
        layout = lay_out(head)
    except ValueError:
        return [], False
    known = loggers.known(connection(), head)
    return [
        LogColumnView(
            heading=each.heading,
            field=(known.field(each.heading) if known else None) or each.guess.field,
            asks=each.guess.asks or "",
            sample=[row[place] if place < len(row) else "" for row in layout.sample[:3]],
        )
        for place, each in enumerate(layout.columns)
    ], known is not None


def _view(kept: run_logs.RunLog) -> RunLogView:
    reader = run_logs.reader(connection(), kept)
    counted, stale = run_logs.counts_as(connection(), kept)
    grid, sheaves = reader.grid, reader.sheaves
    return RunLogView(
        run_id=kept.run_id, name=kept.name, size=run_logs.size(connection(), kept), kept_at=kept.kept_at,
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
