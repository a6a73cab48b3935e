"""Parts on a bench against statics and geometry worked by hand, and units against NIST SP 811."""

import math
import unittest

from jaxel.core import units
from jaxel.core.errors import InvalidValue
from jaxel.core.units import DEG, IMPERIAL, METRIC, MIXED, parse_quantity
from jaxel.core.words import q, told


class Units(unittest.TestCase):
    def test_factors(self):
        # NIST SP 811 (2008), Appendix B.8: to the digits printed there.
        for text, unit, expected in (
            ("1 lbf", "N", 4.448222), ("1 ft-lb", "N·m", 1.355818), ("1 in-lb", "N·m", 0.1129848),
            ("1 in", "mm", 25.4), ("1 mi", "km", 1.609344), ("1 ft", "m", 0.3048), ("1 lb", "kg", 0.4535924),
            ("1 hp", "kW", 0.7456999), ("1 PS", "kW", 0.7354988), ("1 lbf·ft", "N·m", 1.355818),
            ("1 lb·in", "N·m", 0.1129848), ("1 lbf-in", "N·m", 0.1129848), ("1 lb⋅ft", "N·m", 1.355818),
            ("1 lbf/in", "N/mm", 0.1751268), ("1 mph", "km/h", 1.609344),
        ):  # fmt: skip
            self.assertAlmostEqual(parse_quantity(text, unit) / expected, 1, delta=5e-7, msg=text)
        self.assertAlmostEqual(parse_quantity("212 °F", "°C"), 100)
        self.assertAlmostEqual(parse_quantity("48 in-lb", "N·m"), parse_quantity("4 ft-lb", "N·m"))

    def test_what_is_shown_is_typed_back(self):
        for habit in (METRIC, IMPERIAL, MIXED):
            for unit, shown in habit.table().items():
                if unit in ("", "turns", "N/100 rpm"):  # read only
                    continue
                back = parse_quantity(f"{shown.of(37.0):.9f} {shown.name}", unit)
                self.assertAlmostEqual(back, 37.0, places=5, msg=(unit, shown.name))

    def test_what_no_instrument_reads_is_refused(self):
        for text in ("5e-324", "0.0000000001"):
            with self.assertRaises(InvalidValue):
                parse_quantity(text, "mm")
        self.assertEqual(parse_quantity("0", "mm"), 0.0)

    def test_shown_by_value(self):
        for unit, value, name, expected in (
            ("N", 444.82216, "lbf", 100), ("mm", 25.4, "in", 1), ("km", 1.609344, "mi", 1), ("m", 0.3048, "ft", 1),
            ("°C", -40, "°F", -40), ("km/h", 160.9344, "mph", 100), ("N·m/deg", 0.135581795, "ft-lb/deg", 0.1),
            ("kg", 45.359237, "lb", 100), ("g", 60, "g", 60), ("rpm", 7900, "rpm", 7900),
        ):  # fmt: skip
            shown = IMPERIAL.shown(unit)
            self.assertEqual(shown.name, name)
            self.assertAlmostEqual(shown.of(value), expected, places=6)
        self.assertEqual((MIXED.shown("N").name, MIXED.shown("mm").name), ("lbf", "mm"))

    def test_quantities_in_words_are_told_in_a_hands_units(self):
        # NIST SP 811: 25.4 mm an inch, 1.609344 km a mile, 4.4482216 N a pound-force, 0.3048 m a foot, exact.
        for words, metric, imperial in (
            (f"{q(35.4, 'mm')}, limit {q(35, 'mm')}", "35.4 mm, limit 35 mm", "1.394 in, limit 1.378 in"),
            ("“35 N” is not a number", "“35 N” is not a number", "“35 N” is not a number"),
            (f"{q(0.1, 'mm', 1)} between places", "0.1 mm between places", "0.004 in between places"),
            (f"{q(2310, 'km')} is less", "2,310 km is less", "1,435 mi is less"),
            (f"{q(640, 'N', bare=True)} / {q(980, 'N')}", "640 / 980 N", "143.9 / 220.3 lbf"),
            (f"like {q(0.44, 'kg')}", "like 0.44 kg", "like 0.97 lb"),
            (f"{q(11, '°C', sd=2)}, {q(3, 'm')}", "11 ± 2 °C, 3 m", "51.8 ± 3.6 °F, 10 ft"),
            (f"{q(41.5, 'deg')} and {q(7900, 'rpm')}", "41.5° and 7,900 rpm", "41.5° and 7,900 rpm"),
        ):  # fmt: skip
            self.assertEqual(told(words, METRIC), metric)
            self.assertEqual(told(words, IMPERIAL), imperial)

    def test_every_choice_is_a_unit(self):
        for name, choices in units.unit_choices().items():
            self.assertEqual(getattr(METRIC, name), choices[0])
            self.assertEqual(getattr(IMPERIAL, name), choices[1])
        with self.assertRaises(InvalidValue):
            parse_quantity("3 furlongs", "km")

    def test_a_radian_is_nobody_s_degree(self):
        self.assertAlmostEqual(DEG * 180, math.pi)
