"""Two hands on one visit at once: one write wins, the other is told, nothing is half-written."""

import threading
from contextlib import closing

from jaxel.store import db, fitting, machines, visits
from tests.store.test_store import StoreCase


class TwoHands(StoreCase):
    def race(self, *writes):
        """Run each write in a thread of its own, all from the same edit; returns what each came to."""
        outcomes: list[str] = []
        gate = threading.Barrier(len(writes))
        edit = self.edit()

        def hand(write):
            with closing(db.connect(self.path)) as connection:
                gate.wait()
                try:
                    write(connection, edit)
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
            return lambda connection, edit: visits.change(connection, self.visit, edit, {"complaint": text})

        texts = [f"hand {n}" for n in range(6)]
        self.assertEqual(self.race(*map(complain, texts)), ["told"] * 5 + ["written"])
        self.assertIn(visits.get(self.db, self.visit).complaint, texts)

    def test_different_stations_collide_too(self):
        outcomes = self.race(
            lambda connection, edit: visits.measure_belt(connection, self.visit, edit, 1, 36.0),
            lambda connection, edit: fitting.try_slots(connection, self.visit, edit, "left", {"shim_mm": 0.5}),
        )
        self.assertEqual(outcomes, ["told", "written"])
        visit = visits.get(self.db, self.visit)
        self.assertEqual(bool(visit.widths_mm) + bool(visit.left_draft), 1)
        self.assertEqual(visit.edit, 2)

    def test_only_one_visit_opens(self):
        other = machines.bring_in(self.db, visits.get(self.db, self.visit).found, "sled")
        outcomes = self.race(*[lambda connection, _: visits.open_visit(connection, other)] * 4)
        self.assertEqual(outcomes, ["told"] * 3 + ["written"])
