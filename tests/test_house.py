"""The house as CONTRIBUTING promises it: what it names is there, no room is crowded, no file outgrows a head."""

import re
import unittest
from pathlib import Path

from jaxel.store import db

ROOMS = ("jaxel", "frontend/src", "tests", "bench")
CODE = {".py", ".ts", ".tsx"}
MOST_FILES, MOST_LINES = 16, 400


def files():
    for room in ROOMS:
        for path in Path(room).rglob("*"):
            if (
                path.suffix in CODE
                and not {"__pycache__", "migrations"} & set(path.parts)
                and path.name != "schema.d.ts"
            ):
                yield path


class House(unittest.TestCase):
    def test_what_contributing_names_is_there(self):
        text = Path("CONTRIBUTING.md").read_text(encoding="utf-8")
        named = re.findall(r"`((?:jaxel|frontend/src|tests)/[\w./-]+)`", text)
        self.assertGreater(len(named), 60)
        self.assertEqual([each for each in named if "NNNN" not in each and not Path(each).exists()], [])
        rows = [line for line in text.splitlines() if line.startswith("| ")]
        self.assertGreater(len(rows), 20)

    def test_rooms_hold_at_most_sixteen_files(self):
        rooms: dict[Path, int] = {}
        for path in files():
            if path.name != "__init__.py":
                rooms[path.parent] = rooms.get(path.parent, 0) + 1
        self.assertEqual({str(room): count for room, count in rooms.items() if count > MOST_FILES}, {})

    def test_no_file_outgrows_a_head(self):
        long = {str(path) for path in files() if len(path.read_text(encoding="utf-8").splitlines()) > MOST_LINES}
        self.assertEqual(long, set())

    def test_migrations_follow_each_other(self):
        self.assertEqual([number for number, _ in db._migrations()], list(range(1, len(db._migrations()) + 1)))
