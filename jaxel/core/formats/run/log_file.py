"""A log's file, whichever it is: a logger's table or a phone's track."""

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.run.log import Log

from .csv_log import read_csv
from .gpx_log import is_gpx, read_gpx
from .header import LoggerDocument

LOG_LIMIT = 50_000_000
"""Largest log that is read [bytes]."""


def read_log(data: bytes, logger: LoggerDocument | None = None) -> Log:
    """Read a log; raises InvalidValue naming the field, the line and the reason."""
    if len(data) > LOG_LIMIT:
        raise InvalidValue("log", f"is larger than {LOG_LIMIT // 1_000_000} MB")
    return read_gpx(data) if is_gpx(data) else read_csv(data, logger)
