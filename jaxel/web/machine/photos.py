"""Photos of a machine: taken up, shown, captioned, removed and brought back."""

from typing import Annotated

from flask import Response, request
from flask_openapi3 import RawModel
from pydantic import Field

from jaxel.store.machine import photos as store

from ..database import connection
from ..guard import UPLOADS
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Changes, Id, MachinePath, PhotoPath, hand, once
from ..record.model import Request
from .view import MachineView, machine_view

api = Blueprint("photos", "/api")


class Picture(RawModel):
    """A photo as it stands in its file."""

    mimetypes = list(UPLOADS)  # noqa: RUF012 (declared so where it is inherited from)


class Size(Request):
    small: bool = False


class Subject(Request):
    """What a photo is of: an item of a visit, as `side.item`."""

    visit_id: Id | None = None
    subject: Annotated[str, Field(max_length=80)] = ""


class PhotoChanges(Changes):
    caption: Changed[Annotated[str, Field(max_length=200)]] | None = None
    removed: Changed[bool] | None = None


@api.post("/machines/<int:machine_id>/photos", responses={"201": MachineView})
def add(path: MachinePath, query: Subject, raw: Picture) -> tuple[Response, int]:
    """A photo of the machine, or of what it shows at a visit."""
    from jaxel.store.machine.pixels import encoded  # slow to import: few requests bring a photo

    photo = encoded(request.get_data(cache=False))
    once(
        lambda: store.add(connection(), path.machine_id, photo, hand(), visit_id=query.visit_id, subject=query.subject)
    )
    return answer(machine_view(connection(), path.machine_id)), 201


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
