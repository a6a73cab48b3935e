"""Two workshops beside each other: one that worked, one that is empty."""

import io
import json
import tempfile
import zipfile
from functools import cache
from hashlib import sha256
from pathlib import Path

from jaxel.store import db
from jaxel.store.bundle import merge, opened, pack
from jaxel.store.edits import Edit
from jaxel.store.machine import photos, pixels
from jaxel.store.shelf import parts, shelf
from tests.store.cases.any_machine_case import picture
from tests.store.cases.store_case import StoreCase


@cache
def worked() -> tuple[bytes, dict[str, int]]:
    """A workshop with a signed visit, a photo, a part and prices, built once: its file, and keys of what is in it."""
    case = StoreCase()
    case.setUp()
    try:
        part = parts.add(case.db, "W-57", "arm", "Maren")
        parts.change(case.db, part, {"price": Edit(None, 39.5)}, "Maren")
        shelf.count(case.db, part, Edit(None, 4), "Maren")
        case.complete()
        case.db.execute("UPDATE strip SET new_price = 412.25")
        photo = photos.add(
            case.db, case.machine, pixels.encoded(picture()), "Maren", visit_id=case.visit, subject="belt"
        )
        case.sign("Maren")
        case.db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        return case.path.read_bytes(), {"machine": case.machine, "visit": case.visit, "photo": photo}
    finally:
        case.doCleanups()


class BundleCase(StoreCase):
    """`db`, the workshop that worked; `there`, an empty one."""

    def setUp(self):
        data, keys = worked()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "workshop.db"
        self.path.write_bytes(data)
        self.db = db.connect(self.path)
        self.addCleanup(self.db.close)
        self.machine, self.visit, self.photo = keys["machine"], keys["visit"], keys["photo"]
        self.there = self.empty()

    def empty(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "there.db"
        db.migrate(path)
        connection = db.connect(path)
        self.addCleanup(connection.close)
        return connection

    def packed(self, of="machine", key=None, left_out=(), source=None):
        file = io.BytesIO()
        pack.pack(source or self.db, file, of, self.machine if key is None else key, left_out)
        return file

    def take(self, file, into=None):
        return merge.merge(into or self.there, opened.opened(file), "Jo")

    def documents(self, file):
        """Every document of a bundle by its name."""
        with zipfile.ZipFile(file) as archive:
            return {name: archive.read(name) for name in archive.namelist() if name != "manifest.json"}

    def altered(self, file, change, lie=False):
        """A bundle whose entries `change` has altered, its manifest written anew unless it is to lie."""
        with zipfile.ZipFile(file) as archive:
            held = {name: archive.read(name) for name in archive.namelist()}
        manifest = json.loads(held.pop("manifest.json"))
        entries = change(held, manifest) or held
        if not lie:
            manifest["entries"] = [
                {"name": name, "size": len(data), "sha256": sha256(data).hexdigest()} for name, data in entries.items()
            ]
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            for name, data in (entries | {"manifest.json": json.dumps(manifest).encode()}).items():
                archive.writestr(name, data)
        return out

    def rows(self, connection):
        """How many rows each table holds."""
        names = [row[0] for row in connection.execute(
            "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite%'")]  # fmt: skip
        return {name: connection.execute(f"SELECT count(*) FROM {name}").fetchone()[0] for name in names}


def rewritten(name, alter):
    """A change of one document of a bundle."""

    def change(held, _):
        (place,) = [each for each in held if each.startswith(name) and each.endswith(".json")]
        document = json.loads(held[place])
        alter(document)
        held[place] = json.dumps(document).encode()

    return change
