"""Benches: each with a token of its own, by which its devices are let in."""

import hmac
import secrets
import sqlite3
from dataclasses import dataclass
from hashlib import sha256

from jaxel.core.errors import InvalidValue

from ..db import NotFound, inserted, now, writing
from ..edits import DEFAULT_HAND, check_hand
from ..workshop_log import added, noting

MOST = 40
"""Benches a workshop has at most."""

TOKEN_BYTES = 24
LONGEST_NAME = 60


@dataclass(frozen=True)
class Bench:
    """A bench under its number; `by` whom its token was made, and when."""

    id: int
    name: str
    made_at: str
    made_by: str


def all_benches(connection: sqlite3.Connection) -> list[Bench]:
    """Every bench, in the order they were made."""
    rows = connection.execute("SELECT id, name, made_at, made_by FROM bench ORDER BY id")
    return [Bench(**dict(row)) for row in rows]


def add(connection: sqlite3.Connection, name: str, by: str = DEFAULT_HAND) -> int:
    """Add a bench, which has no token yet that anybody knows; returns its id.

    Raises InvalidValue for a name that is none, too long or another's, or for one bench too many.
    """
    check_hand(by)
    if not 1 <= len(name.strip()) <= LONGEST_NAME:
        raise InvalidValue("name", f"needs 1 to {LONGEST_NAME} characters")
    with writing(connection):
        held = all_benches(connection)
        if len(held) >= MOST:
            raise InvalidValue("name", f"would be one more than {MOST} benches")
        if any(each.name.casefold() == name.strip().casefold() for each in held):
            raise InvalidValue("name", "is another bench's")
        bench = inserted(
            connection.execute(
                "INSERT INTO bench (name, token_digest, made_at, made_by) VALUES (?, ?, ?, ?)",
                (name.strip(), _digest(secrets.token_hex(TOKEN_BYTES)), now(), by),
            )
        )
        added(connection, by, "bench", bench)
    return bench


def renew(connection: sqlite3.Connection, bench_id: int, by: str = DEFAULT_HAND) -> str:
    """Make a bench a new token, which is told here and never again; the old one opens nothing from now on.

    Raises NotFound.
    """
    check_hand(by)
    # Its digits stand on a command's line too: none may be taken for the dash of an option.
    token = secrets.token_hex(TOKEN_BYTES)
    with noting(connection, by, "bench", bench_id):
        done = connection.execute(
            "UPDATE bench SET token_digest = ?, made_at = ?, made_by = ? WHERE id = ?",
            (_digest(token), now(), by, bench_id),
        )
        if done.rowcount == 0:
            raise NotFound("bench")
    return token


def remove(connection: sqlite3.Connection, bench_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a bench away with what waits there; raises NotFound."""
    check_hand(by)
    with noting(connection, by, "bench", bench_id):
        if connection.execute("DELETE FROM bench WHERE id = ?", (bench_id,)).rowcount == 0:
            raise NotFound("bench")


def opens(connection: sqlite3.Connection, bench_id: int, token: str) -> bool:
    """Whether a token is a bench's."""
    row = connection.execute("SELECT token_digest FROM bench WHERE id = ?", (bench_id,)).fetchone()
    held = row["token_digest"] if row else _digest("")
    return hmac.compare_digest(held, _digest(token)) and row is not None


def _digest(token: str) -> str:
    return sha256(token.encode()).hexdigest()
