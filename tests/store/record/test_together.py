"""Two hands on one visit at once: one write of a field wins, the other is told, nothing is half-written."""

import threading
from contextlib import closing

from jaxel.store import db
from jaxel.store.belt import belt_checks
from jaxel.store.edits import Edit
from jaxel.store.machine import machines
from jaxel.store.setup import fitting
from jaxel.store.visit import intake, visits
from tests.store.cases.store_case import StoreCase


class TwoHands(StoreCase):
    def race(self, *writes):
        """Run each write in a thread of its own; returns what each came to."""
        outcomes: list[str] = []
        gate = threading.Barrier(len(writes))

        def hand(write):
            with closing(db.connect(self.path)) as connection:
                gate.wait()
                try:
                    write(connection)
                    outcomes.append("written")
                except db.Conflict:
                    outcomes.append("told")

        threads = [threading.Thread(target=hand, args=(write,)) for write in writes]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        return sorted(outcomes)

    def test_one_of_many_wins(self):
        def complain(text):
            return lambda connection: intake.change(connection, self.visit, {"complaint": Edit("", text)})

        texts = [f"hand {n}" for n in range(6)]
        self.assertEqual(self.race(*map(complain, texts)), ["told"] * 5 + ["written"])
        self.assertIn(self.held().intake.complaint, texts)

    def test_different_fields_do_not_collide(self):
        before = self.held().edit
        outcomes = self.race(
            lambda connection: belt_checks.measure(connection, self.visit, 1, Edit(None, 36.0)),
            lambda connection: fitting.try_numbers(connection, self.visit, "left", {"shim_mm": Edit(0, 0.5)}),
            lambda connection: intake.change(connection, self.visit, {"complaint": Edit("", "bogs")}),
        )
        self.assertEqual(outcomes, ["written"] * 3)
        held = self.held()
        self.assertEqual((held.widths_mm, held.set_up.left_draft, held.intake.complaint, held.edit),
                         ({1: 36.0}, {"shim_mm": 0.5}, "bogs", before + 3))  # fmt: skip

    def test_only_one_visit_opens(self):
        other = machines.bring_in(self.db, self.held().found, "sled")
        outcomes = self.race(*[lambda connection: visits.open_visit(connection, other)] * 4)
        self.assertEqual(outcomes, ["told"] * 3 + ["written"])
