"""The shop floor as lists need it: every machine with its newest set-up's figures and its open visit, a query each."""

import sqlite3
from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, fields

from jaxel.core.formats.prediction import MODEL_VERSION
from jaxel.core.trade.belt_look import Mark
from jaxel.core.trade.kinds import Kinds
from jaxel.core.trade.rebuild import expected_of
from jaxel.core.trade.stations import BeltCheck, FoundFault, HandOver, Intake, Ride, SetUp, VisitRecord

from . import bench_records
from .bench_records import NOTHING_SAID, json_of
from .edits import read_field
from .inspections import of_open_visits
from .machines import Machine, machine_of
from .visits import fault_of


@dataclass(frozen=True)
class OpenVisit:
    """A visit that is open, as its stations recorded it."""

    id: int
    opened_at: str
    record: VisitRecord


@dataclass(frozen=True)
class FloorMachine:
    """A machine on the floor; figures of its newest set-up [rpm, N], None where they are not kept or there are none.

    `figures_kept` says whether they have been worked out.
    """

    machine: Machine
    revision_id: int
    figures_kept: bool
    engagement_rpm: float | None
    snap_n: float | None
    shift_rpm: float | None
    visit: OpenVisit | None


def machines_on_floor(connection: sqlite3.Connection) -> list[FloorMachine]:
    """Every machine, by name; those merged into another are that one."""
    visits = {visit.machine_id: visit.open for visit in _open_visits(connection)}
    rows = connection.execute(
        "SELECT machine.*, newest.revision_id, revision_figures.revision_id IS NOT NULL AS figures_kept,"
        " engagement_rpm, snap_n, shift_rpm FROM machine"
        " JOIN (SELECT machine_id, max(id) AS revision_id FROM setup_revision GROUP BY machine_id) AS newest"
        " ON newest.machine_id = machine.id"
        " LEFT JOIN revision_figures ON revision_figures.revision_id = newest.revision_id AND model_version = ?"
        " WHERE merged_into IS NULL ORDER BY machine.name, machine.id",
        (MODEL_VERSION,),
    )
    return [
        FloorMachine(
            machine_of(row),
            row["revision_id"],
            bool(row["figures_kept"]),
            row["engagement_rpm"],
            row["snap_n"],
            row["shift_rpm"],
            visits.get(row["id"]),
        )
        for row in rows
    ]


def machines_visited(connection: sqlite3.Connection, word: str) -> set[int]:
    """Ids of the machines of which any visit's complaint or odometer holds a word, in any case."""
    if not word.isascii():
        # SQLite's LIKE knows the case of ASCII letters only.
        connection.create_function("casefold", 1, str.casefold, deterministic=True)
        rows = connection.execute(
            "SELECT DISTINCT machine_id FROM visit JOIN intake ON intake.visit_id = visit.id"
            " WHERE instr(casefold(complaint), ?)",
            (word.casefold(),),
        )
        return {row["machine_id"] for row in rows}
    pattern = "%" + word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
    rows = connection.execute(
        "SELECT DISTINCT machine_id FROM visit JOIN intake ON intake.visit_id = visit.id"
        " WHERE complaint LIKE :word ESCAPE '\\' OR CAST(CAST(odometer_km AS INTEGER) AS TEXT) LIKE :word ESCAPE '\\'",
        {"word": pattern},
    )
    return {row["machine_id"] for row in rows}


@dataclass(frozen=True)
class _Found:
    machine_id: int
    open: OpenVisit


