"""Intake: what came in and what is said of it, of which kind its clutches are, and what is fitted."""

import sqlite3
from collections.abc import Mapping

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.trade.kinds.kinds import Side, check_kind
from jaxel.core.trade.record.scope import scopes_for
from jaxel.core.trade.setup.slots import slots
from jaxel.core.trade.stranger.origins import SAID
from jaxel.core.trade.strip.diagnosis import symptoms
from jaxel.core.trade.visit.intake import TARGETS, Intake
from jaxel.core.trade.visit.plausible import intake_value
from jaxel.core.words import q

from ..edits import DEFAULT_HAND, Edit, Edits, changing, check_fields
from ..machine import machines
from ..record.rows import station
from ..setup import following, revisions
from . import visits

LOADS = "loads"
"""All the loads of an arm, which are weighed together."""

LAST_READ = ("odometer_km", "odometer_h")
KINDS: Mapping[str, Side] = {"primary_kind": "primary", "secondary_kind": "secondary"}


def change(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Write some of the intake's fields.

    Raises NotFound, Conflict, InvalidValue for a field that is none, and Implausible for a value to be asked about.
    """
    check_fields("intake", edits)
    with changing(connection, visit_id, by) as desk:
        if "symptoms" in edits:
            _check_symptoms(edits["symptoms"].now)
        asked = {field: edit.now for field, edit in edits.items() if not edit.sure}
        if any(isinstance(value, float | int) for value in asked.values()):
            held = station(connection, visit_id, Intake)
            for field, value in asked.items():
                last = _last_read(connection, visit_id, field) if field in LAST_READ else None
                intake_value(field, value, held, last)
        stated = TARGETS & edits.keys() and station(connection, visit_id, Intake).target_typical
        desk.write("intake", visit_id, {**edits, "target_typical": Edit(True, False)} if stated else edits)


def _check_symptoms(picked: list[str]) -> None:
    if strange := set(picked) - {each.key for each in symptoms()}:
        raise InvalidValue("symptoms", f"{min(strange)} is no symptom known here")
    if len(set(picked)) < len(picked):
        raise InvalidValue("symptoms", "holds one twice")


def _last_read(connection: sqlite3.Connection, visit_id: int, field: str) -> float | None:
    """Odometer [km] or hour meter [h] at the machine's visit before this one, None where none was read."""
    row = connection.execute(
        f"SELECT {field} FROM intake JOIN visit ON visit.id = visit_id"
        " WHERE machine_id = (SELECT machine_id FROM visit WHERE id = ?1) AND visit.id < ?1"
        f" AND {field} IS NOT NULL ORDER BY visit.id DESC LIMIT 1",
        (visit_id,),
    ).fetchone()
    return row[field] if row else None


def state_kinds(connection: sqlite3.Connection, visit_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Say of which kind the machine's clutches are, `primary_kind`, `secondary_kind` or both; None for not stated.

    Raises NotFound, Conflict, and InvalidValue for a kind that is none or does not fit the machine's set-up.
    """
    with changing(connection, visit_id, by) as desk:
        visit = visits.get(connection, visit_id)
        for field, edit in edits.items():
            if field not in KINDS:
                raise InvalidValue(field, "is not a field of the intake")
            if edit.now is not None:
                check_kind(field, edit.now, KINDS[field], visit.found)
        desk.write("machine", visit.machine_id, edits)


def set_scope(connection: sqlite3.Connection, visit_id: int, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Widen or narrow what a visit is for; nothing typed is lost.

    Raises NotFound, Conflict, and InvalidValue (field `scope`) for what this machine cannot be here for.
    """
    with changing(connection, visit_id, by) as desk:
        kind = machines.get(connection, visits.get(connection, visit_id).machine_id).kind
        if edit.now not in scopes_for(kind):
            raise InvalidValue("scope", "is not what this can be here for")
        desk.write("visit", visit_id, {"scope": edit})


def say_origin(connection: sqlite3.Connection, visit_id: int, slot: str, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say how what was found in a slot is known; None takes it back.

    Raises NotFound, Conflict, and, field `origin_SLOT`, InvalidValue for a slot or an origin that is none.
    """
    with changing(connection, visit_id, by) as desk:
        visit = visits.get(connection, visit_id)
        field = f"origin_{slot}"
        known = [each.key for each in slots(visit.found, visit.kinds)]
        keys = [key for key in known if key == slot or (slot == LOADS and key.startswith("load:"))]
        if not keys:
            raise InvalidValue(field, "is not a slot of this clutch")
        if edit.now is not None and edit.now not in SAID:
            raise InvalidValue(field, f"is known in one of these ways: {', '.join(SAID)}")
        if edit.now == "stamped" and not edit.sure:
            _ask_for_stamp(visit, slot, field)
        said = dict(visit.set_up.found_origins)
        desk.check(field, said.get(keys[0]), edit)
        others = {key: each for key, each in said.items() if key not in keys}
        now = {} if edit.now is None else dict.fromkeys(keys, edit.now)
        desk.set("set_up", visit_id, "found_origins", others | now)


def _ask_for_stamp(visit: visits.Visit, slot: str, field: str) -> None:
    """Stamped, and the figure is still the one on record: what is stamped on it? Raises Implausible."""
    own = [each for each in slots(visit.found, visit.kinds) if each.key == slot]
    typed = set(visit.set_up.found_draft)
    for each in own:
        figures = [number for number in each.numbers if number.value is not None]
        if figures and not typed & {number.key for number in figures}:
            told = " / ".join(str(q(number.value, number.unit)) for number in figures if number.value is not None)
            raise Implausible(
                field,
                f"{each.name.lower()}: stamped with what? On record stands {told}: type what it says, or keep that",
            )


def confirm_fitted(
    connection: sqlite3.Connection, visit_id: int, draft: Mapping[str, float], by: str = DEFAULT_HAND
) -> None:
    """Say that the set-up shown is the one found on the machine; differences become a revision of their own.

    What was recorded as changed before that stays changed; slots nobody changed follow what was found.

    Parameters: `draft`, the differences that were shown. Raises NotFound, Conflict where there are others now, and
    InvalidValue where a recorded change does not go with what was found.
    """
    with changing(connection, visit_id, by) as desk:
        visit = visits.get(connection, visit_id)
        desk.check("fitted", dict(visit.set_up.found_draft), Edit(dict(draft), dict(draft)))
        found = before = visit.set_up.found_revision_id
        if visit.set_up.found_draft or visit.set_up.found_origins:
            found = revisions.add(
                connection,
                visit.machine_id,
                visit.as_found(),
                parent_id=before,
                visit_id=visit_id,
                nature="found",
                reason="found fitted at intake, not what was recorded"
                if visit.set_up.found_draft
                else "looked at: how each part is known",
                by=by,
            )
        if found != before:
            desk.set("set_up", visit_id, "left_revision_id", following.follow(connection, desk, visit, found, by))
        desk.set("set_up", visit_id, "found_revision_id", found)
        desk.set("set_up", visit_id, "found_draft", {})
        desk.set("set_up", visit_id, "found_origins", {})
        desk.set("intake", visit_id, "fitted_confirmed", 1)
