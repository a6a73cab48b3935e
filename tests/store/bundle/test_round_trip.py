"""A bundle comes in without loss: what went out of one workshop goes out of the other alike."""

import io
import json
import zipfile
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from unittest import mock

import jsonschema

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.bundle import VisitBundle
from jaxel.core.formats.schemas import json_schema
from jaxel.core.trade.rebuild.torque import Wrench
from jaxel.store import db
from jaxel.store.bundle import graph, merge, opened, pack
from jaxel.store.bundle.redacted import redacted
from jaxel.store.edits import Edit
from jaxel.store.machine import machines, photos, upkeep
from jaxel.store.setup import revisions
from jaxel.store.shelf import parts, shelf
from jaxel.store.visit import addenda, floor, pages, past, visit_log, visits
from jaxel.store.workshop import workshop, wrenches
from tests.examples import example, read
from tests.store.bundle.bundle_case import BundleCase
from tests.ui.browser import demo_database


class RoundTrip(BundleCase):
    def test_a_machine_comes_in_as_it_went_out(self):
        file = self.packed()
        found = self.take(file)
        self.assertEqual((len(found.new_machines), len(found.new_visits), found.photos), (1, 1, 1))
        machine = self.there.execute("SELECT id FROM machine").fetchone()[0]
        back = self.packed(key=machine, source=self.there)
        self.assertEqual(self.documents(back), self.documents(file))
        visit = self.there.execute("SELECT id FROM visit").fetchone()[0]
        here, there = (visits.get(each, key) for each, key in ((self.db, self.visit), (self.there, visit)))
        self.assertEqual(there.intake, here.intake)
        self.assertEqual(there.widths_mm, here.widths_mm)
        self.assertEqual(pages.page(self.there, there), pages.page(self.db, here))
        self.assertEqual(visit_log.after(self.there, there, 0), visit_log.after(self.db, here, 0))
        rows = self.there.execute(
            "SELECT DISTINCT row FROM visit_log WHERE place IN ('intake', 'belt_check', 'set_up')"
        )
        self.assertEqual([row[0] for row in rows], [visit])
        (photo,) = photos.of_machine(self.there, machine)
        self.assertEqual(photos.image(self.there, photo.id), photos.image(self.db, self.photo))
        self.assertEqual((photo.visit_id, photo.taken_by), (visit, "Maren"))

    def demo(self):
        path = self.path.with_name("demo.db")
        path.write_bytes(demo_database())
        source = db.connect(path)
        self.addCleanup(source.close)
        return source

    def test_each_visit_of_the_demo_alone(self):
        source = self.demo()
        for (visit,) in source.execute("SELECT id FROM visit WHERE signed_off_at IS NOT NULL").fetchall():
            with self.subTest(visit):
                there, file = self.empty(), self.packed("visit", visit, source=source)
                self.assertEqual(len(self.take(file, into=there).new_visits), 1)
                (key,) = there.execute("SELECT id FROM visit").fetchone()
                self.assertEqual(self.documents(self.packed("visit", key, source=there)), self.documents(file))

    def test_the_demo_workshop_comes_in_as_it_went_out(self):
        source = self.demo()
        wrenches.add(source, Wrench("Bench", "wrench", 10, 80, 0.5, 340, None, "2027-01-01"), "Jo")
        file = self.packed("workshop", 0, source=source)
        found = self.take(file)
        self.assertEqual((len(found.new_machines), len(found.new_visits), found.logs), (6, 5, 4))
        self.assertEqual(found.differences, [])
        back = self.documents(self.packed("workshop", 0, source=self.there))
        self.assertEqual(set(back), set(self.documents(file)))
        for name, data in self.documents(file).items():
            self.assertEqual(back[name], data, name)
        held = self.rows(self.there)
        for name, count in self.rows(source).items():
            if name in (*graph.OF_MACHINE, *graph.OF_WORKSHOP) and name not in ("setup_revision", "photo"):
                self.assertGreaterEqual(count, held[name], name)
        newest = {row["name"]: revisions.newest(source, row["id"]).document
                  for row in source.execute("SELECT * FROM machine WHERE NOT EXISTS (SELECT 1 FROM visit"
                                            " WHERE machine_id = machine.id AND signed_off_at IS NULL)")}  # fmt: skip
        for row in self.there.execute("SELECT id, name FROM machine"):
            if row["name"] in newest:
                self.assertEqual(revisions.newest(self.there, row["id"]).document, newest[row["name"]])

    def test_taken_in_twice_it_is_there_once(self):
        file = self.packed()
        self.take(file)
        before = self.rows(self.there)
        found = self.take(file)
        self.assertEqual((len(found.known_machines), len(found.known_visits), found.differences), (1, 1, []))
        self.assertEqual((found.new_machines, found.new_visits, found.photos), ([], [], 0))
        self.assertEqual(self.rows(self.there), before)

    def test_looked_at_nothing_is_kept(self):
        before = self.rows(self.there)
        found = merge.preview(self.there, opened.opened(self.packed()), "Jo")
        self.assertEqual((len(found.new_machines), len(found.new_visits)), (1, 1))
        self.assertEqual(self.rows(self.there), before)

    def test_while_it_is_looked_at_others_write(self):
        where = self.there.execute("PRAGMA database_list").fetchone()["file"]
        run = merge._Merge.run

        def beside(merging):
            with closing(db.connect(where)) as other:
                other.execute("PRAGMA busy_timeout = 0")
                workshop.rename(other, Edit("", "Fellside"), "Jo")
            return run(merging)

        with mock.patch.object(merge._Merge, "run", beside):
            found = merge.preview(self.there, opened.opened(self.packed()), "Jo")
        self.assertEqual((len(found.new_visits), workshop.get(self.there).name), (1, "Fellside"))
        self.assertEqual(len(list(Path(where).parent.iterdir())), len(list(Path(where).parent.glob("there.db*"))))

    def test_while_its_photos_are_decoded_others_write(self):
        where = self.there.execute("PRAGMA database_list").fetchone()["file"]
        names = iter(("Fellside", "Fellside bench"))

        def beside(_):
            with closing(db.connect(where)) as other:
                other.execute("PRAGMA busy_timeout = 0")
                workshop.rename(other, Edit(workshop.get(other).name, next(names)), "Jo")

        with mock.patch("jaxel.store.machine.pixels.check_kept", beside):
            self.assertEqual(self.take(self.packed()).photos, 1)
        self.assertEqual(workshop.get(self.there).name, "Fellside bench")

    def test_a_visit_alone(self):
        found = self.take(self.packed("visit", self.visit))
        self.assertEqual((len(found.new_visits), found.photos), (1, 1))
        visit = self.there.execute("SELECT id FROM visit").fetchone()[0]
        here, there = (visits.get(each, key) for each, key in ((self.db, self.visit), (self.there, visit)))
        self.assertEqual(pages.page(self.there, there), pages.page(self.db, here))
        # The whole machine behind it brings the rest, and knows the visit.
        self.assertEqual(len(self.take(self.packed()).known_visits), 1)

    def test_a_visit_alone_brings_what_it_came_from_without_the_visits_before(self):
        self.visit = visits.open_visit(self.db, self.machine)
        self.complete()
        self.sign("Maren")
        self.take(self.packed("visit", self.visit))
        seen = [row[0] for row in self.there.execute("SELECT identity FROM visit")]
        own = dict(self.db.execute("SELECT id, identity FROM visit").fetchall())
        self.assertEqual(seen, [own[self.visit]])
        made = self.there.execute("SELECT reason, visit_id FROM setup_revision ORDER BY id").fetchall()
        self.assertEqual({row["visit_id"] for row in made}, {None})
        self.assertEqual(made[0]["reason"], "as brought in")

    def test_an_open_visit_stays_out_with_its_set_ups(self):
        fresh = visits.open_visit(self.db, self.machine)
        with self.assertRaisesRegex(Exception, "visit: is open"):
            self.packed("visit", fresh)
        self.visit = fresh
        self.try_out(arm_mass_g=61.0)
        self.record("heavier")
        self.take(self.packed())
        self.assertEqual(self.there.execute("SELECT count(*) FROM visit").fetchone()[0], 1)
        reasons = {row[0] for row in self.there.execute("SELECT reason FROM setup_revision")}
        self.assertNotIn("heavier", reasons)

    def test_a_record_that_was_merged_into_another_goes_with_it(self):
        double = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Rider")
        upkeep.merge(self.db, self.machine, double, "Maren")
        # Both owners said the same of the machine in the same second: that is two statements.
        self.db.execute("UPDATE stated SET stated_at = '2026-11-20T09:00:00Z'")
        said = self.db.execute("SELECT count(*), count(DISTINCT what) FROM stated").fetchone()
        self.assertEqual(tuple(said), (2, 1))
        file = self.packed()
        self.assertEqual(len(self.take(file).new_machines), 2)
        (kept,) = floor.lines(self.there)
        self.assertEqual(self.documents(self.packed(key=kept.id, source=self.there)), self.documents(file))
        self.take(file)
        self.assertEqual(self.there.execute("SELECT count(*) FROM stated").fetchone()[0], 2)

    def test_every_document_is_as_its_schema_says(self):
        file = self.packed()
        for name, data in self.documents(file).items():
            if name.endswith(".json") and not name.startswith("schemas/"):
                document = json.loads(data)
                jsonschema.validate(document, json_schema(document["format"]))
        with zipfile.ZipFile(file) as archive:
            jsonschema.validate(json.loads(archive.read("manifest.json")), json_schema("jaxel-bundle"))
            self.assertEqual(archive.testzip(), None)

    def test_every_table_goes_or_says_why_not(self):
        known = {*graph.OF_MACHINE, *graph.OF_VISIT, *graph.OF_WORKSHOP, *graph.LEFT_AT_HOME}
        names = {row[0] for row in self.db.execute(
            "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite%'"
            " AND name NOT LIKE 'complaint_words%'")}  # fmt: skip
        self.assertEqual(names, known)


