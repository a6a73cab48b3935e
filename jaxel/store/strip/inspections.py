"""What was looked at of a machine's clutches, as the core's rules want it: of one visit, or of all open ones."""

import json
import sqlite3
from collections import defaultdict
from collections.abc import Mapping

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.kinds.kinds import Kinds, clutches
from jaxel.core.trade.strip.inspection import ItemLook, Odometer, worst
from jaxel.core.trade.strip.strip import Inspection, Place, Strip, rated_by

from ..edits import record_of
from ..record import facts
from . import item_limits


def of_visit(
    connection: sqlite3.Connection, visit_id: int, machine_id: int, machine: Kinds, document: SetupDocument,
    odometer: Odometer, strip: Strip,
) -> Inspection:  # fmt: skip
    """The strip of a visit with everything its rules look at.

    Parameters: `document`, the set-up as found, for what new parts should read.
    """
    rows = connection.execute("SELECT * FROM item_look WHERE visit_id = ?", (visit_id,))
    return Inspection(
        strip,
        machine,
        {(each["side"], each["item"]): record_of("item_look", each) for each in rows},
        item_limits.in_force(connection, machine_id, machine),
        rated_by(document, machine),
        _before(connection, visit_id, machine_id, machine),
        odometer,
    )


def _before(
    connection: sqlite3.Connection, visit_id: int, machine_id: int, machine: Kinds
) -> dict[Place, list[tuple[float, float]]]:
    """Worst readings of earlier visits by item, as (odometer [km], value): of the parts that are still in."""
    rows = connection.execute(
        "SELECT side, item, readings, overruled, odometer_km FROM item_look"
        " JOIN visit ON visit.id = item_look.visit_id JOIN intake ON intake.visit_id = visit.id"
        " WHERE machine_id = ? AND visit.id < ? AND odometer_km IS NOT NULL AND readings <> '[]' ORDER BY visit.id",
        (machine_id, visit_id),
    )
    renewed = {
        (row["side"], row["kind"]): row["odometer_km"]
        for row in connection.execute(
            "SELECT side, kind, max(odometer_km) AS odometer_km FROM part_event"
            " WHERE machine_id = ? AND way = 'out' AND told = 'done' AND visit_id < ? GROUP BY side, kind",
            (machine_id, visit_id),
        )
    }
    items = {(side, item.key): item for side, kind in clutches(machine) for item in kind.guide.item}
    found: dict[Place, list[tuple[float, float]]] = defaultdict(list)
    for row in rows:
        item = items.get((row["side"], row["item"]))
        value = worst(item, json.loads(row["readings"])) if item else None
        if item is None or value is None:
            continue
        parts = {part.kind for remedy in item.remedy for part in remedy.parts}
        since = max((renewed[row["side"], kind] or 0 for kind in parts if (row["side"], kind) in renewed), default=-1)
        if row["odometer_km"] > since:
            found[row["side"], row["item"]].append((row["odometer_km"], value))
    return dict(found)


def of_visits(connection: sqlite3.Connection, machines: Mapping[int, tuple[int, Kinds]]) -> dict[int, Inspection]:
    """The strips of several visits, as far as what they lack is concerned, in a few queries.

    Parameters: `machines`, by visit the machine's id and its kinds. What new parts should read is left out: a finding
    may differ by it, never what is still to be said.
    """
    some = f"({', '.join(str(int(each)) for each in machines)})"
    strips = {
        row["visit_id"]: record_of("strip", row)
        for row in connection.execute(f"SELECT * FROM strip WHERE visit_id IN {some}")
    }
    looks: dict[int, dict[Place, ItemLook]] = defaultdict(dict)
    for row in connection.execute(f"SELECT * FROM item_look WHERE visit_id IN {some}"):
        looks[row["visit_id"]][row["side"], row["item"]] = record_of("item_look", row)
    limits = item_limits.Stated(connection)
    return {
        visit: Inspection(
            strips.get(visit, Strip()),
            machine,
            looks[visit],
            limits.of(facts.on_machine(connection, machine_id), machine),
        )
        for visit, (machine_id, machine) in machines.items()
    }
