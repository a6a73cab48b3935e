"""Faults as found, how each slot is known, and what a visit's scope asks for."""

import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.stranger.as_found import (
    FAULT_KINDS,
    Fault,
    consequence,
    fault_kinds,
    read_fault,
    with_faults,
)
from jaxel.core.trade.stranger.packages import packages
from jaxel.core.units import RPM
from jaxel.core.words import told as plain
from tests.core.cases.as_found_case import CAM

HELIX = packages()["side-by-side-loaded-1000"].document


class Faults(unittest.TestCase):
    def test_what_leaves_nothing_to_predict_says_so(self):
        for kind in ("wound-backwards", "secondary-spring-broken", "primary-spring-broken"):
            with self.subTest(kind), self.assertRaises(InvalidValue) as caught:
                with_faults(HELIX, [Fault(kind)])
            self.assertIn("not predicted as found", caught.exception.reason)

    def test_unequal_arms_are_their_mean_with_the_imbalance(self):
        fault = read_fault(CAM, "arms-unequal", "48.1/48.0/46.9")
        self.assertAlmostEqual(with_faults(CAM, [fault]).primary.weights.base_mass_g, 143 / 3)
        self.assertEqual(fault.name, "Weights unequal, 48.1 / 48 / 46.9 g")
        core = with_faults(CAM, [fault]).core()
        shift = predict(core, 21).shift
        radius = float(core.primary.profile.radius(shift.path.travel).mean())
        # m·r·ω² of the vector sum of the three: √(a²+b²+c²−ab−bc−ca) = 1.15326 g.
        force = 1.15326e-3 * radius * shift.mean**2
        self.assertIn(f"{force:.0f} N turning with the shaft", plain(consequence(CAM, fault)))

    def test_an_unwound_spring_has_no_twist_at_rest(self):
        loose = with_faults(HELIX, [Fault("unwound")])
        self.assertEqual((HELIX.secondary.pretwist_deg, loose.secondary.pretwist_deg), (90, 0.01))
        # Less clamp in the secondary: it shifts up earlier.
        self.assertLess(predict(loose.core()).shift.mean, predict(HELIX.core()).shift.mean - 50 * RPM)

    def test_clickers_apart_push_with_their_mean(self):
        # 3/3/4 at 0.065 a click: 1 − 0.065·(10/3 − 3) = 0.97833 of the push; about a third of a click's 200 rpm.
        apart = with_faults(CAM, [read_fault(CAM, "clickers-differ", "3/3/4")])
        self.assertAlmostEqual(apart.model.gain_scale, 0.978333, places=6)
        gained = (predict(apart.core()).shift.mean - predict(CAM.core()).shift.mean) / RPM
        self.assertTrue(40 < gained < 100, gained)

    def test_what_cannot_be_counted_changes_nothing(self):
        for kind in ("washer-missing", "magnets-turned", "other"):
            self.assertEqual(with_faults(CAM, [Fault(kind, note="seen")]), CAM)
            self.assertIn("not counted", FAULT_KINDS[kind].means)

    def test_only_what_these_clutches_can_have(self):
        cam, variator = ({each.key for each in fault_kinds(packages()[key].document)}
                         for key in ("sled-cam-850", "quad-variator-500"))  # fmt: skip
        self.assertIn("clickers-differ", cam)
        self.assertNotIn("clickers-differ", variator)
        self.assertNotIn("wound-backwards", cam)  # a spring that only presses has no wind
        self.assertIn("wound-backwards", variator)
        # What is seen at the clutch goes before what a typical set-up knows of its torsion.
        sled = packages()["sled-cam-850"].document
        for form, can in (("", True), ("holes", True), ("plain", False)):
            said = Kinds("adjustable-cam-primary", "bolt-in-helix-secondary", (("secondary.spring_form", form),))
            self.assertEqual("wound-backwards" in {each.key for each in fault_kinds(sled, said)}, can)
        with self.assertRaisesRegex(InvalidValue, "no shift can be told"):
            with_faults(sled, [Fault("wound-backwards")])
        self.assertEqual(with_faults(sled, [Fault("unwound")]), sled)

    def test_what_is_no_fault_is_refused(self):
        for kind, figures, field, reason in (
            ("gremlins", "", "kind", "no kind"),
            ("arms-unequal", "48.0/48.1/48.0", "values", "a set, not a fault"),
            ("arms-unequal", "48.0/46", "values", "not a unit"),
            ("arms-unequal", "48.0 / 47.0", "values", "all 3"),
            ("arms-unequal", "-1 / 48 / 48", "values", "above 0"),
            ("clickers-differ", "3/3/3", "values", "a setting"),
            ("clickers-differ", "3/3/9", "values", "1 to 6"),
            ("washer-missing", "7", "values", "without numbers"),
            ("other", "", "note", "says what"),
        ):  # fmt: skip
            with self.subTest(kind=kind, figures=figures), self.assertRaises(InvalidValue) as caught:
                read_fault(CAM, kind, figures)
            self.assertEqual(caught.exception.field, field)
            self.assertRegex(caught.exception.reason, reason)
