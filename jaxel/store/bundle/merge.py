"""A bundle taken in: what is new is written, what is here stays, a signed visit is equal or the whole is refused."""

import sqlite3
import tempfile
import zlib
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass, field
from functools import cached_property
from hashlib import sha256
from pathlib import Path
from typing import TYPE_CHECKING, Any

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.bundle import Document, MachineBundle, Row, VisitBundle
from jaxel.core.formats.run.log_file import LOG_LIMIT
from jaxel.core.trade.visit.stations import open_items

from ..copies import roomy
from ..db import connect, now, writing
from ..run import run_logs, traces, verdicts
from ..run.log_uploads import PART
from ..setup import revisions
from .brought import READ, Brought, Watch, brought, photo_names, picture
from .graph import AFTERWARDS, OF_VISIT, tables
from .opened import Opened
from .redacted import redacted
from .rows import Chosen, Incoming, Outgoing
from .workshop_rows import take_in_workshop

if TYPE_CHECKING:
    from ..visit.entries import TestRun
    from ..visit.visits import Visit

MOST_DIFFERENCES = 200

NATURAL = {
    "calibration": ("key", "made_at", "made_by"),
    "stated": ("what", "kind", "name", "value", "tightness", "origin", "stated_at", "stated_by", "model", "manual"),
    "mounting": ("clutch_id", "side", "mounted_on"),
}
"""What tells rows of a machine apart that have no identity."""


@dataclass(frozen=True)
class Difference:
    """Something that is here already and says otherwise: what it is called, which field, here and in the bundle."""

    of: str
    name: str
    field: str
    here: str
    there: str


@dataclass
class Merged:
    """What a bundle brings: names of machines and days of visits that are new or known here, how many photos and logs
    are new, and what differs and stays as it is here.

    `beside`, machines that were worked on here since: what was here stays in force.
    """

    new_machines: list[str] = field(default_factory=list)
    known_machines: list[str] = field(default_factory=list)
    new_visits: list[str] = field(default_factory=list)
    known_visits: list[str] = field(default_factory=list)
    photos: int = 0
    logs: int = 0
    differences: list[Difference] = field(default_factory=list)
    beside: list[str] = field(default_factory=list)


def preview(connection: sqlite3.Connection, bundle: Opened, by: str, watch: Watch = lambda _: None) -> Merged:
    """What taking a bundle in would do, tried on a copy: nobody waits for it, and nothing is kept.

    Raises InvalidValue where it would be refused.
    """
    database = Path(connection.execute("PRAGMA database_list").fetchone()["file"])
    with tempfile.TemporaryDirectory(dir=roomy(database)) as folder:
        copy = Path(folder) / "tried.db"
        with closing(sqlite3.connect(copy)) as target:
            connection.backup(target)
        with closing(connect(copy)) as tried:
            return merge(tried, bundle, by, watch)


def merge(connection: sqlite3.Connection, bundle: Opened, by: str, watch: Watch = lambda _: None) -> Merged:
    """Take a bundle in, all of it or nothing; others wait only while it is written.

    Raises InvalidValue where it cannot be, or a visit differs.
    """
    _check_version(connection, bundle)
    all_of_it = brought(connection, bundle, watch)
    with writing(connection):
        return _Merge(connection, bundle, all_of_it, by, watch).run()


def _check_version(connection: sqlite3.Connection, bundle: Opened) -> None:
    version = connection.execute("PRAGMA user_version").fetchone()[0]
    if bundle.manifest.schema_version != version:
        which = "a newer" if bundle.manifest.schema_version > version else "an older"
        raise InvalidValue("bundle", f"was made by {which} version of this program: bring both to the same one")


