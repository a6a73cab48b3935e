"""Logs of runs: sent in parts, mapped, read off the request's thread, drawn, marked, and given back."""

from typing import Annotated

from flask import Response, current_app, request
from flask_openapi3 import RawModel
from pydantic import Field

from jaxel.core.formats.reading import validate
from jaxel.core.formats.run.header import LoggerDocument, MappedColumn
from jaxel.core.formats.run.summary import RunSummaryDocument
from jaxel.core.trade.run.reader import Mark
from jaxel.core.trade.run.summary import summary
from jaxel.core.trade.run.trace import drawn
from jaxel.store.run import log_files, log_uploads, run_logs, traces, verdicts
from jaxel.store.visit import visits

from ..database import connection
from ..record.answer import answer, visit_answer
from ..record.blueprint import Blueprint
from ..record.fields import Id, hand, once
from ..record.model import Request
from .log_view import RunLogView, ToldView, TracesView, TraceView, UploadView, log_view, told_view, upload_view
from .reading import ReadingRoom
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


class Mapped(Request):
    """Which columns hold what, as a hand says; without any, what the headings and an earlier hand say. `name`, what the
    logger is called here."""

    name: Annotated[str, Field(max_length=80)] = ""
    columns: Annotated[list[MappedColumn], Field(max_length=200, default_factory=list)]


class Stretch(Request):
    """A stretch of the traces: from one point of the even clock up to another, by about `points` stretches."""

    first: Annotated[int, Field(ge=0)] = 0
    last: Annotated[int, Field(ge=1)] = 10**9
    points: Annotated[int, Field(ge=50, le=4000)] = 1200


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
    return answer(_shown(path.run_id, upload)), 201


@api.put("/uploads/<int:upload_id>/parts/<int:number>", responses={"200": UploadView})
def part(path: LogPartPath, raw: Part) -> Response:
    """One part of the file, 4 MB or what is left of it."""
    _mine(path)
    log_uploads.put(connection(), path.upload_id, path.number, request.get_data(cache=False))
    return answer(_shown(path.run_id, path.upload_id))


@api.get("/uploads/<int:upload_id>", responses={"200": UploadView})
def upload(path: UploadPath) -> Response:
    """How it goes with a file."""
    return answer(_shown(path.run_id, path.upload_id))


@api.post("/uploads/<int:upload_id>/read", responses={"200": UploadView})
def read(path: UploadPath, body: Mapped) -> Response:
    """Have it read; its columns as a hand says, remembered for this logger."""
    _mine(path)
    log_uploads.whole(connection(), path.upload_id)
    logger = validate(LoggerDocument, body.model_dump()) if body.columns else None
    room().begin(path.upload_id, logger, hand())
    return answer(_shown(path.run_id, path.upload_id))


@api.post("/uploads/<int:upload_id>/cancel", responses={"200": UploadView})
def cancel(path: UploadPath, body: Request) -> Response:
    """Give it up; nothing of it is kept."""
    room().give_up(path.upload_id)
    shown = _shown(path.run_id, path.upload_id)
    log_uploads.drop(connection(), path.upload_id)
    return answer(shown)


@api.get("", responses={"200": RunLogView})
def log(path: RunPath) -> Response:
    """The log of a run with everything that was read of it."""
    kept = _log(path)
    return answer(log_view(connection(), kept))


@api.get("/verdict", responses={"200": ToldView})
def verdict(path: RunPath) -> Response:
    """Engine or clutch: what the log says is at fault."""
    _log(path)
    visit = visits.get(connection(), path.visit_id)
    run = next(each for each in visit.runs if each.id == path.run_id)
    return answer(told_view(verdicts.verdict_of(connection(), visit, run)))


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


def _shown(run_id: int, upload_id: int) -> UploadView:
    return upload_view(connection(), run_id, upload_id, room().of(upload_id))