def _open_visits(connection: sqlite3.Connection) -> Iterator[_Found]:
    # CROSS JOIN: the few open visits first, then their rows by index, not every reading there ever was.
    widths: dict[int, dict[int, float]] = defaultdict(dict)
    for row in connection.execute(
        "SELECT visit_id, place, width_mm FROM visit CROSS JOIN belt_reading ON visit_id = visit.id"
        " WHERE signed_off_at IS NULL"
    ):
        widths[row["visit_id"]][row["place"]] = row["width_mm"]
    rides: dict[int, list[Ride]] = defaultdict(list)
    for row in connection.execute(
        "SELECT visit_id, revision_id, engagement_rpm, shift_rpm FROM visit CROSS JOIN road_test"
        " ON visit_id = visit.id WHERE signed_off_at IS NULL ORDER BY road_test.id"
    ):
        rides[row["visit_id"]].append(Ride(row["revision_id"], row["engagement_rpm"], row["shift_rpm"]))
    faults: dict[int, list[FoundFault]] = defaultdict(list)
    for row in connection.execute(
        "SELECT fault.* FROM visit CROSS JOIN fault ON fault.visit_id = visit.id"
        " WHERE signed_off_at IS NULL ORDER BY fault.id"
    ):
        faults[row["visit_id"]].append(fault_of(row))
    marks: dict[int, list[Mark]] = defaultdict(list)
    for row in connection.execute(
        "SELECT belt_mark.* FROM visit CROSS JOIN belt_mark ON belt_mark.visit_id = visit.id"
        " WHERE signed_off_at IS NULL ORDER BY belt_mark.id"
    ):
        marks[row["visit_id"]].append(Mark(row["kind"], row["place"], row["flank"], row["length_mm"]))
    kinds = {
        row["id"]: (row["machine_id"], Kinds(row["primary_kind"], row["secondary_kind"]))
        for row in connection.execute(
            "SELECT visit.id, machine_id, primary_kind, secondary_kind FROM visit"
            " JOIN machine ON machine.id = machine_id WHERE signed_off_at IS NULL"
        )
    }
    inspections = of_open_visits(connection, kinds)
    together, asked = bench_records.of_open_visits(connection), bench_records.cycles_asked(connection)
    stations = {"intake": Intake, "belt_check": BeltCheck, "set_up": SetUp, "hand_over": HandOver}
    named = [(table, name) for table, kind in stations.items() for name in _names(kind)]
    columns = ", ".join(f"{table}.{name} AS {table}_{name}" for table, name in named)
    for row in connection.execute(
        f"SELECT visit.id, visit.machine_id, visit.opened_at, visit.scope, {columns},"
        " json_extract(found.document, '$.belt.top_width_new_mm') AS new_mm,"
        " json_extract(found.document, '$.belt.top_width_min_mm') AS limit_mm,"
        " json_extract(found.document, '$.geometry.centre_distance_mm') AS centres_mm,"
        " json_extract(fitted.document, '$.primary.weights') AS weights,"
        " json_extract(fitted.document, '$.secondary') AS secondary"
        " FROM visit JOIN intake ON intake.visit_id = visit.id JOIN belt_check ON belt_check.visit_id = visit.id"
        " JOIN set_up ON set_up.visit_id = visit.id JOIN hand_over ON hand_over.visit_id = visit.id"
        " JOIN setup_revision AS found ON found.id = set_up.found_revision_id"
        " JOIN setup_revision AS fitted ON fitted.id = set_up.left_revision_id WHERE signed_off_at IS NULL"
    ):
        held = {
            table: kind(**{name: _value(name, row[f"{table}_{name}"]) for name in _names(kind)})
            for table, kind in stations.items()
        }
        back = together.get(row["id"], NOTHING_SAID)
        belt_off = held["belt_check"].came_off(widths[row["id"]])
        expected = expected_of(json_of(row["weights"]), json_of(row["secondary"]))
        record = VisitRecord(
            scope=row["scope"],
            faults=tuple(faults[row["id"]]),
            intake=held["intake"],
            belt=held["belt_check"],
            set_up=held["set_up"],
            hand_over=held["hand_over"],
            widths_mm=widths[row["id"]],
            belt_limits_mm=(row["new_mm"], row["limit_mm"]),
            rides=tuple(rides[row["id"]]),
            marks=tuple(marks[row["id"]]),
            inspection=inspections[row["id"]],
            bench=back.bench(kinds[row["id"]][1], held["set_up"].opened, belt_off, expected),
            line_up=back.line_up,
            centres_mm=row["centres_mm"],
            break_in=back.break_in,
            cycles=back.cycles,
            cycles_asked=back.break_in.asked or asked,
            counts=back.counts,
        )
        yield _Found(row["machine_id"], OpenVisit(row["id"], row["opened_at"], record))


def _names(kind: type) -> Iterable[str]:
    return [each.name for each in fields(kind)]


def _value(name: str, stored: object) -> object:
    return read_field(name, stored)
