"""A bundle written: one visit, one machine or the whole workshop as a zip that another Jaxel takes in."""

import json
import sqlite3
import zipfile
from collections.abc import Callable, Collection, Iterator
from hashlib import sha256
from typing import IO, Any

from jaxel import __version__
from jaxel.core.errors import InvalidValue
from jaxel.core.formats.bundle import BundleManifest, Document, Entry, LeftOut, Scope
from jaxel.core.formats.schemas import json_schema
from jaxel.core.formats.tables import VISITS, written
from jaxel.core.words import told

from ..db import NotFound, now, reading
from ..run import log_files
from .redacted import redacted
from .rows import Chosen, Outgoing

EPOCH = (1980, 1, 1, 0, 0, 0)
"""The time of every entry, the first a zip can hold: one bundle made twice is the same but for its manifest."""

Watch = Callable[[float], None]


MOST_SHARE = 0.99
"""What is told of the work while any of it is left."""

DOCUMENT_BYTES = 40_000
"""A visit with its log, about."""

_PHOTOS = (
    "FROM photo WHERE machine_id IN (SELECT value FROM json_each(:machines))"
    " AND (visit_id IS NULL OR visit_id IN (SELECT value FROM json_each(:visits)))"
)
_LOGS = (
    "SELECT DISTINCT digest FROM run_log JOIN road_test ON road_test.id = road_test_id"
    " WHERE visit_id IN (SELECT value FROM json_each(:visits))"
)


def pack(
    connection: sqlite3.Connection,
    file: IO[bytes],
    of: Scope,
    key: int = 0,
    left_out: Collection[LeftOut] = (),
    watch: Watch = lambda _: None,
) -> BundleManifest:
    """Write a bundle of a visit, a machine (by its `key`) or the workshop, as it stood at the first look.

    Visits that are open stay out. Raises NotFound, InvalidValue (field `visit`) for an open one.
    """
    with reading(connection):
        chosen, name = _chosen(connection, of, key)
        rider = {} if "rider" not in left_out else dict(connection.execute("SELECT id, rider FROM machine").fetchall())
        entries: list[Entry] = []
        with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
            total, done = _weight(connection, chosen), 0
            for path, data in _files(connection, chosen, of, left_out, rider):
                watch(min(done / total, MOST_SHARE))
                _write(archive, path, data)
                done += DOCUMENT_BYTES if path.endswith(".json") else len(data)
                entries.append(Entry(name=path, size=len(data), sha256=sha256(data).hexdigest()))
            manifest = BundleManifest(
                of=of, name=name, made_at=now(), made_by=f"Jaxel {__version__}",
                schema_version=connection.execute("PRAGMA user_version").fetchone()[0],
                left_out=sorted(left_out), entries=entries,
            )  # fmt: skip
            _write(archive, "manifest.json", _json(manifest.model_dump()))
    return manifest


def _write(archive: zipfile.ZipFile, path: str, data: bytes) -> None:
    entry = zipfile.ZipInfo(path, EPOCH)
    entry.compress_type = zipfile.ZIP_STORED if path.endswith(".jpg") else zipfile.ZIP_DEFLATED
    entry.external_attr = 0o644 << 16
    archive.writestr(entry, data)


def _json(value: Any) -> bytes:
    return json.dumps(value, ensure_ascii=False, indent=1).encode()


def _chosen(connection: sqlite3.Connection, of: Scope, key: int) -> tuple[Chosen, str]:
    """Which machines and visits go, and what the bundle is called."""
    if of == "workshop":
        machines = [row[0] for row in connection.execute("SELECT id FROM machine ORDER BY id")]
        name = connection.execute("SELECT name FROM workshop").fetchone()[0] or "the workshop"
        return _whole(connection, machines), name
    if of == "visit":
        row = connection.execute(
            "SELECT machine_id, signed_off_at, name FROM visit JOIN machine ON machine.id = machine_id"
            " WHERE visit.id = ?",
            (key,),
        ).fetchone()
        if row is None:
            raise NotFound("visit")
        if row["signed_off_at"] is None:
            raise InvalidValue("visit", "is open: only a signed visit goes into a bundle")
        chosen = Chosen(_together(connection, row["machine_id"]), [key], _needed(connection, key))
        return chosen, f"{row['name']}, {row['signed_off_at'][:10]}"
    row = connection.execute("SELECT name FROM machine WHERE id = ?", (key,)).fetchone()
    if row is None:
        raise NotFound("machine")
    return _whole(connection, _together(connection, key)), row["name"]


def _whole(connection: sqlite3.Connection, machines: list[int]) -> Chosen:
    """Machines with every signed visit, and every set-up but those recorded at a visit that is open."""
    visits, given = _signed(connection, machines), json.dumps(machines)
    revisions = connection.execute(
        "SELECT setup_revision.id FROM setup_revision LEFT JOIN visit ON visit.id = visit_id"
        " WHERE setup_revision.machine_id IN (SELECT value FROM json_each(?))"
        " AND (visit_id IS NULL OR signed_off_at IS NOT NULL)",
        (given,),
    )
    return Chosen(machines, visits, [row[0] for row in revisions])


