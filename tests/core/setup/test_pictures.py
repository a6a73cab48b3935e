"""The set-up bench's core: the picture at every place, answers in words, what to measure next, scores, what-if."""

import unittest
from math import atan2, degrees, pi, radians, sin, sqrt, tan

from jaxel.core.formats.paths import with_value
from jaxel.core.formats.run.runs import RunPart
from jaxel.core.trade.run.calibration_file import calibrated, from_document
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.picture import clutch_picture
from jaxel.core.trade.setup.prediction import predicted, predicted_quickly
from jaxel.core.trade.stranger.packages import packages
from tests.core.cases.set_up_bench_case import LIGHTER, SLED
from tests.examples import changed, example, read


def drawn(document):
    return clutch_picture(document, predicted(document, banded=False))


class Pictures(unittest.TestCase):
    def test_the_belt_keeps_its_length_from_taut_to_full_shift(self):
        # The open-belt length of any textbook, in plain trigonometry, against the set-up's own pitch length.
        for name, package in packages().items():
            picture = drawn(package.document)
            pitch = package.document.belt.pitch_length_mm
            taut = next(i for i, node in enumerate(picture.nodes) if node.stage in ("taut", "bite"))
            for node in picture.nodes[taut:]:
                r1, r2, c = node.primary_radius_mm, node.secondary_radius_mm, picture.centre_distance_mm
                lean = atan2(r2 - r1, sqrt(c**2 - (r2 - r1) ** 2))
                length = 2 * sqrt(c**2 - (r2 - r1) ** 2) + pi * (r1 + r2) + 2 * lean * (r2 - r1)
                with self.subTest(package=name, travel=node.travel_mm):
                    self.assertAlmostEqual(length, pitch, delta=0.01)
                    self.assertAlmostEqual(node.slack_mm, 0, delta=0.01)

    def test_closing_lifts_the_belt_by_the_wedge(self):
        # Plane trigonometry: one face moves, so a travel of x lifts the belt by x/(2 tan β).
        picture = drawn(SLED)
        bite = next(node for node in picture.nodes if node.stage == "bite")
        rise = 2 * tan(radians(picture.half_angle_deg))
        for node in picture.nodes[-20:]:
            climbed = (node.travel_mm - bite.travel_mm) / rise
            self.assertAlmostEqual(node.primary_radius_mm - bite.primary_radius_mm, climbed, delta=0.002)

    def test_the_gap_closes_and_the_slack_is_taken_up_before_it_bites(self):
        worn = SLED.with_belt_width(35.4)
        picture = drawn(worn)
        stages = {node.stage: node for node in picture.nodes if node.stage}
        self.assertEqual(list(stages), ["idle", "contact", "taut", "bite", "full shift"])
        self.assertAlmostEqual(stages["idle"].gap_mm, 1.2 + 36.5 - 35.4, places=3)
        self.assertAlmostEqual(stages["contact"].gap_mm, 0, places=3)
        self.assertGreater(stages["contact"].slack_mm, 8)
        self.assertAlmostEqual(stages["taut"].slack_mm, 0, places=2)
        self.assertGreater(picture.ride_mm, drawn(SLED).ride_mm)

    def test_forces_are_the_predictions_and_none_before_it_pulls(self):
        found = predicted(SLED, banded=False)
        nodes = clutch_picture(SLED, found).nodes
        self.assertEqual([node.clamp_primary_n for node in nodes if node.speed_kph is None],
                         [None] * (len(nodes) - len(found.curve)))  # fmt: skip
        for node, point in zip(nodes[-len(found.curve) :], found.curve, strict=True):
            self.assertEqual(
                (node.rpm, node.tight_n, node.grip_secondary), (point.rpm, point.tight_n, point.grip_secondary)
            )
        before = [node.rpm for node in nodes[: -len(found.curve) - 1]]
        self.assertEqual(before, sorted(before))
        self.assertAlmostEqual(before[-1], found.engagement.touch_rpm, delta=0.1)

    def test_an_arms_mass_stands_where_its_swing_puts_it(self):
        bare = read(changed(example("mountain-sled"), "primary.weights.loads", []))
        for node in drawn(bare).nodes:
            # r = pivot + ℓ·sin φ of the bare arm alone.
            self.assertAlmostEqual(node.mass_mm, 47 + 37 * sin(radians(node.arm_deg)), delta=0.002)

    def test_the_helix_turns_as_far_as_its_angle_says(self):
        # θ = opening/(r·tan α) on a helix of one angle.
        for node in drawn(SLED).nodes:
            self.assertAlmostEqual(node.turn_deg, degrees(node.opening_mm / (47 * tan(radians(45)))), delta=0.002)

    def test_rollers_have_a_radius_and_no_arm(self):
        first, *_, last = drawn(packages()["quad-variator-500"].document).nodes
        self.assertEqual((first.arm_deg, last.arm_deg), (None, None))
        self.assertTrue(first.roller_mm < last.roller_mm)
        self.assertAlmostEqual(first.mass_mm, first.roller_mm, delta=0.001)

    def test_on_a_calibration_the_way_to_the_belt_ends_where_it_touches(self):
        known = from_document(calibrated(SLED, [RunPart(engagement_rpm=4100.0, shift_mean_rpm=7800.0)]))
        found = predicted(SLED, known)
        taut = next(node for node in clutch_picture(SLED, found).nodes if node.stage == "taut")
        self.assertAlmostEqual(taut.rpm, found.engagement.touch_rpm, delta=0.2)


class Quickly(unittest.TestCase):
    def test_one_anchor_is_exact(self):
        known = from_document(calibrated(SLED, [RunPart(engagement_rpm=3900.0, shift_mean_rpm=7700.0)]))
        (standing,) = known.estimates([SLED], 41)
        quick, whole = predicted_quickly(LIGHTER, known, SLED, standing), predicted(LIGHTER, known)
        self.assertAlmostEqual(quick.shift.mean_rpm, whole.shift.mean_rpm, delta=0.15)
        self.assertAlmostEqual(quick.engagement.bite_rpm, whole.engagement.bite_rpm, delta=0.15)
        self.assertAlmostEqual(quick.shift.full_shift_rpm, whole.shift.full_shift_rpm, delta=0.15)
        self.assertIsNone(quick.band)

    def test_a_helix_is_told_by_its_factor(self):
        known = from_document(calibrated(SLED, [RunPart(engagement_rpm=3900.0, shift_mean_rpm=7700.0)]))
        steeper = with_value(SLED, "secondary.helix.angles[0].deg", SLED.secondary.helix.angles[0].deg + 3)
        (standing,) = known.estimates([SLED], 41)
        quick, whole = predicted_quickly(steeper, known, SLED, standing), predicted(steeper, known)
        self.assertAlmostEqual(quick.shift.mean_rpm, whole.shift.mean_rpm, delta=0.5)
        self.assertAlmostEqual(quick.shift.full_shift_rpm, whole.shift.full_shift_rpm, delta=0.5)

    def test_without_a_run_it_is_the_bare_model(self):
        known = Calibration.none(SLED)
        (standing,) = known.estimates([SLED], 41)
        quick = predicted_quickly(LIGHTER, known, SLED, standing)
        self.assertAlmostEqual(quick.shift.mean_rpm, predicted(LIGHTER, banded=False).shift.mean_rpm, delta=0.15)
