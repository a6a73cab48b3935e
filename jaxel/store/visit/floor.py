"""The shop floor as lists need it: every machine with its newest set-up's figures and its open visit, a query each."""

import sqlite3
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, replace

from jaxel.core.formats.prediction import MODEL_VERSION
from jaxel.core.trade.belt.check import BeltCheck
from jaxel.core.trade.belt.look import Mark
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.rebuild.rebuild import expected_of
from jaxel.core.trade.record.said import fields_of
from jaxel.core.trade.record.scope import BARE_CLUTCH
from jaxel.core.trade.run.road_test import Ride
from jaxel.core.trade.setup.tried import SetUp
from jaxel.core.trade.stranger.as_found import FoundFault
from jaxel.core.trade.visit.intake import Intake
from jaxel.core.trade.visit.record import VisitRecord
from jaxel.core.trade.visit.told import HandOver

from ..edits import record_of
from ..kinds.choices import cycles_asked
from ..machine import variants
from ..machine.machines import Machine, machine_of
from ..rebuild import bench_records
from ..rebuild.bench_records import NOTHING_SAID, json_of
from ..shelf.shelf import kit_asks, kits_fitted
from ..stranger.faults import fault_of
from ..strip.inspections import of_open_visits
from .entries import run_of


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
    hit_n: float | None
    shift_rpm: float | None
    visit: OpenVisit | None


def machines_on_floor(connection: sqlite3.Connection) -> list[FloorMachine]:
    """Every machine, by name; those merged into another are that one."""
    visits = {visit.machine_id: visit.open for visit in _open_visits(connection)}
    rows = connection.execute(
        "SELECT machine.*, newest.revision_id, revision_figures.revision_id IS NOT NULL AS figures_kept,"
        " engagement_rpm, hit_n, shift_rpm FROM machine"
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
            row["hit_n"],
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
        "SELECT ridden.* FROM visit CROSS JOIN ridden ON visit_id = visit.id WHERE signed_off_at IS NULL"
        " ORDER BY ridden.id"
    ):
        rides[row["visit_id"]].append(run_of(row).ride)
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
    made = variants.of_machines(connection)
    kinds = {
        row["id"]: (
            row["machine_id"],
            Kinds(
                row["primary_kind"], row["secondary_kind"], made.get(row["machine_id"], ()), row["kind"] == BARE_CLUTCH
            ),
        )
        for row in connection.execute(
            "SELECT visit.id, machine_id, machine.kind, primary_kind, secondary_kind FROM visit"
            " JOIN machine ON machine.id = machine_id WHERE signed_off_at IS NULL"
        )
    }
    inspections = of_open_visits(connection, kinds)
    kits = kits_fitted(connection, "SELECT id FROM visit WHERE signed_off_at IS NULL")
    together, asked = bench_records.of_open_visits(connection), cycles_asked(connection)
    stations = {"intake": Intake, "belt_check": BeltCheck, "set_up": SetUp, "hand_over": HandOver}
    named = [(table, name) for table, kind in stations.items() for name in fields_of(kind)]
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
        said = {
            table: record_of(table, {name: row[f"{table}_{name}"] for name in fields_of(kind)})
            for table, kind in stations.items()
        }
        back = together.get(row["id"], NOTHING_SAID)
        belt_way = said["belt_check"].way_off(widths[row["id"]])
        expected = expected_of(json_of(row["weights"]), json_of(row["secondary"]))
        expected = replace(expected, kit=kit_asks(kits.get(row["id"], ())))
        new_belt = None if row["scope"] == "bench" else said["belt_check"].new_one
        record = VisitRecord(
            scope=row["scope"],
            faults=tuple(faults[row["id"]]),
            intake=said["intake"],
            belt=said["belt_check"],
            set_up=said["set_up"],
            hand_over=said["hand_over"],
            widths_mm=widths[row["id"]],
            belt_limits_mm=(row["new_mm"], row["limit_mm"]),
            rides=tuple(rides[row["id"]]),
            marks=tuple(marks[row["id"]]),
            inspection=inspections[row["id"]],
            bench=back.bench(
                inspections[row["id"]].strip, kinds[row["id"]][1], said["set_up"].changed, belt_way, expected, new_belt
            ),
            line_up=back.line_up,
            centres_mm=row["centres_mm"],
            break_in=back.break_in,
            cycles=back.cycles,
            cycles_asked=back.break_in.asked or asked,
            counts=back.counts,
            usual=back.usual,
        )
        yield _Found(row["machine_id"], OpenVisit(row["id"], row["opened_at"], record))
