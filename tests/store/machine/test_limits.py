"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

from jaxel.core.errors import InvalidValue
from jaxel.store import db
from jaxel.store.machine import limits, numbers
from jaxel.store.setup import revisions
from tests.store.cases.any_machine_case import Case


class Limits(Case):
    def test_the_best_origin_holds_and_conflicts_stand_side_by_side(self):
        numbers.state_limit(self.db, self.machine, "belt_width_min_mm", 34.5, "from memory")
        stated = [(each.value, each.origin) for each in limits.of_machine(self.db, self.machine)]
        self.assertEqual(stated, [(35.0, "manual"), (34.5, "from memory")])
        self.assertEqual(self.held().found.belt.top_width_min_mm, 35.0)
        first = limits.of_machine(self.db, self.machine)[0]
        numbers.withdraw_limit(self.db, self.machine, first.id)
        self.assertEqual(self.held().found.belt.top_width_min_mm, 34.5)
        numbers.state_limit(self.db, self.machine, "belt_width_min_mm", 35.2, "part maker's sheet")
        self.assertEqual(self.held().left.belt.top_width_min_mm, 35.2)
        self.assertEqual(revisions.newest(self.db, self.machine).nature, "correction")

    def test_what_cannot_be_writes_nothing(self):
        with self.assertRaises(InvalidValue) as caught:
            numbers.state_limit(self.db, self.machine, "belt_width_min_mm", 40.0, "manual")
        self.assertEqual((caught.exception.field, len(limits.of_machine(self.db, self.machine))), ("value", 1))
        with self.assertRaises(db.Conflict):
            numbers.withdraw_limit(self.db, self.machine, limits.of_machine(self.db, self.machine)[0].id)
        with self.assertRaises(InvalidValue):
            numbers.state_limit(self.db, self.machine, "belt_width_min_mm", 35.0, "hearsay")  # type: ignore[arg-type]
