"""Rebuild: what was seen as a clutch went back together, how its spring was wound, what was weighed and tightened."""

import sqlite3
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kind_file import Fastener, Matched
from jaxel.core.trade.kinds.kinds import Kind, Side, clutches
from jaxel.core.trade.rebuild.rebuild import ORDINARY, Turn
from jaxel.core.trade.rebuild.tightening import UNTOUCHED, ask_about, wanted
from jaxel.core.words import t

from ..db import Conflict, now, writing
from ..edits import DEFAULT_HAND, Desk, Edit, Edits, changing, check_fields
from ..machine import numbers
from ..record.whole import whole_visit
from . import torques

if TYPE_CHECKING:
    from ..visit.visits import Visit

SAID = frozenset({"closes", "wound", "wound_deg", "sheave_hole", "helix_hole", "helper"})
OF_FASTENER = frozenset({"state", "torque_nm", "means", "wrench", "note", "size", "thread", "used_instead", "did"})
HEAVIEST_G = 1000.0


def change(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write how the spring was wound, or who held; raises NotFound, Conflict, InvalidValue."""
    if unknown := set(edits) - SAID:
        raise InvalidValue(min(unknown), "is not said of putting back")
    for field in ("closes", "wound"):
        if field in edits and edits[field].now not in get_args(Turn):
            raise InvalidValue(field, "is clockwise or anticlockwise")
    with changing(connection, visit_id, by) as desk:
        desk.write("rebuild", visit_id, edits)


def see(connection: sqlite3.Connection, visit_id: int, asked: str, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say that what was asked at a step, `side.step.ask`, was seen, or take that back.

    Raises NotFound, Conflict, and InvalidValue (field `seen`) for what is not asked.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        held = list(visit.back_together.rebuild.seen)
        known = {f"{step.place}.{ask.key}" for step in visit.bench.steps(visit.inspection) for ask in step.asks}
        if asked not in known and asked not in held:
            raise InvalidValue("seen", "is nothing that is asked here")
        _member(desk, visit_id, "seen", held, asked, edit)


def see_all(connection: sqlite3.Connection, visit_id: int, place: str, by: str = DEFAULT_HAND) -> None:
    """Say that a step's ordinary looks, `side.step`, were all seen: its stops and checks are each their own.

    Raises NotFound, Conflict, and InvalidValue (field `step`) for no step of this visit.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        step = next((each for each in visit.bench.steps(visit.inspection) if each.place == place), None)
        if step is None:
            raise InvalidValue("step", "is no step of this visit")
        held = list(visit.back_together.rebuild.seen)
        asked = [f"{place}.{ask.key}" for ask in step.asks if ask.sort in ORDINARY]
        desk.set("rebuild", visit_id, "seen", list(dict.fromkeys((*held, *asked))))


def left_on(connection: sqlite3.Connection, visit_id: int, part: str, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say that a part, `side.part`, did not come off after all: it is not asked for; or take that back.

    Raises NotFound, Conflict, and InvalidValue (field `left_on`) for a part that was not opened.
    """
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        held = list(visit.back_together.rebuild.left_on)
        came = visit.bench.opened(visit.inspection, all_of_it=True)
        off = {f"{each.side}.{p.key}" for each in came for p in each.parts}
        if part not in off and part not in held:
            raise InvalidValue("left_on", "is no part that was opened")
        _member(desk, visit_id, "left_on", held, part, edit)


def off_shaft(connection: sqlite3.Connection, visit_id: int, side: Side, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say that a clutch came off its shaft to be worked on, or not; raises NotFound, Conflict, InvalidValue."""
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        _kind(visit, side)
        _member(desk, visit_id, "off_shaft", list(visit.back_together.rebuild.off_shaft), side, edit)


def _member(desk: Desk, visit_id: int, field: str, held: list[str], each: str, edit: Edit) -> None:
    desk.check(field, each in held, edit)
    others = [other for other in held if other != each]
    desk.set("rebuild", visit_id, field, [*others, each] if edit.now else others)


def accept(connection: sqlite3.Connection, visit_id: int, place: str, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say why what is amiss at a step, `side.step`, is left so; empty takes it back. Raises NotFound, Conflict."""
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        if place not in {step.place for step in visit.bench.steps(visit.inspection)}:
            raise InvalidValue("accepted", "is no step of this visit")
        _entry(desk, visit_id, "accepted", visit.back_together.rebuild.accepted, place, edit, "", f"accepted {place}")


def weigh(
    connection: sqlite3.Connection, visit_id: int, side: Side, matched: str, place: int, edit: Edit,
    by: str = DEFAULT_HAND,
) -> None:  # fmt: skip
    """Write what one piece of a matched set weighs [g], its `place` from 0; None takes it back.

    Raises NotFound, Conflict, and InvalidValue, field `SIDE_SET_PLACE`, for a place or a mass there cannot be.
    """
    field = f"{side}_{matched}_{place}"
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        kind = _kind(visit, side)
        found: Matched | None = next((each for each in kind.guide.matched if each.key == matched), None)
        if found is None:
            raise InvalidValue("matched", "is no set of this clutch")
        count = found.count or visit.bench.expected.weights
        if not 0 <= place < count:
            raise InvalidValue("place", f"must be from 0 to {count - 1}")
        if edit.now is not None and not 0 < edit.now <= HEAVIEST_G:
            raise InvalidValue(field, f"must be above 0, and at most {HEAVIEST_G:,.0f} g")
        weighed = dict(visit.back_together.rebuild.weighed)
        values = list(weighed.get(f"{side}.{matched}", ()))
        values += [None] * (place + 1 - len(values))
        desk.check(field, values[place], edit)
        values[place] = edit.now
        while values and values[-1] is None:
            values.pop()
        weighed[f"{side}.{matched}"] = values
        desk.set("rebuild", visit_id, "weighed", {key: each for key, each in weighed.items() if each})


ARM_MASS = "primary.weights.base_mass_g"


def take_weighed(
    connection: sqlite3.Connection, visit_id: int, side: Side, matched: str, by: str = DEFAULT_HAND
) -> None:
    """Let the mean of a set of weights, as weighed with their loads, be the set-up's; raises NotFound, InvalidValue."""
    with writing(connection):
        visit = whole_visit(connection, visit_id)
        found = [
            (each, alike)
            for step in visit.bench.steps(visit.inspection)
            for each, _, alike in step.matched
            if step.side == side and each.key == matched and each.of == "weights"
        ]
        if not found or found[0][1].mean_g is None or found[0][1].missing:
            raise InvalidValue("matched", "is no set of weights that was weighed whole")
        weights = visit.left.primary.weights
        loads = sum(load.mass_g * load.pieces for load in weights.loads)
        mass = round(found[0][1].mean_g - loads, 2)
        if not mass > 0:
            raise InvalidValue("matched", "weighs less than the loads the set-up says are in it")
        numbers.take_measured(connection, visit_id, "arms", ARM_MASS, mass, by)


def measure_radius(
    connection: sqlite3.Connection, visit_id: int, side: Side, matched: str, edit: Edit, by: str = DEFAULT_HAND
) -> None:
    """Write the radius a set turns on [mm]; None takes it back. Raises NotFound, Conflict, InvalidValue."""
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        if matched not in {each.key for each in _kind(visit, side).guide.matched}:
            raise InvalidValue("matched", "is no set of this clutch")
        held = visit.back_together.rebuild.radius_mm
        _entry(desk, visit_id, "radius_mm", held, f"{side}.{matched}", edit, None, f"{side}_{matched}_radius")


def _entry(
    desk: Desk, visit_id: int, field: str, held: Mapping[str, Any], key: str, edit: Edit, none: Any, called: str
) -> None:
    """Write one entry of a field that holds several by key; `none` takes it away."""
    desk.check(called, held.get(key, none), edit)
    others = {each: value for each, value in held.items() if each != key}
    desk.set("rebuild", visit_id, field, others if edit.now in (None, none) else others | {key: edit.now})


def tighten(
    connection: sqlite3.Connection, visit_id: int, side: Side, fastener: str, edits: Edits, by: str = DEFAULT_HAND
) -> None:
    """Write what was done about a fastener: done with what value and means, or owed; when and by whom is kept with it.

    Raises NotFound, Conflict, InvalidValue for what cannot be said of it, and Implausible for a torque that is not the
    one it is to be, or such a fastener hardly takes.
    """
    check_fields("tightened", edits)
    after = {name: edit.now for name, edit in edits.items()}
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        kind, known = _fastener(visit, side, fastener)
        held = visit.back_together.tightened.get((side, fastener), UNTOUCHED)
        torque = edits.get("torque_nm")
        if torque is not None and torque.now is not None:
            said = torques.of_machine(connection, visit.machine_id, visit.kinds)
            place = (kind.key, fastener)
            to_be = wanted(known, said.statements.get(place, ()), said.chosen.get(place))
            if not torque.sure or torque.now <= 0:
                ask_about("torque_nm", known, torque.now, to_be.torque_nm)
        row = _row(connection, desk, side, fastener)
        desk.write("tightened", row, edits)
        if "state" in after and after["state"] != held.state:
            desk.set("tightened", row, "by", by if after["state"] else "")
            desk.set("tightened", row, "at", now() if after["state"] else "")


def clock(
    connection: sqlite3.Connection, visit_id: int, side: Side, fastener: str, what: str, by: str = DEFAULT_HAND
) -> None:
    """Note by the server's clock that the first pass is round, `first_at`, or that the compound went on, `compound_at`.

    Raises NotFound, InvalidValue, and Conflict where that runs already: a timer is started once.
    """
    if what not in ("first_at", "compound_at"):
        raise InvalidValue("what", "is first_at or compound_at")
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        _, known = _fastener(visit, side, fastener)
        if what == "compound_at" and known.compound is None:
            raise InvalidValue("what", "no compound goes on this fastener")
        row = _row(connection, desk, side, fastener)
        if since := desk.value("tightened", row, what):
            raise Conflict(f"runs since {t(since)} already", field=what, theirs=since)
        desk.set("tightened", row, what, now())


def stop_clock(
    connection: sqlite3.Connection, visit_id: int, side: Side, fastener: str, what: str, was: str,
    by: str = DEFAULT_HAND,
) -> None:  # fmt: skip
    """Take back a timer that was started by mistake, as it was shown; raises NotFound, Conflict, InvalidValue."""
    if what not in ("first_at", "compound_at"):
        raise InvalidValue("what", "is first_at or compound_at")
    with changing(connection, visit_id, by) as desk:
        _fastener(whole_visit(connection, visit_id), side, fastener)
        desk.write("tightened", _row(connection, desk, side, fastener), {what: Edit(was, "")})


def _kind(visit: "Visit", side: Side) -> Kind:
    found = next((kind for of, kind in clutches(visit.kinds) if of == side), None)
    if found is None:
        raise InvalidValue("side", f"has no {side} clutch of a kind that is known")
    return found


def _fastener(visit: "Visit", side: Side, key: str) -> tuple[Kind, Fastener]:
    kind = _kind(visit, side)
    return kind, torques.fastener_of(kind.key, key)


def _row(connection: sqlite3.Connection, desk: Desk, side: Side, fastener: str) -> int:
    found = connection.execute(
        "SELECT id FROM tightened WHERE visit_id = ? AND side = ? AND fastener = ?", (desk.visit_id, side, fastener)
    ).fetchone()
    values = {"visit_id": desk.visit_id, "side": side, "fastener": fastener}
    return found["id"] if found else desk.insert("tightened", values)
