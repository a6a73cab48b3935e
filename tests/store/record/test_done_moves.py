"""A database of the version before: what was only decided begins no life, and nothing is newly claimed."""

import json
import tempfile
import unittest
from contextlib import closing
from pathlib import Path
from unittest import mock

from jaxel.store import db
from jaxel.store.machine import machines
from jaxel.store.record import facts
from jaxel.store.shelf import lifetimes
from jaxel.store.visit import dues
from tests.examples import example

AT = "'2026-01-02T00:00:00Z'"


class Moved(unittest.TestCase):
    def setUp(self):
        self.path = Path(self.enterContext(tempfile.TemporaryDirectory())) / "old.db"
        before = [step for step in db._migrations() if step[0] < 14]
        with mock.patch.object(db, "_migrations", lambda: before):
            db.migrate(self.path)
        with closing(db.connect(self.path)) as old:
            run = old.execute
            run(f"INSERT INTO machine (id, name, kind, created_at, brought_in_by, primary_kind)"
                f" VALUES (1, 'Old', 'sled', {AT}, 'Jo', 'tower-and-button-primary')")  # fmt: skip
            document = json.dumps(example("mountain-sled")).replace("'", "''")
            run(f"INSERT INTO setup_revision (id, machine_id, reason, document, created_at, made_by, nature)"
                f" VALUES (1, 1, 'as brought in', '{document}', {AT}, 'Jo', 'brought in')")  # fmt: skip
            run("INSERT INTO belt (id, machine_id, number, state, width_mm, used_km, removed_at_km)"
                " VALUES (1, 1, 1, 'spare', 35.6, 1500, 1500), (2, 1, 2, 'fitted', 36.5, 0, NULL)")  # fmt: skip
            run("UPDATE belt SET fitted_at_km = 1500, fitted_width_mm = 36.5 WHERE id = 2")
            for visit, belt, km in ((1, 1, 600.0), (2, 1, 1500.0), (3, 2, 1800.0)):
                signed = f"{AT}, 'Jo'" if visit < 3 else "NULL, ''"
                run(f"INSERT INTO visit (id, machine_id, opened_at, opened_by, signed_off_at, signed_off_by, scope)"
                    f" VALUES ({visit}, 1, {AT}, 'Jo', {signed}, 'service')")  # fmt: skip
                run(f"INSERT INTO intake (visit_id, elevation_m, temperature_c, humidity_pct, target_engagement_rpm,"
                    f" target_engagement_tolerance_rpm, target_shift_rpm, target_shift_tolerance_rpm, odometer_km)"
                    f" VALUES ({visit}, 0, 0, 50, 4000, 100, 7900, 100, {km})")  # fmt: skip
                run(f"INSERT INTO belt_check (visit_id, belt_id, use_km) VALUES ({visit}, {belt}, "
                    f"{km if visit < 3 else 'NULL'})")  # fmt: skip
                run(f"INSERT INTO belt_reading (visit_id, place, width_mm, taken_at) VALUES ({visit}, 1, 36.0, {AT})")
                for table in ("strip", "rebuild", "line_up", "break_in", "hand_over"):
                    run(f"INSERT OR IGNORE INTO {table} (visit_id) VALUES ({visit})")
                run(f"INSERT INTO set_up (visit_id, found_revision_id, left_revision_id) VALUES ({visit}, 1, 1)")
            for kind, side, way in (("arm bushing", "primary", "out"), ("arm bushing", "primary", "in"),
                                    ("belt", "belt", "out"), ("belt", "belt", "in")):  # fmt: skip
                run(f"INSERT INTO part_event (visit_id, machine_id, side, kind, pieces, way, odometer_km, at)"
                    f" VALUES (2, 1, '{side}', '{kind}', 1, '{way}', 1500, {AT})")  # fmt: skip
            run("INSERT INTO due (machine_id, key, visit_id, what, name, why, km, season, said_on) VALUES"
                " (1, 'primary.arm_bushing', 2, 'item', 'Arm bushings', 'renewed, usual check: 0.6 mm.', 2400, 0,"
                " '2026-01-02')")  # fmt: skip
            run(f"INSERT INTO torque_stated VALUES (4, 'tower-and-button-primary', NULL, 'cover_bolts', 'torque', 13.0,"
                f" 'manual', {AT}, 'Jo', 0)")  # fmt: skip
            run("INSERT INTO torque_choice VALUES (1, 'tower-and-button-primary', 'cover_bolts', 4)")
        db.migrate(self.path)
        self.db = self.enterContext(closing(db.connect(self.path)))

    def test_a_decision_began_no_life_and_ended_none(self):
        rows = self.db.execute("SELECT kind, told FROM part_event WHERE way = 'in' ORDER BY id").fetchall()
        self.assertEqual([tuple(row) for row in rows],
                         [("arm bushing", "decided; fitting not recorded"), ("belt", "done")])  # fmt: skip
        self.assertEqual([each.kind for each in lifetimes.lasted(self.db)], ["belt"])
        (due,) = (each.due for each in dues.of_workshop(self.db))
        self.assertEqual(due.why, "decided; fitting not recorded: 0.6 mm.")

    def test_a_strangers_belt_is_counted_from_where_it_was_first_seen(self):
        old, new = machines.belts(self.db, 1)
        self.assertEqual((old.unknown_before, old.used_km), (True, 900.0))
        self.assertEqual((new.unknown_before, new.use_km(1800.0)), (False, 300.0))
        uses = [row["use_km"] for row in self.db.execute("SELECT use_km FROM belt_check ORDER BY visit_id")]
        self.assertEqual(uses, [0.0, 900.0, None])

    def test_a_torque_chosen_for_a_machine_stays_its(self):
        said = facts.standing(self.db, "torque")
        self.assertEqual([(each.value, each.machine_id) for each in said], [(13.0, None), (13.0, 1)])
        self.assertEqual(list(facts.chosen(self.db, 1).values()), [said[1].id])

    def test_the_rest_stands_and_is_sound(self):
        self.assertEqual(self.db.execute("PRAGMA foreign_key_check").fetchall(), [])
        self.assertEqual(self.db.execute("PRAGMA integrity_check").fetchone()[0], "ok")
        self.assertEqual(self.db.execute("SELECT count(*) FROM item_done").fetchone()[0], 0)
        pages = self.db.execute("SELECT visit_id FROM hand_over_page ORDER BY visit_id").fetchall()
        self.assertEqual([row[0] for row in pages], [1, 2])
