"""The hand-over page: what a visit found, decided, put back and measured, in the words its rider reads.

One function makes the page from a visit; the screen and the print show what it made. A signed visit keeps it as data:
nothing that is stated, chosen or renamed afterwards changes a word of it.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from jaxel.core.units import said
from jaxel.core.words import Quantity, day, q

from ..kinds.kind_file import Fastener
from ..kinds.kinds import Side, of_side
from ..line_up import line_up
from ..rebuild.done import FITTED, rightings, told
from ..rebuild.tightening import Tightened, misses, wanted
from ..record.said import Station
from ..record.scope import SCOPE_NAMES
from ..run.scores import predicted_figures
from ..setup.slot import Change
from ..strip.procedure import chosen
from ..strip.strip import looked_into
from . import belt_rows, close_out, figure_rows, run_rows
from .handed import Handed
from .record import VisitRecord
from .rider import Ground, Rider, rider_page
from .sheet import Line, Row, Tight, as_line
from .stations import open_items, stations_of


@dataclass(frozen=True)
class Page:
    """The page of a visit: whose machine, when, what for, its rows; `note`, how it came to be where that is not plain.

    `closed`, how it ended, by whom and when, empty while it is open; `rider`, the sheet the rider takes along, None of
    a page signed before there was one.
    """

    machine: str
    owner: str
    workshop: str
    when: str
    scope: str
    rows: tuple[Row, ...]
    closed: str
    note: str = ""
    version: int = 2
    rider: Rider | None = None


def hand_over_page(visit: VisitRecord, handed: Handed, note: str = "") -> Page:
    """The page of a visit as it stands: every statement is what a hand did or measured, or was computed, with its ±."""
    shown = stations_of(visit)
    return Page(
        machine=handed.machine,
        owner=handed.owner,
        workshop=handed.workshop,
        when=" · ".join((day(handed.opened_at), *_meters(visit))),
        scope=SCOPE_NAMES[visit.scope],
        rows=tuple(row for row in _rows(visit, handed, shown) if row.lines or row.table),
        closed=_closed(handed),
        note=note,
        rider=rider_page(visit, _ground(visit, handed, shown)),
    )


def _ground(visit: VisitRecord, handed: Handed, shown: Sequence[Station]) -> Ground:
    changed = [(f"{each.slot.name}, {each.label}", *_sides(each)) for each in handed.changes]
    rpm = "set-up" in shown or "road-test" in shown  # a belt change is closed without one
    return Ground(
        open_things=[each.what for each in open_items(visit)],
        signed=handed.signed_off_at is not None,
        unrepaired=handed.unrepaired,
        faults=tuple(_faults(visit)),
        undone=tuple(_done(visit)) if "rebuild" in shown else (),
        put_back=tuple(_put_back(visit, handed)) if "rebuild" in shown else (),
        counted=tuple(_counted(visit)),
        changed=changed if "set-up" in shown else (),
        fitted=handed.fitted,
        lined_up=tuple(_lined_up(visit)) if "line-up" in shown and _measured_line(visit) else (),
        found=predicted_figures(handed.found) if handed.found and rpm else None,
        left=predicted_figures(handed.left) if handed.left and rpm else None,
        before={each.figure: (each.measured_rpm, each.measured_sd_rpm) for each in handed.before},
        after={each.figure: (each.measured_rpm, each.measured_sd_rpm) for each in handed.after},
        belt_number=handed.belt_number,
        limit_origin=handed.limit_origin,
        round_mm=handed.round_mm,
        hands=handed.hands,
        unnamed=handed.unnamed,
    )


def _sides(change: Change) -> tuple[str, str]:
    """Both sides of a change as they are said."""
    was, now = ("none" if each is None else str(q(each, change.unit)) for each in (change.found, change.left))
    return was, now


def _meters(visit: VisitRecord) -> Iterator[str]:
    if visit.intake.no_odometer:
        yield f"odometer: {visit.intake.no_odometer}"
    for value, unit in ((visit.intake.odometer_km, "km"), (visit.intake.odometer_h, "h")):
        if value is not None:
            yield str(q(value, unit))


def _closed(handed: Handed) -> str:
    if handed.signed_off_at is None:
        return ""
    how = "Closed" if handed.unrepaired else "Signed off"
    return f"{how}: {handed.signed_off_by}, {day(handed.signed_off_at)}"


def _rows(visit: VisitRecord, handed: Handed, shown: Sequence[Station]) -> Iterator[Row]:
    yield _row("complaint", "Complaint", visit.intake.complaint or "–")
    if visit.scope != "bench":
        yield Row("used", "Used at", tuple(_used(visit, handed)))
    yield Row("faults", "Faults found", tuple(_faults(visit)))
    if "belt" in shown:
        yield Row("belt", "Belt found", tuple(belt_rows.found(visit, handed.limit_origin, handed.round_mm)))
        yield Row("decision", "Belt decision", tuple(belt_rows.decided(visit)))
    if "strip" in shown:
        yield Row("jobs", "Jobs", tuple(_jobs(visit)))
        yield Row("strip", "Clutches looked at", tuple(_looked(visit)) or (Line(_unlooked(visit)),))
    if "set-up" in shown:
        told = (*(_changed(each) for each in handed.changes), *handed.fitted)
        changed = [Line(each) for each in told] or [Line("nothing")]
        yield Row("changed", "Set-up changed", (*changed, *(Line(each, "quiet") for each in handed.reasons)))
    if "rebuild" in shown:
        yield Row("done", "Done", tuple(_done(visit)))
        yield Row("rebuild", "Put back", tuple(map(as_line, _put_back(visit, handed))) or (_nothing_back(visit),))
    if "line-up" in shown:
        yield Row("line-up", "Line-up", tuple(_lined_up(visit)))
    if visit.belt.new_one:
        yield _row("break-in", "Break-in", belt_rows.broken_in(visit))
    yield Row("counted", "Counted in", tuple(_counted(visit)))
    if "set-up" in shown or "road-test" in shown:
        yield figure_rows.predicted(visit, handed)
    yield Row("before", "Measured before", table=figure_rows.compared(handed.before))
    if "road-test" in shown:
        yield figure_rows.measured_after(visit, handed)
        yield from run_rows.rows(handed.told)
    if handed.found and handed.left and visit.scope != "bench":
        yield run_rows.launch(handed.told, handed.found.engagement.hit_n, handed.left.engagement.hit_n)
    yield _row("watch", "Watch", visit.hand_over.watch or "–")
    if visit.scope != "bench":
        yield _row("service", "Next service", " or ".join(_service(visit)) or "–")
    yield _row("unrepaired", "Returned" if visit.scope == "bench" else "Left unrepaired", handed.unrepaired)


def _row(key: str, name: str, words: str) -> Row:
    return Row(key, name, (Line(words),) if words else ())


def _used(visit: VisitRecord, handed: Handed) -> Iterator[Line]:
    intake = visit.intake
    air = f"{q(intake.elevation_m, 'm', 0)}, {q(intake.temperature_c, '°C', 0)}, {said(intake.humidity_pct)} % humidity"
    yield Line(f"{air}, {intake.riding}" if intake.riding else air)
    if handed.found:
        yield Line(f"density altitude {q(handed.found.density_altitude_m, 'm', 0)}", "quiet")


def _faults(visit: VisitRecord) -> Iterator[Line]:
    for each in visit.faults:
        fault = each.fault
        name = fault.name + (f": {fault.note}" if fault.note and fault.kind != "other" else "")
        righted = f"put right: {fault.put_right}" if fault.put_right else "not put right"
        yield Line(f"{name} · {righted}", "plain" if fault.put_right else "amiss")


def _unlooked(visit: VisitRecord) -> str:
    return "nothing noted of what was opened" if visit.bench.opened(visit.inspection) else "not opened"


def _jobs(visit: VisitRecord) -> Iterator[Line]:
    """The jobs chosen, by how far a hand noted each: what was looked at and done stands in the rows below."""
    off = visit.inspection.strip.off
    for job in chosen(visit.inspection.strip.jobs, visit.inspection.kinds):
        noted = sum(f"{job.side}.{part.key}" in off for part in job.parts)
        told = f": {noted} of {len(job.parts)} parts noted off" if noted else ""
        yield Line(f"{of_side(job.procedure.name, job.side)}{told}")


def _looked(visit: VisitRecord) -> Iterator[Line]:
    inspection, sound, looked_over = visit.inspection, list[str](), list[str]()
    far = [f"{each.side} {each.how_far}" for each in looked_into(inspection) if each.how_far]
    if far:
        words = "; ".join(far)
        yield Line(f"{words[:1].upper()}{words[1:]}", "quiet")
    for side, item in inspection.items():
        verdict = inspection.verdict(side, item)
        name = of_side(item.name, side)
        if verdict.decision in ("replace", "watch"):
            again = verdict.check and verdict.decision == "watch" and verdict.check.km
            decided = "to be replaced" if verdict.decision == "replace" else verdict.decision
            words = f"{name}: {decided}" + (f", again at {q(again, 'km', 0)}" if again else "")
            words += f". {verdict.sentences[0]}" if verdict.sentences else "."
            look = inspection.look(side, item)
            words += f" Overruled: {look.reason}." if look.overruled and look.reason else ""
            yield Line(words, "strong", f"{side}.{item.key}")
        elif verdict.decision == "keep":
            over = inspection.look(side, item).looked == "looked over"
            (looked_over if over else sound).append(of_side(f"{item.name[:1].lower()}{item.name[1:]}", side))
    if sound:
        yield Line(f"Sound: {'; '.join(sound)}", "quiet")
    if looked_over:
        yield Line(f"Looked over, nothing seen: {'; '.join(looked_over)}", "quiet")


def _changed(change: Change) -> str:
    name = f"{change.slot.name}, {change.label}"
    if change.found is None and change.left is None:
        return name
    was, now = _sides(change)
    return f"{name}: {was} → {now}"


def _done(visit: VisitRecord) -> Iterator[Line]:
    prices = []
    for each in rightings(visit.inspection, visit.bench.done):
        done = visit.bench.done_of(each)
        name = of_side(f"{each.name[:1].upper()}{each.name[1:]}", each.side)
        who = f" · {done.by}, {day(done.at)}" if done.at else ""
        cost = "" if done.price is None or done.how not in FITTED else f", {done.price:,.2f}"
        yield Line(f"{name}: {told(each, done)}{cost}{who}", "plain" if done.how in FITTED else "amiss")
        if cost and done.price is not None:
            prices.append(done.price)
    if len(prices) > 1:
        yield Line(f"Parts fitted, as priced above: {sum(prices):,.2f}", "strong")


def _nothing_back(visit: VisitRecord) -> Line:
    if visit.bench.kind_asked:
        sides = " and ".join(visit.bench.kind_asked)
        return Line(f"{sides} changed; of which kind it is, and so what was opened, is not said", "amiss")
    return Line("nothing was opened")


def _put_back(visit: VisitRecord, handed: Handed) -> Iterator[Line | Tight]:
    """What was left so, and each fastener, in the order of the hands."""
    kinds = {each.side: each.kind.key for each in visit.bench.opened(visit.inspection)}
    for step in visit.bench.steps(visit.inspection):
        accepted = visit.bench.rebuild.accepted.get(step.place, "")
        if accepted:
            yield Line(f"{'; '.join(step.amiss)}: left so, {accepted}", "amiss")
        for fastener, done in step.fasteners:
            yield _tightened(step.side, kinds[step.side], fastener, done, handed)


def _tightened(side: Side, kind: str, fastener: Fastener, done: Tightened, handed: Handed) -> Tight:
    count = f" ×{fastener.count}" if fastener.count > 1 else ""
    name = of_side(f"{fastener.place}{count}", side)
    if done.state != "done":
        return Tight(name, "torque owed" if done.state == "owed" else "not tightened", amiss=True)
    said = wanted(fastener, *handed.torques.get((kind, fastener.key), ((), None)))
    amiss = done.torque_nm is not None and misses(done.torque_nm, said.torque_nm)
    if done.torque_nm is not None:
        with_what = f", {done.means}" if done.means not in ("", "wrench") else ""
        how = f"{q(done.torque_nm, 'N·m', 1)}{with_what}"
        if amiss and said.torque_nm is not None:
            how += f"; to be {q(said.torque_nm, 'N·m', 1)} ({said.source})"
    else:
        how = f"tight{f', {done.means}' if done.means else ''}" if said.tightness == "torque" else said.tightness
    return Tight(name, how, f"{done.who}, {day(done.at)}" if done.at else "", amiss)


def _measured_line(visit: VisitRecord) -> bool:
    return line_up.alignment_of(visit.line_up, visit.centres_mm) is not None


def _lined_up(visit: VisitRecord) -> Iterator[Line]:
    read = visit.line_up
    found = line_up.alignment_of(read, visit.centres_mm)
    if found is None:
        yield Line(read.unmeasured.strip() or "not measured")
    else:
        offset = "–" if found.offset_mm is None else _signed(q(found.offset_mm, "mm", 1))
        yield Line(f"offset {offset}, toe {_signed(q(found.toe_deg, 'deg', 2))}")
        if read.behind:
            yield Line(f"shims behind the secondary: {q(round(sum(read.behind), 3), 'mm')}")
        out = line_up.out_of(read, found)
        if out:
            yield Line("; ".join(out) + (f": left so, {read.reason}" if read.reason else ""), "amiss")
    if read.deflection_mm is not None:
        yield Line(f"deflection {q(read.deflection_mm, 'mm')}")
    if read.ride_mm is not None:
        yield Line(f"{q(read.ride_mm, 'mm')} below the rim")


def _signed(quantity: Quantity) -> str:
    return f"+{quantity}" if quantity.value > 0 else str(quantity)


def _counted(visit: VisitRecord) -> Iterator[Line]:
    counts = visit.to_count
    if not counts:
        return
    out, back = close_out.totals(counts)
    short = {field.removeprefix("count_"): words for field, words in close_out.missing(counts)}
    whole = f"{back} of {out} fasteners and small parts" if out else f"{len(counts) - len(short)} of {len(counts)}"
    yield Line(whole)
    for each in counts:
        if each.goes_in not in (None, each.out) and each.key not in short:
            yield Line(f"{each.name}: {each.out} out, {each.goes_in} in, by {each.by_sheet.strip()}")
        if each.sort in close_out.MOVED:
            note = f", {each.note}" if each.note else ""
            yield Line(f"{each.name}: {'refitted' if each.back else 'not refitted'}{note}")
        elif each.back is not None and each.key in short:
            yield Line(short[each.key], "amiss")
    if close_out.brake_moved(counts):
        held = visit.hand_over.brake_held
        told = "brake tried and found holding" if held else "a brake line was moved; the brake was not tried"
        yield Line(told, "plain" if held else "amiss")


def _service(visit: VisitRecord) -> Iterator[str]:
    for value, unit in ((visit.hand_over.next_service_km, "km"), (visit.hand_over.next_service_h, "h")):
        if value is not None:
            yield str(q(value, unit))
