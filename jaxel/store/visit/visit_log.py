"""A visit's log as it is read: each change with who made it, and what it did in the trade's words."""

import json
import sqlite3
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from itertools import groupby
from typing import Any

from jaxel.core.trade.belt.look import mark_kinds
from jaxel.core.trade.kinds.kinds import clutches, kinds, of_side
from jaxel.core.trade.record.said import Station
from jaxel.core.trade.record.scope import SCOPE_NAMES
from jaxel.core.trade.record.wording import value_in_words
from jaxel.core.trade.run.reader import MARK_WORDS
from jaxel.core.trade.setup.slots import slots
from jaxel.core.trade.stranger.as_found import Fault
from jaxel.core.trade.strip.diagnosis import cause_name
from jaxel.core.trade.strip.procedure import jobs
from jaxel.core.trade.visit.records import TABLES, field_of

from .. import edits
from ..edits import WHOLE_ROW, Logged
from ..machine import machines
from ..setup import revisions
from ..shelf.shelf import PART
from .intake import KINDS
from .visits import Visit

Names = dict[tuple[str, Any], str]
"""What a hand calls a value of a field that is kept as a key: a kind of clutch, a belt."""

ACTS = {"left_revision_id", "found_revision_id", "fitted_confirmed"}
"""Fields that say of a change what it was: the rest of it needs no words."""


TICKED = {"seen", "left_on", "marked", "off", "jobs"}
"""Fields that hold what was ticked, by part: of a change only what came or went is told."""


@dataclass(frozen=True)
class ChangeLine:
    """One thing a change did: where, what, and from what to what; empty for nothing."""

    station: Station
    what: str
    was: str
    now: str


@dataclass(frozen=True)
class LoggedChange:
    """One change of a visit: `edit`, its number; what it did, line by line; `instrument` that read it, empty where a
    hand typed it."""

    edit: int
    at: str
    by: str
    lines: tuple[ChangeLine, ...]
    instrument: str = ""


def last(connection: sqlite3.Connection, visit: Visit) -> LoggedChange | None:
    """The change that undo would put back, None where there is none."""
    found = edits.last_change(connection, visit.id)
    return next(_told(connection, visit, found), None)


def after(connection: sqlite3.Connection, visit: Visit, edit: int) -> list[LoggedChange]:
    """What was changed after an edit, oldest first."""
    return list(_told(connection, visit, edits.changes_after(connection, visit.id, edit)))


def _told(connection: sqlite3.Connection, visit: Visit, rows: Iterable[Logged]) -> Iterator[LoggedChange]:
    rows = list(rows)
    touched = {row.place for row in rows}
    names: Names = {(field, key): kind.name for field in KINDS for key, kind in kinds().items()}
    names |= {("scope", key): name for key, name in SCOPE_NAMES.items()}
    names |= {("next_belt_id", b.id): f"belt {b.number}" for b in machines.belts(connection, visit.machine_id)}
    if "set_up" in touched:
        names |= {("part", row["id"]): row["number"] for row in connection.execute("SELECT id, number FROM part")}
    places: dict[int, int] = {}
    if "belt_reading" in touched:
        places = {row["id"]: row["place"] for row in _of_visit(connection, visit, "belt_reading", "id, place")}
    items: dict[tuple[str, int], str] = {}
    for table, named in (
        ("item_look", item_name),
        ("item_done", item_name),
        ("tightened", fastener_name),
        ("counted", _count_name),
    ):
        if table in touched:
            items |= {(table, row["id"]): named(dict(row)) for row in _of_visit(connection, visit, table, "*")}
    runs = {run.id: number for number, run in enumerate(visit.runs, start=1)}
    for edit, group in groupby(rows, key=lambda row: row.change):
        change = list(group)
        acts = [row for row in change if row.field in ACTS]
        lines = [
            line for row in acts[:1] or change for line in _lines(connection, visit, row, places, runs, items, names)
        ]
        yield LoggedChange(edit, change[0].at, change[0].by, tuple(lines), change[0].instrument or "")


def _of_visit(connection: sqlite3.Connection, visit: Visit, table: str, columns: str) -> list[sqlite3.Row]:
    return connection.execute(f"SELECT {columns} FROM {table} WHERE visit_id = ?", (visit.id,)).fetchall()