class _Merge:
    def __init__(self, connection: sqlite3.Connection, bundle: Opened, held: Brought, by: str, watch: Watch):
        self._db, self._bundle, self._brought, self._by, self._watch = connection, bundle, held, by, watch
        self._done = 0
        self._incoming = Incoming(connection, tables(connection))
        self._said = Merged()
        self._held: dict[int, MachineBundle] = {}
        self._answered: set[tuple[str, int]] = set()

    def run(self) -> Merged:
        self._db.execute("PRAGMA defer_foreign_keys = ON")
        machines = self._brought.machines
        try:
            for document in self._brought.documents:
                self._make_keys(document)
            self._here  # noqa: B018 (read before anything is written)
            take_in_workshop(self._db, self._incoming, self._brought.workshop, self._differs)
            held = {each.id: self._newest(each) for each in machines}
            for each in machines:
                self._machine(each)
                self._tell(f"machines/{each.id}.json")
            for there in self._brought.visits:
                self._visit(there)
                self._tell(f"visits/{there.id}.json")
            for machine in machines:
                self._stays_in_force(machine, held[machine.id])
            self._check_whole()
        except sqlite3.IntegrityError as error:
            raise InvalidValue("bundle", f"breaks a limit of the database: {error}") from None
        except (sqlite3.InterfaceError, sqlite3.ProgrammingError, OverflowError, KeyError, TypeError) as error:
            raise InvalidValue("bundle", f"holds rows that cannot be: {error}") from None
        return self._said

    def _tell(self, *names: str) -> None:
        """How far it is: these files are written."""
        self._done += sum(map(self._bundle.size, names))
        self._watch(READ + (1 - READ) * self._done / self._bundle.total)

    def _make_keys(self, document: Document) -> None:
        """A key for every row that has an identity and is not here."""
        for name, rows in document.rows.items():
            if self._incoming.tables[name].has_identity:
                for row in rows:
                    if self._incoming.known(name, row["id"]) is None:
                        self._incoming.make(name, row["id"])

    def _is_new(self, table: str, identity: str) -> bool:
        return self._db.execute(f"SELECT 1 FROM {table} WHERE identity = ?", (identity,)).fetchone() is None

    def _machine(self, document: MachineBundle) -> None:
        (machine,) = document.rows["machine"]
        new = self._is_new("machine", document.id)
        (self._said.new_machines if new else self._said.known_machines).append(str(machine.get("name"))[:120])
        here = None if new else self._machine_here(self._key(document.id))
        held = {row["id"]: row for name in ("machine", "belt", "photo", "setup_revision")
                for row in (here.rows[name] if here else ())}  # fmt: skip
        added: set[str] = set()
        for name in ("machine", "belt", "setup_revision", "photo"):
            for row in document.rows.get(name, ()):
                if row["id"] in held:
                    self._differs(name, _called(name, row), held[row["id"]], row)
                elif not self._is_new(name, row["id"]):
                    raise InvalidValue("bundle", f"holds a {name} that is another machine's here")
                else:
                    self._incoming.insert(name, row, self._picture(row["id"]) if name == "photo" else None)
                    added.add(row["id"])
                    self._said.photos += name == "photo"
        for name in NATURAL:
            for row in document.rows.get(name, ()):
                self._union(name, row)
        for name in ("accepted_answer", "revision_part", "revision_figures"):
            for row in document.rows.get(name, ()):
                if row["revision_id"] in added:
                    self._incoming.insert_if_free(name, row)
        for name in ("stated_choice", "due"):
            for row in document.rows.get(name, ()):
                self._incoming.insert_if_free(name, row)

    def _visit(self, document: VisitBundle) -> None:
        (visit,) = document.rows["visit"]
        day = str(visit.get("signed_off_at"))[:10]
        if not visit.get("signed_off_at"):
            raise InvalidValue("bundle", "holds a visit that is open")
        self._local(document)
        if not self._is_new("visit", document.id):
            self._must_be_equal(document, day)
            self._said.known_visits.append(day)
            return
        for name in OF_VISIT:
            table = self._incoming.tables[name]
            for row in document.rows.get(name, ()):
                if table.has_id and not table.has_identity:
                    self._incoming.make(name, row["id"])
        for name in OF_VISIT:
            for row in document.rows.get(name, ()):
                if name == "run_log":
                    self._file(row)
                self._incoming.insert(name, row)
        self._said.new_visits.append(day)

    def _local(self, document: Document) -> None:
        """Names like `fault#2` are of one document."""
        for name in document.rows:
            if not self._incoming.tables[name].has_identity and name != "calibration":
                self._incoming.keys.pop(name, None)

    def _must_be_equal(self, document: VisitBundle, day: str) -> None:
        key = self._incoming.known("visit", document.id) or 0
        row = self._db.execute("SELECT signed_off_at, machine_id FROM visit WHERE id = ?", (key,)).fetchone()
        if row["signed_off_at"] is None:
            raise InvalidValue("visit", f"of {day} is open here: close it first")
        machine = self._machine_here(row["machine_id"])
        here = redacted(self._here.visit(key), self._bundle.manifest.left_out, str(machine.rows["machine"][0]["rider"]))
        for name in OF_VISIT:
            if name in AFTERWARDS:
                continue
            ours, theirs = here.rows.get(name, []), document.rows.get(name, [])
            if ours != theirs:
                raise InvalidValue(
                    "visit", f"of {day} is signed here with another record: {_where(name, ours, theirs)}"
                )
        for row in document.rows.get("addendum", ()):
            said = [each["text"] for each in here.rows["addendum"]]
            if row["text"] not in said:
                self._incoming.make("addendum", row["id"])
                self._incoming.insert("addendum", row)

    def _union(self, name: str, row: Row) -> None:
        """A row of a machine that is told by what it says: taken in where none here says the same.

        Each row here answers for one that came: what two owners said in the same second was said twice.
        """
        columns = NATURAL[name]
        values = {each: self._incoming.stored(self._incoming.tables[name], each, row.get(each), row)
                  for each in (*columns, "machine_id")}  # fmt: skip
        same = " AND ".join(f"{each} IS :{each}" for each in values)
        found = self._db.execute(f"SELECT id FROM {name} WHERE {same} ORDER BY id", values)
        free = (key for (key,) in found if (name, key) not in self._answered)
        key = next(free, None)
        if key is None:
            key = self._incoming.make(name, row["id"])
            self._incoming.insert(name, row)
        self._incoming.keys.setdefault(name, {})[row["id"]] = key
        self._answered.add((name, key))

    def _picture(self, identity: str) -> dict[str, bytes]:
        found = picture(self._bundle, identity)
        self._tell(*photo_names(identity))
        return found

    def _file(self, row: Row) -> None:
        """The file of a log, kept once by its digest."""
        digest = str(row["digest"])
        if self._db.execute("SELECT 1 FROM log_file WHERE digest = ?", (digest,)).fetchone():
            return
        data = self._bundle.read(f"logs/{digest}")
        if sha256(data).hexdigest() != digest or not 0 < len(data) <= LOG_LIMIT:
            raise InvalidValue("bundle", f"logs/{digest} is another file than its name says")
        self._db.execute("INSERT INTO log_file VALUES (?, ?, ?)", (digest, len(data), now()))
        self._db.executemany(
            "INSERT INTO log_file_part VALUES (?, ?, 0, ?)",
            [(digest, number, data[start : start + PART]) for number, start in enumerate(range(0, len(data), PART))],
        )
        self._said.logs += 1
        self._tell(f"logs/{digest}")

    def _differs(self, of: str, name: Any, here: Row, there: Row) -> None:
        """Note what a row here says otherwise; what was left out of the bundle says nothing."""
        quiet = {"id", "visit_id"} | ({"rider"} if "rider" in self._bundle.manifest.left_out else set())
        for column, value in there.items():
            if column in quiet or here.get(column) == value or value is None:
                continue
            if of == "setup_revision":
                if column.endswith("_by") and "technicians" in self._bundle.manifest.left_out:
                    continue
                raise InvalidValue("bundle", f"holds a set-up that is recorded here otherwise: {column}")
            if len(self._said.differences) < MOST_DIFFERENCES and not column.endswith("_by"):
                said = (str(each if each is not None else "")[:200] for each in (here.get(column), value))
                self._said.differences.append(Difference(of, str(name)[:120], column, *said))

    def _machine_here(self, key: int) -> MachineBundle:
        """A machine as it stood here before anything came in."""
        if key not in self._held:
            self._held[key] = self._here.machine(key)
        return self._held[key]

    @cached_property
    def _here(self) -> Outgoing:
        """What is here of the machines that the bundle knows."""
        known = ", ".join(str(key) for key in self._incoming.keys.get("machine", {}).values())
        visits = ", ".join(str(key) for key in self._incoming.keys.get("visit", {}).values())
        machines = [row[0] for row in self._db.execute(
            f"SELECT id FROM machine WHERE id IN ({known}) UNION SELECT machine_id FROM visit WHERE id IN ({visits})"
        )]  # fmt: skip
        of_those = f"SELECT id FROM {{}} WHERE machine_id IN ({', '.join(map(str, machines))})"
        seen, made = ([row[0] for row in self._db.execute(of_those.format(table))] for table in
                      ("visit", "setup_revision"))  # fmt: skip
        return Outgoing(self._db, Chosen(machines, seen, made))

    def _key(self, identity: str) -> int:
        return self._incoming.known("machine", identity) or 0

    def _newest(self, document: MachineBundle) -> int | None:
        """The set-up that a machine here has now, if the bundle does not know it."""
        if self._is_new("machine", document.id):
            return None
        row = self._db.execute(
            "SELECT id, identity FROM setup_revision WHERE machine_id = ? ORDER BY id DESC LIMIT 1",
            (self._key(document.id),),
        ).fetchone()
        return (
            None if row is None or row["identity"] in {e["id"] for e in document.rows["setup_revision"]} else row["id"]
        )

    def _stays_in_force(self, document: MachineBundle, before: int | None) -> None:
        """A machine that was worked on here since stands as it stood here: what came in is its past."""
        if before is None:
            return
        held = revisions.newest(self._db, self._key(document.id))
        if held.id == before:
            return
        was = revisions.get(self._db, before)
        revisions.add(
            self._db, self._key(document.id), was.document, parent_id=before, nature="found", by=self._by,
            reason="as it stood here, when a bundle with earlier set-ups of it was taken in",
        )  # fmt: skip
        self._said.beside.append(str(document.rows["machine"][0]["name"])[:120])

    def _check_whole(self) -> None:
        """Every reference points somewhere, and what came in can be read as pages read it."""
        torn = self._db.execute("PRAGMA foreign_key_check").fetchone()
        if torn is not None:
            raise InvalidValue("bundle", f"holds a {torn[0]} that points at nothing in {torn[2]}")
        for name in ("visit", "machine"):
            for identity, key in self._incoming.keys.get(name, {}).items():
                del identity
                _read_whole(self._db, name, key)


