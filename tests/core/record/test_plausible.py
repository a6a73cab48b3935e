"""What is asked about, and what was likely meant: windows from memory, cases of common practice with no source."""

import unittest
from dataclasses import replace

from jaxel.core.errors import Implausible
from jaxel.core.trade.belt import plausible as of_belt
from jaxel.core.trade.run import plausible as of_run
from jaxel.core.trade.setup import plausible as of_setup
from jaxel.core.trade.setup.slots import changes, numbers, with_numbers
from jaxel.core.trade.visit import plausible as of_visit
from jaxel.core.trade.visit.intake import Intake
from jaxel.core.units import POUND_FORCE
from jaxel.core.words import told as plain
from tests.examples import changed, example, read

INTAKE = Intake(600, -8, 60, 4150, 100, 7850, 100)
SLED = example("mountain-sled")


class Case(unittest.TestCase):
    def asked(self, ask, *given) -> Implausible:
        with self.assertRaises(Implausible) as caught:
            ask(*given)
        return caught.exception

    def intake(self, field, value, intake=INTAKE, last_km=None) -> Implausible:
        return self.asked(of_visit.intake_value, field, value, intake, last_km)


class OfTheIntake(Case):
    def test_next_to_nothing_is_asked_about_without_a_guess(self):
        found = self.asked(of_belt.belt_width, "place_1", 4e-7, 36.5, 35.0)
        self.assertEqual((found.field, found.words, found.meant), ("place_1", "", {}))

    def test_what_is_likely_is_not_asked_about(self):
        for field, value in (
            ("baseline_engagement_rpm", 3990), ("baseline_shift_rpm", 7710), ("target_shift_rpm", 8800),
            ("target_engagement_tolerance_rpm", 50), ("humidity_pct", 100), ("humidity_pct", 0), ("temperature_c", -40),
            ("complaint", "bogs"), ("baseline_shift_rpm", None), ("odometer_km", 2310),
        ):  # fmt: skip
            of_visit.intake_value(field, value, INTAKE, 820)

    def test_a_point_that_groups_thousands(self):
        for field, typed, meant in (("baseline_shift_rpm", 7.81, 7810), ("target_engagement_rpm", 4.2, 4200)):
            found = self.intake(field, typed)
            self.assertEqual((found.field, found.meant), (field, {field: meant}))
            self.assertEqual(found.words, f"{meant:,} rpm")

    def test_a_speed_out_of_every_window(self):
        for field, value in (("baseline_engagement_rpm", 700), ("baseline_engagement_rpm", 7100),
                             ("target_shift_rpm", 1400), ("target_shift_rpm", 13_100),
                             ("target_shift_tolerance_rpm", 5), ("target_shift_tolerance_rpm", 1001)):  # fmt: skip
            self.assertEqual(self.intake(field, value).field, field)

    def test_a_tenth_too_much(self):
        self.assertEqual(self.intake("target_shift_rpm", 79_000).meant, {"target_shift_rpm": 7900})

    def test_engagement_and_shift_the_other_way_round(self):
        found = self.intake("target_engagement_rpm", 6500, replace(INTAKE, target_shift_rpm=4100))
        self.assertEqual(found.meant, {"target_engagement_rpm": 4100, "target_shift_rpm": 6500})
        self.assertEqual(found.words, "engagement 4,100, shift 6,500 rpm")
        found = self.intake("baseline_shift_rpm", 3000, replace(INTAKE, baseline_engagement_rpm=3000))
        self.assertEqual((found.words, found.meant), ("", {}))
        of_visit.intake_value("baseline_shift_rpm", 3001, replace(INTAKE, baseline_engagement_rpm=3000), None)
        self.assertIn("below the speed it shifts at", found.reason)

    def test_an_odometer_against_the_last_visit(self):
        found = self.intake("odometer_km", 700, last_km=820)
        # A mile is 1.609344 km exactly: NIST SP 811.
        self.assertEqual(plain(found.words), "700 mi, which is 1,127 km")
        self.assertEqual(found.meant, {"odometer_km": "700 mi"})
        self.assertEqual(self.intake("odometer_km", 300, last_km=820).meant, {})
        self.assertIn("far more", self.intake("odometer_km", 30_821, last_km=820).reason)
        of_visit.intake_value("odometer_km", 820, INTAKE, 820)
        of_visit.intake_value("odometer_km", 5, INTAKE, None)

    def test_humidity_as_a_share(self):
        self.assertEqual(self.intake("humidity_pct", 0.6).meant, {"humidity_pct": 60})


