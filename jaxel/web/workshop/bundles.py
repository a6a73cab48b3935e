"""Open bundles: a visit or a machine made to be passed on, and one that came from elsewhere looked at and taken in."""

import os
import tempfile
from collections import OrderedDict
from dataclasses import dataclass, field
from secrets import token_hex
from threading import Lock
from typing import IO, Annotated, Any, Literal

from flask import Response, current_app, request
from flask_openapi3 import RawModel
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.bundle import MOST_BYTES, LeftOut
from jaxel.store.bundle import merge as taking
from jaxel.store.bundle.merge import Difference, Merged
from jaxel.store.bundle.opened import opened
from jaxel.store.bundle.pack import pack
from jaxel.store.db import NotFound

from ..errors import Refusal
from ..jobs import Job, State, Watch, jobs
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import Id, hand
from ..record.model import Model, Request
from ..units import told

api = Blueprint("bundles", "/api/bundles")

OUT, IN = "bundle", "bundle coming in"
PART = 4 * 1024 * 1024
"""BundleBytes of a part of a bundle on its way in, all but the last."""

MOST_HELD = 4
"""Bundles on their way in at once; the oldest gives way."""

Key = Annotated[str, Field(pattern="^[0-9a-f]{32}$")]


class BundleWanted(Request):
    """Which visit or machine, by its key, and what of a machine goes along that stays at home otherwise."""

    of: Literal["visit", "machine"]
    id: Id
    rider: bool = False
    prices: bool = False
    technicians: bool = False


class BundleJobPath(Model):
    job: Key


class BundleComing(Request):
    """A bundle as a hand is about to send it: its size [bytes]."""

    size: Annotated[int, Field(ge=1, le=MOST_BYTES)]


class HeldPath(Model):
    held: Key


