"""A visit brought to where it may be signed off: put back, lined up, broken in by word, counted, its guard on."""

import sqlite3
from typing import Any

from jaxel.core.trade.rebuild.done import NOTHING_DONE, rightings
from jaxel.core.trade.visit.stations import stations_of
from jaxel.store.belt import belt_checks
from jaxel.store.edits import Edit
from jaxel.store.line_up import line_up
from jaxel.store.rebuild import done, rebuild
from jaxel.store.visit import close_out, hand_over, visits

LINED_UP = {
    "way": "gaps", "front_mm": 35.2, "rear_mm": 35.0, "base_mm": 200.0, "nominal_mm": 35.0, "deflection_mm": 30.0,
    "seated": True,
}  # fmt: skip


def back_together(db: sqlite3.Connection, visit_id: int, by: str = "Jo") -> None:
    """Everything a close asks for, as a hand would say it."""
    put_right(db, visit_id, by)
    steps_back(db, visit_id, by)
    held = visits.get(db, visit_id)
    said: dict[str, Any]
    if "line-up" in stations_of(held.record()):
        read = held.back_together.line_up
        line_up.change(db, visit_id, {name: Edit(getattr(read, name), now) for name, now in LINED_UP.items()}, by)
    if "belt" in stations_of(held.record()) and held.belt.on_again(held.widths_mm):
        said = {"went_on": held.belt.went_on or "as it came off", "risen": True}
        if held.belt.replaced and held.belt.next_belt_id is None:
            said |= {"next_is": held.belt.next_is or "new", "next_number": held.belt.next_number or "none on it"}
        belt_checks.change(db, visit_id, {name: Edit(getattr(held.belt, name), now) for name, now in said.items()}, by)
    if held.belt.new_one and not held.back_together.break_in.released:
        line_up.release(db, visit_id, {"released": Edit("", "overruled"), "reason": Edit("", "easy first ride")}, by)
    held = visits.get(db, visit_id)
    for each in held.record().to_count:
        if each.back != each.out:
            close_out.count(db, visit_id, each.key, {"back": Edit(each.back, each.out)}, by)
    hand_over.change(db, visit_id, {"guard_on": Edit(held.hand_over.guard_on, True)}, by)


def put_right(db: sqlite3.Connection, visit_id: int, by: str) -> None:
    """What was decided to be replaced is said to be done, new where it takes parts."""
    held = visits.get(db, visit_id)
    said: dict[str, Any]
    for todo in rightings(held.inspection):
        if not held.bench.done_of(todo).how:
            said = {"how": "new" if todo.needs else "dressed"}
            said |= {"pieces": 2, "found": "all"} if todo.broke else {}
            said |= {"prepared": True, "old_belt": "hardly run"} if todo.new_sheave else {}
            fresh = {name: Edit(getattr(NOTHING_DONE, name), now) for name, now in said.items()}
            done.say(db, visit_id, *todo.place, fresh, by)


def steps_back(db: sqlite3.Connection, visit_id: int, by: str) -> None:
    """Every step seen, its sets weighed, its fasteners tight by hand."""
    held = visits.get(db, visit_id)
    for step in held.bench.steps(held.inspection):
        for ask in step.asks:
            if not ask.seen:
                rebuild.see(db, visit_id, f"{step.place}.{ask.key}", Edit(False, True), by)
        for fastener, _ in step.fasteners:
            rebuild.tighten(
                db, visit_id, step.side, fastener.key, {"state": Edit("", "done"), "means": Edit("", "by hand")}, by
            )
        for matched, count, _ in step.matched:
            mass = held.bench.expected.weight_g if matched.of == "weights" else None
            for place in range(count if mass else 0):
                rebuild.weigh(db, visit_id, step.side, matched.key, place, Edit(None, mass), by)
