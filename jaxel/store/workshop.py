"""The workshop: its name and its people."""

import sqlite3
from dataclasses import dataclass

from jaxel.core.errors import InvalidValue

from .db import Conflict, NotFound, inserted, now, writing
from .edits import DEFAULT_HAND, NAME_LIMIT, Edit, check_hand


@dataclass(frozen=True)
class Person:
    """One who works here; archived when they no longer do, as what they did keeps their name."""

    id: int
    name: str
    archived: bool


@dataclass(frozen=True)
class Workshop:
    """The workshop's name, empty until it is given, and its people by name."""

    name: str
    people: tuple[Person, ...]


def get(connection: sqlite3.Connection) -> Workshop:
    """The workshop as it is."""
    name = connection.execute("SELECT name FROM workshop").fetchone()["name"]
    rows = connection.execute("SELECT id, name, archived FROM person ORDER BY archived, name")
    return Workshop(name, tuple(Person(row["id"], row["name"], bool(row["archived"])) for row in rows))


def rename(connection: sqlite3.Connection, edit: Edit) -> None:
    """Give the workshop its name; raises Conflict where it has another now, InvalidValue for one too long."""
    if len(edit.now) > NAME_LIMIT:
        raise InvalidValue("name", f"must have at most {NAME_LIMIT} characters")
    with writing(connection):
        _compare("name", get(connection).name, edit)
        connection.execute("UPDATE workshop SET name = ?", (edit.now.strip(),))


def add_person(connection: sqlite3.Connection, name: str, by: str = DEFAULT_HAND) -> int:
    """Add one who works here; returns the id.

    Raises InvalidValue for a name that is none, is too long, or is another's; “bench” is nobody's.
    """
    if not name.strip():
        raise InvalidValue("name", "needs a name")
    if len(name.strip()) > NAME_LIMIT:
        raise InvalidValue("name", f"must have at most {NAME_LIMIT} characters")
    if name.strip().casefold() == DEFAULT_HAND:
        raise InvalidValue("name", "is what a browser nobody has claimed is called")
    check_hand(by)
    with writing(connection):
        same = connection.execute("SELECT archived FROM person WHERE name = ?", (name.strip(),)).fetchone()
        if same is not None:
            raise InvalidValue("name", "works here already" if not same["archived"] else "is archived: bring them back")
        row = connection.execute(
            "INSERT INTO person (name, added_at, added_by) VALUES (?, ?, ?)", (name.strip(), now(), by)
        )
        return inserted(row)


def archive(connection: sqlite3.Connection, person_id: int, edit: Edit) -> None:
    """Archive a person, or bring them back; raises NotFound, Conflict."""
    with writing(connection):
        row = connection.execute("SELECT archived FROM person WHERE id = ?", (person_id,)).fetchone()
        if row is None:
            raise NotFound("person")
        _compare("archived", bool(row["archived"]), edit)
        connection.execute("UPDATE person SET archived = ? WHERE id = ?", (edit.now, person_id))


def _compare(field: str, held: object, edit: Edit) -> None:
    if held not in (edit.was, edit.now):
        raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=held)
