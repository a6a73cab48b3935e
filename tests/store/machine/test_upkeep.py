"""The store of the set-up bench: parts on the tray and off the shelf, calibrations of their day, sheets, lives."""

from jaxel.store.machine import machines, upkeep
from jaxel.store.run import calibrations
from tests.examples import example, read
from tests.store.cases.set_up_bench_case import Bench


class Upkeep(Bench):
    def test_merging_a_double_takes_its_calibrations_along(self):
        self.complete()
        self.sign()
        other = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Rider")
        upkeep.merge(self.db, other, self.machine)
        self.assertEqual(len(calibrations.history(self.db, other)), 1)