def _read_whole(connection: sqlite3.Connection, name: str, key: int) -> None:
    """Read a visit or a machine as its pages do; raises InvalidValue where it cannot be."""
    from ..machine import machines
    from ..visit import pages, visits

    try:
        if name == "visit":
            visit = visits.get(connection, key)
            pages.page(connection, visit)
            open_items(visit.record())
            for made in (visit.as_found, visit.as_left, visit.as_recorded):
                made()
            for run in visit.runs:
                if run.log_name is not None:
                    _read_log(connection, visit, run)
        else:
            if machines.get(connection, key).merged_into is None:  # another record has what a double had
                machines.fitted_belt(connection, key)
                revisions.newest(connection, key)
            for row in connection.execute("SELECT id FROM setup_revision WHERE machine_id = ?", (key,)).fetchall():
                revisions.get(connection, row["id"])
    except (ValueError, LookupError, ArithmeticError, TypeError, AttributeError, zlib.error) as error:
        raise InvalidValue("bundle", f"holds a {name} that cannot be read: {str(error)[:200]}") from None


def _read_log(connection: sqlite3.Connection, visit: "Visit", run: "TestRun") -> None:
    """Read what a log came to as its page does, its traces within bounds first."""
    log = run_logs.get(connection, run.id)
    traces.check(connection, run.id, log.grid)
    run_logs.reader(connection, log)
    traces.window(connection, run.id, log.grid, 0, 10**9, 1200)
    verdicts.verdict_of(connection, visit, run)


def _called(name: str, row: Row) -> str:
    return str(row.get("name") or (f"belt {row.get('number')}" if name == "belt" else name.replace("_", " ")))


def _where(name: str, ours: list[Row], theirs: list[Row]) -> str:
    """The first place where two records of a table differ."""
    if len(ours) != len(theirs):
        return f"{name.replace('_', ' ')}, {len(ours)} here, {len(theirs)} there"
    pairs: Iterator[tuple[Row, Row]] = zip(ours, theirs, strict=True)
    for one, other in pairs:
        for column in {*one, *other}:
            if one.get(column) != other.get(column):
                return f"{name.replace('_', ' ')}, {column.replace('_', ' ')}"
    return name
