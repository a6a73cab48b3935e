"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

import tempfile
import unittest
from pathlib import Path

from jaxel.core.trade.setup.slots import numbers
from jaxel.store import db
from jaxel.store.belt import belt_checks
from jaxel.store.edits import Edit
from jaxel.store.machine import machines
from jaxel.store.run import road_tests
from jaxel.store.setup import fitting
from jaxel.store.visit import hand_over, intake, visits
from tests.examples import example, read
from tests.store.back_together import back_together


class StoreCase(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "workshop.db"
        db.migrate(self.path)
        self.db = db.connect(self.path)
        self.addCleanup(self.db.close)
        self.machine = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Rider")
        self.visit = visits.open_visit(self.db, self.machine)

    def held(self):
        return visits.get(self.db, self.visit)

    def edits(self, record, values):
        """Changes of a record's fields that replace what it holds."""
        return {name: Edit(getattr(record, name), value) for name, value in values.items()}

    def note(self, **values):
        intake.change(self.db, self.visit, self.edits(self.held().intake, values))

    def decide(self, **values):
        belt_checks.change(self.db, self.visit, self.edits(self.held().belt, values))

    def measure(self, place, width):
        belt_checks.measure(self.db, self.visit, place, Edit(self.held().widths_mm.get(place), width))

    def try_out(self, which="left", **values):
        held = self.held()
        known = numbers(held.as_left() if which == "left" else held.as_found())
        fitting.try_numbers(
            self.db, self.visit, which, {key: Edit(known[key].value, value) for key, value in values.items()}
        )

    def record(self, reason):
        fitting.record(self.db, self.visit, reason, self.held().set_up.left_draft)

    def confirm(self):
        intake.confirm_fitted(self.db, self.visit, self.held().set_up.found_draft)

    def ride(self, **measured):
        run_id = road_tests.begin(self.db, self.visit, self.held().set_up.left_revision_id)
        fresh = {name: Edit(None, value, sure=True) for name, value in measured.items()}
        road_tests.change(self.db, self.visit, run_id, fresh)
        return run_id

    def sign(self, by="Jo"):
        back_together(self.db, self.visit)
        hand_over.sign_off(self.db, self.visit, self.held().edit, by)

    def complete(self, **belt):
        self.note(odometer_km=900, complaint="bogs")
        self.confirm()
        for place in (1, 2, 3):
            self.measure(place, 36.0)
        self.decide(**(belt or {"decision": "run on"}))
        self.ride(engagement_rpm=4000.0, shift_rpm=7800.0)