class Merging(BundleCase):
    def test_what_is_here_stays_and_what_differs_is_said(self):
        file = self.packed()
        self.take(file)
        key = self.there.execute("SELECT id FROM machine").fetchone()[0]
        upkeep.change(self.there, key, {"tyre": Edit("", "129 in")}, "Jo")
        upkeep.change(self.db, self.machine, {"tyre": Edit("", "137 in")}, "Jo")
        found = self.take(self.packed())
        (one,) = found.differences
        self.assertEqual((one.of, one.field, one.here, one.there), ("machine", "tyre", "129 in", "137 in"))
        self.assertEqual(self.there.execute("SELECT tyre FROM machine").fetchone()[0], "129 in")

    def test_a_signed_visit_that_differs_refuses_the_whole(self):
        self.take(self.packed())
        self.there.execute("UPDATE intake SET complaint = 'another one'")
        before = self.rows(self.there)
        with self.assertRaisesRegex(Exception, "visit: of .* is signed here with another record: intake, complaint"):
            self.take(self.packed())
        self.assertEqual(self.rows(self.there), before)

    def test_what_was_added_afterwards_comes_too(self):
        self.take(self.packed())
        addenda.add(self.db, self.visit, "Came back dry.", "Maren")
        found = self.take(self.packed())
        self.assertEqual(len(found.known_visits), 1)
        (row,) = self.there.execute("SELECT text, added_by FROM addendum").fetchall()
        self.assertEqual(tuple(row), ("Came back dry.", "Maren"))
        self.take(self.packed())
        self.assertEqual(self.there.execute("SELECT count(*) FROM addendum").fetchone()[0], 1)

    def test_worked_on_in_both_places_what_is_here_stays_in_force(self):
        self.take(self.packed())
        key = self.there.execute("SELECT id FROM machine").fetchone()[0]
        held = revisions.newest(self.there, key)
        revisions.add(self.there, key, held.document.model_copy(update={"name": "worked on here"}), parent_id=held.id,
                      reason="here", by="Jo")  # fmt: skip
        own = revisions.newest(self.db, self.machine)
        revisions.add(self.db, self.machine, own.document.model_copy(update={"name": "worked on there"}),
                      parent_id=own.id, reason="there", by="Maren")  # fmt: skip
        found = self.take(self.packed())
        self.assertEqual(len(found.beside), 1)
        newest = revisions.newest(self.there, key)
        self.assertEqual((newest.document.name, newest.nature), ("worked on here", "found"))
        said = [row[0] for row in self.there.execute("SELECT reason FROM setup_revision ORDER BY id")]
        self.assertIn("there", said)

    def test_visits_stand_in_the_order_of_their_days_wherever_they_were(self):
        self.take(self.packed())
        here = self.there.execute("SELECT id FROM machine").fetchone()[0]
        with db.at_moment(datetime(2031, 3, 2, 9, tzinfo=UTC)):
            visits.open_visit(self.there, here)
        with db.at_moment(datetime(2031, 3, 1, 9, tzinfo=UTC)):
            self.visit = visits.open_visit(self.db, self.machine)
            self.complete()
            self.sign("Maren")
        self.assertEqual(len(self.take(self.packed()).new_visits), 1)
        lines = past.lines_of(self.there, here)
        self.assertEqual([each.opened_at[:10] for each in lines[:2]], ["2031-03-02", "2031-03-01"])
        self.assertEqual(past.lines_of(self.there, here, before=lines[0].id), lines[1:])
        self.assertEqual(past.lines_of(self.there, here, before=lines[1].id, limit=1), lines[2:3])

    def test_how_far_it_is_is_told_by_bytes(self):
        """One photo of a size beside its documents: where it is in hand, its weight is told."""
        packed: list[float] = []
        taken: list[float] = []
        self.db.execute("UPDATE photo SET image = CAST(image || zeroblob(4000000) AS BLOB)")
        file = io.BytesIO()
        pack.pack(self.db, file, "machine", self.machine, watch=packed.append)
        self.assertEqual(packed, sorted(packed))
        # Before the photo only documents were written, 3 of about 40 kB of 4.1 MB; behind it all but their rest is.
        self.assertLess(packed[3], 0.04)
        self.assertGreater(packed[4], 0.96)
        with mock.patch("jaxel.store.machine.pixels.check_kept"):
            merge.merge(self.there, opened.opened(file), "Jo", taken.append)
        self.assertEqual(taken, sorted(taken))
        self.assertLess(taken[0], 0.1)
        self.assertGreater(taken[-1], 0.98)

    def test_worked_on_only_here_nothing_is_added(self):
        self.take(self.packed())
        key = self.there.execute("SELECT id FROM machine").fetchone()[0]
        held = revisions.newest(self.there, key)
        revisions.add(self.there, key, held.document.model_copy(update={"name": "worked on here"}), parent_id=held.id,
                      reason="here", by="Jo")  # fmt: skip
        before = self.rows(self.there)
        self.assertEqual(self.take(self.packed()).beside, [])
        self.assertEqual(self.rows(self.there), before)

    def test_what_the_bundle_says_nothing_of_is_no_difference(self):
        self.take(self.packed())
        key = self.there.execute("SELECT id FROM machine").fetchone()[0]
        upkeep.change(self.there, key, {"offset_mm": Edit(None, 3.0)}, "Jo")
        self.assertEqual(self.take(self.packed()).differences, [])

    def test_a_visit_that_is_open_here_is_closed_first(self):
        self.take(self.packed())
        self.there.execute("UPDATE visit SET signed_off_at = NULL")
        with self.assertRaisesRegex(InvalidValue, "visit: of .* is open here: close it first"):
            self.take(self.packed())

    def test_a_part_typed_in_both_places_is_one(self):
        parts.add(self.there, "w-57", "arm", "Jo")
        shelf.count(self.there, 1, Edit(None, 9), "Jo")
        self.take(self.packed("workshop", 0))
        rows = self.there.execute("SELECT number FROM part").fetchall()
        self.assertEqual([row[0] for row in rows], ["w-57"])
        self.assertEqual(shelf.at_hand(self.there), {1: 9})

    def test_a_workshop_taken_in_twice_has_its_log_once(self):
        self.take(self.packed("workshop", 0))
        before = self.rows(self.there)
        self.take(self.packed("workshop", 0))
        self.assertEqual(self.rows(self.there), before)

    def test_pieces_of_a_part_that_is_new_come_along(self):
        self.take(self.packed("workshop", 0))
        self.assertEqual(shelf.at_hand(self.there), {1: 4})

    def test_a_workshop_without_a_name_takes_the_others(self):
        workshop.rename(self.db, Edit("", "Fellside"), "Maren")
        self.take(self.packed("workshop", 0))
        self.assertEqual(workshop.get(self.there).name, "Fellside")
        workshop.rename(self.db, Edit("Fellside", "Elsewhere"), "Maren")
        self.take(self.packed("workshop", 0))
        self.assertEqual(workshop.get(self.there).name, "Fellside")


