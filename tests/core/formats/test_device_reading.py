"""The jaxel-reading document: a device's number in any unit of its quantity, and within what it can read."""

import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.device_reading import DEVICES, read_device_reading

CALIPER = {"format": "jaxel-reading", "version": 1, "bench": 3, "instrument": "caliper", "value": 35.42, "unit": "mm"}


class Document(unittest.TestCase):
    def test_any_unit_of_its_quantity_as_it_is_written_here(self):
        for instrument, value, unit, told in (
            ("caliper", 1.394, "inch", "in"), ("scale", 2.2, "ounces", "oz"), ("spring tester", 160.0, "lbs", "lbf"),
            ("torque wrench", 50.0, "lb-ft", "ft-lb"), ("thermometer", 104.0, "F", "°F"),
            ("angle gauge", 45.0, "°", "deg"),
            ("tachometer", 7900.0, "rpm", "rpm"),
        ):  # fmt: skip
            found = read_device_reading(CALIPER | {"instrument": instrument, "value": value, "unit": unit})
            self.assertEqual((found.value, found.unit), (value, told))

    def test_beyond_what_a_device_reads_in_whatever_unit(self):
        # 1,000 mm is 39.37 in: what is little in inches may be too much in millimetres.
        read_device_reading(CALIPER | {"value": 39.0, "unit": "in"})
        read_device_reading(CALIPER | {"value": -9.0})
        for value, unit in ((39.5, "in"), (1000.1, "mm"), (-0.5, "in"), (-10.1, "mm")):
            with self.assertRaises(InvalidValue) as refused:
                read_device_reading(CALIPER | {"value": value, "unit": unit})
            self.assertEqual(refused.exception.field, "value", (value, unit))

    def test_every_device_has_a_range_and_a_unit(self):
        for name, each in DEVICES.items():
            self.assertLess(each.lowest, each.highest, name)
            read_device_reading(CALIPER | {"instrument": name, "value": 1.0, "unit": each.unit})
