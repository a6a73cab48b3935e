"""The rules of the job: typed numbers, belt wear, what a visit still lacks, predicted against measured."""

import unittest

from jaxel.core.trade.kinds.cautions import cautions
from jaxel.core.trade.visit.stations import STATIONS


class Cautions(unittest.TestCase):
    def test_every_station_has_one_that_defers(self):
        self.assertEqual(set(cautions()), set(STATIONS))
        for text in cautions().values():
            self.assertIn("manufacturer's manual, local rules and a qualified technician", text)
