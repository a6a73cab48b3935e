"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

import json
import sqlite3

from jaxel.core.errors import InvalidValue
from jaxel.store.setup import fitting, revisions
from tests.examples import example
from tests.store.cases.store_case import StoreCase


class Revisions(StoreCase):
    def test_are_never_overwritten_or_deleted(self):
        for statement in ("UPDATE setup_revision SET reason = 'x'", "DELETE FROM setup_revision"):
            with self.assertRaisesRegex(sqlite3.IntegrityError, "never"):
                self.db.execute(statement)

    def test_database_repeats_the_limits(self):
        bad = json.loads(json.dumps(example("mountain-sled")))
        for path, value in (("primary.weights.base_mass_g", -1), ("belt.top_width_mm", 39)):
            *way, last = path.split(".")
            broken = json.loads(json.dumps(bad))
            holder = broken
            for step in way:
                holder = holder[step]
            holder[last] = value
            with self.assertRaises(sqlite3.IntegrityError):
                self.db.execute(
                    "INSERT INTO setup_revision (machine_id, reason, document, created_at) VALUES (?, 'x', ?, 'now')",
                    (self.machine, json.dumps(broken)),
                )

    def test_a_change_is_a_pair_with_its_reason(self):
        found = self.held().set_up.found_revision_id
        self.try_out(arm_mass_g=58.0)
        self.record("thin air")
        visit = self.held()
        revision = revisions.get(self.db, visit.set_up.left_revision_id)
        self.assertEqual((revision.parent_id, revision.visit_id, revision.reason), (found, self.visit, "thin air"))
        self.assertEqual(revision.document.primary.weights.base_mass_g, 58.0)
        self.assertEqual(revisions.get(self.db, found).document.primary.weights.base_mass_g, 60)
        self.assertEqual((visit.set_up.found_revision_id, visit.set_up.left_draft), (found, {}))

    def test_recording_needs_a_change_and_a_reason(self):
        with self.assertRaisesRegex(InvalidValue, "nothing differs"):
            self.record("why not")
        self.try_out(arm_mass_g=58.0)
        with self.assertRaisesRegex(InvalidValue, "with its reason"):
            self.record(" ")

    def test_a_value_put_back_leaves_the_draft(self):
        self.try_out(arm_mass_g=58.0)
        self.assertEqual(self.held().set_up.left_draft, {"arm_mass_g": 58.0})
        self.try_out("left", primary_start_n="785")
        kept = self.held().set_up.left_draft
        self.assertEqual(kept, {"arm_mass_g": 58.0, "primary_start_n": 785, "primary_finish_n": 1400})
        self.try_out("left", primary_start_n=755)
        self.try_out(arm_mass_g=60.0)
        self.assertEqual(self.held().set_up.left_draft, {})
        self.try_out(arm_mass_g=58.0)
        fitting.drop(self.db, self.visit, self.held().set_up.left_draft)
        self.assertEqual(self.held().as_left().primary.weights.base_mass_g, 60)

    def test_something_else_found_fitted_becomes_a_revision(self):
        self.try_out("found", shim_mm=0.5)
        self.confirm()
        visit = self.held()
        self.assertEqual(visit.set_up.found_revision_id, visit.set_up.left_revision_id)
        self.assertEqual(visit.as_left().primary.shim_mm, 0.5)
        self.assertIn("found fitted", revisions.get(self.db, visit.set_up.found_revision_id).reason)