class OfTheRest(Case):
    def test_a_belt_worn_beyond_any(self):
        of_belt.belt_width("place_1", 33.6, 36.5, 35.0)
        found = self.asked(of_belt.belt_width, "place_1", 12, 36.5, 35.0)
        self.assertIn("24.5 mm narrower than a new belt, 36.5 mm", plain(found.reason))
        self.assertEqual(found.words, "")
        found = self.asked(of_belt.belt_width, "place_1", 1.41, 36.5, 35.0)
        # An inch is 25.4 mm exactly: NIST SP 811.
        self.assertEqual((plain(found.words), found.meant), ("1.41 in, which is 35.81 mm", {"place_1": "1.41 in"}))
        self.assertEqual(self.asked(of_belt.belt_width, "place_1", 3.55, 36.5, 35.0).meant, {"place_1": 35.5})

    def test_parts_far_from_what_stood_there(self):
        known = numbers(read(SLED))
        for key, value, words in (
            ("arm_mass_g", 5, ""), ("arm_mass_g", 5.9, "59 g"), ("arm_mass_g", 590, "59 g"),
            ("arm_mass_g", 2.1, "2.1 oz, which is 59.53 g"), ("load_g.tip", 25.5, "25.5 gr, which is 1.652 g"),
            ("shim_mm", 5.5, ""),
            ("helix_deg.0", 4.1, "41°"), ("helix_deg.0", 75, ""),
            ("primary_start_n", 140, "140 lbf, which is 622.8 N"), ("primary_start_n", 2000, ""),
        ):  # fmt: skip
            with self.subTest(key=key, value=value):
                self.assertEqual(plain(self.asked(of_setup.slot_number, known[key], value).words), words)
        for key, value in (("arm_mass_g", 37), ("arm_mass_g", 95), ("load_g.tip", 20), ("primary_start_n", 400),
                           ("helix_deg.0", 20), ("shim_mm", 5)):  # fmt: skip
            of_setup.slot_number(known[key], value)
        self.assertAlmostEqual(140 * POUND_FORCE, 622.8, places=1)

    def test_a_helix_stamp(self):
        known = numbers(read(SLED))
        for text in ("41/37", "41 / 37", "41-37°"):
            found = self.asked(of_setup.helix_stamp, known["helix_deg.0"], text, known["helix_deg.1"])
            self.assertEqual(found.meant, {"helix_deg.0": 41, "helix_deg.1": 37})
        for key, text in (("helix_deg.0", "39 1/2"), ("helix_deg.0", "41"), ("arm_mass_g", "41/37")):
            of_setup.helix_stamp(known[key], text, known["helix_deg.1"])

    def test_a_straight_helix_made_progressive(self):
        document = with_numbers(read(SLED), {"helix_deg.0": 44, "helix_deg.1": 36})
        points = [(point.travel_mm, point.deg) for point in document.secondary.helix.angles]
        self.assertEqual(points, [(0, 44), (document.geometry.secondary.travel_mm, 36)])
        self.assertEqual([(plain(each.label), each.found, each.left) for each in changes(read(SLED), document)][:2],
                         [("at 0 mm", 45, 44), ("at 32 mm", None, 36)])  # fmt: skip

    def test_a_run(self):
        of_run.run_value("shift_rpm", 7880, 4100, None, (4150, 7850))
        of_run.run_value("note", "ice", None, None, (4150, 7850))
        found = self.asked(of_run.run_value, "shift_rpm", 4000, 4100, None, (4150, 7850))
        self.assertEqual(found.meant, {"engagement_rpm": 4000, "shift_rpm": 4100})
        self.assertEqual(
            self.asked(of_run.run_value, "engagement_rpm", 4.04, None, 7800, (4150, 7850)).words, "4,040 rpm"
        )

    def test_a_service_that_lies_behind(self):
        of_visit.next_service("next_service_km", 2800, 2310)
        of_visit.next_service("next_service_h", 500, None)
        of_visit.next_service("next_service_km", 2310.1, 2310)
        self.asked(of_visit.next_service, "next_service_km", 2310, 2310)
        found = self.asked(of_visit.next_service, "next_service_km", 500, 2310)
        self.assertEqual((plain(found.words), found.meant), ("in 500 km, at 2,810 km", {"next_service_km": 2810}))

    def test_a_clutch_with_a_helix_cut_in_two_angles_takes_the_stamp_at_both_ends(self):
        angles = [{"travel_mm": 0, "deg": 44}, {"travel_mm": 18, "deg": 38}]
        known = numbers(read(changed(SLED, "secondary.helix.angles", angles)))
        self.assertEqual([key for key in known if key.startswith("helix_deg")], ["helix_deg.0", "helix_deg.1"])
        found = self.asked(of_setup.helix_stamp, known["helix_deg.0"], "46/36", known["helix_deg.1"])
        self.assertEqual(found.meant, {"helix_deg.0": 46, "helix_deg.1": 36})
