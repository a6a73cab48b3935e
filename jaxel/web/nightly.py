"""One backup a day beside the server's own work, made when the last good one is a day old.

It is made by the command, in a process of its own that gives way: proving it reads every page ever signed.
"""

import logging
import os
import subprocess
import sys
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Event, Thread

from flask import Flask

from jaxel.store import backups
from jaxel.store.db import connect

LOOK_AGAIN_SECONDS = 600
A_DAY = timedelta(hours=23, minutes=50)
"""Somewhat less than a day: looked for every ten minutes, it would come later every night."""

GIVES_WAY = 10
"""By how much the process is nicer than the server (POSIX nice)."""


def begin_nightly(app: Flask, database: Path, folder: Path, keep: int, stop: Event | None = None) -> Thread:
    """Begin to back up once a day into a folder until `stop`; why one could not be made is told with the health."""
    stop = stop or Event()

    def watch() -> None:
        while True:
            app.extensions["backup_failed"] = once_a_day(database, folder, keep)
            if stop.wait(LOOK_AGAIN_SECONDS):
                return

    thread = Thread(target=watch, name="nightly", daemon=True)
    thread.start()
    return thread


def once_a_day(database: Path, folder: Path, keep: int) -> str:
    """Back up unless the last good one is younger than a day; returns why it could not be done, else nothing."""
    try:
        return "" if _done(database, folder) else _make(database, folder, keep)
    except Exception as error:  # the server goes on without a backup, and says so
        logging.getLogger(__name__).exception("the daily backup could not be made")
        return f"could not be made: {error}"


def _done(database: Path, folder: Path) -> bool:
    """Whether there is one from today: as it was noted, or as it lies there where the database took no note of it."""
    with closing(connect(database)) as connection:
        last = backups.last(connection)
    there = [backups.made_at(each) for each in backups.dated(database, folder)[-1:]]
    return any(_fresh(each) for each in [*there, *([datetime.fromisoformat(last.at)] if last else [])])


def _make(database: Path, folder: Path, keep: int) -> str:
    command = [sys.executable, "-m", "jaxel", "backup", str(folder), "--keep", str(keep), "--database", str(database)]
    with subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True) as process:
        os.setpriority(os.PRIO_PROCESS, process.pid, GIVES_WAY)
        _, complaint = process.communicate()
    return "" if process.returncode == 0 else (complaint.strip() or f"ended with {process.returncode}")


def _fresh(at: datetime) -> bool:
    """Whether a backup is younger than a day; one dated in the future, by a clock that ran ahead, is not."""
    return timedelta(0) <= datetime.now(UTC) - at < A_DAY