class LeftOut(BundleCase):
    def words(self, file):
        return "".join(data.decode() for name, data in self.documents(file).items() if name.endswith((".json", ".csv")))

    def test_rider_prices_and_names_stay_at_home(self):
        everything = self.words(self.packed())
        for word in ("Maren", "Rider", "412.25"):
            self.assertIn(word, everything)
        told = self.words(self.packed(left_out=("rider", "prices", "technicians")))
        for word in ('"Rider"', "Maren", "412.25"):
            self.assertNotIn(word, told)
        self.assertIn("a technician", told)

    def test_each_alone(self):
        told = self.words(self.packed(left_out=("prices",)))
        self.assertNotIn("412.25", told)
        self.assertIn("Maren", told)
        told = self.words(self.packed(left_out=("technicians",)))
        self.assertIn("412.25", told)
        self.assertNotIn("Maren", told)

    def test_it_comes_in_and_is_known_where_it_came_from(self):
        file = self.packed(left_out=("rider", "prices", "technicians"))
        self.assertEqual(len(self.take(file).new_visits), 1)
        self.assertEqual(self.there.execute("SELECT rider FROM machine").fetchone()[0], "")
        found = self.take(file, into=self.db)
        self.assertEqual((len(found.known_visits), found.differences), (1, []))
        self.assertEqual(self.db.execute("SELECT rider FROM machine").fetchone()[0], "Rider")

    def test_a_page_without_its_prices(self):
        lines = [
            "Rollers, K-4, 1,234.50",
            "Belt, 99.00",
            "Parts fitted, as priced above: 1,333.50",
            "runs 1,234.50 km",
        ]
        page = {"rows": [{"lines": lines}], "rider": {"done": [{"what": "rollers", "price": 1234.5}]}}
        rows = {"item_done": [{"price": 1234.5}], "belt_check": [{"next_price": 99.0}],
                "hand_over_page": [{"document": page}],
                "visit_log": [{"field": "price", "was": None, "now": 1234.5}, {"field": "*", "was": None,
                               "now": {"price": 99.0, "how": "new"}}]}  # fmt: skip
        told = redacted(VisitBundle(id="a" * 32, rows=rows), ["prices"]).rows
        document = told["hand_over_page"][0]["document"]
        self.assertEqual(document["rows"][0]["lines"],
                         ["Rollers, K-4", "Belt", "Parts fitted", "runs 1,234.50 km"])  # fmt: skip
        self.assertEqual(document["rider"]["done"], [{"what": "rollers", "price": None}])
        self.assertEqual(told["visit_log"], [{"field": "*", "was": None, "now": {"price": None, "how": "new"}}])
        self.assertEqual((told["item_done"], told["belt_check"]), ([{"price": None}], [{"next_price": None}]))

    def test_the_longer_name_is_struck_first_and_nobody_stays_nobody(self):
        rows = {
            "visit": [{"opened_by": "bench", "signed_off_by": "Jo Berg"}],
            "visit_log": [{"field": "x", "by": "Jo"}],
            "intake": [{"complaint": "Jo Berg and Jo at the bench"}],
        }
        told = redacted(VisitBundle(id="a" * 32, rows=rows), ["technicians"]).rows
        self.assertEqual(told["visit"], [{"opened_by": "bench", "signed_off_by": "a technician"}])
        self.assertEqual(told["intake"][0]["complaint"], "a technician and a technician at the bench")

    def test_a_name_is_struck_from_words_and_not_from_within_others(self):
        rows = {"visit": [{"signed_off_by": "Jo"}], "intake": [{"complaint": "Jo said: Johan heard it, ask Jo."}]}
        told = redacted(VisitBundle(id="a" * 32, rows=rows), ["technicians"]).rows
        self.assertEqual(told["intake"][0]["complaint"], "a technician said: Johan heard it, ask a technician.")
