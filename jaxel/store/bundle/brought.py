"""What a bundle brings, read and looked at before the database is held: its documents, and every photo that is new."""

import json
import sqlite3
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.bundle import Document, MachineBundle, VisitBundle, WorkshopBundle

from .graph import OF_MACHINE, OF_VISIT, OF_WORKSHOP
from .opened import Opened

Watch = Callable[[float], None]

READ = 0.5
"""What reading is of the whole work, about: then comes writing."""


@dataclass(frozen=True)
class Brought:
    """The documents of a bundle, each of its own tables."""

    workshop: WorkshopBundle
    machines: list[MachineBundle]
    visits: list[VisitBundle]

    @property
    def documents(self) -> list[Document]:
        return [self.workshop, *self.machines, *self.visits]


def brought(connection: sqlite3.Connection, bundle: Opened, watch: Watch) -> Brought:
    """Read a bundle, nobody waiting; raises InvalidValue for a document or a photo that cannot be taken in."""
    found = Brought(bundle.workshop(), [], [])
    for machine in bundle.machines():
        found.machines.append(machine)
        watch(READ * bundle.share)
    for visit in bundle.visits():
        found.visits.append(visit)
        watch(READ * bundle.share)
    for document in found.documents:
        _check_tables(document)
    for identity in _new_photos(connection, found.machines):
        _check_photo(bundle, identity)
        watch(READ * bundle.share)
    return found


def picture(bundle: Opened, identity: str) -> dict[str, bytes]:
    """A photo's two files."""
    image, small = (bundle.read(name) for name in photo_names(identity))
    return {"image": image, "small": small}


def photo_names(identity: str) -> tuple[str, str]:
    """What a photo's files are called in a bundle."""
    return f"photos/{identity}.jpg", f"photos/{identity}-small.jpg"


def _check_tables(document: Document) -> None:
    mine = {MachineBundle: OF_MACHINE, VisitBundle: OF_VISIT, WorkshopBundle: OF_WORKSHOP}[type(document)]
    if unknown := set(document.rows) - set(mine):
        raise InvalidValue("bundle", f"holds a table that does not belong there: {min(unknown)[:60]}")
    alone = {MachineBundle: "machine", VisitBundle: "visit"}.get(type(document))
    if alone and [row.get("id") for row in document.rows.get(alone, [])] != [getattr(document, "id", None)]:
        raise InvalidValue("bundle", f"holds a {alone} that is another than its file says")


def _new_photos(connection: sqlite3.Connection, machines: Iterable[MachineBundle]) -> list[str]:
    told = [row.get("id") for each in machines for row in each.rows.get("photo", ())]
    names = [each for each in told if isinstance(each, str)]
    here = connection.execute(
        "SELECT identity FROM photo WHERE identity IN (SELECT value FROM json_each(?))", (json.dumps(names),)
    )
    known = {row[0] for row in here}
    return [each for each in names if each not in known]


def _check_photo(bundle: Opened, identity: str) -> None:
    from ..machine.pixels import check_kept  # slow to import: few bundles hold a photo

    for data in picture(bundle, identity).values():
        check_kept(data)
