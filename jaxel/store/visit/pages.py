"""Hand-over pages: written when a visit is signed, read from then on; made anew while it is open."""

import json
import sqlite3
from collections.abc import Iterator
from dataclasses import asdict, replace
from itertools import pairwise

from pydantic import TypeAdapter

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import PredictionFigures
from jaxel.core.trade.run.compare.sets import Compared, compare_sets
from jaxel.core.trade.run.road_test import Measured, logged, typed_figures
from jaxel.core.trade.run.scores import compare, predicted_figures
from jaxel.core.trade.setup.elsewhere.gearing import promise
from jaxel.core.trade.setup.slots import changes, slots
from jaxel.core.trade.shelf.part_specs import KitSpec, UnmeasuredSpec
from jaxel.core.trade.shelf.shelf import slots_of
from jaxel.core.trade.visit.handed import Handed
from jaxel.core.trade.visit.page import Page, hand_over_page
from jaxel.core.trade.visit.rider import Rider
from jaxel.core.trade.visit.run_rows import Told
from jaxel.core.trade.visit.sheet import Line, Row, Table

from ..db import now
from ..edits import DEFAULT_HAND
from ..machine import machines
from ..machine.limits import in_force
from ..rebuild import torques
from ..run import run_logs, sets, verdicts
from ..setup import predictions, revisions
from ..shelf import shelf
from ..workshop import workshop
from .visits import Visit


def write(connection: sqlite3.Connection, visit: Visit, note: str = "") -> None:
    """Keep the page of a visit that was just signed, inside the caller's transaction; `note`, how it came to be."""
    document = json.dumps(asdict(made(connection, visit, note)), ensure_ascii=False)
    connection.execute(
        "INSERT INTO hand_over_page (visit_id, document, made_at) VALUES (?, ?, ?)", (visit.id, document, now())
    )


def page(connection: sqlite3.Connection, visit: Visit) -> Page:
    """The page of a visit: as it was kept where it is signed, as it stands while it is open."""
    return kept(connection, visit.id) or made(connection, visit)


def kept(connection: sqlite3.Connection, visit_id: int) -> Page | None:
    """The page that was kept when a visit was signed; None while it is open."""
    row = connection.execute("SELECT document FROM hand_over_page WHERE visit_id = ?", (visit_id,)).fetchone()
    return None if row is None else _read(row["document"])


def made(connection: sqlite3.Connection, visit: Visit, note: str = "") -> Page:
    """The page of a visit, made from its records: what is only tried on the bench was not done."""
    visit = replace(visit, set_up=replace(visit.set_up, left_draft={}), tray={})
    machine = machines.get(connection, visit.machine_id)
    limit = in_force(connection, visit.machine_id, "belt_width_min_mm")
    found, amiss = _predicted(connection, visit, found=True)
    left, fault = _predicted(connection, visit, found=False)
    said = torques.of_machine(connection, visit.machine_id, visit.kinds)
    on_left = [run for run in visit.runs if visit.ridden(run) == visit.set_up.left_revision_id]
    run = on_left[-1] if on_left else None
    intake, recorded = visit.intake, revisions.of_visit(connection, visit.id)
    baseline = (intake.baseline_engagement_rpm, intake.baseline_shift_rpm)
    bare, _ = _predicted(connection, visit, found=True, grounded=False) if any(baseline) else (None, "")
    handed = Handed(
        machine=machine.name,
        owner=" · ".join(filter(None, (machine.rider, machine.kind))),
        workshop=workshop.get(connection).name,
        opened_at=visit.opened_at,
        signed_off_at=visit.signed_off_at,
        signed_off_by=visit.signed_off_by,
        unrepaired=visit.unrepaired,
        belt_number=visit.fitted_belt.make_number,
        limit_origin=limit.origin if limit else "from memory",
        hands=_hands(connection, visit.id),
        unnamed=DEFAULT_HAND,
        round_mm=visit.found.belt.outer_circumference_mm,
        found=found,
        left=left,
        fault=amiss or fault,
        changes=changes(visit.as_found(), visit.as_left(), visit.kinds),
        fitted=list(_fitted(connection, visit)),
        reasons=[each.reason for each in recorded if each.parent_id is not None and each.nature in ("change", "found")],
        before=compare(
            predicted_figures(bare) if bare else None,
            typed_figures(Measured(baseline[0], shift_rpm=baseline[1])),
            intake.stated_windows,
        ),
        after=compare(run.predicted, run.figures, intake.stated_windows) if run else (),
        logged=logged(run.counted) if run else "",
        run_note=run.note if run else "",
        told=_told(connection, visit),
        torques={place: (each, said.chosen.get(place)) for place, each in said.statements.items()},
    )
    return hand_over_page(visit.record(), handed, note)


