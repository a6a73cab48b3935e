"""Setup documents: what is refused and how it is said, and that nothing is lost in writing one."""

import json
import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import read_setup, write_setup
from jaxel.core.words import told as plain
from tests.examples import changed, example, read

SLED = example("mountain-sled")


class Refusals(unittest.TestCase):
    def refused(self, document, field, reason):
        with self.assertRaises(InvalidValue) as caught:
            read(document)
        self.assertEqual(caught.exception.field, field)
        self.assertRegex(plain(caught.exception.reason), reason)

    def test_fields(self):
        table = [{"travel_mm": 0, "deg": 5}, {"travel_mm": 9, "deg": 20}, {"travel_mm": 4, "deg": 30}]
        twice = [{"travel_mm": 0, "deg": 5}, {"travel_mm": 9, "deg": 20}, {"travel_mm": 9, "deg": 30}]
        cases = [
            ("belt.top_width_mm", 37.6, "belt.top_width_mm", "more than 1 mm wider than the new belt"),
            ("belt.top_width_mm", 0, "belt.top_width_mm", "above 0"),
            ("belt.top_width_mm", 7, "belt.top_width_mm", "too narrow to be gripped"),
            ("belt.top_width_mm", "35.4", "belt.top_width_mm", "must be a number"),
            ("belt.top_width_mm", float("nan"), "belt.top_width_mm", "finite"),
            ("belt.outer_circumference_mm", float("inf"), "belt.outer_circumference_mm", "finite"),
            ("belt.outer_circumference_mm", 700, "belt.outer_circumference_mm", "too short"),
            ("belt.colour", "red", "belt.colour", "not a field"),
            ("engine.curve.1.rpm", 2000, r"engine.curve[1].rpm", "repeats 2,000"),
            ("engine.curve", [{"rpm": 2000, "torque_nm": 50}], "engine.curve", "at least 2"),
            ("engine.rev_limit_rpm", True, "engine.rev_limit_rpm", "must be a number"),
            ("geometry.sheave_half_angle_deg", 25, "geometry.sheave_half_angle_deg", "at most 20"),
            ("geometry.centre_distance_mm", -3, "geometry.centre_distance_mm", "above 0"),
            ("geometry.primary", ..., "geometry.primary", "is missing"),
            ("primary.profile.swing", table, "primary.profile.swing[2].travel_mm", "out of order: 4 stands after 9"),
            ("primary.profile.swing", twice, "primary.profile.swing[2].travel_mm", "repeats 9"),
            ("primary.profile.swing", table[:1], "primary.profile.swing", "at least 2"),
            ("primary.profile.kind", "spring-arm", "primary.profile", "kind"),
            ("primary.profile.swing", table[1::-1], "primary.profile.swing[1].travel_mm", "out of order"),
            ("primary.weights.base_mass_g", 0, "primary.weights.base_mass_g", "above 0"),
            ("primary.weights.base_mass_g", [60, 60, 61], "primary.weights.base_mass_g", "must be a number"),
            ("primary.weights.count", 2.5, "primary.weights.count", "whole number"),
            ("primary.weights.loads", [{"station": "elbow", "mass_g": 1}], "primary.weights.loads[0].station",
             "“elbow” is no station here"),
            ("primary.spring.force_finish_n", 100, "primary.spring.force_finish_n", "below the starting force"),
            ("primary.clicker", {"position": 7}, "primary.clicker.position", "at most 6"),
            ("secondary.helix.angles.0.deg", 0, "secondary.helix.angles[0].deg", "above 0"),
            ("secondary.helix.angles.0.deg", 90, "secondary.helix.angles[0].deg", "below 90"),
            ("secondary.spring.torsion_rate_nm_per_deg", 0.1, "secondary.spring.pretwist_deg", "must be wound"),
            ("model", {"helix_friction": 0.5, "drive_efficiency": 0}, "model.drive_efficiency", "above 0"),
            ("format", "other", "format", "must be “jaxel-setup”"),
            ("format", ..., "format", "is missing"),
            ("version", 2, "version", "must be 1"),
            ("name", "", "name", "must not be empty"),
        ]  # fmt: skip
        for path, value, field, reason in cases:
            with self.subTest(path=path, value=value):
                self.refused(changed(SLED, path, value), field, reason)

    def test_what_is_not_a_document(self):
        for data, reason in (
            (b"", "is empty"), (b"  \n", "is empty"), (b"\xff\xfe\x00\x01", "not a text file"), (b"{", "is not JSON"),
            (b"[1, 2]", "one JSON object"), (b"[" * 200_000, "not JSON"), (b'{"a": ' + b"9" * 5000 + b"}", "not JSON"),
            (b" " * 1_000_001, "larger than 1,000 kB"), (b'{"name": 1, "name": 2}', "twice"),
        ):  # fmt: skip
            with self.subTest(data[:20]), self.assertRaisesRegex(InvalidValue, reason):
                read_setup(data)


class Defaults(unittest.TestCase):
    def test_missing_parts_take_defaults(self):
        bare = SLED
        for part in ("conditions", "target", "primary.shim_mm"):
            bare = changed(bare, part, ...)
        document = read(bare)
        self.assertEqual(document.core().power_factor, 1)  # the reference air of SAE J1349
        self.assertIsNone(document.target)
        self.assertEqual((document.model.friction, document.model.hysteresis), (0.35, 0.05))

    def test_written_and_read_again_is_the_same(self):
        for original in (SLED, example("side-by-side"), example("quad")):
            document = read(original)
            self.assertEqual(read_setup(write_setup(document).encode()), document)

    def test_shared_fields_keep_their_names(self):
        written = json.loads(write_setup(read(SLED)))
        for part, value in SLED.items():
            for name in value if isinstance(value, dict) else ():
                self.assertIn(name, written[part], f"{part}.{name}")
