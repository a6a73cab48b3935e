"""How loggers name their columns, as a hand said once; known again by their headings."""

import json
import sqlite3

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.gpx_log import is_gpx
from jaxel.core.formats.run.header import LoggerDocument
from jaxel.core.formats.run.layout import lay_out

from ..db import now
from ..workshop_log import noting


def _headings(data: bytes) -> str | None:
    """A file's headings as they are compared, None for one that has none."""
    if is_gpx(data):
        return None
    try:
        return json.dumps([column.heading.strip().casefold() for column in lay_out(data).columns])
    except InvalidValue:
        return None


def known(connection: sqlite3.Connection, data: bytes) -> LoggerDocument | None:
    """The header map a hand gave a file with these headings, None where none did."""
    headings = _headings(data)
    row = connection.execute("SELECT document FROM logger WHERE headings = ?", (headings,)).fetchone()
    return LoggerDocument.model_validate_json(row["document"]) if row else None


def keep(connection: sqlite3.Connection, data: bytes, logger: LoggerDocument, by: str) -> None:
    """Remember a header map for files with these headings, within a transaction of the caller's."""
    headings = _headings(data)
    if headings is None:
        return
    with noting(connection, by, "logger", headings):
        connection.execute(
            "INSERT INTO logger (headings, document, kept_at, kept_by) VALUES (?, ?, ?, ?) ON CONFLICT (headings)"
            " DO UPDATE SET document = excluded.document, kept_at = excluded.kept_at, kept_by = excluded.kept_by",
            (headings, logger.model_dump_json(), now(), by),
        )
