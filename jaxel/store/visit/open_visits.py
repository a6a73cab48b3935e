"""The open visits as lists need them: read once for as long as nothing they depend on has changed.

A visit's record is worked out of some twenty tables. It is remembered by the visit's own edit and by what stands
outside visits, so that a floor that is looked at again reads what was changed and nothing else.
"""

import sqlite3
from collections import OrderedDict, defaultdict
from collections.abc import Collection, Iterator
from dataclasses import dataclass, replace
from threading import Lock

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

from ..db import read_once
from ..edits import record_of
from ..kinds.choices import cycles_asked
from ..machine import variants
from ..rebuild import bench_records
from ..rebuild.bench_records import NOTHING_SAID, json_of
from ..shelf.shelf import kit_asks, kits_fitted
from ..stranger.faults import fault_of
from ..strip.inspections import of_visits
from .entries import run_of


@dataclass(frozen=True)
class OpenVisit:
    """A visit that is open, as its stations recorded it; `hand`, who wrote to it last."""

    id: int
    opened_at: str
    hand: str
    record: VisitRecord


@read_once
def open_visits(connection: sqlite3.Connection) -> dict[int, OpenVisit]:
    """The open visits, by machine."""
    rows = connection.execute("SELECT id, machine_id, edit, identity FROM visit WHERE signed_off_at IS NULL").fetchall()
    outside = tuple(connection.execute(_OUTSIDE).fetchone())
    keys = {row["id"]: (row["identity"], row["id"], row["machine_id"], row["edit"], outside) for row in rows}
    known = {visit: found for visit, key in keys.items() if (found := _REMEMBERED.get(key)) is not None}
    fresh = [visit for visit in keys if visit not in known]
    if fresh:
        for each in _read(connection, fresh):
            known[each.open.id] = _REMEMBERED.put(keys[each.open.id], each)
    return {each.machine_id: each.open for each in known.values()}


_OUTSIDE = """
SELECT (SELECT max(id) FROM workshop_log), (SELECT max(id) FROM visit), (SELECT max(id) FROM stated),
    (SELECT max(id) FROM mounting), (SELECT count(*) FROM run_log), (SELECT count(*) FROM run_counted),
    (SELECT max(id) FROM part)
"""
"""What a visit's record depends on beside the visit: what is logged of the workshop, visits that came in, logs read."""


@dataclass(frozen=True)
class _Found:
    machine_id: int
    open: OpenVisit


class _Remembered:
    """Records of visits by what they depend on; those looked at longest ago give way."""

    MOST = 4000

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[object, ...], _Found] = OrderedDict()
        self._lock = Lock()

    def get(self, key: tuple[object, ...]) -> _Found | None:
        """What is remembered under a key."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
            return self._kept.get(key)

    def put(self, key: tuple[object, ...], found: _Found) -> _Found:
        """Remember it."""
        with self._lock:
            self._kept[key] = found
            while len(self._kept) > self.MOST:
                self._kept.popitem(last=False)
        return found


_REMEMBERED = _Remembered()


def _read(connection: sqlite3.Connection, ids: Collection[int]) -> Iterator[_Found]:
    """Visits by their keys, a query each table."""
    some = f"({', '.join(str(int(each)) for each in sorted(ids))})"
    widths: dict[int, dict[int, float]] = defaultdict(dict)
    for row in connection.execute(f"SELECT visit_id, place, width_mm FROM belt_reading WHERE visit_id IN {some}"):
        widths[row["visit_id"]][row["place"]] = row["width_mm"]
    rides: dict[int, list[Ride]] = defaultdict(list)
    for row in connection.execute(f"SELECT * FROM ridden WHERE visit_id IN {some} ORDER BY id"):
        rides[row["visit_id"]].append(run_of(row).ride)
    faults: dict[int, list[FoundFault]] = defaultdict(list)
    for row in connection.execute(f"SELECT * FROM fault WHERE visit_id IN {some} ORDER BY id"):
        faults[row["visit_id"]].append(fault_of(row))
    marks: dict[int, list[Mark]] = defaultdict(list)
    for row in connection.execute(f"SELECT * FROM belt_mark WHERE visit_id IN {some} ORDER BY id"):
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
            f" JOIN machine ON machine.id = machine_id WHERE visit.id IN {some}"
        )
    }
    inspections = of_visits(connection, kinds)
    kits = kits_fitted(connection, some[1:-1])
    together, asked = bench_records.of_visits(connection, some), cycles_asked(connection)
    stations = {"intake": Intake, "belt_check": BeltCheck, "set_up": SetUp, "hand_over": HandOver}
    named = [(table, name) for table, kind in stations.items() for name in fields_of(kind)]
    columns = ", ".join(f"{table}.{name} AS {table}_{name}" for table, name in named)
    for row in connection.execute(
        f"SELECT visit.id, visit.machine_id, visit.opened_at, visit.scope, {columns},"
        " coalesce((SELECT by FROM visit_log WHERE visit_id = visit.id ORDER BY change DESC LIMIT 1), visit.opened_by)"
        " AS hand,"
        " json_extract(found.document, '$.belt.top_width_new_mm') AS new_mm,"
        " json_extract(found.document, '$.belt.top_width_min_mm') AS limit_mm,"
        " json_extract(found.document, '$.geometry.centre_distance_mm') AS centres_mm,"
        " json_extract(fitted.document, '$.primary.weights') AS weights,"
        " json_extract(fitted.document, '$.secondary') AS secondary"
        " FROM visit JOIN intake ON intake.visit_id = visit.id JOIN belt_check ON belt_check.visit_id = visit.id"
        " JOIN set_up ON set_up.visit_id = visit.id JOIN hand_over ON hand_over.visit_id = visit.id"
        " JOIN setup_revision AS found ON found.id = set_up.found_revision_id"
        f" JOIN setup_revision AS fitted ON fitted.id = set_up.left_revision_id WHERE visit.id IN {some}"
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
        yield _Found(row["machine_id"], OpenVisit(row["id"], row["opened_at"], row["hand"], record))
