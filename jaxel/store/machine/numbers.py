"""Numbers of a machine's set-up: put right where they were recorded wrong, told apart from a change to the machine."""

import sqlite3
from collections.abc import Callable, Collection, Mapping
from typing import Any, Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import NoSuchField, unit_of, value_at, with_value
from jaxel.core.formats.reading import validate
from jaxel.core.formats.setup.evidence import EvidencePart
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.record.facts import Origin
from jaxel.core.trade.setup.plausible import machine_number
from jaxel.core.trade.stranger.look import look
from jaxel.core.trade.stranger.origins import SAID
from jaxel.core.trade.stranger.reading import Typed
from jaxel.core.units import parse_quantity

from ..db import Conflict, writing
from ..edits import DEFAULT_HAND, Edit, changing, check_hand
from ..record.rows import open_visit_of
from ..record.whole import whole_visit
from ..setup import revisions
from ..workshop import stamps
from . import limits, machines

As = Literal["correction", "change"]


def put_number(
    connection: sqlite3.Connection,
    machine_id: int,
    path: str,
    edit: Edit,
    *,
    origin: str,
    how: As,
    reason: str,
    by: str = DEFAULT_HAND,
) -> None:
    """Put one number right or change it: `edit` as typed, in any unit, `origin` how it is known.

    Raises NotFound, Conflict where it is another now, InvalidValue for a number that cannot be (field `number`, or
    `origin`, `reason`), and Implausible.
    """
    said = next((each for each in SAID if each == origin), None)
    if said is None:
        raise InvalidValue("origin", f"is known in one of these ways: {', '.join(SAID)}")
    if path in limits.PATHS.values():
        raise InvalidValue("number", "is a limit: it is stated with where it comes from")
    with writing(connection):
        document = revisions.newest(connection, machine_id).document
        try:
            held = value_at(document, path)
        except NoSuchField:
            held = None
        if not isinstance(held, int | float) or isinstance(held, bool):
            raise InvalidValue("number", "is no number of this set-up")
        shown = edit.was is None or (isinstance(edit.was, int | float) and abs(edit.was - held) <= 1e-9)
        if not shown:
            raise Conflict("this was changed elsewhere meanwhile", field="number", theirs=held)
        try:
            value = parse_quantity(str(edit.now), unit_of(path))
        except InvalidValue as error:
            raise InvalidValue("number", error.reason) from None
        if not edit.sure:
            machine_number("number", value, held, unit_of(path))
        whole = int(value) if isinstance(held, int) and value == int(value) else value
        try:
            put_numbers(
                connection, machine_id, {path: whole}, {path: EvidencePart(origin=said)}, how=how, reason=reason, by=by
            )
        except InvalidValue as error:
            field = error.field if error.field in ("reason", "by") else "number"
            raise InvalidValue(field, error.reason) from None


def take_readings(
    connection: sqlite3.Connection,
    machine_id: int,
    taken: Mapping[str, Typed],
    prefer: Mapping[str, str],
    *,
    how: As,
    reason: str,
    sure: Collection[str] = (),
    by: str = DEFAULT_HAND,
) -> None:
    """Take readings of a machine the workshop knows.

    Parameters: `sure`, readings that lie far from what stood there and are so. Raises NotFound, and InvalidValue for a
    reading that is refused, asked about or half read, two that contradict each other, or none.
    """
    with writing(connection):
        document = revisions.newest(connection, machine_id).document
        masses = stamps.masses(connection)
        found = look(document, taken, prefer=prefer, stamps=masses, sure=sure)
        wrong = next((line for line in found.lines if line.reason), None)
        if wrong:
            raise InvalidValue(f"{wrong.key}.{wrong.field}", wrong.reason)
        if found.questions:
            raise InvalidValue("readings", f"contradict each other: {' or '.join(found.questions[0].words)}")
        if not any(line.state == "taken" for line in found.lines):
            raise InvalidValue("readings", "hold no reading that is whole")
        if found.unequal:
            raise InvalidValue("readings", "hold weights that are no set: record them as a fault found, at the visit")

        def made(held: SetupDocument) -> SetupDocument:
            now = look(held, taken, prefer=prefer, stamps=masses, sure=sure).document
            return now if held.evidence is not None else now.model_copy(update={"evidence": None})

        if how == "change" and not reason.strip():
            raise InvalidValue("reason", "a change is recorded with its reason")
        names = ", ".join(line.reading.name for line in found.lines if line.state == "taken")
        check_hand(by)
        _put(connection, machine_id, made, how, reason.strip() or f"measured: {names}"[:500], by)


def read_limit(what: str, typed: str) -> float:
    """A limit as typed, in any unit; raises InvalidValue (field `value`)."""
    try:
        return parse_quantity(typed, unit_of(limits.PATHS[what]))
    except InvalidValue as error:
        raise InvalidValue("value", error.reason) from None


def put_numbers(
    connection: sqlite3.Connection,
    machine_id: int,
    values: Mapping[str, Any],
    evidence: Mapping[str, EvidencePart],
    *,
    how: As,
    reason: str,
    by: str = DEFAULT_HAND,
) -> None:
    """Put numbers of a machine's set-up right, or change them because the machine was changed.

    A correction was always so: it takes the record's place as found and as left, and no change is shown. A change is of
    the set-up as left. With a visit open it belongs to the visit and is undone there.

    Parameters: `values` and `evidence` by path; `how`, which of the two; `reason`, for a change at least. Raises
    NotFound, and InvalidValue for numbers that cannot be or a change without a reason.
    """
    check_hand(by)
    if how == "change" and not reason.strip():
        raise InvalidValue("reason", "a change is recorded with its reason")
    with writing(connection):
        machines.get(connection, machine_id)

        def made(document: SetupDocument) -> SetupDocument:
            return with_numbers_at(document, values, evidence)

        _put(connection, machine_id, made, how, reason.strip() or "put right: it was recorded wrong", by)


