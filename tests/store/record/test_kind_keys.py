"""What was said under keys of kinds that moved or went: kept under the new ones by value, or told in words."""

import json
from importlib import import_module

from jaxel.store.edits import Edit
from jaxel.store.machine import upkeep
from jaxel.store.record import facts
from tests.store.cases.store_case import StoreCase

step = import_module("jaxel.store.migrations.0016_kind_keys").step
KIND = "one-way-bearing-primary"


class Moved(StoreCase):
    """A visit as the version before wrote it, in today's tables."""

    def setUp(self):
        super().setUp()
        upkeep.change(self.db, self.machine, {"primary_kind": Edit(None, KIND),
                                              "secondary_kind": Edit(None, "bolt-in-helix-secondary")})  # fmt: skip
        self.db.execute("ALTER TABLE set_up ADD COLUMN opened TEXT NOT NULL DEFAULT '{}'")

    def said(self, table, **values):
        names = ", ".join(values)
        self.db.execute(f"INSERT INTO {table} ({names}) VALUES ({', '.join('?' * len(values))})", (*values.values(),))

    def keep(self, table, **values):
        for name, value in values.items():
            self.db.execute(f"UPDATE {table} SET {name} = ? WHERE visit_id = ?", (json.dumps(value), self.visit))

    def held_in(self, table, name):
        row = self.db.execute(f"SELECT {name} FROM {table} WHERE visit_id = ?", (self.visit,)).fetchone()
        return json.loads(row[0])

    def test_parts_that_moved_keep_what_was_said_of_them(self):
        self.keep("strip", marked=["primary.cover", "primary.moving", "secondary.moving"])
        self.keep("rebuild", seen=["primary.cover.back", "primary.moving.back", "secondary.helix.stop"],
                  left_on=["primary.cover"], accepted={"primary.cover": "old marks"})  # fmt: skip
        step(self.db)
        self.assertEqual(self.held_in("strip", "marked"), ["primary.outer", "secondary.moving"])
        self.assertEqual(self.held_in("rebuild", "seen"), ["primary.outer.back", "secondary.helix.stop"])
        self.assertEqual(self.held_in("rebuild", "left_on"), ["primary.outer"])
        self.assertEqual(self.held_in("rebuild", "accepted"), {"primary.outer": "old marks"})

    def test_what_has_no_place_any_more_stands_in_words(self):
        look = {"visit_id": self.visit, "side": "primary"}
        self.said("item_look", **look, item="nylon_washers", looked="removed", grade="stepped", readings="[0.2, 0.35]")
        self.said("item_look", **look, item="arm_roller", looked="removed", grade="free")
        self.said("tightened", **look, fastener="cover_bolts", state="done", torque_nm=16.0)
        step(self.db)
        (added,) = self.db.execute("SELECT text FROM addendum WHERE visit_id = ?", (self.visit,)).fetchall()
        self.assertEqual(added[0], "Said of the primary while its kind listed it: Nylon washers: removed, stepped, "
                                   "0.2, 0.35; Cover bolts: done, 16 N·m.")  # fmt: skip
        # Nothing is taken from the tables: the log still finds its rows.
        self.assertEqual(self.db.execute("SELECT count(*) FROM item_look").fetchone()[0], 2)
        held = self.held().inspection
        self.assertIn("arm_roller", [item.key for _, item in held.items()])
        self.assertNotIn("nylon_washers", [item.key for _, item in held.items()])

    def test_grades_are_in_todays_words(self):
        look = {"visit_id": self.visit, "side": "primary"}
        for item, grade in (("arm_face", "smooth"), ("moving_face", "light even scuff"), ("buttons", "snug"),
                            ("fixed_face", "rough as 120 grit"), ("pivot_bolt", "smooth")):  # fmt: skip
            self.said("item_look", **look, item=item, looked="removed", grade=grade)
        step(self.db)
        grades = dict(self.db.execute("SELECT item, grade FROM item_look").fetchall())
        self.assertEqual(grades, {"arm_face": "even", "moving_face": "even", "buttons": "free",
                                  "fixed_face": "scored", "pivot_bolt": "smooth"})  # fmt: skip
        items = {item.key: item for _, item in self.held().inspection.items()}
        for item, grade in grades.items():
            self.assertIn(grade, items[item].grades)

    def test_a_limit_of_two_alike_is_one_of_each_and_a_torque_of_nothing_is_withdrawn(self):
        with self.db:
            facts.state(self.db, "item", "nylon_washers", 0.3, "manual", "Jo", kind=KIND, machine_id=self.machine)
            bolts = facts.state(self.db, "torque", "cover_bolts", 16.0, "manual", "Jo", kind=KIND,
                                machine_id=self.machine, tightness="torque")  # fmt: skip
            self.said("stated_choice", machine_id=self.machine, kind=KIND, name="cover_bolts", stated_id=bolts)
        step(self.db)
        self.assertEqual([(each.name, each.value, each.machine_id) for each in facts.standing(self.db, "item")],
                         [("outer_washer", 0.3, self.machine), ("inner_washer", 0.3, self.machine)])  # fmt: skip
        self.assertEqual((facts.standing(self.db, "torque"), facts.chosen(self.db, self.machine)), ([], {}))
        self.assertEqual(self.db.execute("SELECT count(*) FROM stated WHERE withdrawn = 1").fetchone()[0], 2)

    def test_what_was_opened_becomes_what_was_changed(self):
        self.try_out(arm_mass_g=58.0)
        self.record("thin air")
        self.db.execute("UPDATE set_up SET changed = '[]', opened = ?", (json.dumps({"primary": "cover off"}),))
        step(self.db)
        self.assertEqual(self.held_in("set_up", "changed"), ["arms"])

    def test_a_change_taken_back_opens_as_far(self):
        self.keep("set_up", opened={"secondary": "full strip"})
        step(self.db)
        self.assertEqual(self.held_in("set_up", "changed"), ["secondary_spring"])
