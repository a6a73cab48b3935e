"""The store of putting back, line-up, break-in and close: kept, undone, refused, and named at sign-off."""

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.rebuild.torque import Wrench
from jaxel.store.db import Conflict, NotFound
from jaxel.store.edits import Edit
from jaxel.store.workshop import wrenches
from tests.store.cases.store_case import StoreCase


class Wrenches(StoreCase):
    def test_entered_put_right_and_retired(self):
        key = wrenches.add(self.db, Wrench(" Bench ", low_nm=10, high_nm=80, step_nm=0.5))
        self.assertEqual([each.name for each in wrenches.in_use(self.db)], ["Bench"])
        for wrench in (Wrench("bench", low_nm=1, high_nm=5, step_nm=1), Wrench("x", low_nm=5, high_nm=5, step_nm=1)):
            self.assertRaises(InvalidValue, wrenches.add, self.db, wrench)
        wrenches.change(self.db, key, {"due_on": Edit("", "2027-02-04")})
        self.assertRaises(Conflict, wrenches.change, self.db, key, {"due_on": Edit("", "2028-01-01")})
        self.assertRaises(InvalidValue, wrenches.change, self.db, key, {"ratio": Edit(None, 4.0)})
        wrenches.change(self.db, key, {"retired": Edit(False, True)})
        self.assertEqual(wrenches.in_use(self.db), [])
        self.assertRaises(NotFound, wrenches.change, self.db, 99, {"retired": Edit(False, True)})