def take_measured(
    connection: sqlite3.Connection, visit_id: int, slot: str, path: str, value: float, by: str = DEFAULT_HAND
) -> None:
    """Let what was measured at a station be the set-up's number, known as measured.

    Of a part that was changed in the visit it is the number as left; of one that stayed it always was so.

    Parameters: `slot` the number is of, `path` of the number. Raises NotFound, Conflict, InvalidValue.
    """
    visit = whole_visit(connection, visit_id)
    how: As = "change" if slot in visit.set_up.changed else "correction"
    evidence = {path: EvidencePart(origin="measured")}
    put_numbers(connection, visit.machine_id, {path: value}, evidence, how=how, reason="measured at the bench", by=by)


def _put(
    connection: sqlite3.Connection,
    machine_id: int,
    made: Callable[[SetupDocument], SetupDocument],
    how: As,
    reason: str,
    by: str,
) -> None:
    visit_id = open_visit_of(connection, machine_id)

    def add(before: int) -> int:
        held = revisions.get(connection, before)
        document = made(held.document)
        if document == held.document:
            return before
        return revisions.add(
            connection,
            machine_id,
            document,
            parent_id=before,
            visit_id=visit_id,
            reason=reason,
            nature=how,
            corrects=before if how == "correction" else None,
            by=by,
        )

    if visit_id is None:
        left = add(revisions.newest(connection, machine_id).id)
        belt, width = _belt_width(connection, machine_id, left)
        connection.execute("UPDATE belt SET width_mm = ? WHERE id = ?", (width, belt))
        return
    with changing(connection, visit_id, by) as desk:
        set_up = whole_visit(connection, visit_id).set_up
        found, left = set_up.found_revision_id, set_up.left_revision_id
        if how == "correction":
            desk.set("set_up", visit_id, "found_revision_id", found_now := add(found))
            desk.set("set_up", visit_id, "left_revision_id", found_now if left == found else add(left))
        else:
            desk.set("set_up", visit_id, "left_revision_id", add(left))
        belt, width = _belt_width(connection, machine_id, desk.value("set_up", visit_id, "left_revision_id"))
        desk.set("belt", belt, "width_mm", width)
        _check_drafts(connection, visit_id)


def _belt_width(connection: sqlite3.Connection, machine_id: int, revision_id: int) -> tuple[int, float]:
    """The belt on the machine, and its width [mm] as it is known: that of the set-up where the numbers said another."""
    belt, revision = machines.fitted_belt(connection, machine_id), revisions.get(connection, revision_id)
    parent = revisions.get(connection, revision.parent_id) if revision.parent_id else revision
    width = revision.document.belt.top_width_mm
    return belt.id, belt.width_mm if width == parent.document.belt.top_width_mm else width


def _check_drafts(connection: sqlite3.Connection, visit_id: int) -> None:
    """What is tried on the bench must still fit; raises InvalidValue where it does not."""
    visit = whole_visit(connection, visit_id)
    for tried in (visit.as_found(), visit.as_left()):
        tried.core()


def with_numbers_at(
    document: SetupDocument, values: Mapping[str, Any], evidence: Mapping[str, EvidencePart]
) -> SetupDocument:
    """The set-up with values at paths and how they are known, checked whole; raises InvalidValue."""
    try:
        for path, value in values.items():
            document = with_value(document, path, value)
    except NoSuchField as error:
        raise InvalidValue(str(error), "is no number of this set-up") from None
    if document.evidence is not None:
        document = document.model_copy(update={"evidence": dict(document.evidence) | dict(evidence)})
    whole = validate(SetupDocument, document.model_dump(exclude_none=True))
    whole.core()
    return whole


def state_limit(
    connection: sqlite3.Connection,
    machine_id: int,
    what: str,
    value: float,
    origin: Origin,
    by: str = DEFAULT_HAND,
) -> None:
    """State a limit; where it comes into force the set-up's own follows, as a correction.

    Raises NotFound, InvalidValue (field `value`) for one this machine cannot have.
    """
    with writing(connection):
        machines.get(connection, machine_id)
        limits.state(connection, machine_id, what, value, origin, by)
        _follow(connection, machine_id, what, by)


def withdraw_limit(connection: sqlite3.Connection, machine_id: int, limit_id: int, by: str = DEFAULT_HAND) -> None:
    """Withdraw a limit; the next best comes into force. Raises NotFound, Conflict for the last of its kind."""
    with writing(connection):
        gone = limits.withdraw(connection, machine_id, limit_id, by)
        if limits.in_force(connection, machine_id, gone.name) is None and gone.name == "belt_width_min_mm":
            raise Conflict("a belt is judged by a limit: state another before this one is withdrawn", field="limit")
        _follow(connection, machine_id, gone.name, by)


def _follow(connection: sqlite3.Connection, machine_id: int, what: str, by: str) -> None:
    """Let the set-up hold the limit in force."""
    holds = limits.in_force(connection, machine_id, what)
    if holds is None:
        return
    path = limits.PATHS[what]
    try:
        put_numbers(
            connection, machine_id, {path: holds.value}, {}, how="correction", reason=f"limit: {holds.origin}", by=by
        )
    except InvalidValue as error:
        raise InvalidValue("value", error.reason) from None
