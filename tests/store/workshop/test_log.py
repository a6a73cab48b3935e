"""The workshop's log: every change outside a visit is told with who, when, was and now, and nothing in it changes."""

import json
import sqlite3
from datetime import UTC, datetime

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.rebuild.torque import Wrench
from jaxel.core.units import IMPERIAL
from jaxel.store import db, workshop_log
from jaxel.store.edits import Edit
from jaxel.store.instruments import benches
from jaxel.store.kinds import choices
from jaxel.store.machine import limits, photos, pixels, upkeep
from jaxel.store.shelf import parts, sheets, shelf
from jaxel.store.workshop import stamps, workshop, wrenches
from jaxel.store.workshop_log import PLACES, WHOLE_ROW
from tests.store.cases.any_machine_case import picture
from tests.store.cases.store_case import StoreCase


class Log(StoreCase):
    def setUp(self):
        super().setUp()
        self.begun = self.last()

    def last(self):
        return self.db.execute("SELECT coalesce(max(id), 0) FROM workshop_log").fetchone()[0]

    def told(self):
        """What was logged since the test began, in order."""
        return [(each.by, each.place, each.name, each.field, each.was, each.now)
                for each in reversed(workshop_log.lines(self.db)) if each.id > self.begun]  # fmt: skip

    def test_a_part_from_its_number_to_its_end(self):
        part = parts.add(self.db, "A-1", "arm", "Jo")
        parts.change(self.db, part, {"price": Edit(None, 12.5), "place": Edit("", "drawer 3")}, "Maren")
        shelf.count(self.db, part, Edit(None, 6), "Jo")
        shelf.count(self.db, part, Edit(6, 5), "Jo")
        parts.remove(self.db, part, "Jo")
        told = self.told()
        self.assertEqual(told[0][:4], ("Jo", "part", "A-1", WHOLE_ROW))
        self.assertEqual((told[0][4], told[0][5]["kind"], told[0][5]["pack"]), (None, "arm", 1))
        self.assertEqual(told[1:5], [
            ("Maren", "part", "A-1", "price", None, 12.5), ("Maren", "part", "A-1", "place", "", "drawer 3"),
            ("Jo", "part", "A-1", "pieces", None, 6), ("Jo", "part", "A-1", "pieces", 6, 5),
        ])  # fmt: skip
        self.assertEqual((told[5][3], told[5][4]["price"], told[5][5]), (WHOLE_ROW, 12.5, None))

    def test_what_changes_nothing_is_not_logged(self):
        part = parts.add(self.db, "A-1", "arm", "Jo")
        self.begun = self.last()
        parts.change(self.db, part, {"make": Edit("", "")}, "Jo")
        with self.assertRaises(db.Conflict):
            parts.change(self.db, part, {"make": Edit("x", "y")}, "Jo")
        with self.assertRaises(InvalidValue):
            parts.change(self.db, part, {"make": Edit("", "Brackholm"), "number": Edit("A-1", "")}, "Jo")
        self.assertEqual(self.told(), [])

    def test_wrenches_people_settings_stamps_tools_schools_benches(self):
        wrench = wrenches.add(self.db, Wrench("Bench", "wrench", 10, 80, 0.5, 340, None, ""), "Jo")
        wrenches.change(self.db, wrench, {"due_on": Edit("", "2027-02-04"), "retired": Edit(False, True)}, "Jo")
        person = workshop.add_person(self.db, "Maren", "Jo")
        workshop.archive(self.db, person, Edit(False, True), "Maren")
        workshop.read_in(self.db, person, Edit(None, IMPERIAL), "Maren")
        workshop.rename(self.db, Edit("", "Fellside"), "Jo")
        workshop.price_hour(self.db, Edit(None, 90.0), "Jo")
        stamps.note(self.db, "k", 48.2, "Jo")
        stamps.note(self.db, "k", 48.4, "Maren")
        stamps.forget(self.db, 1, "Jo")
        parts.say_tool(self.db, parts.tool_names()[0], {"owned": Edit(False, True)}, "Jo")
        choices.choose(self.db, "tuning_order", Edit("spring", "weights"), "Jo")
        bench = benches.add(self.db, "By the lift", "Jo")
        token = benches.renew(self.db, bench, "Jo")
        benches.remove(self.db, bench, "Jo")
        told = [(by, place, field, was, now) for by, place, _, field, was, now in self.told()]
        for line in (
            ("Jo", "wrench", "due_on", "", "2027-02-04"), ("Jo", "wrench", "retired", 0, 1),
            ("Maren", "person", "archived", 0, 1), ("Jo", "workshop", "name", "", "Fellside"),
            ("Jo", "workshop", "hour_price", None, 90.0), ("Maren", "stamp", "mass_g", 48.2, 48.4),
        ):  # fmt: skip
            self.assertIn(line, told)
        whole = [(place, was is None) for _, place, field, was, _ in told if field == WHOLE_ROW]
        self.assertEqual(whole, [("wrench", True), ("person", True), ("stamp", True), ("stamp", False), ("tool", True),
                                 ("school", True), ("bench", True), ("bench", False)])  # fmt: skip
        self.assertNotIn(token, json.dumps(told))

    def test_photos_their_words_and_their_removal(self):
        photo = photos.add(self.db, self.machine, pixels.encoded(picture()), "Jo")
        photos.change(self.db, photo, {"caption": Edit("", "worn buttons"), "removed": Edit(False, True)}, "Maren")
        told = self.told()
        self.assertEqual((told[0][1], told[0][3], told[0][5]["width"]), ("photo", WHOLE_ROW, 60))
        self.assertNotIn("image", told[0][5])
        self.assertEqual([line[3:] for line in told[1:3]], [("caption", "", "worn buttons"), ("removed", 0, 1)])

    def test_limits_and_machines(self):
        with db.writing(self.db):
            limit = limits.state(self.db, self.machine, "belt_width_min_mm", 33.5, "manual", "Jo")
            limits.withdraw(self.db, self.machine, limit, "Maren")
        upkeep.change(self.db, self.machine, {"rider": Edit("Rider", "Another")}, "Jo")
        upkeep.archive(self.db, self.machine, Edit(False, False), "Jo")
        told = self.told()
        self.assertEqual(told[0][1:4], ("limit", told[0][2], WHOLE_ROW))
        self.assertEqual(told[0][5]["value"], 33.5)
        self.assertEqual(told[1][:2] + told[1][3:], ("Maren", "limit", "withdrawn", 0, 1))
        self.assertEqual(told[2][3:], ("rider", "Rider", "Another"))
        self.assertEqual(len(told), 3)

    def test_what_a_visit_takes_from_the_shelf(self):
        part = parts.add(self.db, "B-1", "button", "Jo")
        shelf.count(self.db, part, Edit(None, 6), "Jo")
        self.begun = self.last()
        with db.writing(self.db):
            parts.fitted(self.db, self.visit, self.machine, "primary", self.needs("button", 2), "B-1", None, None,
                         new=True, by="Maren")  # fmt: skip
        self.assertEqual(self.told(), [("Maren", "part", "B-1", "pieces", 6, 4)])

    def needs(self, kind, pieces):
        from jaxel.core.trade.kinds.kind_file import PartsNeeded

        return [PartsNeeded(kind=kind, pieces=pieces)]

    def test_it_is_never_overwritten_nor_shortened(self):
        parts.add(self.db, "A-1", "arm", "Jo")
        for statement, reason in (("UPDATE workshop_log SET by = 'nobody'", "never overwritten"),
                                  ("DELETE FROM workshop_log", "never deleted")):  # fmt: skip
            with self.assertRaisesRegex(sqlite3.IntegrityError, reason):
                self.db.execute(statement)

    def test_lines_stand_as_they_were_written_whatever_the_clock_said(self):
        for year, number in ((2030, "A-1"), (2019, "A-2"), (2026, "A-3")):
            with db.at_moment(datetime(year, 1, 1, tzinfo=UTC)):
                parts.add(self.db, number, "arm", "Jo")
        self.assertEqual([each.name for each in workshop_log.lines(self.db, place="part")], ["A-3", "A-2", "A-1"])

    def test_looked_for(self):
        one = parts.add(self.db, "A_1", "arm", "Jo")
        parts.add(self.db, "AB1", "arm", "Maren")
        parts.change(self.db, one, {"make": Edit("", "Brackholm")}, "Maren")
        self.assertEqual(len(workshop_log.lines(self.db, word="a_1")), 2)
        self.assertEqual(workshop_log.lines(self.db, word="%"), [])
        self.assertEqual([e.name for e in workshop_log.lines(self.db, place="part", by="Jo")], ["A_1"])
        newest, older = workshop_log.lines(self.db, place="part", limit=2)
        (oldest,) = workshop_log.lines(self.db, place="part", before=older.id)
        self.assertGreater(newest.id, older.id)
        self.assertEqual((oldest.name, oldest.field), ("A_1", WHOLE_ROW))
        self.assertEqual(workshop_log.hands(self.db), ["Jo", "Maren", "bench"])


