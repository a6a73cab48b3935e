"""The server as a process: one line when it cannot start, many idle browsers, and nothing lost when it is killed."""

import http.client
import json
import re
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from contextlib import closing
from pathlib import Path

from jaxel.demo.workshop import build
from jaxel.store import db
from jaxel.store.machine import machines
from tests.test_commands import run
from tests.ui.browser import demo_database

KILLS = 4


class ServeCase(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.database = Path(folder.name) / "workshop.db"

    def start(self, *options):
        process = subprocess.Popen(
            [sys.executable, "-m", "jaxel", "serve", "--database", str(self.database), "--port", "0", *options],
            stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        self.addCleanup(process.stdout.close)
        self.addCleanup(process.stderr.close)
        self.addCleanup(process.wait)
        self.addCleanup(process.kill)
        return process

    def port(self, process):
        line = process.stdout.readline()
        found = re.fullmatch(r"Jaxel is at http://127\.0\.0\.1:(\d+)\n", line)
        self.assertTrue(found, line)
        return int(found[1])

    def ask(self, port, path, method="GET", body=None):
        with closing(http.client.HTTPConnection("127.0.0.1", port, timeout=10)) as connection:
            data = None if body is None else json.dumps(body)
            connection.request(method, path, data, {"Content-Type": "application/json"} if data else {})
            answer = connection.getresponse()
            return answer.status, json.loads(answer.read())


class Starting(ServeCase):
    def refused(self, reason, *options):
        done = run("serve", "--database", str(self.database), *options)
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertRegex(done.stderr.splitlines()[-1], reason)

    def test_a_port_in_use_or_out_of_range(self):
        with closing(socket.create_server(("127.0.0.1", 0))) as taken:
            self.refused(r"^port \d+ cannot be used: Address already in use$", "--port", str(taken.getsockname()[1]))
        for port in ("65536", "-1", "http", "١"):
            self.refused("must be a whole number from 0 to 65535", f"--port={port}")

    def test_what_is_no_database(self):
        self.database.mkdir()
        self.refused("is a folder")
        self.database.rmdir()
        self.database.write_bytes(b"\x1b[31mred" * 99)
        self.refused("not a database")

    def test_a_name_with_control_characters_does_not_reach_the_terminal(self):
        done = run("predict", "/nowhere/\x1b[2J\x9b31m.json")
        self.assertNotRegex(done.stderr, "[\x00-\x09\x0b-\x1f\x7f-\x9f]")
        self.assertIn(r"\u001b[2J\u009b31m", done.stderr)

    def test_a_kill_while_the_demo_is_built_leaves_none_of_it(self):
        for pause in (0.0, 0.1, 0.3, 0.6):
            db.migrate(self.database)
            building = subprocess.Popen([sys.executable, "-c", BUILDING, str(self.database)], stdout=subprocess.PIPE)
            building.stdout.readline()
            time.sleep(pause)
            building.kill()
            building.communicate()
            with closing(db.connect(self.database)) as connection:
                self.assertIn(len(machines.all_machines(connection)), (0, 6))
        port = self.port(self.start("--demo"))
        self.assertEqual(len(self.ask(port, "/api/floor")[1]["machines"]), 6)


BUILDING = """
import sys
from contextlib import closing
from pathlib import Path
from jaxel.demo.workshop import build
from jaxel.store.db import connect, writing
with closing(connect(Path(sys.argv[1]))) as connection, writing(connection):
    print("begun", flush=True)
    build(connection)
"""


class Running(ServeCase):
    def test_idle_connections_do_not_shut_the_others_out(self):
        port = self.port(self.start())
        idle = []
        try:
            for _ in range(500):
                idle.append(socket.create_connection(("127.0.0.1", port), timeout=5))
            self.assertEqual(self.ask(port, "/api/floor")[0], 200)
        finally:
            for each in idle:
                each.close()

    def test_a_body_announced_as_too_large_is_refused_before_it_is_sent(self):
        port = self.port(self.start())
        with closing(socket.create_connection(("127.0.0.1", port), timeout=5)) as connection:
            head = "POST /api/machines?kind=sled HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\n"
            connection.sendall(f"{head}Content-Length: 9000000\r\n\r\n".encode())
            self.assertIn(b" 413 ", connection.recv(200).split(b"\r\n")[0])

    def test_killed_under_writes_it_loses_nothing_it_acknowledged(self):
        db.migrate(self.database)
        with closing(db.connect(self.database)) as connection, db.writing(connection):
            build(connection)
        for kill in range(KILLS):
            process = self.start()
            port = self.port(process)
            acknowledged: dict[str, int] = {}
            before = self.ask(port, "/api/visits/2")[1]

            def write(port=port, acknowledged=acknowledged, kill=kill, was=before["intake"]["complaint"]):
                number = 0
                while True:
                    number += 1
                    text = f"kill {kill}, write {number}"
                    try:
                        status, answer = self.ask(port, "/api/visits/2/intake", "PATCH",
                                                  {"complaint": {"was": was, "now": text}})  # fmt: skip
                    except (OSError, http.client.HTTPException, ValueError):
                        return
                    if status == 200:
                        acknowledged.update(number=number)
                        was = answer["intake"]["complaint"]

            hand = threading.Thread(target=write)
            hand.start()
            time.sleep(0.05 + 0.01 * kill)
            process.send_signal(signal.SIGKILL)
            process.wait()
            hand.join()
            with closing(db.connect(self.database)) as connection:
                self.assertEqual(connection.execute("PRAGMA integrity_check").fetchone()[0], "ok")
                self.assertEqual(connection.execute("PRAGMA foreign_key_check").fetchall(), [])
                found = connection.execute("SELECT complaint FROM intake WHERE visit_id = 2").fetchone()[0]
            if acknowledged:
                # The write under way when it died may have landed too; none that was acknowledged is missing.
                wrote = int(found.rpartition(" ")[2])
                self.assertIn(wrote, (acknowledged["number"], acknowledged["number"] + 1))
                self.assertTrue(found.startswith(f"kill {kill}, "))


class Backups(ServeCase):
    def test_backup_and_restore_are_commands(self):
        db.migrate(self.database)
        with closing(sqlite3.connect(self.database)) as connection:
            connection.execute("PRAGMA user_version")
        copy, where = str(self.database) + ".copy", ("--database", str(self.database))
        self.assertEqual(run("backup", copy, *where).returncode, 0)
        self.assertEqual(run("restore", copy, *where).returncode, 0)
        done = run("restore", copy + ".none", *where)
        self.assertEqual((done.returncode, done.stderr.count("\n")), (2, 1))
        self.assertIn("is not there", done.stderr)


class Crowded(ServeCase):
    def test_past_the_limit_of_connections_a_short_refusal(self):
        served = (
            "import sys; from pathlib import Path; from jaxel.web import server;"
            " server.CONNECTIONS = 5; server.serve(Path(sys.argv[1]), 0)"
        )
        process = subprocess.Popen(
            [sys.executable, "-c", served, str(self.database)],
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
        )
        for tidy in (process.stdout.close, process.stderr.close, process.wait, process.kill):
            self.addCleanup(tidy)
        port = self.port(process)
        idle = [socket.create_connection(("127.0.0.1", port), timeout=5) for _ in range(5)]
        try:
            time.sleep(0.3)
            begun = time.monotonic()
            with closing(http.client.HTTPConnection("127.0.0.1", port, timeout=5)) as connection:
                connection.request("GET", "/api/floor")
                answer = connection.getresponse()
                told = json.loads(answer.read())
            self.assertEqual((answer.status, told["error"]["field"]), (503, "connections"))
            self.assertLess(time.monotonic() - begun, 3)
        finally:
            for each in idle:
                each.close()
        time.sleep(0.3)
        status, found = self.ask(port, "/api/health")
        self.assertEqual(status, 200)
        self.assertGreaterEqual(found["waiting"]["connections"], 1)

    def test_what_the_door_refuses_is_said_as_everything_is(self):
        port = self.port(self.start())
        with closing(socket.create_connection(("127.0.0.1", port), timeout=5)) as connection:
            head = f"POST /api/machines/1/photos HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nContent-Type: image/jpeg\r\n"
            connection.sendall(f"{head}Content-Length: 90000000\r\n\r\n".encode())
            told = b""
            while piece := connection.recv(4000):
                told += piece
        error = json.loads(told.split(b"\r\n\r\n", 1)[1])["error"]
        self.assertEqual(error, {"field": "photo", "reason": "is larger than 8 MB, the most that is taken here"})

    def test_a_backup_is_made_beside_the_work(self):
        folder = self.database.with_name("kept")
        port = self.port(self.start("--backups", str(folder), "--keep", "2"))
        until = time.monotonic() + 20
        while (found := self.ask(port, "/api/health")[1])["backup"] is None and time.monotonic() < until:
            time.sleep(0.1)
        self.assertEqual(found["backup"]["visits"], 0)
        self.assertEqual([each.name for each in folder.iterdir()], [found["backup"]["name"]])

    def test_a_wrong_option_is_one_line(self):
        done = subprocess.run(
            [sys.executable, "-m", "jaxel", "serve", "--port", "70000"], capture_output=True, text=True, check=False
        )
        self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (2, "", 1))
        self.assertIn("--port: must be a whole number from 0 to 65535", done.stderr)
        self.assertIn("--at: must be an hour of the day, 00:00 to 23:59", run("serve", "--at", "25:00").stderr)


class Kept(ServeCase):
    def test_backups_that_are_dated_and_proved(self):
        db.migrate(self.database)
        folder, where = self.database.with_name("kept"), ("--database", str(self.database))
        done = run("backup", str(folder), "--keep", "2", *where)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertRegex(done.stdout, r"workshop-\d{8}T\d{6}Z\.db is sound: 0 machines, 0 visits, 0 signed pages read")
        (copy,) = folder.iterdir()
        self.assertIn("is sound", run("check", str(copy)).stdout)
        copy.write_bytes(copy.read_bytes()[:5000])
        done = run("check", str(copy))
        self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (2, "", 1))
        self.assertIn("--keep: must be a whole number from 1 to 1000", run("backup", "x", "--keep", "0").stderr)

    def test_bundles_go_and_come(self):
        self.database.write_bytes(demo_database())
        file, where = self.database.with_name("all.zip"), ("--database", str(self.database))
        self.assertIn("21 files", run("bundle", str(file), *where).stdout)
        there = ("--database", str(self.database.with_name("there.db")))
        looked = run("take-in", str(file), "--look", *there).stdout
        self.assertIn("6 machines new, 0 known; 5 visits new", looked)
        self.assertIn("nothing was kept", looked)
        self.assertEqual(run("take-in", str(file), *there).stdout, looked.replace(
            "nothing was kept: it was only looked at\n", ""))  # fmt: skip
        self.assertIn(
            "0 machines new, 6 known; 0 visits new, 5 the same here", run("take-in", str(file), *there).stdout
        )
        for option, key, reason in (
            ("--machine", "99", "machine: 99: there is no such"),
            ("--visit", "2", "visit: is open"),
            ("--machine", "x", "whole number"),
        ):
            done = run("bundle", str(file), option, key, *where)
            self.assertEqual((done.returncode, done.stdout), (2, ""))
            self.assertIn(reason, done.stderr)
        self.assertIn("cannot be read", run("take-in", str(file) + ".none", *there).stderr)