def _lines(
    connection: sqlite3.Connection,
    visit: Visit,
    row: Logged,
    places: Mapping[int, int],
    runs: Mapping[int, int],
    items: Mapping[tuple[str, int], str],
    names: Names,
) -> Iterator[ChangeLine]:
    if row.field == WHOLE_ROW:
        yield _of_row(row)
        return
    field = field_of(row.place, row.field)
    if field is None and not edits.still_kept(connection, row):
        was, now = (value_in_words(each) for each in (row.was, row.now))
        yield ChangeLine("intake", f"{row.place}, {row.field}".replace("_", " "), was, now)
        return
    if field is None or field.said is None:
        return
    words, station = field.said.words, field.said.station or TABLES[row.place].station
    if row.field in ACTS:
        put_right = row.field.endswith("revision_id") and revisions.corrected(connection, visit.machine_id)
        act = "number put right" if put_right and row.now in put_right.values() else words
        yield ChangeLine(station, act, "", "")
    elif row.field == "found_origins":
        yield from _known(visit, row)
    elif row.field in TICKED:
        name = _job_name if row.field == "jobs" else _part_name
        was, now = (", ".join(name(visit, tick) for tick in each) for each in _ticked(row))
        yield ChangeLine(station, words, was, now)
    elif row.place == "run_log":
        yield from _of_log(row, runs)
    elif row.field in ("found_draft", "left_draft"):
        yield from _tried(visit, row, station, names)
    else:
        what = words
        if row.place == "belt_reading":
            what = f"belt width at place {places[row.row]}" if row.row in places else what
        if row.place == "road_test":
            what = f"run {runs[row.row]}, {what}" if row.row in runs else what
        if item := items.get((row.place, row.row)):
            what = f"{item}, {what}"
        was, now = (value_in_words(_named(names, row.field, each), field.unit or "") for each in (row.was, row.now))
        yield ChangeLine(station, what, was, now)


def _of_log(row: Logged, runs: Mapping[int, int]) -> Iterator[ChangeLine]:
    """What of a run's log was decided: whether it counts, and each mark that was moved."""
    run = f"run {runs[row.row]}" if row.row in runs else "run"
    if row.field == "counts":
        yield ChangeLine("road-test", f"{run}, its log {'counts' if row.now else 'set aside'}", "", "")
        return
    for key in dict.fromkeys((*row.was, *row.now)):
        if row.was.get(key) != row.now.get(key):
            pull, mark = key.split(".")
            was, now = (f"{side[key][1]:.2f} s" if key in side else "as found" for side in (row.was, row.now))
            yield ChangeLine("road-test", f"{run}, {MARK_WORDS[mark]} of pull {int(pull) + 1}", was, now)


def _ticked(row: Logged) -> tuple[list[str], list[str]]:
    """What went from a field of ticks, and what came."""
    was, now = list(row.was or ()), list(row.now or ())
    return [each for each in was if each not in now], [each for each in now if each not in was]


def _part_name(visit: Visit, ticked: str) -> str:
    """What a hand calls the part of `side.part` or `side.part.ask`."""
    side, part = ticked.split(".")[:2]
    known = {each.key: each.name for of, kind in clutches(visit.kinds) if of == side for each in kind.guide.part}
    return of_side(known.get(part, part).lower(), side)


def _job_name(visit: Visit, job: str) -> str:
    return next((each.procedure.name.lower() for each in jobs(visit.kinds) if each.key == job), job)


def _named(names: Names, field: str, value: Any) -> Any:
    """What a hand calls a value; a list or a table is never a key."""
    return value if isinstance(value, list | dict) else names.get((field, value), value)


def item_name(row: Mapping[str, Any]) -> str:
    """What a hand calls the item of a row of looks."""
    known = {item.key: item.name for kind in kinds().values() for item in kind.guide.item}
    return of_side(known.get(row["item"], row["item"]), row["side"])


def fastener_name(row: Mapping[str, Any]) -> str:
    """What a hand calls the fastener of a row of tightening."""
    known = {each.key: each.place for kind in kinds().values() for each in kind.guide.fastener}
    return of_side(known.get(row["fastener"], row["fastener"]), row["side"])


def _count_name(row: Mapping[str, Any]) -> str:
    return str(row["name"])


