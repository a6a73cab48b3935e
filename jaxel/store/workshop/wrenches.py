"""The workshop's torque wrenches and multipliers: what each reaches, and when it is to be checked."""

import sqlite3
from dataclasses import dataclass, fields, replace

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.rebuild.torque import Wrench, check_wrench

from ..db import Conflict, NotFound, inserted, writing
from ..edits import DEFAULT_HAND, Edits, check_hand
from ..workshop_log import added, noting

_FIELDS = tuple(each.name for each in fields(Wrench))


@dataclass(frozen=True)
class OwnWrench:
    """A wrench of the workshop's under its number; `retired`, one that is gone."""

    id: int
    wrench: Wrench
    retired: bool


def all_wrenches(connection: sqlite3.Connection) -> list[OwnWrench]:
    """Every wrench, those in use first, by what they reach."""
    rows = connection.execute("SELECT * FROM wrench ORDER BY retired, kind DESC, high_nm, name")
    return [OwnWrench(row["id"], Wrench(**{name: row[name] for name in _FIELDS}), bool(row["retired"])) for row in rows]


def in_use(connection: sqlite3.Connection) -> list[Wrench]:
    """The wrenches a hand can reach for."""
    return [each.wrench for each in all_wrenches(connection) if not each.retired]


def add(connection: sqlite3.Connection, wrench: Wrench, by: str = DEFAULT_HAND) -> int:
    """Enter a wrench; returns its id. Raises InvalidValue for one that cannot be, or a name that is another's."""
    check_hand(by)
    check_wrench(wrench)
    with writing(connection):
        _check_name(connection, wrench.name, None)
        values = {name: getattr(wrench, name) for name in _FIELDS} | {"name": wrench.name.strip()}
        names, marks = ", ".join(values), ", ".join(f":{name}" for name in values)
        wrench_id = inserted(connection.execute(f"INSERT INTO wrench ({names}) VALUES ({marks})", values))
        added(connection, by, "wrench", wrench_id)
    return wrench_id


def change(connection: sqlite3.Connection, wrench_id: int, edits: Edits, by: str = DEFAULT_HAND) -> None:
    """Put a wrench right, or retire it.

    Raises NotFound, Conflict, and InvalidValue for what it cannot be; nothing is written then.
    """
    check_hand(by)
    with noting(connection, by, "wrench", wrench_id):
        held = next((each for each in all_wrenches(connection) if each.id == wrench_id), None)
        if held is None:
            raise NotFound("wrench")
        became: dict[str, object] = {}
        for field, edit in edits.items():
            stands = held.retired if field == "retired" else getattr(held.wrench, field, None)
            if field not in (*_FIELDS, "retired"):
                raise InvalidValue(field, "is not said of a wrench")
            if stands not in (edit.was, edit.now):
                raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=stands)
            became[field] = edit.now
        said = {name: value for name, value in became.items() if name != "retired"}
        check_wrench(replace(held.wrench, **said))  # type: ignore[arg-type]
        if "name" in became:
            _check_name(connection, str(became["name"]), wrench_id)
        for field, value in became.items():
            connection.execute(f"UPDATE wrench SET {field} = ? WHERE id = ?", (value, wrench_id))


def _check_name(connection: sqlite3.Connection, name: str, own: int | None) -> None:
    if len(name.strip()) > 60:
        raise InvalidValue("name", "must have at most 60 characters")
    row = connection.execute("SELECT id FROM wrench WHERE name = ?", (name.strip(),)).fetchone()
    if row is not None and row["id"] != own:
        raise InvalidValue("name", "is another wrench's")
