"""The workshop: its name, its people, and the units each reads in."""

import json
import sqlite3
from dataclasses import asdict, dataclass

from jaxel.core.errors import InvalidValue
from jaxel.core.units import Units

from ..db import Conflict, NotFound, inserted, now, read_once, writing
from ..edits import DEFAULT_HAND, NAME_LIMIT, Edit, check_hand
from ..workshop_log import added, noting

DEAREST_HOUR = 1_000_000


@dataclass(frozen=True)
class Person:
    """One who works here; archived when they no longer do, as what they did keeps their name.

    `units` they read in, None where those are the workshop's.
    """

    id: int
    name: str
    archived: bool
    units: Units | None


@dataclass(frozen=True)
class Workshop:
    """The workshop's name, empty until it is given, the units it reads in, its people by name, and what an hour of work
    costs, None where it does not say."""

    name: str
    units: Units
    people: tuple[Person, ...]
    hour_price: float | None = None

    def units_of(self, hand: str) -> Units:
        """The units somebody reads in: their own, else the workshop's."""
        own = next((each.units for each in self.people if each.name.casefold() == hand.casefold()), None)
        return own or self.units


@read_once
def get(connection: sqlite3.Connection) -> Workshop:
    """The workshop as it is."""
    held = connection.execute("SELECT name, units, hour_price FROM workshop").fetchone()
    rows = connection.execute("SELECT id, name, archived, units FROM person ORDER BY archived, name")
    people = (
        Person(row["id"], row["name"], bool(row["archived"]), _units(row["units"]) if row["units"] else None)
        for row in rows
    )
    return Workshop(held["name"], _units(held["units"]), tuple(people), held["hour_price"])


def _units(stored: str) -> Units:
    return Units(**json.loads(stored))


def read_in(connection: sqlite3.Connection, person_id: int | None, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say in which units the workshop, or one of its people, reads.

    Parameters: `person_id`, None for the workshop; `edit` of Units, None for the workshop's. Raises NotFound, Conflict.
    """
    place = ("workshop", 1) if person_id is None else ("person", person_id)
    with noting(connection, by, *place):
        held = get(connection)
        if person_id is None:
            _compare("units", held.units, edit)
            connection.execute("UPDATE workshop SET units = ?", (json.dumps(asdict(edit.now)),))
            return
        person = next((each for each in held.people if each.id == person_id), None)
        if person is None:
            raise NotFound("person")
        _compare("units", person.units, edit)
        stored = None if edit.now is None else json.dumps(asdict(edit.now))
        connection.execute("UPDATE person SET units = ? WHERE id = ?", (stored, person_id))


def rename(connection: sqlite3.Connection, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Give the workshop its name; raises Conflict where it has another now, InvalidValue for one too long."""
    if len(edit.now) > NAME_LIMIT:
        raise InvalidValue("name", f"must have at most {NAME_LIMIT} characters")
    with noting(connection, by, "workshop", 1):
        _compare("name", get(connection).name, edit)
        connection.execute("UPDATE workshop SET name = ?", (edit.now.strip(),))


def price_hour(connection: sqlite3.Connection, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Say what an hour of work costs, None for not said; raises Conflict where another price stands, InvalidValue."""
    if edit.now is not None and not 0 <= edit.now <= DEAREST_HOUR:
        raise InvalidValue("hour_price", f"must be from 0 to {DEAREST_HOUR:,}")
    with noting(connection, by, "workshop", 1):
        _compare("hour_price", get(connection).hour_price, edit)
        connection.execute("UPDATE workshop SET hour_price = ?", (edit.now,))


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
        person = inserted(
            connection.execute(
                "INSERT INTO person (name, added_at, added_by) VALUES (?, ?, ?)", (name.strip(), now(), by)
            )
        )
        added(connection, by, "person", person)
    return person


def archive(connection: sqlite3.Connection, person_id: int, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Archive a person, or bring them back; raises NotFound, Conflict."""
    with noting(connection, by, "person", person_id):
        row = connection.execute("SELECT archived FROM person WHERE id = ?", (person_id,)).fetchone()
        if row is None:
            raise NotFound("person")
        _compare("archived", bool(row["archived"]), edit)
        connection.execute("UPDATE person SET archived = ? WHERE id = ?", (edit.now, person_id))


def _compare(field: str, held: object, edit: Edit) -> None:
    if held not in (edit.was, edit.now):
        raise Conflict("this was changed elsewhere meanwhile", field=field, theirs=held)
