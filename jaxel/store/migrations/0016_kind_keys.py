"""What was said under a part, an item or a fastener of a kind that moved or went, in every table that names it.

What moved is kept under its new key; what has no place any more stands in words as an addendum of its visit.
"""

import json
import sqlite3
from collections.abc import Callable, Mapping
from typing import Any

GONE = None

PARTS: Mapping[str, Mapping[str, str | None]] = {
    "one-way-bearing-primary": {"cover": "outer", "moving": "outer"},
    "adjustable-cam-primary": {"cover": "damper"},
    "roller-variator-primary": {"moving": "pack", "sleeve": GONE},
    "jackshaft-roller-secondary": {"bolt": GONE, "ring": GONE},
    "light-torque-converter": {"cover": "moving", "driver_spring": "weights"},
}
"""Parts by kind: the key a part has now, GONE where there is no such part."""

ITEMS: Mapping[str, Mapping[str, str | None]] = {
    "one-way-bearing-primary": {
        "nylon_washers": GONE, "cover_bushing": GONE, "roller_washer": GONE, "sheave_bushing": GONE, "shaft": GONE,
    },
}  # fmt: skip
"""Wear items by kind. The two nylon washers of one look are two items now: which of them it was nobody can say."""

LIMITS_OF_BOTH = {("one-way-bearing-primary", "nylon_washers"): ("outer_washer", "inner_washer")}
"""A limit stated of two pieces alike holds of each."""

FASTENERS: Mapping[str, Mapping[str, str | None]] = {
    "one-way-bearing-primary": {"cover_bolts": GONE, "pivot_bolts": GONE},
    "adjustable-cam-primary": {"cover_screws": GONE},
    "jackshaft-roller-secondary": {"secondary_bolt": GONE},
    "light-torque-converter": {"plate_screws": GONE},
}

NAMES = {
    "nylon_washers": "Nylon washers", "cover_bushing": "Cover bushing", "roller_washer": "Roller thrust washers",
    "sheave_bushing": "Moving sheave bushing", "shaft": "Shaft", "cover_bolts": "Cover bolts",
    "pivot_bolts": "Arm pivot bolts", "cover_screws": "Cover screws", "secondary_bolt": "Secondary bolt",
    "plate_screws": "Plate screws",
}  # fmt: skip
"""What was called so while it had a place."""

USUAL = {"primary": "arms", "secondary": "secondary_spring"}
"""What is changed most often, and opens a clutch about as far as it was."""

GRADES: Mapping[str, Mapping[str, str]] = {
    "play": {"snug": "free"},
    "track": {"smooth": "even"},
    "face": {"light even scuff": "even", "rough as 120 grit": "scored", "greasy": "oily"},
}
GRADED = {
    **dict.fromkeys(
        ("cover_bushing", "arm_bushing", "buttons", "sheave_bushing", "secondary_bushing", "slide_guide",
         "driver_bushing"), "play"),
    **dict.fromkeys(("arm_face", "ramp", "helix_face", "pocket", "ramp_and_shaft"), "track"),
    **dict.fromkeys(("moving_face", "fixed_face", "secondary_moving_face", "secondary_fixed_face"), "face"),
}  # fmt: skip
"""By which words an item is graded, where they are one common set now."""


def step(connection: sqlite3.Connection) -> None:
    """Move what was said."""
    from jaxel.store.db import now

    at = now()
    for item, words in GRADED.items():
        for old, new in GRADES[words].items():
            connection.execute("UPDATE item_look SET grade = ? WHERE item = ? AND grade = ?", (new, item, old))
    visits = connection.execute(
        "SELECT visit.id, primary_kind, secondary_kind FROM visit JOIN machine ON machine.id = machine_id"
    ).fetchall()
    for visit in visits:
        for side, kind in (("primary", visit["primary_kind"]), ("secondary", visit["secondary_kind"])):
            if kind is not None:
                _parts(connection, visit["id"], side, kind)
                _note_gone(connection, visit["id"], side, kind, at)
        _changed(connection, visit["id"])
    connection.execute("ALTER TABLE set_up DROP COLUMN opened")
    _stated(connection)


def _parts(connection: sqlite3.Connection, visit: int, side: str, kind: str) -> None:
    moved = PARTS.get(kind, {})
    if not moved:
        return

    def place(key: str) -> str | None:
        of, _, rest = key.partition(".")
        part, dot, ask = rest.partition(".")
        if of != side or part not in moved:
            return key
        now = moved[part]
        return None if now is GONE else f"{of}.{now}{dot}{ask}"

    for table, field in (("strip", "marked"), ("rebuild", "seen"), ("rebuild", "left_on")):
        _rewrite(connection, table, field, visit, lambda held: _kept(held, place))
    _rewrite(
        connection, "rebuild", "accepted", visit,
        lambda held: {new: value for key, value in held.items() if (new := place(key)) is not None},
    )  # fmt: skip