def _hands(connection: sqlite3.Connection, visit_id: int) -> list[str]:
    """Everybody who wrote in a visit's record, in the order they came to it."""
    rows = connection.execute(
        "SELECT by FROM visit_log WHERE visit_id = ? GROUP BY by ORDER BY min(change)", (visit_id,)
    )
    return [row["by"] for row in rows]


def _fitted(connection: sqlite3.Connection, visit: Visit) -> Iterator[str]:
    """The parts of the parts room that were put in and whose figures do not say so: kits, and parts without numbers."""
    before = shelf.held_by(connection, visit.set_up.found_revision_id)
    held = shelf.held_by(connection, visit.set_up.left_revision_id)
    known = shelf.stocked(connection) if held else {}
    names = {each.key: each.name for each in slots(visit.left, visit.kinds)}
    for kit in visit.kits:
        yield f"Kit {kit.number}: {'; '.join((*(each.number for each in kit.members), *kit.besides))}"
        if isinstance(kit.spec, KitSpec):
            yield from kit.spec.notes(kit.number)
    for slot, (part_id, _) in held.items():
        part = known.get(part_id)
        if part is None or before.get(slot, (None,))[0] == part_id:
            continue
        inside = next((each for each in part.members if slot in slots_of(visit.left, each)[:1]), part)
        if isinstance(inside.spec, UnmeasuredSpec):
            name = names.get(slot, slot)
            yield f"{name}: {inside.number}, {inside.spec.mark}, not measured: its figures stay typical"


def _told(connection: sqlite3.Connection, visit: Visit) -> Told:
    """What the runs of a visit tell."""
    last = verdicts.last_log(visit)
    left = visit.now(visit.set_up.left_revision_id)
    try:
        push = promise(visit.as_left()).push / promise(visit.as_it_works()).push
    except InvalidValue:
        push = 1.0
    return Told(
        verdict=verdicts.verdict_of(connection, visit, last) if last else None,
        drive_ratio=run_logs.setup_of(connection, last.id).vehicle.drive_ratio if last else 0.0,
        compared=list(_one_after_the_other(connection, visit)),
        words=[(visit.now(each.word.revision_id) == left, each.word) for each in visit.words],
        push=push,
    )


def _one_after_the_other(connection: sqlite3.Connection, visit: Visit) -> Iterator[tuple[str, Compared]]:
    """The runs of each set-up of a visit beside those of the one ridden before it."""
    numbers = {run.id: number for number, run in enumerate(visit.runs, start=1)}
    ridden: dict[int, list[int]] = {}
    for run in visit.runs:
        if run.figures or run.log_counts:
            ridden.setdefault(visit.now(run.revision_id), []).append(run.id)
    known = visit.calibration.core if visit.calibration else None
    for before, after in pairwise(ridden.values()):
        a, b = (sets.set_of(connection, visit.machine_id, "runs", some[-sets.MOST_RUNS :]) for some in (before, after))
        others = sets.others_of(connection, visit.machine_id, [*before, *after])
        names = [f"run{'s' if len(some) > 1 else ''} {', '.join(str(numbers[each]) for each in some)}"
                 for some in (after, before)]  # fmt: skip
        yield " beside ".join(names), compare_sets(a, b, others, known)


def _predicted(
    connection: sqlite3.Connection, visit: Visit, *, found: bool, grounded: bool = True
) -> tuple[PredictionFigures | None, str]:
    """What was predicted of a set-up, or why nothing could be."""
    try:
        document = visit.as_it_works() if found else visit.as_left()
        return predictions.looked_up(connection, document, visit.ground if grounded else None), ""
    except InvalidValue as error:
        return None, error.reason


def _read(document: str) -> Page:
    held = json.loads(document)
    rows = tuple(
        Row(
            row["key"],
            row["name"],
            tuple(Line(**line) for line in row["lines"]),
            row["table"] and Table(tuple(row["table"]["heads"]), tuple(tuple(each) for each in row["table"]["rows"])),
        )
        for row in held["rows"]
    )
    return Page(**held | {"rows": rows, "rider": _rider(held.get("rider"))})


_RIDER = TypeAdapter(Rider | None)


def _rider(held: object) -> Rider | None:
    """The rider's sheet as it was kept; none of a page from before there was one."""
    return _RIDER.validate_python(held)
