"""The machine behind the demo's instruments: its hidden truth at a visit, and what each device would read of it.

A machine's numbers are drawn once about what it was brought in as; parts that were put in since are as new parts are.
What a technician measured or wrote down moves none of it.
"""

import json
import re
import sqlite3
from collections.abc import Callable
from functools import lru_cache

import numpy as np

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.setup.slots import changes, numbers
from jaxel.instruments.machine.clutches import wound
from jaxel.instruments.machine.fitted import put_in
from jaxel.instruments.machine.hidden import drawn
from jaxel.instruments.machine.machine import Machine
from jaxel.store.machine import machines
from jaxel.store.rebuild import torques
from jaxel.store.setup import revisions
from jaxel.store.visit.visits import Visit

SEED = 1000
"""Of the first machine; each has its own."""

WEAR_MM_PER_KM = 0.45e-3
"""What a belt of the demo loses, when its bedding is over; from memory."""

UNSEEN_KM = 1800.0
"""How far a belt has run at most that nobody measured before."""

PLACE_MM = 0.04
"""How uneven a belt is along its length, one standard deviation."""

FAULTS: dict[str, tuple[str, ...]] = {
    "Tarnhowe 840 mountain sled": ("secondary spring sagged",),
    "Skelgarth 600 touring sled": ("one arm light",),
}
"""What is wrong with machines of the demo, which nobody has written down."""

BURNT: dict[tuple[str, str], float] = {("Skelwath 900 side-by-side", "place_1"): 0.35}
"""Where a belt of the demo is narrower at one place [mm]: it stood and slipped there."""


def of_visit(connection: sqlite3.Connection, visit: Visit, *, left: bool = False) -> Machine:
    """The machine of a visit as it came in, or as it leaves: in its true parts, on its true belt, in the day's air."""
    history = sorted(revisions.history(connection, visit.machine_id), key=lambda each: each.id)
    name = machines.get(connection, visit.machine_id).name
    first = history[0].document
    wanted = (visit.set_up.left_revision_id if left else None) or visit.set_up.found_revision_id
    steps, before = [], first
    for each in history[1:]:
        if each.id > wanted:
            break
        if each.nature == "change":
            slots = dict.fromkeys(change.slot.key for change in changes(before, each.document))
            steps.append((each.id, _plain(each.document), tuple(slots)))
        before = each.document
    machine = _with_parts(SEED + visit.machine_id, _plain(first), FAULTS.get(name, ()), tuple(steps))
    document = dict(machine.document)
    document["conditions"] = visit.conditions.model_dump(mode="json", exclude_none=True)
    width = visit.left_width_mm if left and visit.belt.replaced else belt_width(connection, visit)
    document["belt"] = document["belt"] | {"top_width_mm": width}
    return Machine(document, machine.physics)


def _plain(document: SetupDocument) -> str:
    """A set-up without what hands noted of it, as text."""
    return document.model_copy(update={"evidence": None}).model_dump_json(exclude_none=True)


@lru_cache(maxsize=64)
def _with_parts(
    seed: int, first: str, faults: tuple[str, ...], steps: tuple[tuple[int, str, tuple[str, ...]], ...]
) -> Machine:
    machine = drawn(json.loads(first), seed, faults)
    for revision, document, slots in steps:
        machine = put_in(machine, json.loads(document), slots, np.random.default_rng([seed, revision]))
    return machine


def belt_width(connection: sqlite3.Connection, visit: Visit) -> float:
    """The true mean width of the belt that came in [mm]: what was last known of it, worn by the way since."""
    row = connection.execute(
        "SELECT max(intake.odometer_km) FROM intake JOIN visit ON visit.id = intake.visit_id"
        " WHERE visit.machine_id = ? AND visit.id < ?",
        (visit.machine_id, visit.id),
    ).fetchone()
    since, now = row[0], visit.intake.odometer_km or 0.0
    ridden = min(now, UNSEEN_KM) if since is None else max(0.0, now - since)
    worn = WEAR_MM_PER_KM * ridden
    off = np.random.default_rng([SEED, visit.machine_id, visit.id]).normal(0, 0.05)
    return float(visit.fitted_belt.width_mm - worn + off)


def _lasting(visit: Visit, place: str, spread: float) -> float:
    """What is so of one place of a machine at a visit, the same however often it is read."""
    seed = [SEED, visit.machine_id, visit.id, *place.encode()]
    return float(np.random.default_rng(seed).normal(0, spread))