def _kept(held: list[str], place: Callable[[str], str | None]) -> list[str]:
    return list(dict.fromkeys(new for key in held if (new := place(key)) is not None))


def _rewrite(connection: sqlite3.Connection, table: str, field: str, visit: int, change: Callable[[Any], Any]) -> None:
    row = connection.execute(f"SELECT {field} FROM {table} WHERE visit_id = ?", (visit,)).fetchone()
    if row is None:
        return
    before = json.loads(row[0])
    after = change(before)
    if after != before:
        connection.execute(f"UPDATE {table} SET {field} = ? WHERE visit_id = ?", (json.dumps(after), visit))


def _note_gone(connection: sqlite3.Connection, visit: int, side: str, kind: str, at: str) -> None:
    """Say in words what was said of items and fasteners that have no place any more; their rows stay as they are."""
    lines = []
    items = [key for key, now in ITEMS.get(kind, {}).items() if now is GONE]
    for look in connection.execute(
        f"SELECT * FROM item_look WHERE visit_id = ? AND side = ? AND item IN ({','.join('?' * len(items))})",
        (visit, side, *items),
    ):
        read = ", ".join(f"{value:g}" for value in json.loads(look["readings"]) if value is not None)
        said = (look["looked"], look["grade"], read, look["overruled"] or "", look["note"], look["reason"])
        lines.append(f"{NAMES[look['item']]}: {', '.join(filter(None, said)) or 'nothing more'}")
    fasteners = list(FASTENERS.get(kind, {}))
    for done in connection.execute(
        f"SELECT * FROM tightened WHERE visit_id = ? AND side = ? AND fastener IN ({','.join('?' * len(fasteners))})",
        (visit, side, *fasteners),
    ):
        torque = f"{done['torque_nm']:g} N·m" if done["torque_nm"] is not None else ""
        lines.append(f"{NAMES[done['fastener']]}: {', '.join(filter(None, (done['state'], torque, done['note'])))}")
    if lines:
        text = f"Said of the {side} while its kind listed it: " + "; ".join(lines) + "."
        connection.execute(
            "INSERT INTO addendum (visit_id, text, added_at, added_by) VALUES (?, ?, ?, 'bench')",
            (visit, text[:2000], at),
        )


def _changed(connection: sqlite3.Connection, visit: int) -> None:
    """How far the clutches were opened for a change of set-up becomes the slots that were changed.

    They are those that differ between the set-ups found and left; where a later change took an earlier one back, one
    that opens as far.
    """
    from jaxel.core.formats.setup.setup import read_setup
    from jaxel.core.trade.setup.slots import changes

    row = connection.execute(
        "SELECT opened, found.document AS found, fitted.document AS fitted FROM set_up"
        " JOIN setup_revision AS found ON found.id = found_revision_id"
        " JOIN setup_revision AS fitted ON fitted.id = left_revision_id WHERE set_up.visit_id = ?",
        (visit,),
    ).fetchone()
    sides = json.loads(row["opened"])
    if not sides:
        return
    found, fitted = (read_setup(row[name].encode()) for name in ("found", "fitted"))
    slots = {each.slot.key for each in changes(found, fitted)} or {USUAL[side] for side in sides}
    connection.execute("UPDATE set_up SET changed = ? WHERE visit_id = ?", (json.dumps(sorted(slots)), visit))


def _stated(connection: sqlite3.Connection) -> None:
    """A limit of two pieces alike is one of each; one of what has no place stays on record, withdrawn."""
    for (kind, name), pieces in LIMITS_OF_BOTH.items():
        for each in pieces:
            connection.execute(
                "INSERT INTO stated (what, machine_id, kind, name, value, tightness, origin, stated_at, stated_by)"
                " SELECT what, machine_id, kind, ?, value, tightness, origin, stated_at, stated_by FROM stated"
                " WHERE what = 'item' AND kind = ? AND name = ? AND withdrawn = 0",
                (each, kind, name),
            )
    for what, moved in (("item", ITEMS), ("torque", FASTENERS)):
        for kind, names in moved.items():
            for name in names:
                connection.execute(
                    "UPDATE stated SET withdrawn = 1 WHERE what = ? AND kind = ? AND name = ?", (what, kind, name)
                )
                connection.execute(
                    "DELETE FROM stated_choice WHERE kind = ? AND name = ? AND stated_id IN"
                    " (SELECT id FROM stated WHERE withdrawn = 1)",
                    (kind, name),
                )
