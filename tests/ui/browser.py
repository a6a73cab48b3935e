"""The built application in headless Chromium, on a demo workshop of its own."""

import atexit
import json
import os
import re
import tempfile
import threading
import unittest
from collections.abc import Callable
from contextlib import closing, suppress
from functools import cache
from pathlib import Path
from typing import Any, ClassVar

import waitress.server
from flask.testing import FlaskClient
from playwright.sync_api import Browser, Page, Request, Response, expect, sync_playwright

from jaxel.demo.workshop import build
from jaxel.store.db import connect, migrate
from jaxel.store.machine.photos import LIMIT_BYTES
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


SPARING = "Object.defineProperty(navigator, 'connection', {value: {saveData: true}})"


def build_demo(folder: Path) -> Path:
    """The demo workshop's database."""
    path = folder / "demo.db"
    migrate(path)
    with closing(connect(path)) as connection:
        build(connection)
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    return path


@cache
def demo_database() -> bytes:
    """The demo workshop's database, built once for a run: every server starts from a copy."""
    if built := os.environ.get("JAXEL_TEST_DEMO"):
        return Path(built).read_bytes()
    with tempfile.TemporaryDirectory() as folder:
        return build_demo(Path(folder)).read_bytes()


@cache
def chromium() -> Browser:
    """The one browser of a run: every test has a context of its own in it."""
    player = sync_playwright().start()
    browser = player.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
    atexit.register(player.stop)
    atexit.register(browser.close)
    return browser


class DemoServer:
    """The application on a demo workshop of its own, or an empty one, served from a thread; a context manager."""

    def __init__(self, *, empty: bool = False):
        self._empty = empty

    def __enter__(self) -> "DemoServer":
        if not (FRONT_END / "index.html").is_file():
            raise RuntimeError("the interface has not been built: run make build")
        self._folder = tempfile.TemporaryDirectory()
        self.database = Path(self._folder.name) / "demo.db"
        if not self._empty:
            self.database.write_bytes(demo_database())
        self.app = create_app(self.database)
        self._server = waitress.server.create_server(
            self.app, host="127.0.0.1", port=0, threads=6, max_request_body_size=LIMIT_BYTES + 1000
        )
        threading.Thread(target=self._serve, daemon=True).start()
        self.address = f"http://127.0.0.1:{self._server.effective_port}"
        return self

    def _serve(self) -> None:
        with suppress(OSError):  # its sockets are closed under its wait when the test is done
            self._server.run()

    def __exit__(self, *_: object) -> None:
        self._server.task_dispatcher.shutdown()
        self._server.close()
        self._folder.cleanup()


class BrowserCase(unittest.TestCase):
    """One server for a class; every test ends with no console error and no failed request.

    `refusals` lists the statuses a test provokes on purpose; the browser reports those on its console. A sparing
    browser fetches no other place ahead: a fifth of what a page costs, and only a server that goes away shows it.
    """

    sparing: ClassVar[bool] = True

    address: ClassVar[str]
    database: ClassVar[Path]
    client: ClassVar[FlaskClient]
    browser: ClassVar[Browser]

    @classmethod
    def setUpClass(cls):
        server = cls.enterClassContext(DemoServer())
        cls.address, cls.client, cls.database = server.address, server.app.test_client(), server.database
        cls.browser = chromium()
        expect.set_options(timeout=60_000)

    def setUp(self):
        self.refusals: set[int] = set()
        self.faults: list[str] = []
        self.page = self.new_page()

    def new_page(self, **options) -> Page:
        context = self.browser.new_context(
            # A worker of the page answers what a test means to hold back; the tests of it let it in.
            **({"viewport": {"width": 1280, "height": 800}, "service_workers": "block"} | options)
        )
        self.addCleanup(context.close)
        context.set_default_timeout(60_000)  # a machine may be busy with ten things
        if self.sparing:
            context.add_init_script(SPARING)
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

    def counted_in(self, visit_id: int) -> None:
        """All that went out is back, and the guard is on, as another hand says it."""
        for each in self.visit(visit_id)["close"]["counts"]:
            self.other_hand(visit_id, f"/counts/{each['key']}", back={"was": each["back"], "now": each["out"]})
        self.other_hand(visit_id, "/hand-over", guard_on={"was": False, "now": True})

    def belt_back_on(self, way_round: str = "As it came off") -> None:
        """At Belt: which way round it went on, its tool out, risen."""
        self.page.get_by_role("radio", name=way_round).click()
        self.page.get_by_role("checkbox", name=re.compile("^Stop: tool out")).click()

    def put_back(self, visit_id: int) -> None:
        """Everything that was opened goes back, as another hand says it: seen, weighed, tight by hand."""
        for step in self.visit(visit_id)["rebuild"]["steps"]:
            for ask in step["asks"]:
                self.other_hand(visit_id, "/rebuild/seen", asked=f"{step['place']}.{ask['key']}", was=False, now=True)
            for each in step["matched"]:
                at = f"/rebuild/matched/{step['side']}/{each['key']}/mass"
                for place in range(each["count"] if each["expected_g"] else 0):
                    body = {"place": place, "was": None, "now": each["expected_g"]}
                    answer = self.client.put(f"/api/visits/{visit_id}{at}", json=body)
                    self.assertEqual(answer.status_code, 200, answer.text)
            for each in step["fasteners"]:
                said = {"state": {"was": "", "now": "done"}, "means": {"was": "", "now": "by hand"}}
                self.other_hand(visit_id, f"/rebuild/fasteners/{step['side']}/{each['key']}", **said)

    def close_up(self) -> None:
        """At Hand-over: all that went out is counted in, the guard is on."""
        expect(self.page.get_by_role("checkbox", name="Guard and duct are back on")).to_be_visible()
        for button in self.page.get_by_role("button", name=re.compile(r"^All \d+ back: ")).all():
            button.click()
        self.page.get_by_role("checkbox", name="Guard and duct are back on").click()

    def wait_saved(self, visit_id: int, check: Callable[[dict[str, Any]], bool]) -> None:
        """Until the server holds what was typed: a field saves after a pause, and again after a lost connection."""
        for _ in range(600):
            if check(self.visit(visit_id)):
                return
            self.page.wait_for_timeout(100)
        now = self.visit(visit_id)
        self.fail(f"not saved; open: {json.dumps(now['open'])}; {json.dumps(now)[:600]}")

    def bursts(self, text: str) -> None:
        """Keys as fast as an instrument sends them, whatever else this machine does meanwhile."""
        self.page.evaluate(
            """text => {
              let at = performance.now()
              const press = key => {
                const event = new KeyboardEvent('keydown', {key, bubbles: true, cancelable: true})
                Object.defineProperty(event, 'timeStamp', {value: at += 4})
                return document.activeElement.dispatchEvent(event)
              }
              for (const key of text) if (press(key)) document.execCommand('insertText', false, key)
              press('Enter')
            }""",
            text,
        )

    def _console(self, message):
        if message.text == "Service Worker registration blocked by Playwright":
            return
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