class Told(StoreCase):
    def test_the_log_says_how_each_thing_stands(self):
        """Played from its first line it comes to what the tables hold: nothing was changed past it."""
        sheet = b"number,kind,make,pieces,base_mass_g\nA-1,arm,Brack,3,58.5\nA-2,arm,Brack,4,60\n"
        sheets.take_in(self.db, sheet, "Jo")
        sheets.take_in(self.db, sheet.replace(b"Brack", b"Ravn").replace(b",3,", b",2,"), "Maren")
        self.complete()
        self.sign()
        played: dict[tuple[str, str], dict[str, object]] = {}
        for line in reversed(workshop_log.lines(self.db, limit=100_000)):
            row = played.setdefault((line.place, line.row), {})
            if line.field == WHOLE_ROW:
                row.clear()
                row.update(line.now or {})
            else:
                row[line.field] = line.now
        seen = 0
        for word in ("part", "machine", "limit", "person", "wrench", "stamp", "school", "tool"):
            place = PLACES[word]
            for (key,) in self.db.execute(f"SELECT {place.key} FROM {place.table}").fetchall():
                held = dict(self.db.execute(place.select, (key,)).fetchone())
                held.pop(WHOLE_ROW)
                told = played[word, str(key)]
                self.assertEqual({k: v for k, v in told.items() if v is not None},
                                 {k: v for k, v in held.items() if v is not None})  # fmt: skip
                seen += 1
        self.assertGreaterEqual(seen, 4)
