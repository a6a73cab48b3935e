"""The store of belts and strips: a life through visits, a belt that broke, looks, limits, parts, what is due."""

from datetime import UTC, date, datetime, timedelta

from jaxel.core.errors import InvalidValue
from jaxel.store.belt import belt_checks, belts
from jaxel.store.db import Conflict, at_moment
from jaxel.store.edits import Edit
from jaxel.store.machine import machines
from jaxel.store.visit import dues, visits
from tests.examples import example, read
from tests.store.cases.belt_and_strip_case import Stripped


class Lives(Stripped):
    """One belt through four visits, then another."""

    START = datetime(2026, 1, 5, 9, tzinfo=UTC)

    def go_through(self, *visits_: tuple[float, float], **last):
        for number, (km, width) in enumerate(visits_):
            with at_moment(self.START + timedelta(days=40 * number)):
                if number:
                    self.again("belt")
                else:
                    self.db.execute("UPDATE visit SET scope = 'belt', opened_at = ?", (self.START.isoformat(),))
                self.note(odometer_km=km, complaint="service")
                for place in (1, 2, 3):
                    self.measure(place, width)
                final = number == len(visits_) - 1
                self.decide(**(last if final and last else {"decision": "run on"}))
                if not final or last:
                    self.sign()

    def test_points_trend_and_when_it_is_due(self):
        self.go_through((600, 36.3), (1200, 36.0), (1800, 35.75), (2400, 35.5), decision="run on")
        points = belts.life(self.db, 1).points
        self.assertEqual([(each.use, each.width_mm) for each in points],
                         [(0, 36.3), (600, 36.0), (1200, 35.75), (1800, 35.5)])  # fmt: skip
        self.assertTrue(belts.life(self.db, 1).belt.unknown_before)  # counted from where it was first seen
        (belt,) = (each for each in dues.of_workshop(self.db) if each.due.what == "belt")
        # 0.44 mm in 1,000 km: 35.5 − 0.44·x = 35.0 some 1,130 km on; the soonest of it is what is told.
        self.assertGreater(belt.due.check.km, 2400 + 500)
        self.assertLess(belt.due.check.km, 2400 + 1130)
        # 15 km a day: due within eighty days of the last reading.
        self.assertLess(belt.due.on - date(2026, 5, 5), timedelta(days=80))

    def test_what_was_on_a_belt_stays_what_it_was_that_day(self):
        self.go_through((600, 36.3), (1200, 36.0), decision="spare", reason="narrow", next_width_mm=36.5)
        old, new = machines.belts(self.db, self.machine)
        self.assertEqual((old.state, old.used_km, old.removed_at_km), ("spare", 600, 1200))
        self.assertEqual((new.state, new.fitted_at_km, new.fitted_width_mm), ("fitted", 1200, 36.5))
        self.again("belt")
        self.note(odometer_km=1500, complaint="again")
        for place in (1, 2, 3):
            self.measure(place, 36.3)
        self.assertEqual([each.use for each in belts.life(self.db, new.id).points], [0, 300])
        # The spare goes back on, and its distance goes on where it stopped.
        self.decide(decision="spare", reason="tried", next_belt_id=old.id)
        self.sign()
        back = machines.belt(self.db, old.id)
        self.assertEqual((back.state, back.used_km, back.fitted_at_km, back.removed_at_km), ("fitted", 600, 1500, None))
        self.assertEqual(back.use_km(1800), 900)
        rows = self.db.execute("SELECT way, odometer_km FROM part_event WHERE kind = 'belt' ORDER BY id").fetchall()
        self.assertEqual([tuple(row) for row in rows],
                         [("out", 1200), ("in", 1200), ("out", 1500), ("in", 1500)])  # fmt: skip

    def test_others_are_this_machines_first(self):
        self.go_through((600, 36.3), (1200, 36.0), decision="discard", reason="worn", next_width_mm=36.5)
        other = machines.bring_in(self.db, read(example("trail-sled")), "sled")
        there = visits.open_visit(self.db, other, scope="belt")
        belt_checks.measure(self.db, there, 1, Edit(None, 34.5))
        found = [each.belt.number for each in belts.others(self.db, 2)]
        self.assertEqual(found, [1, 1])
        self.assertEqual([each.machine_id for each in belts.others(self.db, 2)], [self.machine, other])

    def test_identity_and_shelf(self):
        belts.change(self.db, 1, {"make_number": Edit("", " B-7 "), "bought_on": Edit("", "2026-01-05")})
        self.assertEqual(machines.belt(self.db, 1).make_number, "B-7")
        for field, value in (
            ("bought_on", "2999-01-01"),
            ("bought_on", "soon"),
            ("new_width_mm", 30.0),
            ("state", "x"),
        ):
            with self.subTest(field), self.assertRaises(InvalidValue) as raised:
                belts.change(self.db, 1, {field: Edit(None if field == "new_width_mm" else "2026-01-05", value)})
            self.assertEqual(raised.exception.field, field)
        spare = belts.put_on_shelf(self.db, self.machine, 36.2, place="B3")
        with self.assertRaises(InvalidValue):
            belts.put_on_shelf(self.db, self.machine, 40.0)
        with self.assertRaises(Conflict):
            belts.discard(self.db, 1)
        self.decide(decision="discard", reason="worn", next_belt_id=spare)
        with self.assertRaises(Conflict):
            belts.discard(self.db, spare)
        self.decide(decision=None, next_belt_id=None)
        belts.discard(self.db, spare)
        self.assertEqual(machines.belt(self.db, spare).state, "discarded")
