"""Acts done once: what a browser asks for twice, because an answer was lost or a finger bounced, happens once."""

import sqlite3
from collections.abc import Callable
from typing import TypeVar

from jaxel.core.errors import InvalidValue

from .db import now, writing

Made = TypeVar("Made", int, None)

FORGOTTEN = "-30 days"
"""A token older than this is forgotten; no browser asks again after so long."""


def once(connection: sqlite3.Connection, token: str | None, act: Callable[[], Made], what: str = "") -> Made:
    """Do an act, unless one with its token has been done; returns what it made, also of the first time.

    Parameters: `token` of 8 to 64 characters, None for an act without one; `act`, which may write in the same
    transaction and returns the id of what it made; `what` it is, by which two acts are told apart. Raises InvalidValue
    (field `once`), also for a token of another act, and what the act raises, after which the token is free.
    """
    if token is None:
        return act()
    if not 8 <= len(token) <= 64:
        raise InvalidValue("once", "must have 8 to 64 characters")
    with writing(connection):
        done = connection.execute("SELECT made, what FROM act WHERE token = ?", (token,)).fetchone()
        if done is not None:
            if done["what"] not in ("", what):  # kept by a version that did not ask
                raise InvalidValue("once", "was the token of another act: nothing was done")
            before: Made = done["made"]
            return before
        made: Made = act()  # type: ignore[func-returns-value]
        connection.execute("DELETE FROM act WHERE at < strftime('%Y-%m-%dT%H:%M:%SZ', 'now', ?)", (FORGOTTEN,))
        connection.execute("INSERT INTO act (token, made, at, what) VALUES (?, ?, ?, ?)", (token, made, now(), what))
    return made