Under = Callable[[sqlite3.Connection, Visit, re.Match[str]], float | None]


def true_value(connection: sqlite3.Connection, visit: Visit, device: str, station: str, place: str) -> float | None:
    """What truly lies under a device held at a field [the device's own unit]; None where it reads nothing there."""
    for devices, at, of in PLACES:
        found = re.fullmatch(at, f"{station} {place}")
        if found and device in devices:
            return of(connection, visit, found)
    return None


def _belt(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float:
    name = machines.get(connection, visit.machine_id).name
    burnt = BURNT.get((name, found[1]), 0.0)
    return belt_width(connection, visit) + _lasting(visit, found[0], PLACE_MM) - burnt


def _gap(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float:
    document = of_visit(connection, visit).document
    worn = document["belt"]["top_width_new_mm"] - belt_width(connection, visit)
    return max(0.05, float(document["geometry"]["primary"]["idle_clearance_mm"] + worn))


def _new_width(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float:
    return visit.left.belt.top_width_new_mm + _lasting(visit, found[0], 0.1)


def _arm(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float:
    machine = of_visit(connection, visit, left=True)
    arms, weights = machine.physics.rubs.arms, machine.document["primary"]["weights"]
    share = arms[int(found[1]) % len(arms)] if arms else 1.0
    loads = sum(load["mass_g"] * load.get("pieces", 1) for load in weights.get("loads", []))
    return float(weights["base_mass_g"] * share + loads)


def _slot(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float | None:
    machine = of_visit(connection, visit, left=found[1] == "left")
    number = numbers(SetupDocument.model_validate(machine.document), visit.kinds).get(found[2])
    return None if number is None else number.value


def _wind(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float:
    return wound(of_visit(connection, visit, left=True).document["secondary"])


def _clicked(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float | None:
    """What a wrench set to what is said of a fastener clicks at."""
    told = torques.of_machine(connection, visit.machine_id, visit.kinds).statements
    wanted = [each.torque_nm for (_, fastener), every in told.items() if fastener == found[1] for each in every]
    return next((value for value in wanted if value is not None), None)


def _worn(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float:
    return abs(_lasting(visit, found[0], 0.25)) + 0.05


def _rpm(figure: str, left: bool) -> Under:
    def read(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float | None:
        value = getattr(of_visit(connection, visit, left=left).figures, figure)
        return None if np.isnan(value) else float(value)

    return read


def _air(connection: sqlite3.Connection, visit: Visit, found: re.Match[str]) -> float:
    return visit.intake.temperature_c + _lasting(visit, "air", 1.0)


def _bar(middle: float, spread: float) -> Under:
    return lambda connection, visit, found: middle + _lasting(visit, found[0], spread)


PLACES: tuple[tuple[tuple[str, ...], str, Under], ...] = (
    (("caliper",), r"belt (place_\d+)", _belt),
    (("feeler gauge", "caliper"), r"belt side_gap_mm", _gap),
    (("caliper",), r"belt next_width_mm", _new_width),
    (("alignment bar",), r"(?:belt|line-up) deflection_mm", _bar(29.0, 1.5)),
    (("caliper", "feeler gauge"), r"strip \w+_\d+", _worn),
    (("scale",), r"rebuild .*_(\d+)", _arm),
    (("torque wrench",), r"rebuild .*\.(\w+)_torque", _clicked),
    (("scale", "spring tester", "angle gauge", "caliper"), r"set-up slot\.(found|left)\.(.+)", _slot),
    (("angle gauge",), r"rebuild wound_deg", _wind),
    (("alignment bar",), r"line-up front_mm", _bar(35.5, 0.4)),
    (("alignment bar",), r"line-up rear_mm", _bar(35.2, 0.4)),
    (("alignment bar", "caliper"), r"line-up base_mm", _bar(210.0, 0.5)),
    (("thermometer",), r"intake temperature_c", _air),
    (("tachometer",), r"intake baseline_engagement_rpm", _rpm("engagement", left=False)),
    (("tachometer",), r"intake baseline_shift_rpm", _rpm("mean", left=False)),
    (("tachometer",), r"road-test .*(?:engagement|roll-on)", _rpm("engagement", left=True)),
    (("tachometer",), r"road-test .*shift", _rpm("mean", left=True)),
)
"""What devices are held to: at a station's field, what truly lies there."""
