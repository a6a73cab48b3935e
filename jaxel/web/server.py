"""The server: one address on loopback, many idle browsers, one line when it cannot start."""

import resource
from contextlib import closing
from pathlib import Path

from jaxel.core.errors import Refused
from jaxel.store.db import connect, writing
from jaxel.store.machine.machines import all_machines
from jaxel.store.machine.photos import LIMIT_BYTES

from .app import create_app
from .door import Door
from .health import gauge
from .nightly import Nightly, begin_nightly

HOST = "127.0.0.1"
THREADS = 8
CONNECTIONS = 2000
IDLE_SECONDS = 60


def serve(database: Path, port: int, *, demo: bool = False, nightly: Nightly | None = None) -> None:
    """Serve the application until it is stopped; prints the address once it is bound.

    Parameters: `port` 0 takes any free one; `demo` fills an empty database with the demo workshop, whole or not at
    all; `nightly`, where it is backed up. Raises Refused where the database or the port cannot be used.
    """
    app = create_app(database)
    if demo:
        from jaxel.demo.workshop import build  # only a demo is built

        with closing(connect(database)) as connection, writing(connection):
            if not all_machines(connection):
                build(connection)
    _allow_files(CONNECTIONS + 200)
    try:
        server = Door(
            app,
            listen=f"{HOST}:{port}",
            threads=THREADS,
            ident=None,
            connection_limit=CONNECTIONS,
            channel_timeout=IDLE_SECONDS,
            asyncore_use_poll=True,
            max_request_body_size=LIMIT_BYTES + 1000,
        )
    except OSError as error:
        raise Refused(f"port {port} cannot be used: {error.strerror or error}") from None
    gauge(app, "connections", lambda: server.connections)
    gauge(app, "requests", lambda: server.waiting)
    if nightly is not None:
        begin_nightly(app, database, nightly)
    print(f"Jaxel is at http://{HOST}:{server.effective_port}", flush=True)
    # An open reader keeps the memory that readers share beside the file: a disk that is full can still be read.
    with closing(connect(database)) as reader:
        reader.execute("SELECT count(*) FROM sqlite_schema").fetchone()
        try:
            server.run()
        except KeyboardInterrupt:
            server.close()


def _allow_files(wanted: int) -> None:
    """Raise this process's own limit of open files as far as `wanted`, where the system lets it."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    if soft < wanted:
        resource.setrlimit(
            resource.RLIMIT_NOFILE, (wanted if hard == resource.RLIM_INFINITY else min(wanted, hard), hard)
        )
