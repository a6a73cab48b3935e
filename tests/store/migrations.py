"""Steps of a migration made up for a test."""

import sqlite3
from collections.abc import Callable

from jaxel.store import db


def scripted(sql: str) -> Callable[[sqlite3.Connection], None]:
    """A step that is plain SQL."""

    def step(connection: sqlite3.Connection) -> None:
        for each in db._statements(sql):
            connection.execute(each)

    return step
