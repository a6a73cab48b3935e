"""The target shift held up a mountain by one slot."""

import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import with_value
from jaxel.core.trade.shelf.altitude import altitude_table
from tests.core.shelf.test_planner import HIGH, MEASURED
from tests.examples import example, read


class Altitude(unittest.TestCase):
    def test_mass_that_holds_the_target_from_the_sea_to_the_high_country(self):
        table = altitude_table(HIGH, "arms", MEASURED)
        self.assertEqual([row.elevation_m for row in table.rows], list(range(0, 3501, 500)))
        masses = [row.value for row in table.rows]
        self.assertEqual(masses, sorted(masses, reverse=True))  # thinner air: less mass (common practice)
        self.assertTrue(2 < masses[0] - masses[2] < 8)
        air = HIGH.conditions
        for row in table.rows[::3]:
            # 6.5 °C a kilometre (U.S. Standard Atmosphere 1976).
            self.assertAlmostEqual(
                row.temperature_c, air.temperature_c - 0.0065 * (row.elevation_m - air.elevation_m), delta=0.06
            )
            update = {"elevation_m": row.elevation_m, "temperature_c": row.temperature_c}
            there = with_value(HIGH, "conditions", air.model_copy(update=update))
            there = with_value(there, "primary.weights.base_mass_g", row.value)
            (told,) = MEASURED.estimates([there], 41)
            self.assertAlmostEqual(told.mean, HIGH.target.shift_rpm, delta=2)
            self.assertAlmostEqual(row.shift_mean_rpm, HIGH.target.shift_rpm, delta=1)

    def test_a_load_and_a_clicker(self):
        rows = altitude_table(HIGH, "load:tip").rows
        self.assertGreater(rows[0].value, rows[2].value)
        self.assertIsNone(rows[-1].value)  # nothing left to take off
        cam = altitude_table(read(example("adjustable-cam")), "clicker")
        positions = [row.value for row in cam.rows]
        self.assertEqual(positions, sorted(positions))
        self.assertTrue(all(value == int(value) for value in positions))

    def test_what_this_clutch_has_not_is_refused(self):
        for slot in ("clicker", "load:toe", "helix", ""):
            with self.subTest(slot), self.assertRaises(InvalidValue) as refusal:
                altitude_table(HIGH, slot)
            self.assertEqual(refusal.exception.field, "altitude")
