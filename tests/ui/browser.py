"""The built application in headless Chromium, on a demo workshop of its own."""

import json
import tempfile
import threading
import unittest
from collections.abc import Callable
from contextlib import closing
from functools import cache
from pathlib import Path
from typing import Any, ClassVar

import waitress.server
from flask.testing import FlaskClient
from playwright.sync_api import Browser, Page, Request, Response, expect, sync_playwright

from jaxel.core.formats.reading import FILE_LIMIT
from jaxel.demo.workshop import build
from jaxel.store.db import connect, migrate
from jaxel.web import create_app
from jaxel.web.app import FRONT_END

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@cache
def demo_database() -> bytes:
    """The demo workshop's database, built once: every server starts from a copy."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "demo.db"
        migrate(path)
        with closing(connect(path)) as connection:
            build(connection)
            connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        return path.read_bytes()


class DemoServer:
    """The application on a demo workshop of its own, served from a thread; a context manager."""

    def __enter__(self) -> "DemoServer":
        if not (FRONT_END / "index.html").is_file():
            raise RuntimeError("the interface has not been built: run make build")
        self._folder = tempfile.TemporaryDirectory()
        database = Path(self._folder.name) / "demo.db"
        database.write_bytes(demo_database())
        self.app = create_app(database)
        self._server = waitress.server.create_server(
            self.app, host="127.0.0.1", port=0, threads=6, max_request_body_size=FILE_LIMIT
        )
        threading.Thread(target=self._server.run, daemon=True).start()
        self.address = f"http://127.0.0.1:{self._server.effective_port}"
        return self

    def __exit__(self, *_: object) -> None:
        self._server.task_dispatcher.shutdown()
        self._server.close()
        self._folder.cleanup()


class BrowserCase(unittest.TestCase):
    """One server and one browser for a class; every test ends with no console error and no failed request.

    `refusals` lists the statuses a test provokes on purpose; the browser reports those on its console.
    """

    address: ClassVar[str]
    client: ClassVar[FlaskClient]
    browser: ClassVar[Browser]

    @classmethod
    def setUpClass(cls):
        server = cls.enterClassContext(DemoServer())
        cls.address, cls.client = server.address, server.app.test_client()
        player = cls.enterClassContext(sync_playwright())
        cls.browser = player.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        cls.addClassCleanup(cls.browser.close)
        expect.set_options(timeout=8000)

    def setUp(self):
        self.refusals: set[int] = set()
        self.faults: list[str] = []
        self.page = self.new_page()

    def new_page(self, **options) -> Page:
        context = self.browser.new_context(**({"viewport": {"width": 1280, "height": 800}} | options))
        self.addCleanup(context.close)
        page = context.new_page()
        page.on("console", self._console)
        page.on("pageerror", lambda error: self.faults.append(f"page error: {error}"))
        page.on("requestfailed", self._failed)
        page.on("response", self._response)
        return page

    def tearDown(self):
        self.assertEqual(self.faults, [])

    def open(self, path: str) -> None:
        self.page.goto(self.address + path)

    def visit(self, visit_id: int) -> dict[str, Any]:
        """The visit as the server holds it now."""
        return self.client.get(f"/api/visits/{visit_id}").json

    def other_hand(self, visit_id: int, path: str, **body) -> None:
        """Something another hand sends of a visit, from another browser."""
        answer = self.client.open(f"/api/visits/{visit_id}{path}", method="PATCH" if body else "POST", json=body)
        self.assertEqual(answer.status_code, 200, answer.text)

    def other_intake(self, visit_id: int, name: str, value: object) -> None:
        """One field of the intake, written by another hand over what it holds."""
        change = {"was": self.visit(visit_id)["intake"][name], "now": value}
        self.other_hand(visit_id, "/intake", **{name: change})

    def wait_saved(self, visit_id: int, check: Callable[[dict[str, Any]], bool]) -> None:
        """Until the server holds what was typed: a field saves after a pause, and again after a lost connection."""
        for _ in range(120):
            if check(self.visit(visit_id)):
                return
            self.page.wait_for_timeout(100)
        self.fail(f"not saved: {json.dumps(self.visit(visit_id))[:600]}")

    def _console(self, message):
        provoked = "Failed to load resource" in message.text and any(str(s) in message.text for s in self.refusals)
        if message.type in ("error", "warning") and not provoked:
            self.faults.append(f"console: {message.text}")

    def _failed(self, request: Request):
        # A page left or reloaded drops what it was still loading; that is the browser's doing, not a fault.
        if request.failure != "net::ERR_ABORTED":
            self.faults.append(f"failed: {request.url} {request.failure}")

    def _response(self, response: Response):
        if response.status >= 400 and response.status not in self.refusals:
            self.faults.append(f"{response.status}: {response.url}")
