"""A hand at the bench: the functions a user's clicks reach, one machine through its visit."""

import sqlite3
from collections.abc import Sequence
from typing import Any

from jaxel.core.trade.kinds.kinds import Side, clutches
from jaxel.core.trade.rebuild.done import NOTHING_DONE
from jaxel.core.trade.record.facts import Origin
from jaxel.core.trade.record.scope import Scope
from jaxel.core.trade.setup.slots import numbers
from jaxel.core.trade.strip.inspection import NOT_LOOKED_AT
from jaxel.core.units import in_unit
from jaxel.store.belt import belt_checks
from jaxel.store.edits import Edit, reading
from jaxel.store.line_up import line_up
from jaxel.store.rebuild import done, rebuild, torques
from jaxel.store.run import log_uploads, road_tests, run_logs
from jaxel.store.setup import fitting
from jaxel.store.strip import item_limits, strip
from jaxel.store.visit import close_out, hand_over, intake, visits
from jaxel.store.visit.visits import Visit

from . import stand_ins

HAND = "Jonas"


MANUALS: Sequence[tuple[str, str, float, Origin]] = (
    ("tower-and-button-primary", "retaining_bolt", 108.0, "manual"),
    ("tower-and-button-primary", "cover_bolts", 13.5, "manual"),
    ("tower-and-button-primary", "spider", 340.0, "manual"),
    ("shimmed-spider-primary", "cover_bolts", 13.5, "manual"),
    ("bolt-in-helix-secondary", "secondary_bolt", 68.0, "manual"),
    ("bolt-in-helix-secondary", "helix_screws", 14.0, "manual"),
    ("bolt-in-helix-secondary", "helix_screws", 11.5, "part maker's sheet"),
)
"""What the workshop's manuals say of fasteners, read at each machine that has them: of the helix screws two things."""

LIMITS: Sequence[tuple[str, str, float]] = (
    ("tower-and-button-primary", "arm_bushing", 0.4),
    ("tower-and-button-primary", "buttons", 0.8),
    ("tower-and-button-primary", "cover_bushing", 0.3),
    ("bolt-in-helix-secondary", "follower", 0.3),
    ("roller-variator-primary", "slide_guide", 0.6),
)
"""How far the manuals of these made-up machines let an item wear [mm]; from memory."""


