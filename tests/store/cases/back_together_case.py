"""The store of putting back, line-up, break-in and close: kept, undone, refused, and named at sign-off."""

from jaxel.core.trade.visit.stations import open_items
from jaxel.store.edits import Edit
from jaxel.store.machine import upkeep
from jaxel.store.strip import strip
from jaxel.store.visit import intake
from tests.store.cases.belt_and_strip_case import KINDS
from tests.store.cases.store_case import StoreCase


class Opened(StoreCase):
    """A machine of known kinds, fully stripped at a service."""

    def setUp(self):
        super().setUp()
        upkeep.change(self.db, self.machine, KINDS)
        intake.set_scope(self.db, self.visit, Edit("tune", "service"))
        strip.change(self.db, self.visit, {"depth": Edit(None, "full strip")})

    def waits(self, station):
        return [item.what for item in open_items(self.held().record()) if item.station == station]

    def step(self, place):
        held = self.held()
        return next(each for each in held.bench.steps(held.inspection) if each.place == place)

    def done(self, side, fastener):
        return self.held().back_together.tightened[side, fastener]
