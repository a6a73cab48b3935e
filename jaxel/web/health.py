"""How the server is: what waits for it, what memory and disk it has, and when the workshop was last backed up."""

import os
import resource
from collections.abc import Callable
from pathlib import Path
from shutil import disk_usage

from flask import Flask, Response, current_app
from pydantic import Field

from jaxel import __version__
from jaxel.store import backups

from .database import connection
from .record.answer import answer
from .record.blueprint import Blueprint
from .record.model import Model

api = Blueprint("health", "/api/health")


class BackupView(Model):
    """The last good backup: when it was made, under what name, how large it is [bytes], and what it held."""

    at: str
    name: str
    size: int
    machines: int
    visits: int


class HealthView(Model):
    """`waiting`, what is open or waits, by name; memory held now and at most, and the room left on the disk [bytes]."""

    version: str
    waiting: dict[str, int]
    memory: int | None = Field(description="None where the system does not tell")
    memory_most: int
    database: int
    disk_free: int
    backup: BackupView | None
    backup_failed: str = Field(description="why the nightly backup could not be made; empty where it could")


def gauge(app: Flask, name: str, read: Callable[[], int]) -> None:
    """Have a number of waiting things told under a name."""
    app.extensions.setdefault("gauges", {})[name] = read


@api.get("", responses={"200": HealthView})
def health() -> Response:
    """Answers from a database that is there; 503 says why it is none."""
    database = Path(current_app.config["DATABASE"])
    last = backups.last(connection())
    return answer(
        HealthView(
            version=__version__,
            waiting={name: read() for name, read in sorted(current_app.extensions.get("gauges", {}).items())},
            memory=_resident(),
            memory_most=resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024,
            database=database.stat().st_size,
            disk_free=disk_usage(database.parent).free,
            backup=BackupView(**vars(last)) if last else None,
            backup_failed=current_app.extensions.get("backup_failed", ""),
        )
    )


def _resident() -> int | None:
    """Memory this process holds [bytes], as Linux tells it in pages."""
    try:
        pages = Path("/proc/self/statm").read_text(encoding="ascii").split()[1]
    except OSError:
        return None
    return int(pages) * os.sysconf("SC_PAGE_SIZE")
