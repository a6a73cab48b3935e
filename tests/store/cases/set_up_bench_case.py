"""The store of the set-up bench: parts on the tray and off the shelf, calibrations of their day, sheets, lives."""

from jaxel.store.machine import machines
from jaxel.store.setup import fitting
from jaxel.store.setup.fitting import Fill
from jaxel.store.shelf import parts, sheets, shelf
from jaxel.store.visit import visits
from tests.examples import example, read
from tests.store.cases.store_case import StoreCase

SHEET = b"""number,kind,make,pieces,price,fits,base_mass_g,mass_g,force_start_n,force_finish_n,travel_mm,members
A-57,arm,Brackholm,6,62,,57/57.1/56.9,,,,,
A-58,arm,Brackholm,3,62,,58,,,,,
PS-1,primary spring,Brackholm,1,54,,,,640,1390,30,
L-15,load,Brackholm,7,1.5,,,1.5,,,,
VR-1,variator roller,Tarnrigg,8,5,roller-variator-primary,17,,,,,
KT-1,kit,Brackholm,1,140,,,,,,,A-57; PS-1
"""


class Bench(StoreCase):
    def setUp(self):
        super().setUp()
        report = sheets.take_in(self.db, SHEET)
        self.assertEqual((report.refused, len(report.added)), ([], 6))
        self.parts = {each.number: each.id for each in parts.all_parts(self.db)}

    def fill(self, slot, number=None, *, whole=False, numbers=None):
        part = None if number is None else self.parts[number]
        fills = [Fill(slot, part, numbers or {})]
        fitting.fill(self.db, self.visit, fills, self.held().set_up.left_draft, whole=whole)

    def here(self):
        at_hand = shelf.at_hand(self.db)
        return {number: at_hand.get(key) for number, key in self.parts.items()}

    def another_visit(self, name="trail-sled"):
        machine = machines.bring_in(self.db, read(example(name)), "sled", "Other")
        return visits.open_visit(self.db, machine)
