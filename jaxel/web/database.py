"""The database connection of one request."""

import sqlite3
from pathlib import Path

from flask import Flask, current_app, g

from jaxel.store.db import connect


def connection() -> sqlite3.Connection:
    """This request's connection, opened on first use."""
    if "connection" not in g:
        g.connection = connect(Path(current_app.config["DATABASE"]))
    opened: sqlite3.Connection = g.connection
    return opened


def register(app: Flask) -> None:
    """Close each request's connection when it ends."""

    @app.teardown_appcontext
    def close(_: BaseException | None) -> None:
        opened = g.pop("connection", None)
        if opened is not None:
            opened.close()
