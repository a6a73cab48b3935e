"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.store import db
from jaxel.store.edits import Edit, undo
from jaxel.store.machine import machines, numbers
from jaxel.store.run import road_tests
from jaxel.store.setup import fitting, revisions
from jaxel.store.visit import hand_over, visit_log, visits
from tests.store.cases.any_machine_case import MASS, Case


class Corrections(Case):
    def test_a_mistyped_weight_is_put_right_without_a_change(self):
        run = road_tests.begin(self.db, self.visit, self.held().set_up.left_revision_id)
        road_tests.change(self.db, self.visit, run, {"shift_rpm": Edit(None, 7880.0)})
        self.correct("59.5")
        visit = self.held()
        self.assertEqual(
            (visit.found.primary.weights.base_mass_g, visit.left.primary.weights.base_mass_g), (59.5, 59.5)
        )
        newest = revisions.newest(self.db, self.machine)
        self.assertEqual((newest.nature, newest.corrects), ("correction", 1))
        # The run that was made counts for the set-up as it is recorded now.
        self.assertNotIn("shift_rpm", self.lacking())
        self.assertEqual(visit_log.last(self.db, visit).lines[0].what, "number put right")
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().left.primary.weights.base_mass_g, 60)

    def test_a_correction_keeps_a_change_made_at_the_visit(self):
        fitting.try_numbers(self.db, self.visit, "left", {"primary_start_n": Edit(755, "785")})
        fitting.record(self.db, self.visit, "later bite", self.held().set_up.left_draft)
        self.correct("59.5")
        found, left = self.held().found.primary, self.held().left.primary
        self.assertEqual((found.weights.base_mass_g, left.weights.base_mass_g), (59.5, 59.5))
        self.assertEqual((found.spring.force_start_n, left.spring.force_start_n), (755, 785))
        self.assertEqual(revisions.newest(self.db, self.machine).document, self.held().left)

    def test_a_change_is_of_the_set_up_as_left_and_needs_a_reason(self):
        with self.assertRaises(InvalidValue) as caught:
            self.correct("58", how="change")
        self.assertEqual(caught.exception.field, "reason")
        self.correct("58", how="change", reason="other arms")
        self.assertEqual((self.held().found.primary.weights.base_mass_g, self.held().left.primary.weights.base_mass_g),
                         (60, 58))  # fmt: skip

    def test_asked_about_refused_and_raced(self):
        with self.assertRaises(Implausible):
            self.correct("6")
        self.correct("6.1", sure=True, path="vehicle.drive_ratio")
        for path, value, field in ((MASS, "-5", "number"), ("primary.nothing", "3", "number"),
                                   ("belt.top_width_min_mm", "34", "number"), (MASS, "heavy", "number"),
                                   ("geometry.centre_distance_mm", "151", "number")):  # fmt: skip
            with self.subTest(path=path), self.assertRaises(InvalidValue) as caught:
                self.correct(value, path=path, sure=True)
            self.assertEqual(caught.exception.field, field)
        for was in (55, "60", [60]):
            with self.assertRaises(db.Conflict):
                numbers.put_number(
                    self.db, self.machine, MASS, Edit(was, "59"), origin="measured", how="correction", reason=""
                )
        with self.assertRaises(InvalidValue):
            self.correct("59", origin="hearsay")

    def test_what_is_tried_must_still_fit(self):
        fitting.try_numbers(self.db, self.visit, "left", {"helix_deg.0": Edit(45, "20")})
        before = revisions.newest(self.db, self.machine).id
        # tan 20° is 0.36: such a helix would lock; tan 45° is 1, and the one that is fitted does not.
        with self.assertRaisesRegex(InvalidValue, "the helix would lock"):
            self.correct("0.4", sure=True, path="model.helix_friction")
        self.assertEqual(revisions.newest(self.db, self.machine).id, before)
        fitting.try_numbers(self.db, self.visit, "left", {"helix_deg.0": Edit(20, "45")})
        self.correct("0.4", sure=True, path="model.helix_friction")
        self.assertGreater(revisions.newest(self.db, self.machine).id, before)

    def test_a_belt_s_width_is_the_belt_s_too(self):
        self.correct("35.9", path="belt.top_width_mm")
        self.assertEqual(self.held().fitted_belt.width_mm, 35.9)
        self.assertEqual(self.held().as_found().belt.top_width_mm, 35.9)
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().fitted_belt.width_mm, 36.5)
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "sold", "Jo")
        self.correct("35.7", path="belt.top_width_mm")
        self.correct("59", path=MASS)
        self.assertEqual(machines.fitted_belt(self.db, self.machine).width_mm, 35.7)

    def test_readings_are_taken_whole_or_not_at_all(self):
        visit = self.stranger()
        machine = visits.get(self.db, visit).machine_id
        numbers.take_readings(self.db, machine, {"weights": {"mass_g": "19.5"}}, {}, how="correction", reason="")
        held = visits.get(self.db, visit)
        self.assertEqual((held.found.primary.weights.base_mass_g, held.found.evidence[MASS].sd), (19.5, 0.1))
        for taken in ({}, {"weights": {"mass_g": "nine"}}, {"centre_distance": {"outside_mm": "260"}},
                      {"helix_stamp": {"stamp": "38"}, "helix_lift": {"lift_mm": "40", "turn_deg": "60"}}):  # fmt: skip
            with self.subTest(taken), self.assertRaises(InvalidValue):
                numbers.take_readings(self.db, machine, taken, {}, how="correction", reason="")