def _needed(connection: sqlite3.Connection, visit_id: int) -> list[int]:
    """The set-ups of a visit, those they came from, and of the clutches beside it the first of each."""
    rows = connection.execute(
        "WITH RECURSIVE needed (id) AS (SELECT found_revision_id FROM set_up WHERE visit_id = :visit"
        " UNION SELECT left_revision_id FROM set_up WHERE visit_id = :visit"
        " UNION SELECT revision_id FROM road_test WHERE visit_id = :visit"
        " UNION SELECT id FROM setup_revision WHERE nature = 'brought in'"
        " UNION SELECT parent_id FROM setup_revision JOIN needed USING (id) WHERE parent_id IS NOT NULL"
        " UNION SELECT corrects FROM setup_revision JOIN needed USING (id) WHERE corrects IS NOT NULL)"
        " SELECT id FROM needed",
        {"visit": visit_id},
    )
    return [row[0] for row in rows]


def _together(connection: sqlite3.Connection, machine_id: int) -> list[int]:
    """A machine with the clutches that were ever mounted on it, and the records that were merged into any of them."""
    rows = connection.execute(
        "WITH RECURSIVE linked (a, b) AS (SELECT id, merged_into FROM machine WHERE merged_into IS NOT NULL"
        " UNION SELECT clutch_id, machine_id FROM mounting UNION SELECT took_off_id, machine_id FROM mounting"
        " WHERE took_off_id IS NOT NULL), together (id) AS (VALUES (?) UNION"
        " SELECT CASE WHEN a = together.id THEN b ELSE a END FROM linked JOIN together ON together.id IN (a, b))"
        " SELECT id FROM together ORDER BY id",
        (machine_id,),
    )
    return [row[0] for row in rows]


def _signed(connection: sqlite3.Connection, machines: list[int]) -> list[int]:
    rows = connection.execute(
        "SELECT id FROM visit WHERE signed_off_at IS NOT NULL AND machine_id IN (SELECT value FROM json_each(?))"
        " ORDER BY id",
        (json.dumps(machines),),
    )
    return [row[0] for row in rows]


def _files(
    connection: sqlite3.Connection, chosen: Chosen, of: Scope, left_out: Collection[LeftOut], riders: dict[int, str]
) -> Iterator[tuple[str, bytes]]:
    """Every entry but the manifest, in the order they are taken in."""
    outgoing = Outgoing(connection, chosen)
    yield "workshop.json", _document(outgoing.workshop(whole=of == "workshop"), left_out)
    for machine in chosen.machines:
        document = outgoing.machine(machine)
        yield f"machines/{document.id}.json", _document(document, left_out, riders.get(machine, ""))
    owners = dict(connection.execute("SELECT id, machine_id FROM visit").fetchall())
    for visit in chosen.visits:
        there = outgoing.visit(visit)
        yield f"visits/{there.id}.json", _document(there, left_out, riders.get(owners[visit], ""))
    yield from _pictures(connection, chosen)
    yield from _logs(connection, chosen)
    yield "tables/visits.csv", _overview(connection, chosen, left_out)
    for name in ("jaxel-bundle", "jaxel-machine", "jaxel-visit", "jaxel-workshop"):
        yield f"schemas/{name}.json", _json(json_schema(name))


def _document(document: Document, left_out: Collection[LeftOut], rider: str = "") -> bytes:
    return _json(redacted(document, left_out, rider).model_dump())


def _given(chosen: Chosen) -> dict[str, str]:
    return {"machines": json.dumps(chosen.machines), "visits": json.dumps(chosen.visits)}


def _weight(connection: sqlite3.Connection, chosen: Chosen) -> int:
    """About how many bytes go in, before they are packed: photos and logs as they are, a document as most are."""
    given = _given(chosen)
    photos = connection.execute(f"SELECT coalesce(sum(length(image) + length(small)), 0) {_PHOTOS}", given)
    logs = connection.execute(f"SELECT coalesce(sum(size), 0) FROM log_file WHERE digest IN ({_LOGS})", given)
    documents = len(chosen.machines) + len(chosen.visits) + 1
    return int(photos.fetchone()[0] + logs.fetchone()[0] + documents * DOCUMENT_BYTES)


def _pictures(connection: sqlite3.Connection, chosen: Chosen) -> Iterator[tuple[str, bytes]]:
    for row in connection.execute(f"SELECT identity, image, small {_PHOTOS} ORDER BY id", _given(chosen)):
        yield f"photos/{row['identity']}.jpg", row["image"]
        yield f"photos/{row['identity']}-small.jpg", row["small"]


def _logs(connection: sqlite3.Connection, chosen: Chosen) -> Iterator[tuple[str, bytes]]:
    for row in connection.execute(f"{_LOGS} ORDER BY digest", _given(chosen)).fetchall():
        yield f"logs/{row['digest']}", b"".join(log_files.parts(connection, row["digest"]))


def _overview(connection: sqlite3.Connection, chosen: Chosen, left_out: Collection[LeftOut]) -> bytes:
    """The visits a line each, for a spreadsheet."""
    rows = connection.execute(
        "SELECT visit.identity, machine.name, opened_at, signed_off_at, signed_off_by, scope, odometer_km, odometer_h,"
        " complaint FROM visit JOIN machine ON machine.id = machine_id JOIN intake ON visit_id = visit.id"
        " WHERE visit.id IN (SELECT value FROM json_each(?)) ORDER BY visit.id",
        (json.dumps(chosen.visits),),
    )
    plain = "technicians" not in left_out
    lines = [[each if plain or place != 4 else None for place, each in enumerate(row)] for row in rows]
    return told(written(VISITS, list(VISITS.columns), lines)).encode()
