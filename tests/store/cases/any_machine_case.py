"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

import io

from PIL import Image

from jaxel.core.trade.visit.stations import open_items
from jaxel.store.edits import Edit
from jaxel.store.machine import numbers
from jaxel.store.stranger import bringing_in
from jaxel.store.stranger.bringing_in import Stranger
from jaxel.store.visit import visits
from tests.store.cases.store_case import StoreCase

MASS = "primary.weights.base_mass_g"


class Case(StoreCase):
    def stranger(self, **said):
        known = {"machine": "quad", "primary": "roller-variator-primary"} | said
        return bringing_in.bring_in(self.db, Stranger(**known), visits.open_visit)

    def lacking(self, visit=None):
        return [item.field for item in open_items(visits.get(self.db, visit or self.visit).record())]

    def correct(self, value, machine=None, path=MASS, how="correction", reason="", origin="measured", sure=False):
        numbers.put_number(self.db, machine or self.machine, path, Edit(None, value, sure), origin=origin, how=how,
                           reason=reason)  # fmt: skip


def picture(size=(60, 40), kind="JPEG", **more) -> bytes:
    out = io.BytesIO()
    image = Image.new("RGB", size, "white")
    image.putpixel((0, 0), (255, 0, 0))
    image.save(out, kind, **more)
    return out.getvalue()
