"""The store of belts and strips: a life through visits, a belt that broke, looks, limits, parts, what is due."""

from jaxel.core.trade.rebuild.done import NOTHING_DONE
from jaxel.core.trade.visit.stations import open_items
from jaxel.store.edits import Edit
from jaxel.store.machine import upkeep
from jaxel.store.rebuild import done
from jaxel.store.strip import item_limits, strip
from jaxel.store.visit import visits
from tests.store.cases.store_case import StoreCase

KINDS = {
    "primary_kind": Edit(None, "tower-and-button-primary"),
    "secondary_kind": Edit(None, "bolt-in-helix-secondary"),
}

LIMITS = {"arm_bushing": 0.4, "buttons": 0.8}
"""What this made-up machine's manual lets them wear [mm]."""


class Stripped(StoreCase):
    def setUp(self):
        super().setUp()
        upkeep.change(self.db, self.machine, KINDS)
        for item, value in LIMITS.items():
            item_limits.state(self.db, "tower-and-button-primary", item, value, "manual", machine_id=self.machine)

    def again(self, scope="service"):
        self.visit = visits.open_visit(self.db, self.machine, scope=scope)

    def look(self, side, item, **values):
        strip.look(self.db, self.visit, side, item, {name: Edit(self.said(side, item, name), value)
                                                     for name, value in values.items()})  # fmt: skip

    def said(self, side, item, name):
        found = self.held().inspection.looks.get((side, item))
        return getattr(found, name) if found else {"overruled": None}.get(name, "")

    def did(self, side, item, **values):
        """What was done about an item decided to be replaced."""
        held = self.held().back_together.done.get((side, item), NOTHING_DONE)
        done.say(self.db, self.visit, side, item, self.edits(held, values))

    def reads(self, side, item, *values, field="readings"):
        for place, value in enumerate(values):
            strip.read(self.db, self.visit, side, item, field, place, Edit(None, value))

    def verdict(self, side, key):
        inspection = self.held().inspection
        item = next(each for of, each in inspection.items() if (of, each.key) == (side, key))
        return inspection.verdict(side, item)

    def waits(self, station):
        return [(item.field, item.what) for item in open_items(self.held().record()) if item.station == station]