class HeldPart(HeldPath):
    number: Annotated[int, Field(ge=0, le=MOST_BYTES // PART + 1)]


class BundleBytes(RawModel):
    """BundleBytes of a file as they stand in it."""

    mimetypes = ["application/octet-stream"]  # noqa: RUF012 (declared so where it is inherited from)


class BundleOutView(Model):
    """A bundle in the making: how far it is [0–1], its name and size once it can be fetched."""

    job: str
    state: State
    share: float
    name: str
    size: int
    refused: Refusal | None


class HeldView(Model):
    """A bundle on its way in, and how much of it has come [bytes]."""

    held: str
    size: int
    came: int


class BundleInView(Model):
    """What a bundle brings, looked at or taken in: machines and days of visits that are new or known, how many photos
    and logs, what differs and stays as it is here, and machines that were worked on here since."""

    job: str
    state: State
    share: float
    new_machines: list[str]
    known_machines: list[str]
    new_visits: list[str]
    known_visits: list[str]
    photos: int
    logs: int
    differences: list[Difference]
    beside: list[str]
    refused: Refusal | None


@dataclass
class _Held:
    """A bundle on its way in."""

    size: int
    file: IO[bytes]
    came: int = 0
    lock: Lock = field(default_factory=Lock)


class Shelf:
    """Bundles of one application that were made or are on their way in, in files that are gone with it."""

    def __init__(self) -> None:
        self._coming: OrderedDict[str, _Held] = OrderedDict()
        self._lock = Lock()

    def begin(self, size: int) -> str:
        """Room for a bundle that is coming in; returns its key."""
        key = token_hex(16)
        with self._lock:
            self._coming[key] = _Held(size, tempfile.TemporaryFile())  # noqa: SIM115 (closed when it is let go)
            while len(self._coming) > MOST_HELD:
                self._coming.popitem(last=False)
        return key

    def held(self, key: str) -> _Held:
        """A bundle on its way in; raises NotFound."""
        with self._lock:
            found = self._coming.get(key)
        if found is None:
            raise NotFound("bundle: send it again")
        return found

    def drop(self, key: str) -> None:
        """Let one go; its file goes with whoever still reads it."""
        with self._lock:
            self._coming.pop(key, None)


def _shelf() -> Shelf:
    found: Shelf = current_app.extensions["bundles"]
    return found


@api.post("/made", responses={"202": BundleOutView})
def make(body: BundleWanted) -> tuple[Response, int]:
    """Have a bundle of a visit or a machine made."""
    home: dict[LeftOut, bool] = {"rider": body.rider, "prices": body.prices, "technicians": body.technicians}
    left_out = [each for each, goes in home.items() if not goes]

    def work(database: Any, watch: Watch) -> tuple[str, IO[bytes], int]:
        file = tempfile.TemporaryFile()  # noqa: SIM115 (kept until the job is forgotten)
        manifest = pack(database, file, body.of, body.id, left_out, watch)
        return manifest.name, file, file.tell()

    return answer(_out(jobs().begin(OUT, work).wait())), 202


@api.get("/made/<job>", responses={"200": BundleOutView})
def made(path: BundleJobPath) -> Response:
    """How it goes with a bundle in the making."""
    return answer(_out(jobs().get(OUT, path.job).wait()))


@api.post("/made/<job>/cancel", responses={"200": BundleOutView})
def cancel(path: BundleJobPath, body: Request) -> Response:
    """Give a bundle in the making up."""
    job = jobs().get(OUT, path.job)
    job.give_up()
    return answer(_out(job.wait()))


@api.get("/made/<job>/file", responses={"200": None})
def fetch(path: BundleJobPath) -> Response:
    """The bundle, to keep."""
    job = jobs().get(OUT, path.job)
    if job.state != "done":
        raise NotFound("bundle yet")
    name, file, size = job.result
    response = Response(os.pread(file.fileno(), size, 0), mimetype="application/zip")  # several may fetch it at once
    response.headers.set("Content-Disposition", "attachment", filename=_file_name(name))
    response.headers["Cache-Control"] = "no-store"
    return response


@api.post("/coming", responses={"201": HeldView})
def begin(body: BundleComing) -> tuple[Response, int]:
    """Announce a bundle; refused by its size before a byte of it is sent."""
    key = _shelf().begin(body.size)
    return answer(_held(key)), 201


@api.put("/coming/<held>/parts/<int:number>", responses={"200": HeldView})
def part(path: HeldPart, raw: BundleBytes) -> Response:
    """One part of it, 4 MB or what is left; one that comes again takes its place."""
    held = _shelf().held(path.held)
    data = request.get_data(cache=False)
    at = path.number * PART
    if at > held.came or len(data) != min(PART, held.size - at):
        raise InvalidValue("part", f"{path.number + 1} is not the next, or is not as long as was announced")
    with held.lock:
        held.file.seek(at)
        held.file.write(data)
        held.came = max(held.came, at + len(data))
    return answer(_held(path.held))


@api.post("/coming/<held>/look", responses={"202": BundleInView})
def look(path: HeldPath, body: Request) -> tuple[Response, int]:
    """See what it would bring; nothing is kept."""
    return answer(_in(_begin(path.held, keep=False).wait())), 202


@api.post("/coming/<held>/take", responses={"202": BundleInView})
def take(path: HeldPath, body: Request) -> tuple[Response, int]:
    """Take it in, all of it or nothing."""
    return answer(_in(_begin(path.held, keep=True).wait())), 202


@api.get("/coming/<job>", responses={"200": BundleInView})
def how(path: BundleJobPath) -> Response:
    """How it goes with a bundle that is looked at or taken in."""
    return answer(_in(jobs().get(IN, path.job).wait()))


@api.post("/coming/<job>/cancel", responses={"200": BundleInView})
def stop(path: BundleJobPath, body: Request) -> Response:
    """Give it up; nothing of it is kept, unless all of it was."""
    job = jobs().get(IN, path.job)
    job.give_up()
    return answer(_in(job.wait()))


def _begin(key: str, *, keep: bool) -> Job:
    held, by, shelf = _shelf().held(key), hand(), _shelf()
    if held.came != held.size:
        raise InvalidValue("bundle", f"has come in with {held.came} of {held.size} bytes: send the rest first")

    def work(database: Any, watch: Watch) -> Merged:
        with held.lock:
            bundle = opened(held.file)
            if bundle.manifest.of == "workshop":
                raise InvalidValue("bundle", "is of a whole workshop: it is taken in by the command, jaxel take-in")
            found = (taking.merge if keep else taking.preview)(database, bundle, by, watch)
        if keep:
            shelf.drop(key)
        return found

    return jobs().begin(IN, work)


def _refused(job: Job) -> Refusal | None:
    return Refusal(field=job.field, reason=told(job.reason)) if job.state == "refused" else None


def _held(key: str) -> HeldView:
    held = _shelf().held(key)
    return HeldView(held=key, size=held.size, came=held.came)


def _out(job: Job) -> BundleOutView:
    name, _, size = job.result if job.result else ("", None, 0)
    return BundleOutView(
        job=job.key, state=job.state, share=round(job.share, 3), name=name, size=size, refused=_refused(job)
    )


def _in(job: Job) -> BundleInView:
    found: Merged = job.result or Merged()
    return BundleInView(job=job.key, state=job.state, share=round(job.share, 3), refused=_refused(job), **vars(found))


def _file_name(name: str) -> str:
    plain = "".join(each if each.isascii() and (each.isalnum() or each == "-") else "-" for each in name)
    return f"jaxel-{plain[:60].strip('-').lower() or 'bundle'}.zip"
