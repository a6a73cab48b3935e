"""Photos of a machine and of what is seen at a visit: taken up, shown, captioned, drawn on, put in order, removed."""

from collections.abc import Sequence
from typing import Annotated

from flask import Response, current_app, request
from flask_openapi3 import RawModel
from pydantic import Field

from jaxel.core.trade.machine.marked import MOST_MARKS, PhotoMark
from jaxel.store.machine import photos as store

from ..bounded import Bounded
from ..database import connection
from ..guard import UPLOADS
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Changes, Id, MachinePath, PhotoPath, VisitPath, hand, once
from ..record.model import Model, Request
from .photo_view import PhotoView, photo_view
from .view import MachineView, machine_view

api = Blueprint("photos", "/api")


class Picture(RawModel):
    """A photo as it stands in its file."""

    mimetypes = list(UPLOADS)  # noqa: RUF012 (declared so where it is inherited from)


class Size(Request):
    small: bool = False


class Subject(Request):
    """What a photo is of: a station of a visit, or an item of it as `side.item`."""

    visit_id: Id | None = None
    subject: Annotated[str, Field(max_length=80)] = ""


class VisitPhotos(Model):
    """Photos of a visit by what they are of, and those of the same at the machine's visits before."""

    photos: dict[str, list[PhotoView]]
    earlier: dict[str, list[PhotoView]]


Marks = Annotated[list[PhotoMark], Field(max_length=MOST_MARKS)]


class PhotoChanges(Changes):
    caption: Changed[Annotated[str, Field(max_length=200)]] | None = None
    removed: Changed[bool] | None = None
    marks: Changed[Marks] | None = None
    place: Changed[Annotated[int, Field(ge=1, le=10_000)]] | None = None


@api.post("/machines/<int:machine_id>/photos", responses={"201": MachineView})
def add(path: MachinePath, query: Subject, raw: Picture) -> tuple[Response, int]:
    """A photo of the machine, or of what it shows at a visit."""
    from jaxel.store.machine.pixels import encoded  # slow to import: few requests bring a photo

    data = request.get_data(cache=False)
    darkroom: Bounded = current_app.extensions["darkroom"]
    photo = darkroom.do(lambda: encoded(data))
    once(
        lambda: store.add(connection(), path.machine_id, photo, hand(), visit_id=query.visit_id, subject=query.subject)
    )
    return answer(machine_view(connection(), path.machine_id)), 201


def _by_subject(photos: Sequence[store.Photo]) -> dict[str, list[PhotoView]]:
    found: dict[str, list[PhotoView]] = {}
    for each in photos:
        found.setdefault(each.subject, []).append(photo_view(each))
    return found


@api.get("/visits/<int:visit_id>/photos", responses={"200": VisitPhotos})
def of_visit(path: VisitPath) -> Response:
    here, before = store.seen_at(connection(), path.visit_id)
    return answer(VisitPhotos(photos=_by_subject(here), earlier=_by_subject(before)))


@api.get("/photos/<int:photo_id>", responses={"200": None})
def photo(path: PhotoPath, query: Size) -> Response:
    """Its JPEG, which never changes under its number."""
    response = Response(store.image(connection(), path.photo_id, small=query.small), mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@api.patch("/photos/<int:photo_id>", responses={"200": MachineView})
def change(path: PhotoPath, body: PhotoChanges) -> Response:
    machine_id = store.change(connection(), path.photo_id, body.edits(), hand())
    return answer(machine_view(connection(), machine_id))