def _of_row(row: Logged) -> ChangeLine:
    """A row added or taken away, in the words of what it is."""
    return _ROWS[row.place](row.now or row.was, row.was is None)


def _fault_row(held: Mapping[str, Any], added: bool) -> ChangeLine:
    name = Fault(held["kind"], tuple(json.loads(held["figures"])), held["note"]).name
    return ChangeLine("intake", "fault found" if added else "fault taken back", "", f"“{name}”")


def _mark_row(held: Mapping[str, Any], added: bool) -> ChangeLine:
    name = mark_kinds()[held["kind"]].name if held["kind"] in mark_kinds() else held["kind"]
    return ChangeLine("belt", "mark found" if added else "mark taken back", "", f"“{name}”")


def _count_row(held: Mapping[str, Any], added: bool) -> ChangeLine:
    counted = f"{held['out']} out" + ("" if held["back"] is None else f", {held['back']} back")
    return ChangeLine("hand-over", f"{'counted' if added else 'no longer counted'}: {held['name']}", "", counted)


def _width_row(held: Mapping[str, Any], added: bool) -> ChangeLine:
    width = value_in_words(held["width_mm"], "mm")
    return ChangeLine("belt", f"belt width at place {held['place']}", *(("", width) if added else (width, "")))


_ROWS: Mapping[str, Callable[[Mapping[str, Any], bool], ChangeLine]] = {
    "fault": _fault_row,
    "belt_mark": _mark_row,
    "belt_reading": _width_row,
    "item_look": lambda held, _: ChangeLine("strip", f"{item_name(held)}, looked at", "", ""),
    "item_done": lambda held, _: ChangeLine("rebuild", f"{item_name(held)}, done", "", ""),
    "tightened": lambda held, _: ChangeLine("rebuild", f"{fastener_name(held)}, begun", "", ""),
    "counted": _count_row,
    "heat_cycle": lambda _, added: ChangeLine(
        "line-up", "heat cycle begun" if added else "heat cycle taken back", "", ""
    ),
    "road_test": lambda _, added: ChangeLine("road-test", "run begun" if added else "run taken back", "", ""),
    "cause_outcome": lambda held, added: ChangeLine(
        "strip", "what it came to" if added else "no longer said", "", f"{cause_name(held['cause'])}: {held['outcome']}"
    ),
    "rider_word": lambda held, added: ChangeLine(
        "road-test", "rider's word" if added else "rider's word taken back", "", f"“{held['word']}, {held['place']}”"
    ),
}


def _known(visit: Visit, row: Logged) -> Iterator[ChangeLine]:
    """How a part is said to be known, slot by slot."""
    names = {slot.key: slot.name for slot in slots(visit.found, visit.kinds)}
    for key in dict.fromkeys((*row.was, *row.now)):
        was, now = row.was.get(key, ""), row.now.get(key, "")
        if was != now:
            yield ChangeLine("intake", f"{names.get(key, key)}, how it is known", was, now)


def _tried(visit: Visit, row: Logged, station: Station, names: Names) -> Iterator[ChangeLine]:
    """What of a draft differs, number by number; what is in neither stands as recorded."""
    recorded = visit.found if row.field == "found_draft" else visit.left
    known = {number.key: (slot.name, number) for slot in slots(recorded, visit.kinds) for number in slot.numbers}
    slots_ = {slot.key: slot.name for slot in slots(recorded, visit.kinds)}
    for key in dict.fromkeys((*row.was, *row.now)):
        if key.startswith(PART):
            slot = key.removeprefix(PART)
            called = slots_.get(slot, slot.replace("_", " "))
            was, now = (str(names.get(("part", side.get(key)), "")) for side in (row.was, row.now))
            if was != now:
                yield ChangeLine(station, f"{called}, from the shelf", was, now)
            continue
        name, number = known.get(key, ("", None))
        held = number.value if number else None
        was, now = row.was.get(key, held), row.now.get(key, held)
        if was == now:  # recorded since: what stood there then is no longer what is recorded
            was, now = row.was.get(key), row.now.get(key)
        positions = number.options if number else ()
        words = [
            positions[int(each) - 1]
            if positions and each is not None
            else value_in_words(each, number.unit if number else "")
            for each in (was, now)
        ]
        yield ChangeLine(station, f"{name}, {number.label}" if number else key, *words)
