"""A belt's life by value: trend and band against NIST and SciPy, wear, marks, and when things are due."""

import unittest
from datetime import date

from jaxel.core.trade.strip.inspection import Check, Odometer
from jaxel.core.trade.visit.due import Due, Use, due_on, in_order, next_season, urgency, use_of


class DueDates(unittest.TestCase):
    READ = date(2026, 11, 25)

    def on(self, check: Check, now: Odometer, use: Use | None = None) -> date | None:
        return due_on(check, now, self.READ, use or Use(10.0, 0.5), "sled", self.READ)

    def test_whichever_comes_first(self):
        now = Odometer(km=2300, h=100)
        self.assertEqual(self.on(Check(km=2500), now), date(2026, 12, 15))
        self.assertEqual(self.on(Check(km=2500, h=105), now), date(2026, 12, 5))
        self.assertEqual(self.on(Check(km=9000, season=True), now), date(2027, 11, 15))
        self.assertEqual(self.on(Check(km=2300), now), self.READ)
        self.assertIsNone(self.on(Check(km=2500), Odometer(h=100)))
        self.assertIsNone(self.on(Check(km=2500), now, Use()))
        self.assertEqual(self.on(Check(km=2300), now, Use()), self.READ)

    def test_use_of_first_and_last_reading(self):
        found = use_of([(date(2026, 1, 1), Odometer(100, 10)), (date(2026, 2, 1), Odometer(None, 20)),
                        (date(2026, 4, 11), Odometer(1100, 30))])  # fmt: skip
        self.assertEqual(found, Use(10.0, 0.2))
        self.assertEqual(use_of([(date(2026, 1, 1), Odometer(100))]), Use())
        self.assertEqual(use_of([(date(2026, 1, 1), Odometer(100)), (date(2026, 1, 1), Odometer(200))]), Use())

    def test_seasons(self):
        self.assertEqual(next_season("sled", date(2026, 11, 14)), date(2026, 11, 15))
        self.assertEqual(next_season("sled", date(2026, 11, 15)), date(2027, 11, 15))
        self.assertEqual(next_season("quad", date(2026, 11, 25)), date(2027, 4, 1))

    def test_urgency_and_order(self):
        today = date(2026, 11, 25)
        dues = [
            Due(name, "item", name, "", Check(), on, urgency(on, today))
            for name, on in (("c", None), ("b", date(2027, 1, 1)), ("a", today), ("d", date(2026, 12, 25)))
        ]
        self.assertEqual([each.name for each in in_order(dues)], ["a", "d", "b", "c"])
        self.assertEqual([each.urgency for each in in_order(dues)], ["overdue", "soon", "later", "undated"])
