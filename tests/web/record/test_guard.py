"""Who gets in: what a foreign page's browser can send is turned away at every route, and every answer is marked."""

import json
import re
import sqlite3
import tempfile
from pathlib import Path
from unittest import mock

from jaxel.core.formats.reading import FILE_LIMIT
from jaxel.store.visit import intake
from jaxel.web import create_app
from jaxel.web.record.blueprint import describe
from tests.examples import example
from tests.web.cases.api_case import ApiCase

FOREIGN = "http://elsewhere.example"


class ForeignPages(ApiCase):
    def routes(self):
        """Every address of the API's own description, each with its methods, filled in."""
        for path, operations in describe(self.app)["paths"].items():
            yield (
                re.sub(r"\{\w+\}", "1", path),
                {method.upper() for method in operations} & {"GET", "POST", "PUT", "PATCH", "DELETE"},
            )

    def everything(self):
        with self.app.app_context():
            connection = sqlite3.connect(self.app.config["DATABASE"])
            rows = list(connection.iterdump())
            connection.close()
        return rows

    def test_every_route_refuses_what_a_foreign_page_can_send(self):
        before, seen = self.everything(), 0
        body = json.dumps(example("mountain-sled"))
        for path, methods in self.routes():
            for method in methods:
                requests = [({"Host": "rebound.example"}, "application/json", 403)]
                # A device's address asks for its token before it looks at what comes with it.
                unread = 403 if path == "/api/readings" else 415
                if method != "GET":
                    requests += [
                        ({"Origin": FOREIGN}, "application/json", 403),
                        ({"Origin": "null"}, "application/json", 403),
                        ({"Origin": "http://localhost:9"}, "application/json", 403),
                        ({"Sec-Fetch-Site": "cross-site"}, "application/json", 403),
                        ({"Sec-Fetch-Site": "same-site"}, "application/json", 403),
                        ({}, "text/plain", unread),
                        ({}, "application/x-www-form-urlencoded", unread),
                        ({}, None, unread),
                    ]
                for headers, kind, status in requests:
                    answer = self.client.open(
                        path + "?kind=sled", method=method, headers=headers, data=body, content_type=kind
                    )
                    with self.subTest(path=path, method=method, headers=headers, kind=kind):
                        self.assertEqual(answer.status_code, status)
                        self.assertEqual(set(answer.json["error"]), {"field", "reason"})
                        seen += 1
        self.assertGreater(seen, 100)
        self.assertEqual(self.everything(), before)

    def test_our_own_page_is_let_in(self):
        for host in ("localhost", "127.0.0.1:8710", "[::1]:80", "LOCALHOST:1"):
            headers = {"Host": host, "Origin": f"http://{host}", "Sec-Fetch-Site": "same-origin"}
            answer = self.client.patch(
                "/api/visits/1/intake", json={"complaint": {"was": "", "now": ""}}, headers=headers
            )
            self.assertEqual(answer.status_code, 200, (host, answer.text))

    def test_a_request_is_read_as_strictly_as_a_document(self):
        for body, reason in (
            (b'{"complaint": 1, "complaint": 2}', "stands twice"),
            (b"[1]", "one JSON object"),
            (b'{"complaint": "\\ud800"}', "half a character"),
            (b"", "is empty"),
        ):
            answer = self.client.patch("/api/visits/1/intake", data=body, content_type="application/json")
            self.assertEqual(answer.status_code, 422)
            self.assertIn(reason, answer.json["error"]["reason"])

    def test_announced_too_large_is_refused_unread(self):
        body = mock.Mock()
        body.read.side_effect = AssertionError("it was read")
        answer = self.client.post(
            "/api/machines?kind=sled",
            environ_overrides={"CONTENT_LENGTH": str(FILE_LIMIT + 1), "wsgi.input": body},
            content_type="application/json",
        )
        self.refused(answer, 413, "document", "larger than 1,000 kB")

    def test_every_answer_is_marked(self):
        for path in ("/", "/api/floor", "/api/visits/99", "/nothing"):
            headers = self.client.get(path).headers
            self.assertIn("default-src 'none'", headers["Content-Security-Policy"])
            self.assertIn("frame-ancestors 'none'", headers["Content-Security-Policy"])
            self.assertNotIn("unsafe-eval", headers["Content-Security-Policy"])
            self.assertEqual(headers["X-Content-Type-Options"], "nosniff")
            self.assertEqual(headers["X-Frame-Options"], "DENY")
            self.assertEqual(headers["Referrer-Policy"], "no-referrer")


