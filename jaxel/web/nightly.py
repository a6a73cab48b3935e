"""One backup a night beside the server's own work, made when the last good one is from before its hour.

A server that was off then makes it when it is on again.

It is made by the command, in a process of its own that gives way: proving it reads every page ever signed.
"""

import logging
import os
import subprocess
import sys
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from pathlib import Path
from threading import Event, Thread

from flask import Flask

from jaxel.store import backups
from jaxel.store.db import connect

LOOK_AGAIN_SECONDS = 600
AT_NIGHT = time(3)
"""When nobody works, by the server's own clock and zone."""

GIVES_WAY = 10
"""By how much the process is nicer than the server (POSIX nice)."""


@dataclass(frozen=True)
class Nightly:
    """A folder that gets a backup every night, how many stay there, and from which hour one is due."""

    folder: Path
    keep: int
    at: time = AT_NIGHT


def begin_nightly(app: Flask, database: Path, nightly: Nightly, stop: Event | None = None) -> Thread:
    """Begin to back up every night until `stop`; why one could not be made is told with the health."""
    stop = stop or Event()

    def watch() -> None:
        while True:
            app.extensions["backup_failed"] = once_a_night(database, nightly)
            if stop.wait(LOOK_AGAIN_SECONDS):
                return

    thread = Thread(target=watch, name="nightly", daemon=True)
    thread.start()
    return thread


def once_a_night(database: Path, nightly: Nightly) -> str:
    """Back up unless that was done since its hour last came; returns why it could not be done, else nothing."""
    try:
        since = last_hour(datetime.now(UTC), nightly.at)
        done = _done(database, nightly.folder, since)
        return "" if done else _make(database, nightly.folder, nightly.keep)
    except Exception as error:  # the server goes on without a backup, and says so
        logging.getLogger(__name__).exception("the nightly backup could not be made")
        return f"could not be made: {error}"


def last_hour(now: datetime, at: time) -> datetime:
    """When an hour of the server's zone came last before a moment."""
    here = now.astimezone()
    today = datetime.combine(here.date(), at).astimezone()
    return today if today <= now else datetime.combine(here.date() - timedelta(days=1), at).astimezone()


def _done(database: Path, folder: Path, since: datetime) -> bool:
    """Whether there is one since a moment: as it was noted, or as it lies there where the database took no note of it.

    One dated in the future, by a clock that ran ahead, is none.
    """
    with closing(connect(database)) as connection:
        last = backups.last(connection)
    there = [backups.made_at(each) for each in backups.dated(database, folder)[-1:]]
    noted = [datetime.fromisoformat(last.at)] if last else []
    return any(since <= each <= datetime.now(UTC) for each in (*there, *noted))


def _make(database: Path, folder: Path, keep: int) -> str:
    command = [sys.executable, "-m", "jaxel", "backup", str(folder), "--keep", str(keep), "--database", str(database)]
    with subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True) as process:
        os.setpriority(os.PRIO_PROCESS, process.pid, GIVES_WAY)
        _, complaint = process.communicate()
    return "" if process.returncode == 0 else (complaint.strip() or f"ended with {process.returncode}")
