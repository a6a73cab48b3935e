"""The rules of the job: typed numbers, belt wear, what a visit still lacks, predicted against measured."""

import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.units import INCH, MILE, parse_quantity


class TypedNumbers(unittest.TestCase):
    def test_as_they_are_typed_at_a_bench(self):
        # Exact factors: NIST SP 811.
        for text, unit, value in (
            ("35.4", "mm", 35.4), ("35,4", "mm", 35.4), (" 35.4 mm ", "mm", 35.4), ("1.4 in", "mm", 35.56),
            ('1 3/8"', "mm", 34.925), ("7/8 in", "mm", 22.225), ("7,900", "rpm", 7900), ("-8", "°C", -8),
            ("14 °F", "°C", -10), ("100 lbf", "N", 444.82216152605), ("1,435 mi", "km", 2309.40864),
            ("3000 ft", "m", 914.4), ("2.2 oz", "g", 62.368950875), ("−5", "°C", -5),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(parse_quantity(text, unit), value, places=9)
        self.assertEqual((INCH, MILE), (0.0254, 1609.344))

    def test_what_is_no_number(self):
        for text in ("abc", "35.4.1", "1/0", "35 36", "", "--3", "1e5x", "35 kg", "9" * 60, "nan", "∞"):
            with self.subTest(text):
                self.assertRaises(InvalidValue, parse_quantity, text, "mm")