class Files(ApiCase):
    def setUp(self):
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        root = Path(folder.name)
        (root / "secret.txt").write_text("secret")
        built = root / "dist"
        (built / "assets").mkdir(parents=True)
        (built / "index.html").write_text("<p>page</p>")
        (built / "assets" / "app-1a2b.js").write_text("let shift = 7900;\n" * 400)
        self.client = create_app(root / "workshop.db", front_end=built).test_client()

    def test_hashed_files_are_compressed_and_kept_for_good(self):
        plain = self.client.get("/assets/app-1a2b.js", buffered=True)
        small = self.client.get("/assets/app-1a2b.js", headers={"Accept-Encoding": "gzip"}, buffered=True)
        self.assertEqual(small.headers["Content-Encoding"], "gzip")
        self.assertLess(len(small.data), len(plain.data) / 10)
        for answer in (plain, small):
            self.assertIn("immutable", answer.headers["Cache-Control"])
            self.assertIn("max-age=31536000", answer.headers["Cache-Control"])
            self.assertIn("Accept-Encoding", answer.headers["Vary"])
        self.assertNotIn("immutable", self.client.get("/", buffered=True).headers.get("Cache-Control", ""))

    def test_no_address_leaves_the_folder_or_breaks_it(self):
        for path in ("/../secret.txt", "/%2e%2e/secret.txt", "/assets/../../secret.txt", "/..%5csecret.txt",
                     "//etc/passwd", "/" + "a" * 300, "/" + "a/" * 200, "/a%00b", "/%0a"):  # fmt: skip
            answer = self.client.get(path, buffered=True)
            self.assertLess(answer.status_code, 500, path)
            self.assertNotIn(b"secret", answer.data)
            self.assertNotIn(b"root:", answer.data)


class Storage(ApiCase):
    """What the disk can do to a running server is said in words, and reading goes on."""

    def test_locked_full_or_read_only_is_503(self):
        for fault, words in (
            ("database is locked", "busy"), ("database or disk is full", "full"),
            ("attempt to write a readonly database", "only be read"), ("disk I/O error", "cannot be used"),
        ):  # fmt: skip
            with mock.patch.object(intake, "change", side_effect=sqlite3.OperationalError(fault)):
                answer = self.send("PATCH", "/intake", complaint="x")
            self.refused(answer, 503, "storage", words)
        self.assertEqual(self.client.get("/api/visits/1").status_code, 200)

    def test_a_lock_held_by_another_program(self):
        other = sqlite3.connect(self.app.config["DATABASE"], isolation_level=None)
        self.addCleanup(other.close)
        other.execute("BEGIN IMMEDIATE")
        with mock.patch("jaxel.store.db.BUSY_SECONDS", 0.05):
            self.refused(self.send("PATCH", "/intake", complaint="x"), 503, "storage", "busy")
            self.assertEqual(self.client.get("/api/visits/1").status_code, 200)
        other.execute("ROLLBACK")
        self.assertEqual(self.send("PATCH", "/intake", complaint="x").status_code, 200)

    def test_a_full_disk(self):
        with mock.patch("jaxel.web.database.connect", side_effect=self.full):
            for _ in range(20):  # until no page is left
                answer = self.send("POST", "/runs", revision_id=self.visit["left_revision_id"])
                if answer.status_code != 200:
                    break
            self.refused(answer, 503, "storage", "full")
        runs = len(self.visit["runs"])
        self.assertEqual(len(self.client.get("/api/visits/1").json["runs"]), runs)

    def full(self, path):
        from jaxel.store.db import connect

        connection = connect(path)
        pages = connection.execute("PRAGMA page_count").fetchone()[0]
        connection.execute(f"PRAGMA max_page_count = {pages}")
        return connection
