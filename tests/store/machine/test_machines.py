"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

from unittest import mock

import numpy as np
from scipy.interpolate import PchipInterpolator

from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.store import db
from jaxel.store.machine import machines
from jaxel.store.setup import revisions
from jaxel.store.visit import visits
from tests.examples import changed, example, read
from tests.store.cases.store_case import StoreCase


class Machines(StoreCase):
    def test_comes_in_with_revision_and_belt(self):
        (revision,) = revisions.history(self.db, self.machine)
        self.assertEqual((revision.reason, revision.parent_id, revision.document.name),
                         ("as brought in", None, "Tarnhowe 840 mountain sled"))  # fmt: skip
        (belt,) = machines.belts(self.db, self.machine)
        self.assertEqual((belt.number, belt.state, belt.width_mm), (1, "fitted", 36.5))

    def test_has_its_documents_name(self):
        (machine,) = machines.all_machines(self.db)
        self.assertEqual((machine.name, machine.kind, machine.rider), ("Tarnhowe 840 mountain sled", "sled", "Rider"))

    def test_a_target_left_out_is_peak_power_and_the_bite_of_today(self):
        data = changed(example("mountain-sled"), "target", ...)
        machine = machines.bring_in(self.db, read(data), "sled")
        visit = visits.get(self.db, visits.open_visit(self.db, machine))
        # The highest of torque × rpm along the curve, by SciPy's own PCHIP.
        points = data["engine"]["curve"]
        curve = PchipInterpolator([p["rpm"] for p in points], [p["torque_nm"] for p in points])
        rpm = np.arange(2000, 8800)
        self.assertAlmostEqual(visit.intake.target_shift_rpm, rpm[np.argmax(rpm * curve(rpm))], delta=6)
        bite = predict(read(data).core()).engagement.bite * 30 / np.pi
        self.assertAlmostEqual(visit.intake.target_engagement_rpm, bite, delta=5)

    def test_nothing_is_half_written(self):
        with mock.patch.object(revisions, "add", side_effect=RuntimeError), self.assertRaises(RuntimeError):
            machines.bring_in(self.db, read(example("trail-sled")), "sled")
        self.assertEqual([machine.id for machine in machines.all_machines(self.db)], [self.machine])

    def test_unknown_rows(self):
        for look in (machines.get, revisions.get, visits.get, visits.open_visit):
            self.assertRaises(db.NotFound, look, self.db, 99)