class Bench:
    """One visit in the demo's hands: each call is what a station's field or button sends."""

    def __init__(self, connection: sqlite3.Connection, machine_id: int, scope: Scope | None = None):
        self.connection = connection
        self.id = visits.open_visit(connection, machine_id, HAND, scope=scope)

    @classmethod
    def of(cls, connection: sqlite3.Connection, visit_id: int) -> "Bench":
        """A visit that is open already."""
        bench = cls.__new__(cls)
        bench.connection, bench.id = connection, visit_id
        return bench

    @property
    def visit(self) -> Visit:
        return visits.get(self.connection, self.id)

    def intake(self, **values: Any) -> None:
        intake.change(self.connection, self.id, _edits(self.visit.intake, values), HAND)

    def belt(self, **values: Any) -> None:
        belt_checks.change(self.connection, self.id, _edits(self.visit.belt, values), HAND)

    def hand_over(self, **values: Any) -> None:
        hand_over.change(self.connection, self.id, _edits(self.visit.hand_over, values), HAND)

    def state_kinds(self, primary: str, secondary: str) -> None:
        held = self.visit.kinds
        edits = {"primary_kind": Edit(held.primary, primary), "secondary_kind": Edit(held.secondary, secondary)}
        intake.state_kinds(self.connection, self.id, edits, HAND)

    def confirm_fitted(self) -> None:
        intake.confirm_fitted(self.connection, self.id, self.visit.set_up.found_draft, HAND)

    def calipered(self, *places: int) -> None:
        """The belt's width at these places, by the bench's caliper with its zero set."""
        for place in places or (1, 2, 3):
            shown = stand_ins.read(self.connection, self.visit, "caliper", "belt", f"place_{place}", zeroed=True)
            with reading("caliper"):
                width = round(in_unit(shown.value, shown.unit, "mm"), 2)
                belt_checks.measure(self.connection, self.id, place, Edit(None, width), HAND)

    def baseline(self) -> None:
        """How it ran as it came in, by the bench's tachometer."""
        for figure in ("engagement", "shift"):
            field = f"baseline_{figure}_rpm"
            shown = stand_ins.read(self.connection, self.visit, "tachometer", "intake", field)
            with reading("tachometer"):
                intake.change(self.connection, self.id, {field: Edit(None, shown.value)}, HAND)

    def fit(self, slots: dict[str, float], reason: str) -> None:
        self.try_out(slots)
        fitting.record(self.connection, self.id, reason, self.visit.set_up.left_draft, HAND)

    def try_out(self, slots: dict[str, float]) -> None:
        held = numbers(self.visit.as_left())
        edits = {key: Edit(held[key].value, value) for key, value in slots.items()}
        fitting.try_numbers(self.connection, self.id, "left", edits, HAND)

    def ride(self, note: str) -> int:
        """A run of the machine as it leaves, by its rider and a rev counter; returns its id."""
        run_id = road_tests.begin(self.connection, self.id, self.visit.set_up.left_revision_id, HAND)
        for field, place in (("engagement_rpm", "engagement"), ("shift_rpm", "shift")):
            shown = stand_ins.read(self.connection, self.visit, "tachometer", "road-test", place, reads=run_id)
            with reading("tachometer"):
                road_tests.change(self.connection, self.id, run_id, {field: Edit(None, shown.value)}, HAND)
        road_tests.change(self.connection, self.id, run_id, {"note": Edit("", note)}, HAND)
        return run_id

    def log(self, run_id: int, name: str) -> None:
        """The run's log, off the machine as it leaves: a slow roll-on, a pull with a chop."""
        _, data = stand_ins.ride(self.connection, self.visit)
        upload = log_uploads.begin(self.connection, run_id, name, len(data), HAND)
        log_uploads.put(self.connection, upload, 0, data)
        run_logs.read(self.connection, upload, None, HAND, lambda part, doing: None)

    def read_manual(self) -> None:
        """What this machine's manual says of its fasteners and its wear items, where nobody has stated it yet."""
        held = self.visit
        known = torques.of_machine(self.connection, held.machine_id, held.kinds).statements
        own = {place for place, said in known.items() if any(each.own for each in said)}
        for kind, fastener, torque_nm, origin in MANUALS:
            if kind in (held.kinds.primary, held.kinds.secondary) and (kind, fastener) not in own:
                torques.state(
                    self.connection, kind, fastener, "torque", torque_nm, origin, HAND, machine_id=held.machine_id
                )
        limited = {(kind.key, item) for side, kind in clutches(held.kinds) for of, item in held.inspection.limits
                   if of == side}  # fmt: skip
        for kind, item, value in LIMITS:
            if kind in (held.kinds.primary, held.kinds.secondary) and (kind, item) not in limited:
                item_limits.state(self.connection, kind, item, value, "manual", HAND, machine_id=held.machine_id)

    def opened(self, depth: str) -> None:
        self.read_manual()
        strip.change(self.connection, self.id, {"depth": Edit(self.visit.inspection.strip.depth, depth)}, HAND)

    def look(self, side: Side, item: str, *readings: float, rings: Sequence[int] = (), **said: Any) -> None:
        """What was found of an item: readings and rings by place, the rest by field."""
        held = self.visit.inspection.looks.get((side, item), NOT_LOOKED_AT)
        strip.look(self.connection, self.id, side, item, _edits(held, said), HAND)
        for place, value in enumerate(readings):
            strip.read(self.connection, self.id, side, item, "readings", place, Edit(None, value), HAND)
        for place, score in enumerate(rings):
            strip.read(self.connection, self.id, side, item, "rings", place, Edit(None, score), HAND)

    def look_over(self) -> None:
        """The rest of what is reached was looked at where it sits, and is sound."""
        inspection = self.visit.inspection
        for side, item in inspection.items():
            if not inspection.look(side, item).begun:
                sound = next(grade for grade, finding in item.grades.items() if finding == "keep")
                self.look(side, item.key, looked="assembled", grade=sound)

    def put_back(self, side: Side, *, but: Sequence[str] = ()) -> None:
        """A clutch goes back together: all that is asked is seen, every fastener tightened; but the steps named."""
        self.read_manual()
        for step in self.visit.bench.steps(self.visit.inspection):
            if step.side != side or step.key in but:
                continue
            for each, said in step.righted:
                if not said.how:
                    self.did(side, each.items[0].key, how="new" if each.needs else "dressed")
            for ask in step.asks:
                rebuild.see(self.connection, self.id, f"{step.place}.{ask.key}", Edit(False, True), HAND)
            for fastener, _ in step.fasteners:
                self.tighten(side, fastener.key)

    def did(self, side: Side, item: str, **values: Any) -> None:
        """What was done about an item decided to be replaced."""
        held = self.visit.back_together.done.get((side, item), NOTHING_DONE)
        done.say(self.connection, self.id, side, item, _edits(held, values), HAND)

    def tighten(self, side: Side, fastener: str, torque_nm: float | None = None) -> None:
        """What the wrench clicked at, or by whatever else the fastener is tightened."""
        kind = self.visit.kinds.primary if side == "primary" else self.visit.kinds.secondary
        known = torques.of_machine(self.connection, self.visit.machine_id, self.visit.kinds).statements
        said = [each.torque_nm for each in known.get((kind or "", fastener), ()) if each.own and each.torque_nm]
        value = torque_nm or (said[0] if said else None)
        means = "wrench" if value else "by hand"
        edits = {"state": Edit("", "done"), "means": Edit("", means), "torque_nm": Edit(None, value)}
        rebuild.tighten(self.connection, self.id, side, fastener, edits, HAND)

    def scaled(self, side: Side, matched: str, count: int) -> None:
        """So many pieces on the bench's scale, its zero set."""
        for place in range(count):
            at = f"{side}.{matched}.{matched}_{place}"
            shown = stand_ins.read(self.connection, self.visit, "scale", "rebuild", at, zeroed=True)
            mass = round(in_unit(shown.value, shown.unit, "g"), 1)
            held = self.visit.back_together.rebuild.weighed.get(f"{side}.{matched}", ())
            was = held[place] if place < len(held) else None
            with reading("scale"):
                rebuild.weigh(self.connection, self.id, side, matched, place, Edit(was, mass), HAND)

    def weigh(self, side: Side, matched: str, *masses_g: float) -> None:
        for place, mass in enumerate(masses_g):
            rebuild.weigh(self.connection, self.id, side, matched, place, Edit(None, mass), HAND)

    def line_up(self, **values: Any) -> None:
        line_up.change(self.connection, self.id, _edits(self.visit.back_together.line_up, values), HAND)

    def close(self) -> None:
        """Everything is counted in, the guard is on."""
        for each in self.visit.record().to_count:
            close_out.count(self.connection, self.id, each.key, {"back": Edit(None, each.out)}, HAND)
        self.hand_over(guard_on=True)

    def belt_on(self, way_round: str = "as it came off", **values: Any) -> None:
        """The belt goes on: which way round, its tool out, turned by hand until it rides where it should."""
        self.belt(went_on=way_round, risen=True, **values)

    def sign_off(self, by: str) -> None:
        hand_over.sign_off(self.connection, self.id, self.visit.edit, by)


def _edits(record: Any, values: dict[str, Any]) -> dict[str, Edit]:
    return {name: Edit(getattr(record, name), value) for name, value in values.items()}
